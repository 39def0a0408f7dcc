"""One domain as wanted and as found: what rules and plans check."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property, wraps
from typing import TypeVar

from homepath.core.dns.answers import Unanswered
from homepath.core.dns.names import Name, relative
from homepath.core.dns.records import Key, RecordSet, Zone
from homepath.core.message import Text, msg
from homepath.core.model.brief import NO_NOTATION, Notation
from homepath.core.model.evidence import Content
from homepath.core.model.plan import Purpose
from homepath.core.model.survey import Survey
from homepath.core.model.visits import Hsts
from homepath.core.site.purposes import purpose
from homepath.core.site.wanted import Wanted

DECIDING = ("A", "AAAA", "CNAME", "HTTPS")
"""Types that lead browsers, so that a plan must know of them."""
CLASHING = ("MX", "TXT", "NS")
"""Types that people have at names, and that cannot be beside an alias."""


@dataclass(frozen=True, slots=True)
class Neighbour:
    """Another folder with a site file for the same domain, and the record sets that it wants."""

    folder: str
    wants: tuple[RecordSet, ...]

    def wants_here(self, record: RecordSet, ours: frozenset[str] = frozenset()) -> bool:
        """Whether a set has a value that this folder wants there, and that is none of `ours`."""
        mine = (each for each in self.wants if each.key == record.key)
        return any((each.meanings - ours) & record.meanings for each in mine)


@dataclass(frozen=True)
class Case:
    """One domain as wanted and as found. `surroundings`: CAA sets above it and at alias targets.

    `survey`: the full check, None where only records were checked. `history`: everything the sources
    ever returned. `hsts`: what names told browsers when they were last visited (RFC 6797).
    """

    wanted: Wanted
    zone: Zone
    surroundings: Zone = field(default_factory=lambda: Zone("."))
    notation: Notation = NO_NOTATION
    survey: Survey | None = None
    history: tuple[Content, ...] = ()
    hsts: Mapping[Name, Hsts] = field(default_factory=dict)
    job_since: float | None = None
    """When what is wanted now was first planned, Unix seconds; None where the journal does not know."""
    former: str = ""
    """Who ran the domain before a hand-over, in words."""
    neighbours: tuple[Neighbour, ...] = ()

    @cached_property
    def unknown(self) -> dict[Key, Unanswered]:
        """The record sets of which no one knows whether they are there: asked for, and not answered since."""
        if self.survey is None:
            return {}
        since = {c.record.key for c in self.history if c.source == "zone" and c.last_at > self.survey.at}
        return {each.key: each for each in self.survey.unknown if each.key not in since}

    def word_for(self, name: Name, rrtype: str) -> str:
        """How `next --decide` names a record set: in full at a further domain of the site."""
        return f"{name if self.wanted.destination else relative(name, self.domain)} {rrtype}"

    def unseen_at(self, name: Name) -> list[Unanswered]:
        """What is not known at a name, as far as it decides where the name points and what may be added there."""
        alias = any(want.record.type == "CNAME" for want in self.wanted.at(name))
        types = {*DECIDING, *(CLASHING if alias else ()), *(want.record.type for want in self.wanted.at(name))}
        return [each for each in self.unknown.values() if each.name == name and each.type in types]

    @cached_property
    def past(self) -> Zone:
        """Everything the zone's servers ever returned, as one zone."""
        return Zone.of(self.domain, (each.record for each in self.history if each.source == "zone"))

    @property
    def domain(self) -> Name:
        return self.wanted.domain

    def purpose(self, record: RecordSet) -> tuple[Purpose, Text]:
        """What a record set is for, and why: the owner's word first."""
        purpose_given = self.wanted.purposes.get(record.key)
        return (purpose_given, msg("case.purpose")) if purpose_given else purpose(record, self.domain, self.zone)


T = TypeVar("T")


def once(work: Callable[[Case], T]) -> Callable[[Case], T]:
    """What follows from a case alone is worked out once for each case."""

    @wraps(work)
    def worked_out(case: Case) -> T:
        known: dict[object, T] = case.__dict__.setdefault("_worked_out", {})
        if worked_out not in known:
            known[worked_out] = work(case)
        return known[worked_out]

    return worked_out
