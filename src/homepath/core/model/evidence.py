"""Everything known about a domain: what its servers returned over time, the last checks, and what the person said."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Literal

from homepath.core.dns.answers import Answer
from homepath.core.dns.names import Name
from homepath.core.dns.records import Key, RecordSet, Zone
from homepath.core.message import Message
from homepath.core.model.plan import DesiredSet
from homepath.core.model.steps import Step
from homepath.core.model.survey import Compared, Role, Spread, SpreadVerdict, Survey
from homepath.core.model.visits import Hsts, Visit

Source = Literal["zone", "parent", "survey", "behind", "told", "new"]
"""Who said it: the zone's own servers, those of the parent zone (its NS and DS sets), or a survey, which lists only
what was entered: nothing that a wildcard made up, and everything that an export knew; or a server of the zone that is
behind the others, as long as there is one; or, `told`, an export or the person, of a set that no server answers for;
or, `new`, the nameservers that are to take the domain over."""


@dataclass(frozen=True, slots=True)
class Content:
    """What a record set was at the authoritative servers, from when to when. No values: it was missing, and the TTL
    is how long that may be remembered (RFC 2308 section 5)."""

    record: RecordSet
    first_at: float
    last_at: float
    source: Source = "zone"


@dataclass(frozen=True, slots=True)
class Observation:
    """One answer of one vantage about one watched set; `key` differs from the question where aliases are followed."""

    key: Key
    vantage: str
    role: Role
    answer: Answer


@dataclass(frozen=True, slots=True)
class VerdictChange:
    """From `at` on, the verdict of `key` was this one; `settled_by` as known then."""

    at: float
    key: Key
    verdict: SpreadVerdict
    settled_by: float | None


@dataclass(frozen=True, slots=True)
class Copy:
    """An earlier content that caches may hold: fetched at `until` at the latest, kept for `ttl` seconds.

    `absent`: it was that nothing was there.
    """

    until: float
    ttl: int
    absent: bool = False

    @property
    def dies(self) -> float:
        return self.until + self.ttl


def right_since_seen(contents: Sequence[Content], desired: DesiredSet) -> float | None:
    """The first moment from which on the servers were seen to give what is meant, None if they do not."""
    past = [each for each in contents if each.record.key == desired.key and each.source == "zone"]
    since = None
    for each in past:
        since = (each.first_at if since is None else since) if desired.met_by(each.record) else None
    return since


def earlier_copies(contents: Sequence[Content], desired: DesiredSet) -> tuple[Copy, ...]:
    """Every content that was not the one meant and has ended, with the moment when the next one was first seen.

    Each has its own TTL: one that was lowered before the change no longer binds with its former length.
    """
    copies = []
    mine = [each for each in contents if each.record.name == desired.name and each.record.type == desired.type]
    for source in ("zone", "parent", "behind"):
        past = [each for each in mine if each.source == source]
        for before, after in pairwise(past):
            if not desired.met_by(before.record):
                copies.append(Copy(after.first_at, before.record.ttl, not before.record.values))
    return tuple(copies)


def noted(contents: Sequence[Content], at: float, sets: Iterable[RecordSet], source: Source) -> tuple[Content, ...]:
    """The past with what a source returns at `at`: a set that has not changed only gets a later end."""
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


@dataclass(frozen=True, slots=True)
class EdgeSeen:
    """What the builder's servers answered for the primary address, wherever DNS points.

    `knows`: it serves the name; None where it could not be asked. `secure`: with a good certificate. `since`: the
    first of the checks, up to this one, at which it knew the name; `knew_at`: the last one for the same job.
    """

    at: float
    knows: bool | None
    secure: bool = False
    since: float | None = None
    knew_at: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """`contents`: everything the sources ever returned, oldest first. `confirmed`: what the person said is done, by
    step id.

    `remembered`: the steps at the last assessment. `visited_before`: whether the old site was ever visited.
    `transfer_tried`: the servers were asked for the whole zone; `whole_seen`: it was once seen whole, by a transfer or
    an export. `compared`: the last check of both sides of a hand-over. `sent`: when updates were sent. `left_out`: what
    of the journal could not be read. Moments in Unix seconds.
    """

    survey: Survey | None = None
    contents: tuple[Content, ...] = ()
    spread: Spread | None = None
    visit: Visit | None = None
    edge: EdgeSeen | None = None
    hsts: Mapping[Name, Hsts] = field(default_factory=dict)
    confirmed: Mapping[str, float] = field(default_factory=dict)
    remembered: tuple[Step, ...] = ()
    visited_before: bool = False
    transfer_tried: bool = False
    compared: Compared | None = None
    whole_seen: bool = False
    job_since: float | None = None
    """When what is wanted now was first planned."""
    arrived_at: float | None = None
    """When the domain was first seen to have arrived, of what is wanted now."""
    sent: tuple[float, ...] = ()
    left_out: tuple[Message, ...] = ()


BUILDER_SAYS = "builder-says:"
"""Before what the person read in the builder's settings, among what they told: `connected`, `checking`, or
`missing NAME TYPE` with the absolute name."""


@dataclass(frozen=True, slots=True)
class BuilderSays:
    """What the builder's settings show, as the person read it at `at`. `missing`: the record that it asks for."""

    at: float
    shows: Literal["connected", "checking", "missing"]
    missing: Key | None = None


