"""The spread as it happened: which share of the resolvers' answers was new, old or missing at each look."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from homepath.core.model.readings import Spread

KINDS = ("new", "old", "nothing", "unknown")
_KIND = {"new": "new", "old": "old", "mixed": "old", "other": "old", "absent": "nothing"}


@dataclass(frozen=True, slots=True)
class LookShares:
    """One look: shares of `KINDS` that sum to 1, and the deadline as it was known then."""

    at: float
    shares: tuple[float, ...]
    settled_by: float | None


def shares_of(looks: Iterable[Spread]) -> list[LookShares]:
    """The shares of each look; looks in which no resolver was asked are left out."""
    found = []
    for spread in looks:
        states = [
            _KIND.get(reading.state, "unknown")
            for record in spread.records
            for reading in record.readings
            if reading.role == "resolver"
        ]
        if states:
            shares = tuple(states.count(kind) / len(states) for kind in KINDS)
            found.append(LookShares(spread.at, shares, spread.settled_by))
    return found


@dataclass(frozen=True, slots=True)
class Span:
    """What is known of the time between two moments: shares of `KINDS` that held all the while, and `moving`, the rest,
    which went over from one answer to another at a moment that nobody saw."""

    begin: float
    end: float
    held: tuple[float, ...]
    moving: float

    @property
    def bands(self) -> tuple[float, ...]:
        """The shares from the bottom up: new, moving, old, nothing, unknown."""
        return self.held[0], self.moving, *self.held[1:]


def spans_of(looks: Sequence[LookShares], now: float) -> list[Span]:
    """The time from the first look to `now`, as far as it is known.

    Between two looks only what both saw is known to have held. Where a deadline lies between them, no cache that keeps
    the rules held an earlier answer after it, so what had changed by the later look had changed by then. After the last
    look an earlier answer may be gone at any moment; after its deadline nothing is known until somebody looks.
    """
    found: list[Span] = []
    for look, after in pairwise(looks):
        held = tuple(min(pair) for pair in zip(look.shares, after.shares, strict=True))
        end = after.at
        deadline = look.settled_by
        if deadline is not None and look.at < deadline < end and after.shares[1] + after.shares[2] == 0:
            found.append(_span(look.at, deadline, held))
            found.append(_span(deadline, end, after.shares))
        else:
            found.append(_span(look.at, end, held))
    last = looks[-1]
    end = now if last.settled_by is None else min(now, last.settled_by)
    if end > last.at:
        lasting = (last.shares[0], 0.0, 0.0, 0.0) if last.settled_by is not None else last.shares
        found.append(_span(last.at, end, lasting))
    return found


def _span(begin: float, end: float, held: tuple[float, ...]) -> Span:
    return Span(begin, end, held, max(0.0, 1 - sum(held)))
