"""The spread as it happened: which share of the resolvers' answers was new, old or missing at each look."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

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
