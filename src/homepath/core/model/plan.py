"""The plan: changes and findings."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import Name
from homepath.core.dns.records import JOINED_TYPES
from homepath.core.message import Text
from homepath.core.model.brief import Redirects
from homepath.core.model.findings import Finding

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
        """The changes that somebody has to make."""
        return tuple(change for change in self.changes if change.move != "keep")

    @property
    def blockers(self) -> tuple[Finding, ...]:
        return tuple(finding for finding in self.findings if finding.level == "blocker")
