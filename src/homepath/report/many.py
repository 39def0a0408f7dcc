"""The page of many domains: those that need a person first, and a table that sorts and filters by itself."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from heapq import nsmallest
from typing import Any

from homepath.core.wording.words import NEEDS_A_PERSON, STANDS_ORDER, stands, what_next
from homepath.report.page import render

MOST_ROWS = 5_000
"""Rows of one page; of more domains those that need a person come first, and the rest is left out."""
MOST_FIRST = 20


@dataclass(frozen=True, slots=True)
class Line:
    """One row of the table."""

    domain: str
    stands: str
    next: str
    until: str
    worst: str
    since: str


@dataclass(frozen=True, slots=True)
class ManyPage:
    """What the template speaks of."""

    name: str
    count: int
    head: str
    first: tuple[Line, ...]
    first_left: int
    rows: tuple[Line, ...]
    words: tuple[str, ...]
    left_out: int
    now: float


def many_page(name: str, lines: Iterable[dict[str, Any]], now: float) -> str:
    """The page as HTML text. `lines`: as `homepath.many/1`; they are gone through once, and only the rows are kept."""
    count: Counter[str] = Counter()

    def each() -> Iterable[tuple[int, int, Line]]:
        for number, line in enumerate(lines):
            found = _line(line)
            count[found.stands] += 1
            yield STANDS_ORDER.index(found.stands), number, found

    rows = nsmallest(MOST_ROWS, each(), key=lambda row: row[:2])
    person = [row for order, _, row in rows if row.stands in NEEDS_A_PERSON]
    total = sum(count.values())
    parts = [f"{count[word]} {word}" for word in STANDS_ORDER if count[word]]
    page = ManyPage(
        name,
        total,
        f"{', '.join(parts)}." if parts else "Nothing was looked at yet.",
        tuple(person[:MOST_FIRST]),
        max(0, sum(count[word] for word in NEEDS_A_PERSON) - MOST_FIRST),
        tuple(row for _, _, row in sorted(rows, key=lambda row: row[1])),
        tuple(word for word in STANDS_ORDER if count[word]),
        total - len(rows),
        now,
    )
    return render("many", {"page": page}, "table.js")


def _line(line: dict[str, Any]) -> Line:
    worst = line["worst"] or {}
    until = str(line["wait_until"] or "").replace("T", " ").removesuffix(":00Z").removesuffix("Z")
    return Line(
        line["domain"].removesuffix("."),
        stands(line),
        what_next(line),
        until,
        str(worst.get("code") or ""),
        str(line.get("since") or "")[:10],
    )
