"""What was seen before: contents at the source from when to when, and every answer as it came."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

from homepath.core.dns.answers import Answer
from homepath.core.dns.records import Key, RecordSet
from homepath.core.model.meant import Meant
from homepath.core.model.readings import Role, SpreadVerdict

Source = Literal["zone", "parent", "survey", "behind", "told", "new"]
"""Who said it: the zone's own servers, those of the zone above (its NS and DS sets), or a survey, which lists only what
was entered: nothing that a wildcard made up, and everything that an export knew; or a server of the zone that is behind
the others, as long as there is one; or, `told`, an export or the person, of a set that no server answers for; or,
`new`, the name servers that are to take the domain over."""


@dataclass(frozen=True, slots=True)
class Content:
    """What a record set was at the authoritative servers, from when to when. No values: it was missing, and the TTL
    is how long that may be remembered (RFC 2308 section 5)."""

    record: RecordSet
    first_at: float
    last_at: float
    source: Source = "zone"


@dataclass(frozen=True, slots=True)
class Heard:
    """One answer of one vantage about one watched set; `key` differs from the question where aliases are followed."""

    key: Key
    vantage: str
    role: Role
    answer: Answer


@dataclass(frozen=True, slots=True)
class VerdictChange:
    """From `at` on the verdict of `key` was this one; `settled_by` as it was known then."""

    at: float
    key: Key
    verdict: SpreadVerdict
    settled_by: float | None


@dataclass(frozen=True, slots=True)
class Copy:
    """An earlier content that caches may hold: fetched at `until` at the latest, kept for `ttl` seconds.

    `absent`: it was that nothing stood there.
    """

    until: float
    ttl: int
    absent: bool = False

    @property
    def dies(self) -> float:
        return self.until + self.ttl


def right_since_seen(contents: Sequence[Content], meant: Meant) -> float | None:
    """The first moment from which on the servers were seen to give what is meant, None if they do not."""
    past = [each for each in contents if each.record.key == meant.key and each.source == "zone"]
    since = None
    for each in past:
        since = (each.first_at if since is None else since) if meant.met_by(each.record) else None
    return since


def earlier_copies(contents: Sequence[Content], meant: Meant) -> tuple[Copy, ...]:
    """Every content that was not the one meant and has ended, with the moment when the next one was first seen.

    Each has its own TTL: one that was lowered before the change no longer binds with its former length.
    """
    copies = []
    for source in ("zone", "parent", "behind"):
        past = [each for each in contents if each.record.key == meant.key and each.source == source]
        for before, after in pairwise(past):
            if not meant.met_by(before.record):
                copies.append(Copy(after.first_at, before.record.ttl, not before.record.values))
    return tuple(copies)


def noted(contents: Sequence[Content], at: float, sets: Iterable[RecordSet], source: Source) -> tuple[Content, ...]:
    """The past with what a source gives at `at`: a set that has not changed only gets a later end."""
    found = list(contents)
    last = {each.record.key: number for number, each in enumerate(found) if each.source == source}
    for record in sets:
        number = last.get(record.key)
        before = found[number] if number is not None else None
        if before is not None and number is not None and before.record == record:
            found[number] = replace(before, last_at=max(before.last_at, at))
        else:
            last[record.key] = len(found)
            found.append(Content(record, at, at, source))
    return tuple(found)
