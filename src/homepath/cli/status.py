"""Exit statuses, the same everywhere."""

from __future__ import annotations

from collections.abc import Iterable

from homepath.core.model.findings import Finding
from homepath.core.model.plan import Plan

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
OF_STAGE = {"arrived": AS_WANTED, "decide": WRONG, "mend": WRONG, "web": WRONG, "look": COULD_NOT_LOOK}
"""Every other stage is NOT_YET."""


def of_plan(plan: Plan) -> int:
    return WRONG if plan.blockers else NOT_YET if plan.work else AS_WANTED


def of_findings(findings: Iterable[Finding]) -> int:
    levels = {finding.level for finding in findings}
    return WRONG if "blocker" in levels else NOT_YET if "risk" in levels else AS_WANTED
