"""Exit statuses, the same everywhere: that of one domain is the assessment's own."""

from __future__ import annotations

from collections.abc import Iterable

from homepath.core.contracts.many import Verdict
from homepath.core.findings.registry import kind_of
from homepath.core.model.compared import Compared

AS_WANTED = 0
NOT_YET = 1
BAD_INPUT = 2
WRONG = 3
COULD_NOT_CHECK = 4

OF_LINE: dict[Verdict, int] = {
    "as-wanted": AS_WANTED,
    "not-yet": NOT_YET,
    "bad-input": BAD_INPUT,
    "wrong": WRONG,
    "unknown": COULD_NOT_CHECK,
}
"""Of one domain of a list: the status that `homepath next` has for it."""


def of_lines(verdicts: Iterable[Verdict]) -> int:
    """The worst of a list: what is wrong counts more than what could not be checked."""
    return worst(OF_LINE[verdict] for verdict in verdicts)


def worst(statuses: Iterable[int]) -> int:
    order = (AS_WANTED, NOT_YET, BAD_INPUT, COULD_NOT_CHECK, WRONG)
    return max(statuses, key=order.index, default=AS_WANTED)


OF_COMPARED = {"ready": AS_WANTED, "not-ready": NOT_YET, "unknown": COULD_NOT_CHECK}


def of_compared(compared: Compared) -> int:
    """`compare` answers a question of its own. What is only missing can still be entered; a new nameserver that does
    not exist, or is the wrong one, has to be corrected."""
    wrong = any(
        each.level == "blocker" and kind_of(each).who == "you" and kind_of(each).fixed_by is None
        for each in compared.findings
    )
    return WRONG if wrong else OF_COMPARED[compared.verdict]
