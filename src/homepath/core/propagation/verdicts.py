"""Readings of all vantages become a verdict and a deadline, per record set and for the whole."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import combinations

from homepath.core.dns.names import is_within
from homepath.core.dns.records import Key
from homepath.core.message import Text, msg
from homepath.core.model.acts import Cause, Wait
from homepath.core.model.evidence import Content, Copy, Source, earlier_copies
from homepath.core.model.plan import DesiredSet
from homepath.core.model.survey import WORST_FIRST, Reading, RecordSpread, Role, SpreadVerdict
from homepath.core.propagation.habits import Habit
from homepath.core.propagation.readings import Watched


def last_copy(contents: Sequence[Content], desired: Iterable[DesiredSet], now: float) -> Wait | None:
    """The end of the wait for all of `desired`; None where every earlier content has run out in such caches.

    For each earlier content it is the moment at which the next one was first seen, plus its own TTL (RFC 1035 section
    3.2.1), or the negative-caching time where there was no record (RFC 2308 section 5). Where nameservers changed, a
    cache may have fetched from the former ones as long as it held their names.
    """
    ends: list[tuple[float, Cause]] = []
    for desired_set in desired:
        ends += [(copy.dies, _cause(desired_set, copy)) for copy in earlier_copies(contents, desired_set)]
        ends += [(copy.dies, "parent") for copy in moved_copies(contents, desired_set)]
    latest = max(ends, default=None)
    if latest is None or latest[0] <= now:
        return None
    return Wait(math.ceil(latest[0]), latest[1])


def _cause(desired: DesiredSet, copy: Copy) -> Cause:
    if desired.type in ("NS", "DS"):
        return "parent"
    return "absence" if copy.absent else "caches"


def moved_copies(contents: Sequence[Content], desired: DesiredSet) -> list[Copy]:
    """What a cache may still fetch from nameservers of before, as long as it holds their names: what those served when
    they were replaced, and nothing that they gave up earlier. The DS record is the parent's, which did not change."""
    if desired.type in ("NS", "DS"):
        return []
    moves = {e.record.key for e in contents if e.record.type == "NS" and is_within(desired.name, e.record.name)}
    names_of_before = [copy for key in moves for copy in _names_of_before(contents, key)]
    if not names_of_before:
        return []
    switched = [copy.until for key in moves for copy in _names_of_before(contents, key, "parent")]
    mine = [each for each in contents if each.record.key == desired.key]
    past = [[each for each in mine if each.source == source] for source in ("zone", "behind")]
    found = []
    for names in names_of_before:
        at = max((each for each in switched if each <= names.until), default=names.until)
        served = [next((each.record for each in reversed(one) if each.first_at < at), None) for one in past]
        wrong = [record for record in served if record is not None and not desired.met_by(record)]
        found += [Copy(names.dies, record.ttl, not record.values) for record in wrong]
    return found


def _names_of_before(contents: Sequence[Content], key: Key, source: Source | None = None) -> tuple[Copy, ...]:
    """`source`: as this one told; what is right is what the parent says now, else the zone."""
    mine = [each for each in contents if each.record.key == key]
    last = max(mine, key=lambda each: (each.source == "parent", each.last_at)).record
    return earlier_copies([each for each in mine if source in (None, each.source)], DesiredSet(*key, last.values))


@dataclass(frozen=True, slots=True)
class Past:
    """What is known of a record set from before this check.

    `copies`: earlier contents that caches may hold. `readings`: those of earlier checks. `settled_at`: the last check,
    if it said settled. `habits`: what the resolvers were seen to do. `liars`: resolvers that answer for themselves.
    """

    copies: tuple[Copy, ...] = ()
    readings: tuple[Reading, ...] = ()
    settled_at: float | None = None
    habits: tuple[Habit, ...] = ()
    liars: frozenset[str] = frozenset()

    @property
    def lets_go(self) -> float | None:
        """When the last earlier content has run out in caches that keep the rules; None where none is known."""
        return max((copy.dies for copy in self.copies), default=None)


NOTHING_BEFORE = Past()


def judge(
    watched: Watched,
    readings: Sequence[Reading],
    now: float,
    past: Past = NOTHING_BEFORE,
    source: Role = "authoritative",
) -> RecordSpread:
    """The verdict for one record set. `source`: whose word decides; the parent's for nameservers that change."""
    readings = [_marked(reading, past, now) for reading in readings if reading.vantage not in past.liars]
    verdict, because = _at_source(watched, [reading for reading in readings if reading.role == source])
    settled_by = None
    if verdict == "settled":
        verdict, because = _in_caches(readings, past, now)
        settled_by = _settled_by(readings, now, past)
    taken_back = past.settled_at if verdict not in ("settled", "unknown") else None
    return RecordSpread(
        watched.name, watched.type, watched.wanted, verdict, settled_by, tuple(readings), because, taken_back
    )


