"""What a person, or a program in their place, does now: the closed list of acts. What was sent for one of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, TypeAlias

from homepath.core.dns.answers import Server
from homepath.core.dns.names import Name
from homepath.core.dns.records import Key, RecordSet, Zone
from homepath.core.message import Text
from homepath.core.model.plan import Change

SendState = Literal["about", "sent", "refused", "partly", "unknown", "not-done"]
"""`about`: noted before it went out, and nothing since. `unknown`: it went out, and no answer came. `not-done`: seen
later not to have been carried out."""


@dataclass(frozen=True, slots=True)
class Difference:
    """A record set that a server does not return as sent."""

    server: Name
    change: Change
    given: tuple[str, ...]
    why: str = ""


@dataclass(frozen=True, slots=True)
class Sent:
    """`differences` is empty when every authoritative server returns what was sent. `at`: Unix seconds.

    `unrecorded`: why the journal could not be told of it; empty where it was.
    """

    server: Server
    at: float
    changes: tuple[Change, ...]
    differences: tuple[Difference, ...]
    unrecorded: str = ""


@dataclass(frozen=True, slots=True)
class Update:
    """An update as the journal holds it. `at`: when it went out, Unix seconds; `where`: which side it was for."""

    id: int
    at: float
    words: str
    state: SendState
    sets: tuple[RecordSet, ...]
    before: tuple[RecordSet, ...]
    where: Where = "DNS host"


def became_of(update: Update, zone: Zone) -> SendState:
    """The outcome of an update whose answer was lost: all of it is there, nothing has changed, or something between.

    Updates are carried out whole or not at all (RFC 2136 section 3.4), so the last means that someone else changed the
    zone.
    """
    if _same(update.sets, zone):
        return "sent"
    return "not-done" if _same(update.before, zone) else "partly"


def _same(sets: Sequence[RecordSet], zone: Zone) -> bool:
    there = ((each, zone.get(*each.key)) for each in sets)
    return all((found.meanings if found else frozenset()) == each.meanings for each, found in there)


Where = Literal["DNS host", "new DNS host"]
Cause = Literal["caches", "absence", "parent", "certificate", "builder"]
"""What is waited for: old answers in caches, the memory that nothing was there (RFC 2308), the parent's word on name
servers, a certificate, the builder's next check."""


@dataclass(frozen=True, slots=True)
class Entry:
    """One value of one record set, as it is deleted or typed. `ttl` in seconds; None where it does not matter."""

    name: Name
    type: str
    value: str
    ttl: int | None = None


@dataclass(frozen=True, slots=True)
class Enter:
    """The whole remaining difference at one place, in the order of typing: set by set.

    The same name, type and value in both lists with another TTL is an edit in place; since a set has one TTL
    (RFC 2181 section 5.2), every value of the set is listed then.
    """

    delete: tuple[Entry, ...]
    enter: tuple[Entry, ...]
    where: Where = "DNS host"

    @property
    def retimed(self) -> frozenset[Key]:
        """The sets that keep their values: only the TTL changes."""
        gone, come = ({(e.name, e.type, e.value) for e in entries} for entries in (self.delete, self.enter))
        changed = {(name, rrtype) for name, rrtype, _ in gone ^ come}
        return frozenset((e.name, e.type) for e in self.enter) - changed

    @property
    def counts(self) -> tuple[int, int, int]:
        """How many records are deleted, are added, and get another TTL only."""
        same = sum((each.name, each.type) in self.retimed for each in self.enter)
        return len(self.delete) - same, len(self.enter) - same, same


@dataclass(frozen=True, slots=True)
class TellBuilder:
    """Connect `names`, all that must arrive, and make `primary`, one of them, the main address."""

    names: tuple[Name, ...]
    primary: Name


@dataclass(frozen=True, slots=True)
class CheckAgain:
    """Press the builder's check button."""


@dataclass(frozen=True, slots=True)
class PublishAgain:
    """Publish the site once more, where the brief says so."""


@dataclass(frozen=True, slots=True)
class HttpsOnly:
    """Switch on that http points to https."""


@dataclass(frozen=True, slots=True)
class NameServers:
    """Enter these nameservers at the registrar, all of them and no others."""

    servers: tuple[Name, ...]


@dataclass(frozen=True, slots=True)
class RemoveDs:
    """Take the DS record away at the registrar (RFC 6781 section 4.3.5)."""


@dataclass(frozen=True, slots=True)
class AddDs:
    """Enter DS records at the registrar."""

    values: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Forward:
    """Forward a name to a whole URL in the DNS host's form."""

    name: Name
    to: str


@dataclass(frozen=True, slots=True)
class BuilderStep:
    """Something that has no form of its own: the words say what to do."""

    title: Text
    instruction: Text
    seen: bool = False
    """Whether a check shows that it was done; else the person has to say so."""


@dataclass(frozen=True, slots=True)
class Wait:
    """Nothing to do until then (Unix seconds, whole)."""

    until: float
    cause: Cause

    @property
    def bounded(self) -> bool:
        """Whether it is over by then. A builder may take longer: then `until` is when to check again."""
        return self.cause not in ("builder", "certificate")


@dataclass(frozen=True, slots=True)
class Choice:
    """One answer to a question: the words of one `homepath` command that returns it, and what is lost by it."""

    say: Text
    then: tuple[str, ...]
    loses: tuple[Entry, ...] = ()


@dataclass(frozen=True, slots=True)
class Decide:
    """A question that only the owner can answer."""

    question: Text
    choices: tuple[Choice, ...]


@dataclass(frozen=True, slots=True)
class Nothing:
    """Arrived."""


Act: TypeAlias = (
    Enter
    | TellBuilder
    | CheckAgain
    | PublishAgain
    | HttpsOnly
    | NameServers
    | RemoveDs
    | AddDs
    | Forward
    | BuilderStep
    | Wait
    | Decide
    | Nothing
)
