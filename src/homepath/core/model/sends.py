"""What was sent, and what came back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.answers import Server
from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.model.acts import Where
from homepath.core.model.plan import Change

SendState = Literal["about", "sent", "refused", "partly", "unknown", "not-done"]
"""`about`: noted before it went out, and nothing since. `unknown`: it went out, and no answer came. `not-done`: seen
later not to have been carried out."""


@dataclass(frozen=True, slots=True)
class Difference:
    """A record set that a server does not give as it was sent."""

    server: Name
    change: Change
    given: tuple[str, ...]
    why: str = ""


@dataclass(frozen=True, slots=True)
class Sent:
    """`differences` is empty when every authoritative server gives what was sent. `at`: Unix seconds.

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
    """What is seen of an update whose answer was lost: all of it is there, nothing has changed, or something between.

    Updates are carried out whole or not at all (RFC 2136 section 3.4), so the last means that somebody else was there.
    """
    if _same(update.sets, zone):
        return "sent"
    return "not-done" if _same(update.before, zone) else "partly"


def _same(sets: Sequence[RecordSet], zone: Zone) -> bool:
    there = ((each, zone.get(*each.key)) for each in sets)
    return all((found.meanings if found else frozenset()) == each.meanings for each, found in there)
