"""What is in place now: checked, and kept in the journal."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from homepath.app.driving import Driver
from homepath.app.project import Project
from homepath.core.dns.names import BadName, Name
from homepath.core.dns.records import Zone
from homepath.core.files.exports import NoMasterFile, owner, read_export
from homepath.core.files.key_file import TsigKey
from homepath.core.findings.registry import findings as all_findings
from homepath.core.message import msg, reason
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.survey import Registration, Survey
from homepath.core.observe.merging import Export
from homepath.core.observe.survey import Asked, NobodyHolds, registration_check, survey_check
from homepath.core.plan.guard import loss_findings, losses
from homepath.core.plan.job import job
from homepath.core.site.case import Case
from homepath.core.wording.say import say
from homepath.files import read_text
from homepath.net.network_file import Network
from homepath.net.session import Session, random_label, session


@dataclass(frozen=True, slots=True)
class Surveyed:
    """`project`: with what the survey found."""

    survey: Survey
    project: Project

    @property
    def case(self) -> Case:
        return self.project.case

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What the rules and the guard find, worst first."""
        lost = loss_findings(self.case, losses(self.case, job(self.case)))
        return tuple(worst_first([*lost, *all_findings(self.case)]))


async def survey(
    project: Project,
    network: Network,
    zone_files: Sequence[Path] = (),
    ask_transfer: bool = False,
    key: TsigKey | None = None,
    names: Sequence[str] = (),
    within: Session | None = None,
    whole: bool = True,
) -> Surveyed:
    """Walk from the roots, ask every authoritative server, merge exports, ask the registry, keep it in the journal.

    `whole`: ask for every usual name now; else for some of them, and for others at the next check.
    Raises CouldNotCheck when the domain's servers cannot be found or none answers.
    """
    exports = tuple(_read_file(path, project.domain) for path in zone_files)
    within = within or session(network)
    extra = Asked((within.label, random_label()), exports, ask_transfer, _names(project.domain, names))
    extra = replace(extra, whole=whole or within.differing is None, differing=within.differing or ())
    questions = survey_check(project.wanted, project.evidence.contents, extra)
    driver = Driver(network, within, key=key)
    try:
        found = await driver.drive(questions)
    except NobodyHolds as error:
        if project.evidence.survey is None or (error.silent and project.wanted.hand_over is None):
            raise
        return _dark(project, project.evidence.survey, error, await driver.drive(registration_check(project.domain)))
    at = found.survey.at
    with project.journal() as journal:
        words = say(msg("survey.counted", sets=len(found.survey.records), servers=len(found.survey.servers)))
        journal.record_check(at, "survey", project.domain, words, found.survey)
        given = False
        if ask_transfer:
            given = any("transfer" in seen.ways for seen in found.survey.records)
            journal.record_check(at, "transfer", project.domain, "given" if given else "not given", {})
        if exports or (ask_transfer and given):
            journal.record_check(at, "whole", project.domain, say(msg("survey.whole")), {})
        if journal.last_change_of("world", project.domain)[1] != network.world:
            journal.record_check(at, "world", project.domain, network.world, {})
        if (words_now := wanted_words(project)) and journal.last_change_of("job", project.domain)[1] != words_now:
            journal.record_check(at, "job", project.domain, words_now, {})
        journal.record_contents(at, found.contents)
        journal.record_contents(at, found.handed, "parent")
        journal.record_contents(at, found.listed, "survey")
        journal.record_contents(at, found.confirmed, "told")
        journal.record_contents(at, found.behind, "behind")
    return Surveyed(found.survey, project.fresh(at))


def wanted_words(project: Project) -> str:
    """What is wanted of the zone, in few words, so that it is known since when; empty while a change
    is undone, or on the way out."""
    wanted = project.wanted
    if wanted.going != "there":
        return ""
    parts = sorted(f"{each.record.name} {each.record.type} {each.record.values}" for each in wanted.wants)
    parts += [f"NS {server}" for server in sorted(wanted.hand_over.servers if wanted.hand_over else ())]
    return hashlib.sha256("\n".join(parts).encode()).hexdigest()[:16]


def _dark(project: Project, before: Survey, error: NobodyHolds, registration: Registration | None) -> Surveyed:
    """No nameserver holds the domain: the last survey, with the nameservers and the registration of today. What was
    known of the signatures and of the registrar stays until something else is seen."""
    there, known = error.delegation, before.delegation
    if there.signed is not False and there.signatures == "unknown" and known is not None and known.signed:
        there = replace(there, signed=True, signatures=known.signatures, trouble=known.trouble)
    known_as = before.registration
    if registration is None:
        registration = known_as
    elif registration.missing and known_as is not None:
        registration = replace(registration, registrar=known_as.registrar)
    seen = replace(before, at=error.at, servers=error.servers, delegation=there, registration=registration, unknown=())
    with project.journal() as journal:
        journal.record_check(error.at, "survey", project.domain, say(error.message), seen)
        journal.record_contents(error.at, error.handed, "parent")
    return Surveyed(seen, project.fresh(error.at))


def _names(domain: Name, names: Sequence[str]) -> tuple[Name, ...]:
    """Names as a person types them, with or without the domain. Raises BadInput."""
    found = []
    for text in names:
        try:
            found.append(owner(text, domain))
        except BadName as error:
            raise BadInput(
                Problem(reason(error), key="--ask", seen=text[:80], hint=msg("survey.names.hint"))
            ) from error
    return tuple(found)


def _read_file(path: Path, domain: Name) -> Export:
    text = read_text(path, msg("file.zone"))
    return Export(msg("source.file", path=str(path)), tuple(_zone_in(text, domain, str(path))))


def _zone_in(text: str, domain: Name, file: str) -> Zone:
    """A master file, a CSV export; else a table as people copy it out of a form. Raises BadInput."""
    try:
        return read_export(text, domain, file)
    except BadInput as first:
        from homepath.app.start import registrable
        from homepath.core.page_reader.form_hints import read_table

        try:
            return read_table(text, domain, file, registrable)
        except BadInput as second:
            located = any(problem.line for problem in second.problems)
            raise (second if located and isinstance(first, NoMasterFile) else first) from None


FRESH = 300.0
"""Seconds for which a check counts as one of now."""


def is_now(at: float, now: float) -> bool:
    """Whether a check made then counts as one of now."""
    return 0 <= now - at < FRESH


def is_fresh(project: Project, now: float) -> bool:
    """Whether the last survey is one of now."""
    seen = project.evidence.survey
    return seen is not None and is_now(seen.at, now)


async def up_to_date(project: Project, network: Network, within: Session) -> Project:
    """The project with a survey of now: what another check finds is judged by all that is there, so that the order of
    commands makes no difference. Raises CouldNotCheck as `survey` does."""
    if is_fresh(project, network.clock.now()):
        return project
    return (await survey(project, network, within=within, whole=False)).project
