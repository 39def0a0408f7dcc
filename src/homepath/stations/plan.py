"""Station three: wanted against present. Needs no network: it reads the last survey from the journal."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.model.names import shown
from homepath.core.model.plan import Plan
from homepath.core.model.problems import BadInput, CouldNotLook, Problem
from homepath.core.model.survey import Survey
from homepath.core.planning.plan import make_plan
from homepath.journal.journal import open_journal
from homepath.stations.project import Project


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan and the survey it was made from. `done`: kinds of steps that a person has marked as done. `visited`: the
    old site was visited once, so that its promises are known."""

    plan: Plan
    survey: Survey
    done: frozenset[str] = frozenset()
    visited: bool = True


def plan(project: Project) -> Planned:
    """The plan from the last survey. Raises CouldNotLook when there is none."""
    found = last_survey(project)
    made = plan_from(project, found)
    with open_journal(project.folder) as journal:
        marks, visited = journal.marks(project.domain), journal.last_look("visit", project.domain) is not None
    return Planned(made, found, marks | recognised(made), visited)


def recognised(made: Plan) -> frozenset[str]:
    """Steps that need no mark: what is there shows that they are done."""
    if made.work:
        return frozenset()
    return frozenset({"enter", "lower-ttl", "name-servers"})


def mark_done(project: Project, step: str, now: float) -> str:
    """Mark a step, by number or kind, as done. Raises BadInput when there is none such; the title otherwise."""
    steps = plan(project).plan.steps
    chosen = next((each for each in steps if step in (str(each.number), each.kind)), None)
    if chosen is None:
        known = ", ".join(f"{each.number} ({each.kind})" for each in steps)
        raise BadInput(Problem("there is no such step", key="--done", seen=step, hint=f"the steps are: {known}"))
    with open_journal(project.folder) as journal:
        journal.record_look(now, "done", project.domain, chosen.kind, {"title": chosen.title})
    return chosen.title


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
