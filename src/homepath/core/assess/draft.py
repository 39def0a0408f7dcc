"""A step before it is known which one is now, and its changes as records of a form."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import TypeAlias

from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet
from homepath.core.message import Text
from homepath.core.model.acts import Act, Enter, Entry, Where
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Change, Place
from homepath.core.model.steps import By, StepKind
from homepath.core.plan.plan import deleted, entered


def enter_act(changes: Sequence[Change], where: Where = "DNS host") -> Enter:
    """The act that makes these changes. A set that a name must lose before it can get another comes first."""
    ordered = in_typing_order(changes)
    delete = [Entry(c.name, c.type, value, c.before_ttl) for c in ordered for value in deleted(c)]
    enter = [Entry(c.name, c.type, value, c.ttl) for c in ordered for value in entered(c)]
    return Enter(tuple(delete), tuple(enter), where)


def in_typing_order(changes: Iterable[Change]) -> list[Change]:
    """In the plan's order of names; at each name deletions come first, since a CNAME tolerates no other record."""
    changes = [change for change in changes if change.move != "keep"]
    names: list[Name] = list(dict.fromkeys(change.name for change in changes))
    return sorted(changes, key=lambda change: (names.index(change.name), bool(change.values)))


def retimed(record: RecordSet, ttl: int, reason: Text) -> Change:
    """The same set with another TTL."""
    return Change("replace", record.name, record.type, ttl, record.values, record.values, "website", reason, record.ttl)


@dataclass(frozen=True, slots=True)
class Done:
    """`since`: None where the moment is not known."""

    since: float | None
    by: By = "seen"


@dataclass(frozen=True, slots=True)
class Undone:
    """Was done, and is no longer; a repairs step of its own comes first."""

    since: float
    why: Text


@dataclass(frozen=True, slots=True)
class LeftOut:
    why: Text


@dataclass(frozen=True, slots=True)
class Open:
    """Still to do or to await. `urgent`: comes before whatever else is open."""

    act: Act
    why: Text = ""
    because: tuple[Finding, ...] = ()
    urgent: bool = False


Status: TypeAlias = Done | Undone | LeftOut | Open


@dataclass(frozen=True, slots=True, kw_only=True)
class Draft:
    """`about`: what the step is about, where there can be several of its kind."""

    kind: StepKind
    place: Place
    title: Text
    instruction: Text
    expect: Text
    status: Status
    about: str = ""
    longest_wait: int = 0
    way_back: Text = ""

    @property
    def id(self) -> str:
        return f"{self.kind}:{self.about}" if self.about else self.kind
