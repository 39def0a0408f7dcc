"""The plan: what each record set is meant to be, its change, and the findings."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import Name
from homepath.core.dns.policies import stands_for
from homepath.core.dns.records import JOINED_TYPES, Key, RecordSet
from homepath.core.dns.values import meaning
from homepath.core.message import Text
from homepath.core.model.brief import Redirects
from homepath.core.model.findings import Finding


@dataclass(frozen=True, slots=True)
class DesiredSet:
    """One record set as it is to be. Without `values` nothing may stand there.

    Of a joined type the values must be among those there, which may be more; of every other type they are all
    (RFC 2181 section 5: a set is replaced as a whole). `without`: values of a joined set that must be gone from it.
    An `optional` set may be missing, but if it is there it must be this one.
    """

    name: Name
    type: str
    values: tuple[str, ...] = ()
    without: tuple[str, ...] = ()
    optional: bool = False

    @property
    def key(self) -> Key:
        return self.name, self.type

    @property
    def joined(self) -> bool:
        """Whether other values may stand beside the wanted ones."""
        return self.type in JOINED_TYPES and bool(self.values or self.without)

    @property
    def meanings(self) -> frozenset[str]:
        return frozenset(meaning(self.type, value) for value in self.values)

    def met_by(self, present: RecordSet | None) -> bool:
        """Whether `present` is as meant; None and a set without values both stand for a set that is not there."""
        there = present.meanings if present else frozenset()
        if not there:
            return self.optional or not self.values
        if not self.joined:
            return there == self.meanings
        return not self.lacking(present) and not there & {meaning(self.type, value) for value in self.without}

    def lacking(self, present: RecordSet | None) -> tuple[str, ...]:
        """The wanted values that `present` does not give. A policy of the owner's own means another one."""
        there = present.meanings if present else frozenset()
        wants = [(value, meaning(self.type, value)) for value in self.values]
        texts = there if self.type == "TXT" else ()
        return tuple(v for v, text in wants if text not in there and not any(stands_for(t, text) for t in texts))

    def unwanted(self, present: RecordSet | None) -> tuple[str, ...]:
        """The values of `present` that must go."""
        if present is None:
            return ()
        if self.joined:
            gone = {meaning(self.type, value) for value in self.without}
            return tuple(value for value in present.values if meaning(self.type, value) in gone)
        return tuple(value for value in present.values if meaning(self.type, value) not in self.meanings)


Move = Literal["add", "replace", "remove", "keep"]
Stays = Literal["right", "protected", "undecided", "comes-along"]
"""Why a set is kept: it is as wanted; the owner protects it; what else is at its name is not known; the new nameservers
must return it too."""
Purpose = Literal["website", "mail", "mail authentication", "proof of ownership", "certificates", "delegation", "other"]
PURPOSES: tuple[Purpose, ...] = (
    "website",
    "mail",
    "mail authentication",
    "proof of ownership",
    "certificates",
    "delegation",
    "other",
)


@dataclass(frozen=True, slots=True)
class Change:
    """What happens to one record set. `values` afterwards, `before` now; TTLs in seconds."""

    move: Move
    name: Name
    type: str
    ttl: int
    values: tuple[str, ...]
    before: tuple[str, ...]
    purpose: Purpose
    reason: Text
    before_ttl: int | None = None
    stays: Stays | None = None
    """Of a set that is kept: why, as far as anything depends on it."""

    @property
    def entered(self) -> tuple[str, ...]:
        """The values to type in."""
        return tuple(value for value in self.values if value not in self.before)

    @property
    def deleted(self) -> tuple[str, ...]:
        """The values to take out."""
        return tuple(value for value in self.before if value not in self.values)

    @property
    def retimed(self) -> bool:
        """Whether the values stay, and only the TTL changes."""
        return self.move == "replace" and not self.entered and not self.deleted


def move_of(rrtype: str, before: Collection[str], values: Collection[str]) -> Move:
    """What becomes of a set: a value that joins those of others (a text beside texts) is added, nothing is replaced."""
    if not values:
        return "remove"
    joins = not before or (rrtype in JOINED_TYPES and set(before) <= set(values))
    return "add" if joins else "replace"


Place = Literal["builder", "DNS host", "new DNS host", "registrar", "certificate authority", "here"]


@dataclass(frozen=True, slots=True)
class Plan:
    """`reasons`: why this way was chosen among the brief's; `open`: the routes that stay possible."""

    domain: Name
    primary: Name
    route: Literal["records", "nameservers", "undo", "leave"]
    changes: tuple[Change, ...]
    findings: tuple[Finding, ...]
    reasons: tuple[Text, ...] = ()
    open: tuple[str, ...] = ()
    redirects: Redirects | None = None

    @property
    def work(self) -> tuple[Change, ...]:
        """The changes that someone has to make."""
        return tuple(change for change in self.changes if change.move != "keep")

    @property
    def blockers(self) -> tuple[Finding, ...]:
        return tuple(finding for finding in self.findings if finding.level == "blocker")
