"""Resolvers that do not simply count down: what several checks of the same one show.

A cache that respects TTLs holds one copy of an old answer, counts it down, and returns the new one when it has expired
(RFC 1035 section 7.4). Copies that live longer are clamped or served stale (RFC 8767); copies of several ages, or old
answers after new ones, come from several caches behind one address.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from homepath.core.findings.registry import finding
from homepath.core.message import msg
from homepath.core.model.findings import Finding
from homepath.core.model.survey import Reading
from homepath.core.propagation.readings import Watched

Kind = Literal["several", "floor", "stale", "foreign"]
HELD = ("old", "absent")
"""States of an answer from before the change, as a resolver returns it."""
_CODE = {
    "several": "several-caches",
    "floor": "ttl-clamped",
    "stale": "ttl-clamped",
    "foreign": "resolver-answers-for-itself",
}


@dataclass(frozen=True, slots=True)
class Habit:
    """What one resolver was seen to do with one record set. `ttl`: the one that showed it, seconds."""

    vantage: str
    kind: Kind
    ttl: int | None = None


def habits(
    readings: Iterable[Reading],
    right_since: float | None,
    lets_go: float | None,
    longest: int,
    slack: float,
    came: float | None = None,
) -> list[Habit]:
    """What the readings of one record set, of earlier checks and this one, tell about each resolver.

    `right_since`: from then on every authoritative server returned the wanted content, None while that is not known;
    `lets_go`: when the last earlier copy expires in caches that respect TTLs; `longest`: the highest TTL ever seen,
    0 if none is known; `slack`: seconds that clocks and rounding may differ. `came`: when the wanted content was seen
    to come, None where it was there before the first check.
    """
    by_vantage: dict[str, list[Reading]] = {}
    for reading in readings:
        if reading.role == "resolver" and reading.state not in ("silent", "broken"):
            by_vantage.setdefault(reading.vantage, []).append(reading)
    found = []
    for vantage, mine in by_vantage.items():
        mine.sort(key=lambda reading: reading.at)
        kind = _kind(mine, right_since, lets_go, longest, slack, came)
        if kind:
            found.append(Habit(vantage, kind, max((each.ttl or 0 for each in mine), default=None)))
    return found


def _kind(
    mine: Sequence[Reading],
    right_since: float | None,
    lets_go: float | None,
    longest: int,
    slack: float,
    came: float | None,
) -> Kind | None:
    # a copy that was fetched before the first check may have had a longer TTL, so only one of what came later tells
    long = (each for each in mine if each.ttl is not None and each.values and each.ttl > longest)
    if longest and came is not None and any(each.state == "new" for each in long):
        return "floor"
    if right_since is None:
        return None
    after = [each for each in mine if each.at > right_since + slack]
    known_until = right_since + longest if lets_go is None else lets_go
    if any(each.state == "other" and each.at > known_until + slack for each in after):
        return "foreign"
    if lets_go is not None and any(each.state in HELD and each.at > lets_go + slack for each in after):
        return "stale"
    for one, two in pairwise(after):
        if two.state not in HELD:
            continue
        if one.state == "new":
            return "several"
        if one.values == two.values and one.dies is not None and two.dies is not None:
            if two.dies < one.dies - slack:
                return "several"
            if two.dies > one.dies + slack:
                return "stale" if two.at >= one.dies - slack else "several"
    return None


def habit_findings(watched: Watched, habits: Iterable[Habit], longest: int) -> list[Finding]:
    """What the habits mean, for people; notes, because nothing can be done from here."""
    return [
        finding(
            _CODE[each.kind],
            watched.name,
            watched.type,
            msg(f"habit.{each.kind}", who=each.vantage, name=watched.name, ttl=each.ttl or 0, most=longest),
            msg(f"habit.{each.kind}.cure"),
        )
        for each in habits
    ]
