"""What a person, or a program in their place, does now: the closed list of acts."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, TypeAlias

from homepath.core.dns.names import Name
from homepath.core.message import Text

Where = Literal["DNS host", "new DNS host"]
Cause = Literal["caches", "absence", "parent", "certificate", "builder"]
"""What is waited for: old answers in caches, the memory that nothing was there (RFC 2308), the parent's word on name
servers, a certificate, the builder's next look."""


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
    """Switch on that http leads to https."""


@dataclass(frozen=True, slots=True)
class NameServers:
    """Enter these name servers at the registrar, all of them and no others."""

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


@dataclass(frozen=True, slots=True)
class Wait:
    """Nothing to do until then (Unix seconds, whole)."""

    until: float
    cause: Cause


@dataclass(frozen=True, slots=True)
class Choice:
    """One answer to a question: the words of one `homepath` command that gives it, and what is lost by it."""

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
