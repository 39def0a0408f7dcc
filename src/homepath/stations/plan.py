"""Station three: wanted against present (N11 to N13). Needs no network: it reads the last survey from the journal."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.model.names import shown
from homepath.core.model.plan import Plan
from homepath.core.model.problems import CouldNotLook
from homepath.core.model.survey import Survey
from homepath.core.planning.plan import make_plan
from homepath.stations.project import Project


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan and the survey it was made from."""

    plan: Plan
    survey: Survey


def plan(project: Project) -> Planned:
    """The plan from the last survey. Raises CouldNotLook when there is none."""
    found = last_survey(project)
    return Planned(plan_from(project, found), found)


def plan_from(project: Project, survey: Survey) -> Plan:
    return make_plan(project.case_of(survey))


def last_survey(project: Project) -> Survey:
    """The last survey that the journal holds. Raises CouldNotLook."""
    if project.before is None:
        raise CouldNotLook(
            f"{shown(project.domain)} has not been surveyed yet, so nothing can be planned",
            "Run `homepath survey` first.",
        )
    return project.before
