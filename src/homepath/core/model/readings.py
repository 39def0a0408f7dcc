"""Readings and verdicts of propagation, as design words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import Name
from homepath.core.message import Text
from homepath.core.model.findings import Finding

Role = Literal["parent", "authoritative", "resolver"]
State = Literal["new", "old", "mixed", "absent", "other", "silent", "broken"]
SpreadVerdict = Literal["settled", "spreading", "not-entered", "entered-wrong", "split", "unknown"]

WORST_FIRST: tuple[SpreadVerdict, ...] = (
    "entered-wrong",
    "split",
    "not-entered",
    "unknown",
    "spreading",
    "settled",
)


@dataclass(frozen=True, slots=True)
class Reading:
    """One vantage's answer about one record set. `ttl` in seconds as the answer said it; None without one."""

    vantage: str
    role: Role
    state: State
    values: tuple[str, ...]
    ttl: int | None
    at: float
    detail: Text = ""
    expired: bool = False
    """Served although every TTL has run out (RFC 8767): its own countdown starts anew with each answer."""

    @property
    def dies(self) -> float | None:
        """When this copy is gone from the cache it was read from; None where that is not known."""
        return None if self.ttl is None or self.role != "resolver" or self.expired else self.at + self.ttl


@dataclass(frozen=True, slots=True)
class RecordSpread:
    """How one record set has spread. `settled_by`: no cache that keeps the rules is behind after it.

    `taken_back`: when an earlier look said settled, if this one says otherwise.
    """

    name: Name
    type: str
    wanted: tuple[str, ...]
    verdict: SpreadVerdict
    settled_by: float | None
    readings: tuple[Reading, ...]
    because: Text = ""
    taken_back: float | None = None


@dataclass(frozen=True, slots=True)
class Spread:
    domain: Name
    at: float
    verdict: SpreadVerdict
    settled_by: float | None
    records: tuple[RecordSpread, ...]
    findings: tuple[Finding, ...] = ()
