"""One check of one site of a list: the same queries and the same assessment as `homepath next`, over what a run
shares."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

from homepath.app.driving import Driver
from homepath.app.next import DAY, SOONEST, backoff, check_again_at, find_next
from homepath.app.project import Project
from homepath.app.visit import builders
from homepath.bulk.lists import NamedFiles, SiteFiles, site_files_of
from homepath.bulk.short_check import (
    Fingerprints,
    Part,
    difference,
    fingerprints_from,
    fingerprints_of,
    is_registration_unchanged,
    registration_fingerprint,
)
from homepath.bulk.site_state import Result, SiteState
from homepath.bulk.state import line_of
from homepath.core.contracts.many import UNKNOWN, differs, standing_json, unknown_json
from homepath.core.dns.names import Name, labels
from homepath.core.findings.registration import ENDING as REGISTRATION_ENDS
from homepath.core.message import msg
from homepath.core.model.evidence import Evidence
from homepath.core.model.problems import BadInput, CouldNotCheck, HomePathError
from homepath.core.model.times import from_rfc3339, rfc3339
from homepath.core.web.certificates import ENDING as CERTIFICATE_ENDS
from homepath.core.wording.say import say
from homepath.journal.packed import Packed
from homepath.net.network_file import Network, is_quiet
from homepath.net.sharing import Commons, Shared

WHOLE_LOOK = 30 * DAY
"""Seconds after which everything is judged again, even without a change."""


REGISTRY_AGAIN = 20 * 3600.0
"""A short check queries the registry only if the last check is older than this, in seconds: once a day, and not at each
check after a change."""


def judged_by(evidence: Evidence, now: float) -> float:
    """Until when a verdict of now holds if no one changes anything: time alone ends certificates and registrations."""
    moments = [now + WHOLE_LOOK]
    registration = evidence.survey.registration if evidence.survey else None
    if registration and registration.expires is not None:
        moments += [registration.expires - REGISTRATION_ENDS, registration.expires]
    for way in evidence.visit.ways if evidence.visit else ():
        for hop in way.hops:
            if hop.certificate and hop.certificate.not_after is not None:
                moments += [hop.certificate.not_after - CERTIFICATE_ENDS.total_seconds(), hop.certificate.not_after]
    return min(moment for moment in moments if moment > now)


async def check_site(site_state: SiteState, named_files: NamedFiles, network: Network, commons: Commons) -> Result:
    """Check one site. Whatever is wrong with it becomes a line; nothing is raised for it."""
    try:
        return await _check_site(site_state, named_files, network, commons)
    except Exception as error:  # one site must not stop the others; an unexpected error goes into its own line
        now = network.clock.now()
        then = now + DAY
        line = _unforeseen(site_state.listed.domain, error, now, then)
        verdict = line["verdict"]
        return Result(
            site_state.listed.domain, site_state.turn, _text(line), verdict, True, now, then, site_state.journal, None
        )


def _unforeseen(domain: Name, error: Exception, now: float, then: float) -> dict[str, Any]:
    trouble = say(msg("looking.wholly.said", name=type(error).__name__, error=str(error)[:200]))
    return unknown_json(domain, trouble, "unknown", now, then)


async def _check_site(site_state: SiteState, named_files: NamedFiles, network: Network, commons: Commons) -> Result:
    shared = commons.check_site(site_state.listed.domain)
    before = line_of(site_state.line, site_state.listed.domain)
    wanted = named_files.fingerprint(site_state.listed, site_state.site)
    result = await _quickly(site_state, wanted, network, shared, before)
    if result is None:
        packed = None if site_state.listed.own else _opened(site_state.journal)
        try:
            result = await _wholly(site_state, named_files, wanted, network, shared, before, packed)
        finally:
            if packed is not None:
                packed.close()
    shared.asker.say_what_was_spared()
    shared.asker.after_check()
    return result


def _opened(octets: bytes | None) -> Packed:
    """The journal; a damaged one is replaced, because it cannot be read."""
    try:
        return Packed(octets)
    except BadInput:
        return Packed()


async def _quickly(
    site_state: SiteState, wanted: str, network: Network, shared: Shared, before: dict[str, Any] | None
) -> Result | None:
    """The same line again, where a short check shows that nothing changed; None where something did."""
    domain = site_state.listed.domain
    fingerprints = fingerprints_from(site_state.recheck) if site_state.recheck else None
    if before is None or fingerprints is None or fingerprints.wanted != wanted:
        return None
    now = network.clock.now()
    driver = Driver(network, shared, builders=fingerprints.builders or None)
    differs: Part
    try:
        differs = await difference(domain, driver, shared.asker, fingerprints, site_state.turn, now)
        if not differs and now - from_rfc3339(before["looked_at"]) > REGISTRY_AGAIN:
            differs = "" if await is_registration_unchanged(domain, driver, fingerprints) else "registry"
    except HomePathError:
        differs = "servers"
    if differs:
        if not is_quiet(network):
            network.trace(say(msg("looking.differs", domain=domain, part=differs)))
        shared.asker.before_full_check()
        return None
    if not is_quiet(network):
        later = sum(part.count("\n") + 1 for part in fingerprints.absent if part)
        network.trace(say(msg("looking.quickly", domain=domain, later=later)))
    then = now + DAY
    known = {**before["assessment"], "at": rfc3339(now)} if before.get("assessment") else None
    line = {**before, "changed": False, "looked_at": rfc3339(now), "next_look": rfc3339(then), "assessment": known}
    asked = shared.asker.asked
    return Result(
        domain, site_state.turn, _text(line), line["verdict"], False, now, then, None, None, asked, as_it_was=True
    )


async def _wholly(
    site_state: SiteState,
    named_files: NamedFiles,
    wanted: str,
    network: Network,
    shared: Shared,
    before: dict[str, Any] | None,
    packed: Packed | None,
) -> Result:
    domain = site_state.listed.domain
    clock = network.clock
    recheck: bytes | None = None
    earlier = before or {}
    host, builder = str(earlier.get("host", "")), str(earlier.get("builder", ""))
    try:
        files = site_files_of(site_state.listed, named_files, site_state.site)
        if not spreads(before):
            network = replace(network, resolvers=())
            network.trace(say(msg("looking.wholly", domain=domain)))
        project = project_of(site_state, files, packed)
        if site_state.recheck and before is not None:  # the short checks since the last full one saw no change
            with project.journal() as opened:
                opened.all_stood_until(from_rfc3339(before["looked_at"]), project.domain)
        project = project.fresh(clock.now())
        _ = project.wanted
        builder = project.wanted.builder
        host = project.notation.host if project.site.notation else host
        seen = await find_next(project, network, shared)
        host = host or _host(seen.evidence)
        now = clock.now()
        line = standing_json(seen.assessment, now, now, host, builder)
        if before is None or not differs(before, line):
            then = check_again_at(seen.assessment, now, _since(before, now))
        else:  # a change is checked once more soon, good news included
            then = min(now + SOONEST, check_again_at(seen.assessment, now, now))
        line["next_look"] = rfc3339(then)
        if seen.assessment.arrived and not project.site.also:
            fingerprints = _fingerprints(project, wanted, shared, seen.evidence, now)
            recheck = fingerprints.packed() if fingerprints is not None else None
    except CouldNotCheck as error:
        now = clock.now()
        known = before is not None and before["verdict"] == UNKNOWN
        then = now + backoff(now, _since(before, now) if known else now)
        hint = f" {say(error.hint)}" if error.hint else ""
        line = unknown_json(domain, f"{say(error.message)}.{hint}", "unknown", now, then, host, builder)
    except BadInput as error:
        now = clock.now()
        then = now + DAY
        message = problems_said(error)
        line = unknown_json(domain, message, "bad-input", now, then)
    except Exception as error:  # the answers up to here are kept
        now = clock.now()
        then = now + DAY
        line = _unforeseen(domain, error, now, then)
    changed = differs(before, line)
    line["changed"] = changed
    if before is not None and not changed:
        line["since"] = before.get("since", line["since"])
    journal = packed.packed() if packed is not None else None
    return Result(
        domain,
        site_state.turn,
        _text(line),
        line["verdict"],
        changed,
        now,
        then,
        journal,
        recheck,
        shared.asker.asked,
        alarm=before is not None and _BAD.get(line["verdict"], 0) > _BAD.get(before["verdict"], 0),
    )


def _host(evidence: Evidence) -> str:
    """Who runs the nameservers, by the domain that they are in."""
    delegation = evidence.survey.delegation if evidence.survey else None
    first = next((server for server in (delegation.servers if delegation else ())), "")
    return ".".join(labels(first)[-2:]) if first else ""


_BAD = {"wrong": 1, "unknown": 2}
"""Verdicts that a second check has to confirm, where the one before was better."""


def _fingerprints(project: Project, wanted: str, shared: Shared, evidence: Evidence, now: float) -> Fingerprints | None:
    survey = evidence.survey
    if survey is None or survey.delegation is None or survey.unknown:
        return None
    signed, until = survey.delegation.signatures, judged_by(evidence, now)
    found = fingerprints_of(project.domain, project.wanted.names, shared.asker, evidence.visit, signed, until)
    if found is None:
        return None
    return replace(
        found,
        builders=builders(project) or "",
        wanted=wanted,
        registration=registration_fingerprint(survey.registration),
    )


def spreads(before: dict[str, Any] | None) -> bool:
    """Whether to query resolvers: while a change spreads, and at the first check. Otherwise the history of the
    servers' answers says how long a cache can be behind."""
    return before is None or before["stage"] in ("spread", UNKNOWN)


def _since(before: dict[str, Any] | None, now: float) -> float:
    """When the site was last seen to change, as far as that is known."""
    since = before.get("since") if before else None
    return from_rfc3339(since) if isinstance(since, str) else now


def _text(line: dict[str, Any]) -> str:
    return json.dumps(line, ensure_ascii=True, separators=(",", ":"))


def project_of(site_state: SiteState, files: SiteFiles, packed: Packed | None = None) -> Project:
    """The site as every command takes it; its journal is the packed one, or the file beside its own site file."""
    listed = site_state.listed
    return Project(
        Path(listed.folder),
        files.site,
        files.brief,
        files.notation,
        file=Path(listed.file or listed.place),
        new_notation=files.new_notation,
        memory=packed.open if packed is not None else None,
    )


def problems_said(error: BadInput) -> str:
    """All problems in one line."""
    return "; ".join(
        f"{each.place}: {say(each.message)}" if each.place else say(each.message) for each in error.problems
    )
