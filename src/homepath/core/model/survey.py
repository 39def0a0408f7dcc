"""What is there now, each fact with its source."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.model.names import Name
from homepath.core.model.records import RecordSet, Zone

ServerState = Literal["agrees", "differs", "lame", "silent", "broken"]
"""`lame`: it answers, and does not hold the zone (RFC 1912 section 2.8)."""
Signatures = Literal["none", "good", "broken", "unknown"]


@dataclass(frozen=True, slots=True)
class ServerSeen:
    """One authoritative server: what it said of the zone. Serial of its SOA; `detail` says what differs, or why."""

    name: Name
    address: str
    state: ServerState
    serial: int | None = None
    detail: str = ""


@dataclass(frozen=True, slots=True)
class Delegation:
    """What the parent says: the servers it names, for how long (seconds), and whether the zone is signed.

    `signatures`: whether the keys at the zone fit the DS at the parent (RFC 4035 section 5); `trouble` says why not.
    """

    parent: Name
    servers: tuple[Name, ...]
    ttl: int
    signed: bool = False
    signatures: Signatures = "none"
    trouble: str = ""


@dataclass(frozen=True, slots=True)
class Registration:
    """What the registry says of the domain (RFC 9083); `expires` in Unix seconds."""

    registrar: str
    statuses: tuple[str, ...]
    expires: float | None
    name_servers: tuple[Name, ...]
    source: str


@dataclass(frozen=True, slots=True)
class Seen:
    """A record set and everywhere it was seen, such as `ns1.mossgate.example` or `file zone.txt`."""

    record: RecordSet
    sources: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Survey:
    """One look at one domain. `outside` holds CAA sets above it and at the targets of its aliases.

    `contradicted`: what an export has and the servers do not. `dangling`: alias targets that do not exist.
    """

    domain: Name
    at: float
    servers: tuple[ServerSeen, ...]
    delegation: Delegation | None
    records: tuple[Seen, ...]
    outside: tuple[Seen, ...] = ()
    blind_spots: tuple[str, ...] = ()
    registration: Registration | None = None
    contradicted: tuple[Seen, ...] = ()
    dangling: tuple[Name, ...] = ()

    @property
    def zone(self) -> Zone:
        return Zone.of(self.domain, (seen.record for seen in self.records))

    @property
    def surroundings(self) -> Zone:
        """Everything seen outside the domain that has a bearing on it."""
        return Zone.of(self.domain, (seen.record for seen in self.outside))
