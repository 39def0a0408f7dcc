"""Readings of all vantages become a verdict and a deadline, per record set and for the whole (N22, N23)."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.core.model.names import shown
from homepath.core.model.readings import WORST_FIRST, Reading, RecordSpread, SpreadVerdict
from homepath.core.propagation.readings import Watched


def judge(
    watched: Watched,
    readings: Sequence[Reading],
    now: float,
    changed_at: float | None,
    absent_ttl: int,
) -> RecordSpread:
    """The verdict for one record set.

    `changed_at`: the latest moment at which the authoritative servers can still have given the old answer;
    `absent_ttl`: how long "it does not exist" may be kept (RFC 2308 section 5), seconds.
    """
    at_source = [reading for reading in readings if reading.role == "authoritative"]
    verdict, because = _at_source(watched, at_source)
    settled_by = None
    if verdict == "settled":
        verdict, because = _in_caches(readings)
        settled_by = _settled_by(watched, readings, now, changed_at, absent_ttl)
    return RecordSpread(watched.name, watched.type, watched.wanted, verdict, settled_by, tuple(readings), because)


def _at_source(watched: Watched, readings: Sequence[Reading]) -> tuple[SpreadVerdict, str]:
    """What the authoritative servers say decides between a mistake and a wait."""
    heard = [reading for reading in readings if reading.state not in ("silent", "broken")]
    if not heard:
        return "unknown", "no authoritative server answered"
    states = {reading.state for reading in heard}
    if states == {"new"}:
        return "settled", ""
    if len({(reading.state, reading.values) for reading in heard}) > 1:
        behind = ", ".join(sorted({r.vantage for r in heard if r.state != "new"}))
        return "split", f"the authoritative servers disagree; not as wanted at {behind}"
    if states <= {"old", "absent"}:
        return "not-entered", _not_entered_words(watched, heard[0])
    if states == {"mixed"}:
        return "entered-wrong", "some wanted values are there, but not all, or others beside them"
    return "entered-wrong", "the authoritative servers give something that was not meant"


def _not_entered_words(watched: Watched, reading: Reading) -> str:
    if reading.state == "absent":
        return f"{shown(watched.name)} has no {watched.type} record yet"
    if watched.joined:
        return "the wanted value is not there yet"
    return "the old record is still there" if watched.wanted else "it is to be removed and still there"


def _in_caches(readings: Sequence[Reading]) -> tuple[SpreadVerdict, str]:
    resolvers = [reading for reading in readings if reading.role == "resolver"]
    behind = [reading for reading in resolvers if reading.state not in ("new", "silent", "broken")]
    heard = [reading for reading in resolvers if reading.state not in ("silent", "broken")]
    if behind:
        return "spreading", f"{len(behind)} of {len(heard)} resolvers still give an earlier answer"
    if resolvers and not heard:
        return "unknown", "entered rightly; no resolver answered, so nothing is known of the caches"
    return "settled", ""


def _settled_by(
    watched: Watched, readings: Sequence[Reading], now: float, changed_at: float | None, absent_ttl: int
) -> float | None:
    """After this no cache that keeps the rules holds an earlier answer; None when that moment has passed.

    Asked resolvers tell it by their own countdown; for all others it is the moment of the change plus the old TTL,
    or the negative-caching time where nothing stood before.
    """
    ends = [r.dies for r in readings if r.role == "resolver" and r.state != "new" and r.dies is not None]
    if changed_at is not None:
        ends.append(changed_at + (absent_ttl if watched.old_ttl is None else watched.old_ttl))
    latest = max(ends, default=None)
    return latest if latest is not None and latest > now else None


def whole(records: Sequence[RecordSpread]) -> tuple[SpreadVerdict, float | None]:
    """The worst verdict of all, and the last deadline."""
    if not records:
        return "unknown", None
    verdict = min((record.verdict for record in records), key=WORST_FIRST.index)
    ends = [record.settled_by for record in records if record.settled_by is not None]
    return verdict, max(ends, default=None)


FLOOR = 30.0
CEILING = 600.0


def next_look(records: Sequence[RecordSpread], now: float) -> float:
    """When a look can first tell something new: the next death of an old copy, never sooner than 30 s."""
    ends = [
        reading.dies
        for record in records
        for reading in record.readings
        if reading.state != "new" and reading.dies is not None and reading.dies > now
    ]
    return max(now + FLOOR, min([*ends, now + CEILING]) + 1)
