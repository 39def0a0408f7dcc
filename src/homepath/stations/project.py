"""The site file with its brief and notation, read together."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

from homepath.core.formats.brief_file import read_brief
from homepath.core.formats.site_file import read_notation, read_site
from homepath.core.model.brief import Brief, Notation, Site
from homepath.core.model.names import Name, absolute
from homepath.core.model.plan import Purpose
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.records import RecordSet, Zone
from homepath.core.model.survey import Survey
from homepath.core.rules.purposes import purpose
from homepath.core.rules.rule import Case
from homepath.core.wanted.wanted import Wanted, work_out
from homepath.stations.files import read_text

SITE_FILE = "homepath.toml"


@dataclass(frozen=True)
class Project:
    """One folder with its site file. Everything is read strictly when the project is opened."""

    folder: Path
    site: Site
    brief: Brief
    notation: Notation

    @property
    def domain(self) -> Name:
        return absolute(self.site.domain)

    @cached_property
    def wanted(self) -> Wanted:
        return work_out(self.site, self.brief)

    def case(self, zone: Zone, surroundings: Zone | None = None) -> Case:
        return Case(self.wanted, zone, surroundings or Zone(self.domain), self.notation)

    def case_of(self, survey: Survey) -> Case:
        return self.case(survey.zone, survey.surroundings)


def open_project(site_file: Path | None) -> Project:
    """The project of `site_file`, or of the nearest one from here upward. Raises BadInput with all problems."""
    path = site_file or find_site_file(Path.cwd())
    site = read_site(read_text(path, "the site file", "make one with `homepath start`"), str(path))
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
    if site.route == "nameservers":
        problems.append(
            Problem(
                "handing over the name servers is not planned by this version yet",
                str(path),
                key="route",
                hint='use route = "records"',
            )
        )
    if problems:
        raise BadInput(*problems)
    project = Project(folder, site, brief, notation)
    _ = project.wanted  # so that a value that is not filled in is said now
    return project


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


def purpose_within(zone: Zone) -> Callable[[RecordSet], Purpose]:
    """A function that tells the purpose of a record set of `zone`."""
    return lambda record: purpose(record, zone.origin, zone)[0]
