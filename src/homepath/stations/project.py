"""The site file with its brief and notation, read together."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import Path
from typing import Any, cast, get_args

from homepath.core.formats.brief_file import read_brief
from homepath.core.formats.contracts.survey import survey_from_json
from homepath.core.formats.contracts.visit import hsts_from_json
from homepath.core.formats.site_file import read_notation, read_site
from homepath.core.model.brief import Brief, Notation, Route, Site
from homepath.core.model.hsts import Hsts
from homepath.core.model.names import Name, absolute, child
from homepath.core.model.plan import Purpose
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.records import RecordSet, Zone
from homepath.core.model.survey import Survey
from homepath.core.wanted.case import Case
from homepath.core.wanted.choices import Present
from homepath.core.wanted.wanted import Wanted, work_out
from homepath.journal.journal import FILE, open_journal
from homepath.stations.files import read_text

SITE_FILE = "homepath.toml"


@dataclass(frozen=True)
class Project:
    """One folder with its site file. Everything is read strictly when the project is opened.

    `before`: the last survey, by which alternatives of the brief are chosen. `past`: all that the authoritative
    servers ever gave. `hsts`: of each name, as it was last visited.
    """

    folder: Path
    site: Site
    brief: Brief
    notation: Notation
    before: Survey | None = None
    past: tuple[RecordSet, ...] = ()
    hsts: Mapping[Name, Hsts] = field(default_factory=dict)

    @property
    def domain(self) -> Name:
        return absolute(self.site.domain)

    @cached_property
    def wanted(self) -> Wanted:
        delegation = self.before.delegation if self.before else None
        present = Present(self.before.zone, bool(delegation and delegation.signed)) if self.before else None
        return work_out(self.site, self.brief, self.notation, present)

    def case(self, zone: Zone) -> Case:
        """The case of records alone, without all that a survey knows."""
        return Case(self.wanted, zone, Zone(self.domain), self.notation)

    def case_of(self, survey: Survey) -> Case:
        past = Zone.of(self.domain, self.past)
        return Case(self.wanted, survey.zone, survey.surroundings, self.notation, survey, past, self.hsts)

    def further(self, domain: str) -> Project:
        """The project of one of the site's further domains, with what the journal knows of that. Raises BadInput."""
        return _remembering(replace(self, site=_further(self.site, domain), before=None, past=(), hsts={}))

    def seen(self, survey: Survey) -> Project:
        """The project after a new survey."""
        return replace(self, before=survey)


def open_project(site_file: Path | None, route: str | None = None, domain: str | None = None) -> Project:
    """The project of `site_file`, or of the nearest one from here upward; `route` overrules the site file's.

    `domain` chooses one of the site's further domains. Raises BadInput with all problems.
    """
    path = site_file or find_site_file(Path.cwd())
    site = read_site(read_text(path, "the site file", "make one with `homepath start`"), str(path))
    site = _further(site, domain) if domain else site
    if route is not None:
        if route not in get_args(Route):
            raise BadInput(Problem("there is no such route", key="--route", seen=route, hint="records or nameservers"))
        site = replace(site, route=cast(Route, route))
    folder = path.parent
    problems: list[Problem] = []
    brief, notation = Brief(""), Notation()
    try:
        text = read_text(folder / site.brief, "the brief", f"it is named in {path}, key brief")
        brief = read_brief(text, site.brief)
    except BadInput as error:
        problems += error.problems
    try:
        if site.notation:
            text = read_text(folder / site.notation, "the notation", f"it is named in {path}, key notation")
            notation = read_notation(text, site.notation)
    except BadInput as error:
        problems += error.problems
    if problems:
        raise BadInput(*problems)
    return _remembering(Project(folder, site, brief, notation))


def _remembering(project: Project) -> Project:
    """The project with what the journal knows of its domain."""
    before, past, visits = _memory(project.folder, project.domain)
    project = replace(project, before=before, past=past)
    names = project.wanted.names  # so that a value that is not filled in is said now
    hsts = hsts_from_json(visits, names, visits[-1][0]) if visits else {}
    return replace(project, hsts=hsts) if hsts else project


def _further(site: Site, domain: str) -> Site:
    """The site as one of its further domains sees it: the same builder, and all of it leads to the primary."""
    name = domain.strip().lower().removesuffix(".")
    if name == site.domain:
        return site
    if name not in site.also:
        known = ", ".join((site.domain, *site.also))
        raise BadInput(Problem("this site has no such domain", key="--domain", seen=domain, hint=f"it has: {known}"))
    main = absolute(site.domain)
    primary = main if site.primary == "apex" else child(site.primary, main)
    return replace(site, domain=name, primary="www", also=(), keep=(), purposes={}, leads_to=primary)


Visits = list[tuple[float, dict[str, Any]]]


def _memory(folder: Path, domain: Name) -> tuple[Survey | None, tuple[RecordSet, ...], Visits]:
    """The last survey, everything ever given and all visits, if there is a journal."""
    if not (folder / FILE).exists():
        return None, (), []
    with open_journal(folder) as journal:
        last = journal.last_look("survey", domain)
        past = tuple(content.record for content in journal.contents(domain) if content.record.values)
        visits = [(look.at, look.body) for look in journal.looks("visit", domain)]
    return survey_from_json(last.body, last.at) if last else None, past, visits


def find_site_file(start: Path) -> Path:
    """`homepath.toml` here or in the nearest folder above. Raises BadInput."""
    for folder in (start, *start.parents):
        if (folder / SITE_FILE).is_file():
            return folder / SITE_FILE
    raise BadInput(
        Problem(
            f"there is no {SITE_FILE} in this folder or above it",
            hint="make one with `homepath start DOMAIN --brief FILE`, or name it with --site FILE",
        )
    )


def purpose_within(project: Project, zone: Zone) -> Callable[[RecordSet], Purpose]:
    """A function that tells the purpose of a record set of `zone`: the owner's word, or what it looks like."""
    case = project.case(zone)
    return lambda record: case.purpose(record)[0]