def _marked(reading: Reading, past: Past, now: float) -> Reading:
    """The reading, said to be expired where the resolver was found to serve what has run out everywhere else."""
    kinds = {each.kind for each in past.habits if each.vantage == reading.vantage}
    if reading.state in ("new", "silent", "broken"):
        return reading
    late = "floor" in kinds and past.lets_go is not None and now > past.lets_go
    if not late and not kinds & {"stale", "foreign"}:
        return reading
    detail = msg("verdicts.marked.said") if "foreign" in kinds else msg("verdicts.marked.said-2")
    return replace(reading, expired=True, detail=detail)


def _at_source(watched: Watched, at_source: Sequence[Reading]) -> tuple[SpreadVerdict, Text]:
    """What the authoritative servers say decides between a mistake and a wait."""
    observed = [reading for reading in at_source if reading.state not in ("silent", "broken")]
    if not observed:
        return "unknown", msg("verdicts.at-source")
    states = {reading.state for reading in observed}
    if states == {"new"}:
        return "settled", ""
    if len({(reading.state, reading.values) for reading in observed}) > 1:
        behind = ", ".join(sorted({r.vantage for r in observed if r.state != "new"}))
        return "split", msg("verdicts.at-source-2", behind=behind)
    if states <= {"old", "absent"}:
        return "not-entered", _not_entered_words(watched, observed[0])
    if states == {"mixed"}:
        return "entered-wrong", msg("verdicts.at-source-3")
    return "entered-wrong", msg("verdicts.at-source-4")


def _not_entered_words(watched: Watched, reading: Reading) -> Text:
    if reading.state == "absent":
        return msg("verdicts.not-entered-words", name=watched.name, type=watched.type)
    if watched.joined:
        return msg("verdicts.not-entered-words-2")
    return msg("verdicts.not-entered-words-3") if watched.wanted else msg("verdicts.not-entered-words-4")


def _in_caches(readings: Sequence[Reading], past: Past, now: float) -> tuple[SpreadVerdict, Text]:
    resolvers = [reading for reading in readings if reading.role == "resolver"]
    observed = [reading for reading in resolvers if reading.state not in ("silent", "broken")]
    expired = [reading for reading in observed if reading.expired]
    behind = [reading for reading in observed if reading.state != "new" and not reading.expired]
    quiet = len(resolvers) - len(observed)
    if behind:
        return "spreading", msg("verdicts.in-caches", count_behind=len(behind), count_heard=len(observed))
    if expired and not behind:
        who = ", ".join(sorted({reading.vantage for reading in expired}))
        return "settled", msg("verdicts.in-caches-2", who=who)
    if resolvers and not observed:
        return "unknown", msg("verdicts.in-caches-3")
    hidden = {each.vantage for each in past.habits if each.kind == "several"} & {
        each.vantage for each in past.readings if _held_until(each, now) is not None
    }
    if hidden:
        return "spreading", msg("verdicts.in-caches-4", hidden=tuple(sorted(hidden)))
    return "settled", msg("verdicts.in-caches-5", quiet=quiet, count_resolvers=len(resolvers)) if quiet else ""


def _held_until(reading: Reading, now: float) -> float | None:
    """When the old copy that a resolver returned expires; None for a new one, or when that moment has passed."""
    if reading.state in ("new", "silent", "broken") or reading.dies is None or reading.dies <= now:
        return None
    return reading.dies


def _settled_by(readings: Sequence[Reading], now: float, past: Past) -> float | None:
    """After this no cache that respects TTLs holds an earlier answer; None when that moment has passed.

    It is the last moment at which an earlier content can have been fetched plus its TTL, or the negative-caching time
    where there was no record before. Where the nameservers changed, a cache may have fetched from the former ones as
    long as it held their names. Only where nothing is known of before do asked resolvers tell it by their own
    countdown, now or at an earlier check: behind one address may be several caches.
    """
    latest = past.lets_go
    if latest is None:
        ends = [end for r in (*readings, *past.readings) if (end := _held_until(r, now)) is not None]
        latest = max(ends, default=None)
    return latest if latest is not None and latest > now else None


UNSEEN = ("old", "absent", "mixed", "other")
"""What a cache can hold from before the first check: also values that no one saw at the source."""
NEVER_SEEN = ("mixed", "other")
"""Of these, what the source never returned."""
LONGEST_USUAL = 86400.0
"""Seconds; hardly any zone is kept for longer."""
STEADY = 5.0
"""Seconds by which the end of one copy may seem to move: answers are late, and TTLs are whole seconds."""


