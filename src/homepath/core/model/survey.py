"""What is there now, each fact with its source."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.model.names import Name
from homepath.core.model.records import RecordSet, Zone


@dataclass(frozen=True, slots=True)
class ServerSeen:
    """One authoritative server: what it said of the zone. State in words; serial of its SOA."""

    name: Name
    address: str
    state: str
    serial: int | None = None


@dataclass(frozen=True, slots=True)
class Delegation:
    """What the parent says: the servers it names, for how long (seconds), and whether the zone is signed."""

    parent: Name
    servers: tuple[Name, ...]
    ttl: int
    signed: bool = False


@dataclass(frozen=True, slots=True)
class Seen:
    """A record set and everywhere it was seen, such as `ns1.mossgate.example` or `file zone.txt`."""

    record: RecordSet
    sources: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Survey:
    """One look at one domain. `outside` holds CAA sets above it and at the targets of its aliases."""

    domain: Name
    at: float
    servers: tuple[ServerSeen, ...]
    delegation: Delegation | None
    records: tuple[Seen, ...]
    outside: tuple[Seen, ...] = ()
    blind_spots: tuple[str, ...] = ()

    @property
    def zone(self) -> Zone:
        return Zone.of(self.domain, (seen.record for seen in self.records))

    @property
    def surroundings(self) -> Zone:
        """Everything seen outside the domain that has a bearing on it."""
        return Zone.of(self.domain, (seen.record for seen in self.outside))