def builder_says(confirmed: Mapping[str, float], since: float) -> BuilderSays | None:
    """The last of it since a moment; None where the person said nothing since."""
    replies = {step: at for step, at in confirmed.items() if step.startswith(BUILDER_SAYS) and at >= since}
    if not replies:
        return None
    last = max(replies, key=lambda step: replies[step])
    word, *key = last.removeprefix(BUILDER_SAYS).split()
    if word == "missing" and len(key) == 2:
        return BuilderSays(replies[last], "missing", (key[0], key[1]))
    return BuilderSays(replies[last], "connected" if word == "connected" else "checking")


@dataclass(frozen=True, slots=True)
class BuilderWait:
    """The one wait for a builder: `usual` and `longest` seconds from `began`, Unix seconds."""

    began: float
    usual: int
    longest: int

    def next_check(self, now: float) -> float | None:
        """The next moment worth checking: the usual end, then the longest; None after that."""
        ends = (self.began + min(self.usual, self.longest), self.began + self.longest)
        return next((math.ceil(end) for end in ends if now < end), None)

    def over(self, now: float) -> bool:
        """Whether it has taken longer than it ever should."""
        return now >= self.began + self.longest


def check_pressed(confirmed: Mapping[str, float], since: float) -> bool:
    """Whether the person pressed the builder's check since a moment, Unix seconds, or read in its settings what that
    check found."""
    return any(at >= since for step, at in confirmed.items() if step == "check-again" or step.startswith(BUILDER_SAYS))


def builder_waited_since(evidence: Evidence, right_since: float | None) -> float | None:
    """From when on only the builder is waited for; None while DNS is not right. Unix seconds.

    Adding the domain, pressing the check button, and the first answer for it each restart this wait.
    """
    if right_since is None:
        return None
    edge = evidence.edge
    served = edge.since if edge and edge.knows else None
    return max(
        right_since, evidence.confirmed.get("claim", 0.0), evidence.confirmed.get("check-again", 0.0), served or 0.0
    )


def present_zone(survey: Survey, contents: tuple[Content, ...]) -> Zone:
    """What is there as far as is known: the survey, and whatever the zone's servers were seen to give since."""
    sets = dict(survey.zone.sets)
    latest: dict[Key, Content] = {each.record.key: each for each in contents if each.source == "zone"}
    for key, content in latest.items():
        if content.last_at <= survey.at:
            continue
        if content.record.values:
            sets[key] = content.record
        else:
            sets.pop(key, None)
    return Zone(survey.domain, sets)


def new_side_zone(domain: Name, contents: tuple[Content, ...]) -> Zone:
    """What the nameservers that are to take over were last seen to hold."""
    latest = {each.record.key: each.record for each in contents if each.source == "new"}
    return Zone(domain, {key: record for key, record in latest.items() if record.values})


def first_zone(domain: Name, contents: tuple[Content, ...]) -> Zone:
    """The first values of each record set that the zone's servers were ever seen to give, whenever that was."""
    return zone_before(domain, tuple(each for each in contents if each.record.values))


def zone_before(domain: Name, contents: tuple[Content, ...]) -> Zone:
    """What the zone's servers returned when each record set was first queried, even if it was nothing."""
    first: dict[Key, RecordSet] = {}
    for each in contents:
        if each.source == "zone":
            first.setdefault(each.record.key, each.record)
    return Zone(domain, {key: record for key, record in first.items() if record.values})
