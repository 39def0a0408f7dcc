"""What is known of each name before its pages are judged: where DNS points, since when, and what is in the way."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from homepath.core.dns.answers import UNSENT, Trouble, TroubleCause, of_trouble
from homepath.core.dns.names import ROOT, Name
from homepath.core.dns.walk import Found
from homepath.core.message import Text, msg
from homepath.core.model.evidence import Evidence, builder_waited_since
from homepath.core.plan.job import job, right_since
from homepath.core.site.case import Case
from homepath.core.site.wanted import ALIAS, Wanted
from homepath.core.site.zone_facts import refusing_sets
from homepath.core.web.known import NameKnown

NOT_ASKED: tuple[TroubleCause, ...] = (
    "no-server",
    "silent",
    "refused",
    "failed",
    "no-connection",
    "connection-lost",
    "not-dns",
    "intercepted",
    *UNSENT,
)
"""Why a name could not be asked for at all, so that nothing is known of it."""
LookedUp = tuple[tuple[str, ...], Found | None, Trouble | None]
"""Addresses, what was found on the way, and why there is none."""


def names_to_resolve(wanted: Wanted) -> list[Name]:
    """Every name of the site, what an alias at the apex points to, and the builder's own host name."""
    targets = [want.record.values[0] for want in wanted.wants if want.record.type in ("CNAME", ALIAS)]
    edge = [wanted.edge] if wanted.edge != ROOT and wanted.going == "there" else []
    return list(dict.fromkeys([*wanted.names, *targets, *edge]))


@dataclass(frozen=True, slots=True)
class NamesChecked:
    """The names above, resolved as visitors do, and at the source where that differs. `handed_over`: the parent
    names the builder's servers, by this check's own walk."""

    up: Mapping[Name, LookedUp]
    handed_over: bool
    at_source: Mapping[Name, LookedUp] = field(default_factory=dict)


def names_known(case: Case, evidence: Evidence, checked: NamesChecked, now: float) -> dict[Name, NameKnown]:
    """What is known of each name of the site at `now`, Unix seconds."""
    since = builder_waited_since(evidence, right_since(case, evidence.contents, job(case)))
    return {name: _known(case, evidence, checked, name, since, now) for name in case.wanted.names}


def _known(
    case: Case, evidence: Evidence, checked: NamesChecked, name: Name, since: float | None, now: float
) -> NameKnown:
    addresses, found, trouble = checked.up[name]
    right, detail = _leads_right(case.wanted, checked.up, name, found, checked.handed_over)
    forwarded = name in case.wanted.forwarded or bool(set(addresses) & set(case.notation.forwarding_addresses))
    obstacle = _obstacle(case, name, addresses, right, detail)
    why = of_trouble(trouble) if trouble else ""
    beside = _meant(case.wanted, checked.up, name) & set(addresses)
    return NameKnown(
        right,
        since,
        obstacle,
        detail if addresses else why,
        forwarded=forwarded,
        hsts=case.hsts.get(name),
        mixed=not right and bool(beside),
        stale_until=None if right else _stale_until(case.wanted, checked, name, now),
        certified=bool(evidence.visit and name in evidence.visit.certified),
        unseen=why if trouble and trouble.cause in NOT_ASKED else "",
    )


def _stale_until(wanted: Wanted, checked: NamesChecked, name: Name, now: float) -> float | None:
    """How long the resolver asked may hold its old answer, where the authoritative servers lead the name right."""
    there, trouble = checked.at_source.get(name), checked.up[name][2]
    if there is None or (trouble and trouble.cause in NOT_ASKED):  # a silent resolver holds nothing that we know of
        return None
    if not _leads_right(wanted, checked.at_source, name, there[1], checked.handed_over)[0]:
        return None
    found = checked.up[name][1]
    return now + max((record.ttl for record in (*found.chain, *found.sets)), default=0) if found else now


def _leads_right(
    wanted: Wanted, checked: Mapping[Name, LookedUp], name: Name, found: Found | None, handed_over: bool
) -> tuple[bool, Text]:
    """Whether DNS points `name` where the brief says: by the builder's nameservers, an alias, or the addresses."""
    addresses = tuple(value for record in (found.sets if found else ()) for value in record.values)
    if not wanted.choice.by_records:
        return handed_over and bool(addresses), msg("names.leads-right", builder=wanted.builder)
    if name in wanted.forwarded:
        return bool(addresses), msg("names.leads-right-2")
    if alias := wanted.get(name, "CNAME"):
        chain = [value for record in (found.chain if found else ()) for value in record.values]
        right = alias.record.values[0] in chain and bool(addresses)
        return right, msg("names.leads-right-3", values=alias.record.values[0])
    stray = sorted(set(addresses) - _meant(wanted, checked, name))
    return bool(addresses) and not stray, msg("names.leads-right-4", stray=tuple(stray)) if stray else ""


def _meant(wanted: Wanted, checked: Mapping[Name, LookedUp], name: Name) -> set[str]:
    if flattened := wanted.get(name, ALIAS):
        return set(checked[flattened.record.values[0]][0])
    if alias := wanted.get(name, "CNAME"):
        return set(checked[alias.record.values[0]][0]) if alias.record.values[0] in checked else set()
    return {v for want in wanted.at(name) if want.record.type in ("A", "AAAA") for v in want.record.values}


def _obstacle(case: Case, name: Name, addresses: Sequence[str], right: bool, detail: Text) -> Text:
    """What keeps the builder's authority from issuing for `name`, in words; empty when nothing was found."""
    survey = case.survey
    if survey is not None and any(refused == name for refused, _ in refusing_sets(case)):
        return msg("names.obstacle")
    if survey is not None and survey.delegation and survey.delegation.signatures == "broken":
        return msg("names.obstacle-2")
    wanted_addresses = {
        v for want in case.wanted.at(name) if want.record.type in ("A", "AAAA") for v in want.record.values
    }
    if not right and wanted_addresses & set(addresses):
        return msg("names.obstacle-3", detail=detail)
    return ""


def edge_address(wanted: Wanted, checked: Mapping[Name, LookedUp], name: Name) -> str | None:
    """An address of the builder's servers, as the brief wants it for `name`; None where it names none."""
    for want in wanted.at(name):
        if want.record.type in ("A", "AAAA"):
            return want.record.values[0]
        if want.record.type in ("CNAME", ALIAS):
            addresses = checked[want.record.values[0]][0]
            return addresses[0] if addresses else None
    return None