def longer_held_copies(
    readings: Sequence[Reading], lets_go: float | None, since: float | None, clamping: Collection[str] = ()
) -> tuple[Copy, ...]:
    """The copy that resolvers hold longer than any TTL that was ever seen: they fetched it before the first check.

    Only a copy counts down (RFC 1035 section 7.4). Of what the source returned the TTL is known, and one of several
    resolvers may keep copies by a rule of its own, so it takes most of those that hold any. What the source never
    returned is such a copy at one resolver alone; given only once, as far as a usual TTL explains it; `clamping`:
    resolvers that were seen to keep other records longer than they may. The last of them counts: caches that respect
    TTLs were filled at different times, too.
    """
    if lets_go is None or since is None:
        return ()
    by_vantage: dict[str, list[Reading]] = {}
    for each in readings:
        if each.role == "resolver" and each.state not in ("silent", "broken"):
            by_vantage.setdefault(each.vantage, []).append(each)
    ends: list[float] = []
    of_seen: list[float] = []
    for given in by_vantage.values():
        given.sort(key=lambda each: each.at)
        last, early = given[-1], [e for e in given if e.at <= lets_go and e.state in UNSEEN and e.dies is not None]
        if last.state in NEVER_SEEN and last.vantage not in clamping and _is_copy(given, last, since):
            ends.append(last.dies or 0.0)
        if early:
            of_seen.append((early[-1].dies or 0.0) if _steady(given, early[-1]) else 0.0)
    longer = [end for end in of_seen if end > lets_go + STEADY]
    ends = [end for end in ends if end > lets_go + STEADY] or (longer if 2 * len(longer) > len(of_seen) else [])
    return (Copy(since, math.ceil(max(ends) - since)),) if ends else ()


def _steady(given: Sequence[Reading], of: Reading) -> bool:
    """Whether a resolver was seen to count its answer down, or returned it only once; several caches behind one
    address hold copies of several ages."""
    apart = _apart(given, of)
    return not apart or any(after <= before + STEADY for before, after in apart)


def _apart(given: Sequence[Reading], of: Reading) -> list[tuple[float, float]]:
    """The ends of one content as a resolver returned them at two times, the earlier first."""
    same = [(each.at, each.dies) for each in given if each.values == of.values and each.dies is not None][-20:]
    return [(one[1], two[1]) for one, two in combinations(same, 2) if two[0] - one[0] > 2 * STEADY]


def _is_copy(given: Sequence[Reading], last: Reading, since: float) -> bool:
    return _steady(given, last) and (bool(_apart(given, last)) or (last.dies or 0.0) <= since + LONGEST_USUAL)


def right_since(earlier: Sequence[Reading], readings: Sequence[Reading], now: float) -> float | None:
    """The time since which every authoritative server that answered returns the wanted content; None while one does
    not.

    With only this check to go by it is `now`: nothing is known of before.
    """
    looks: dict[float, bool] = {}
    for reading in (*earlier, *readings):
        if reading.role == "authoritative" and reading.state not in ("silent", "broken"):
            looks[reading.at] = looks.get(reading.at, True) and reading.state == "new"
    since = None
    for at in sorted(looks):
        since = (at if since is None else since) if looks[at] else None
    return since if since is None or since <= now else now


def whole(records: Sequence[RecordSpread]) -> tuple[SpreadVerdict, float | None]:
    """The worst verdict of all, and the last deadline."""
    if not records:
        return "unknown", None
    verdict = min((record.verdict for record in records), key=WORST_FIRST.index)
    if verdict not in ("settled", "spreading", "unknown"):
        return verdict, None  # waiting does not help, so no end is promised
    ends = [record.settled_by for record in records if record.settled_by is not None]
    return verdict, max(ends, default=None)


FLOOR = 30.0
CEILING = 600.0
"""Seconds between checks while nothing is known of what caches hold."""
LONGEST = 6 * 3600.0
"""Seconds between checks most, so that a change of someone's mind is noticed on the same day."""
ENTRY = 60.0
"""Seconds between checks while someone still has to type: that can happen at any moment."""


def next_look(records: Sequence[RecordSpread], now: float) -> float:
    """When a check can first tell something new: the next death of an old copy, never sooner than 30 s.

    In between, every cache that was asked only counts down.
    """
    ends = [
        reading.dies
        for record in records
        for reading in record.readings
        if reading.state != "new" and reading.dies is not None and reading.dies > now
    ]
    ends += [record.settled_by for record in records if record.settled_by is not None and record.settled_by > now]
    if any(record.verdict in ("not-entered", "entered-wrong", "split") for record in records):
        return now + ENTRY
    unknown = any(record.verdict == "unknown" for record in records)
    return max(now + FLOOR, min([*ends, now + CEILING if unknown or not ends else now + LONGEST]) + 1)
