"""Exit statuses, the same everywhere."""

from __future__ import annotations

from collections.abc import Iterable

from homepath.core.findings.registry import kind_of
from homepath.core.formats.contracts.many import Verdict
from homepath.core.model.compared import Compared
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Plan
from homepath.core.model.readings import Spread
from homepath.core.model.steps import Assessment
from homepath.core.model.visits import Visit

AS_WANTED = 0
NOT_YET = 1
BAD_INPUT = 2
WRONG = 3
COULD_NOT_LOOK = 4

OF_SPREAD = {
    "settled": AS_WANTED,
    "spreading": NOT_YET,
    "not-entered": NOT_YET,
    "entered-wrong": WRONG,
    "split": WRONG,
    "unknown": COULD_NOT_LOOK,
}
OF_VISIT = {"arrived": AS_WANTED, "waiting": NOT_YET, "broken": WRONG}


def of_assessment(assessment: Assessment) -> int:
    """0 exactly where nothing is to be done or awaited; 3 where the act cures what no waiting cures."""
    return AS_WANTED if assessment.arrived else WRONG if assessment.blocked else NOT_YET


OF_LINE: dict[Verdict, int] = {
    "as-wanted": AS_WANTED,
    "not-yet": NOT_YET,
    "bad-input": BAD_INPUT,
    "wrong": WRONG,
    "unknown": COULD_NOT_LOOK,
}
"""Of one domain of a list: the status that `homepath next` has for it."""


def of_lines(verdicts: Iterable[Verdict]) -> int:
    """The worst of a list: what is wrong counts more than what could not be looked at."""
    return worst(OF_LINE[verdict] for verdict in verdicts)


def worst(statuses: Iterable[int]) -> int:
    order = (AS_WANTED, NOT_YET, BAD_INPUT, COULD_NOT_LOOK, WRONG)
    return max(statuses, key=order.index, default=AS_WANTED)


def of_spread(spread: Spread) -> int:
    """A blocker that was found counts whatever the verdict is."""
    return WRONG if any(each.level == "blocker" for each in spread.findings) else OF_SPREAD[spread.verdict]


def of_visit(visit: Visit) -> int:
    """A blocker that was found counts whatever the verdict is."""
    return WRONG if any(each.level == "blocker" for each in visit.findings) else OF_VISIT[visit.verdict]


def of_plan(plan: Plan) -> int:
    return WRONG if plan.blockers else NOT_YET if plan.work else AS_WANTED


OF_COMPARED = {"ready": AS_WANTED, "not-ready": NOT_YET, "unknown": COULD_NOT_LOOK}


def of_compared(compared: Compared) -> int:
    """What is only missing can still be entered; a new name server that does not exist has to be mended."""
    wrong = any(
        each.level == "blocker" and kind_of(each).who == "you" and kind_of(each).fixed_by is None
        for each in compared.findings
    )
    return WRONG if wrong else OF_COMPARED[compared.verdict]


def of_findings(findings: Iterable[Finding]) -> int:
    levels = {finding.level for finding in findings}
    return WRONG if "blocker" in levels else NOT_YET if "risk" in levels else AS_WANTED
