"""What is there now, each fact with its source."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.answers import Unanswered
from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.message import Message, Text

ServerState = Literal["agrees", "differs", "slow", "lame", "refusing", "silent", "broken"]
"""`slow`: it agrees, and took longer than a resolver waits for one try. `lame`: it answers, and does not hold the zone
(RFC 1912 section 2.8). `refusing`: it will not answer us (REFUSED), whatever it holds. `broken`: it fails."""
Signatures = Literal["none", "good", "broken", "unknown"]


@dataclass(frozen=True, slots=True)
class ServerSeen:
    """One authoritative server: what it said of the zone. Serial of its SOA; `detail` says what differs, or why."""

    name: Name
    address: str
    state: ServerState
    serial: int | None = None
    detail: Text = ""


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
    sources: tuple[Text, ...]

    @property
    def ways(self) -> frozenset[str]:
        """How it was seen: `file`, `transfer`, or `query` for everything that a server answered."""
        return frozenset(_way(source) for source in self.sources)


def _way(source: Text) -> str:
    """Journals of versions before 1.5 hold the words themselves."""
    word = source.code.removeprefix("source.") if isinstance(source, Message) else source.partition(" ")[0]
    return word if word in ("file", "transfer") else "query"


@dataclass(frozen=True, slots=True)
class Led:
    """Where an alias of the domain leads: the names on the way from its target, and the addresses at the end."""

    target: Name
    through: tuple[Name, ...]
    addresses: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Survey:
    """One look at one domain. `outside` holds CAA sets above it and at the targets of its aliases.

    `contradicted`: what an export has and the servers do not. `dangling`: alias targets that do not exist.
    `unknown`: what nobody answered. `uneven`: names of sets whose records came with different TTLs (RFC 2181
    section 5.2). `denied`: names said not to exist that hold data (RFC 8020).
    """

    domain: Name
    at: float
    servers: tuple[ServerSeen, ...]
    delegation: Delegation | None
    records: tuple[Seen, ...]
    outside: tuple[Seen, ...] = ()
    blind_spots: tuple[Text, ...] = ()
    registration: Registration | None = None
    contradicted: tuple[Seen, ...] = ()
    dangling: tuple[Name, ...] = ()
    unknown: tuple[Unanswered, ...] = ()
    uneven: tuple[Name, ...] = ()
    denied: tuple[Name, ...] = ()
    led: tuple[Led, ...] = ()
    keys: tuple[str, ...] = ()
    """The zone's DNSKEY values, asked for where the domain is to be signed again."""
    outdated: tuple[RecordSet, ...] = ()
    """Addresses of the brief that serve nothing, while the builder's own host name leads elsewhere and answers."""

    @property
    def held(self) -> bool:
        """Whether any name server answered for the domain."""
        return not self.servers or any(each.state in ("agrees", "differs", "slow") for each in self.servers)

    @property
    def zone(self) -> Zone:
        return Zone.of(self.domain, (seen.record for seen in self.records))

    @property
    def surroundings(self) -> Zone:
        """Everything seen outside the domain that has a bearing on it."""
        return Zone.of(self.domain, (seen.record for seen in self.outside))
