"""One search over the whole text: every row can be read in several ways, and the way that explains most is kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import zip_longest

from homepath.core.page_reader.frames import Told, unrolled
from homepath.core.page_reader.kinds import is_fqdn
from homepath.core.page_reader.moods import Mood
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.steps import State, gap, steps
from homepath.core.page_reader.ways import ways_of

BEAM = 6
"""Readings of the text so far that are carried on."""
NEAR = 12.0
"""Readings that explain so much less than the best one are given up."""


@dataclass(frozen=True, slots=True)
class Found:
    """The best way of reading."""

    told: tuple[Told, ...]
    servers: tuple[tuple[str, Mood, int, str], ...]
    losses: tuple[tuple[int, str], ...]
    trail: dict[int, str]


def search(rows: Sequence[Row], own: Sequence[str] = ()) -> Found:
    """Read all rows. The cost grows with their number, never faster."""
    states = [State()]
    heads = _domain_headings(rows, own)
    for row, below in zip_longest(rows, rows[1:]):
        if row.kind in ("blank", "rule"):
            for state in states:
                gap(state)
            continue
        ways = ways_of(row, heads, below)
        found = [new for state in states for new in steps(state, row, ways)]
        states = _best(found)
    for state in states:
        state.machine.close()
    states.sort(key=lambda state: -state.score)
    best = states[0]
    return Found(
        tuple(unrolled(best.machine.told)),
        tuple(unrolled(best.machine.servers)),
        tuple(unrolled(best.machine.losses)),
        dict(unrolled(best.trail)),
    )


def _domain_headings(rows: Sequence[Row], own: Sequence[str]) -> Sequence[str]:
    """Where the reader's own domain stands alone over its records, another one that stands alone is such a heading."""
    lone = [
        row.text.lower().strip(" :.") for row in rows if len(row.text.split()) == 1 and is_fqdn(row.text.strip(" :"))
    ]
    mine = [each for each in lone if each in own]
    return (*own, *(each for each in lone if mine and each.count(".") == mine[0].count(".")))


def _best(states: list[State]) -> list[State]:
    states.sort(key=lambda state: -_ahead(state))
    kept: dict[object, State] = {}
    for state in states:
        if len(kept) >= BEAM or (kept and _ahead(state) < _ahead(states[0]) - NEAR):
            break
        kept.setdefault(state.key, state)
    return list(kept.values())


def _ahead(state: State) -> float:
    """The score with what lies in the open frame, which is counted only when its record ends."""
    return state.machine.prospect()
