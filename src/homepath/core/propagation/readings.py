"""One answer about one record set: is it the new one, the old one, or something else? And the share of each
over time."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from homepath.core.dns.answers import Answer, of_trouble
from homepath.core.dns.names import Name
from homepath.core.dns.records import Key, RecordSet
from homepath.core.dns.soa import negative_ttl
from homepath.core.message import Text, msg
from homepath.core.model.plan import DesiredSet
from homepath.core.model.survey import Reading, Role, Spread, State

KINDS = ("new", "old", "nothing", "unknown")
_KIND = {"new": "new", "old": "old", "mixed": "old", "other": "old", "absent": "nothing"}


@dataclass(frozen=True, slots=True)
class CheckShares:
    """One check: shares of `KINDS` that sum to 1, and the deadline as known then."""

    at: float
    shares: tuple[float, ...]
    settled_by: float | None


def shares_of(looks: Iterable[Spread]) -> list[CheckShares]:
    """The shares of each check; checks in which no resolver was asked are left out."""
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
            found.append(CheckShares(spread.at, shares, spread.settled_by))
    return found


@dataclass(frozen=True, slots=True)
class Span:
    """What is known of the time between two moments: shares of `KINDS` that held all the while, and `moving`, the rest,
    which went over from one answer to another at a moment that no one saw."""

    begin: float
    end: float
    held: tuple[float, ...]
    moving: float

    @property
    def bands(self) -> tuple[float, ...]:
        """The shares from the bottom up: new, moving, old, nothing, unknown."""
        return self.held[0], self.moving, *self.held[1:]


def spans_of(checks: Sequence[CheckShares], now: float) -> list[Span]:
    """The time from the first check to `now`, as far as it is known.

    Between two checks only what both saw is known to have held. Where a deadline is between them, no cache that
    respects TTLs held an earlier answer after it, so what had changed by the later check had changed by then. After
    the last check an earlier answer may expire at any time; after its deadline nothing is known until the next one.
    """
    found: list[Span] = []
    for here, after in pairwise(checks):
        held = tuple(min(pair) for pair in zip(here.shares, after.shares, strict=True))
        end = after.at
        deadline = here.settled_by
        if deadline is not None and here.at < deadline < end and after.shares[1] + after.shares[2] == 0:
            found.append(_span(here.at, deadline, held))
            found.append(_span(deadline, end, after.shares))
        else:
            found.append(_span(here.at, end, held))
    last = checks[-1]
    end = now if last.settled_by is None else min(now, last.settled_by)
    if end > last.at:
        lasting = (last.shares[0], 0.0, 0.0, 0.0) if last.settled_by is not None else last.shares
        found.append(_span(last.at, end, lasting))
    return found


def _span(begin: float, end: float, held: tuple[float, ...]) -> Span:
    return Span(begin, end, held, max(0.0, 1 - sum(held)))


@dataclass(frozen=True, slots=True)
class Watched:
    """A record set to follow. `old`: every other content seen there before, an alias in place of addresses included.

    `first` is the one that was there when the domain was first checked: at the source only that one is old,
    whatever came since was typed in, and is wrong if it is not the wanted one.
    """

    desired: DesiredSet
    old: tuple[RecordSet, ...] = ()
    first: RecordSet | None = None

    @property
    def key(self) -> Key:
        return self.desired.key

    @property
    def name(self) -> Name:
        return self.desired.name

    @property
    def type(self) -> str:
        return self.desired.type

    @property
    def wanted(self) -> tuple[str, ...]:
        return self.desired.values

    @property
    def joined(self) -> bool:
        return self.desired.joined

    @property
    def old_ttl(self) -> int | None:
        """The longest TTL with which an old answer was ever given; seconds."""
        return max((record.ttl for record in self.old), default=None)


def read(watched: Watched, answer: Answer, vantage: str, role: Role) -> Reading:
    """The reading that `answer` returns. An alias at the name means every type there (RFC 1034 section 3.6.2)."""
    if answer.outcome == "silent":
        return Reading(vantage, role, "silent", (), None, answer.at, _why(answer))
    if not answer.usable:
        return Reading(vantage, role, "broken", (), None, answer.at, _why(answer) or answer.rcode)
    found = answer.found(*watched.key)
    if found is None:
        return _without(watched, answer, vantage, role)
    return Reading(vantage, role, _state(watched, found, role), found.values, found.ttl, answer.at)


def _why(answer: Answer) -> Text:
    return of_trouble(answer.trouble) if answer.trouble else ""


def _without(watched: Watched, answer: Answer, vantage: str, role: Role) -> Reading:
    alias = answer.found(watched.name, "CNAME")
    ttl = alias.ttl if alias else negative_ttl(answer.soa) if answer.soa else None
    earlier = _earlier(watched, role) if watched.first else watched.old
    state: State
    if watched.type != "CNAME" and alias and watched.wanted:
        state = "old" if any(old.key == alias.key and old.meanings == alias.meanings for old in earlier) else "other"
        return Reading(vantage, role, state, alias.values, ttl, answer.at, msg("readings.without"))
    if watched.type == "CNAME" and (others := _addresses(answer, watched.name)):
        state = "other" if watched.wanted else "new"
        ttl = min(record.ttl for record in others)
        values = tuple(value for record in others for value in record.values)
        if any(record.meanings & old.meanings for record in others for old in earlier if old.key == record.key):
            state = "old"
        return Reading(vantage, role, state, values, ttl, answer.at, msg("readings.without-2"))
    return Reading(vantage, role, "absent" if watched.wanted else "new", (), ttl, answer.at)


def _addresses(answer: Answer, name: Name) -> list[RecordSet]:
    return [each for each in answer.answer if each.name == name and each.type in ("A", "AAAA")]


def _state(watched: Watched, found: RecordSet, role: Role) -> State:
    wanted = watched.desired.meanings
    if watched.desired.met_by(found):
        return "new"
    if any(old.key == found.key and old.meanings == found.meanings for old in _earlier(watched, role)):
        return "old"
    if watched.joined and role != "resolver" and not any(_same_start(a, b) for a in wanted for b in found.meanings):
        return "absent"
    if wanted & found.meanings:
        return "mixed"
    return "other"


def _earlier(watched: Watched, role: Role) -> tuple[RecordSet, ...]:
    """What is merely old: in a cache everything that ever was there, at the source what was there first."""
    if role == "resolver":
        return watched.old
    return (watched.first,) if watched.first else ()


def beside(desired: DesiredSet) -> tuple[DesiredSet, ...]:
    """What else answers the visitors' question at the name, and has to be gone: an alias and addresses are one thing
    there, and a cache answers with whichever it keeps (RFC 1034 section 3.6.2)."""
    others = {"CNAME": ("A", "AAAA"), "A": ("CNAME",), "AAAA": ("CNAME",)}
    return tuple(DesiredSet(desired.name, each) for each in others.get(desired.type, ())) if desired.values else ()


def to_watch(
    desired: Iterable[DesiredSet], history: Iterable[RecordSet], given_up: Iterable[DesiredSet] = ()
) -> list[Watched]:
    """What to follow: every set to enter or to delete, each with its past. `given_up`: what a change had entered, and
    what is undone now or deleted on leaving: it counts as the old content."""
    past, made = list(history), {each.key: each for each in given_up}
    found = []
    for each in desired:
        keys = {each.key, *(other.key for other in beside(each))}
        there = [record for record in past if record.key in keys]
        old = [record for record in there if not each.met_by(record)]
        first = [record for record in old if record.key in made and made[record.key].met_by(record)][-1:] or there[:1]
        found.append(Watched(each, _distinct(old), first[0] if first else None))
    return found


def _same_start(one: str, other: str) -> bool:
    """Two texts that begin alike up to `=` are versions of the same thing: a verification record with another code."""
    return "=" in one and one.partition("=")[0] == other.partition("=")[0]


def _distinct(records: list[RecordSet]) -> tuple[RecordSet, ...]:
    longest: dict[tuple[Key, tuple[str, ...]], RecordSet] = {}
    for each in records:
        before = longest.get((each.key, each.values))
        if before is None or before.ttl < each.ttl:
            longest[each.key, each.values] = each
    return tuple(longest.values())
