"""What is in place now, each fact with its source: a survey, one vantage's reading, two sides compared."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.answers import Trouble, Unanswered
from homepath.core.dns.names import Name
from homepath.core.dns.records import Key, RecordSet, Zone
from homepath.core.message import Message, Text
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Purpose

Role = Literal["parent", "authoritative", "resolver"]
State = Literal["new", "old", "mixed", "absent", "other", "silent", "broken"]
SpreadVerdict = Literal["settled", "spreading", "not-entered", "entered-wrong", "split", "unknown"]

WORST_FIRST: tuple[SpreadVerdict, ...] = ("entered-wrong", "split", "not-entered", "unknown", "spreading", "settled")


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
    """Served although every TTL has run out (RFC 8767): its own countdown starts again with each answer."""

    @property
    def dies(self) -> float | None:
        """When this copy expires in the cache it was read from; None where that is not known."""
        return None if self.ttl is None or self.role != "resolver" or self.expired else self.at + self.ttl


@dataclass(frozen=True, slots=True)
class RecordSpread:
    """How one record set has spread. `settled_by`: no cache that respects TTLs is behind after it.

    `taken_back`: when an earlier check said settled, if this one says otherwise.
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


CompareState = Literal["same", "as-planned", "differs", "missing", "extra", "unknown"]
CompareVerdict = Literal["ready", "not-ready", "unknown"]
SideState = Literal["holds", "behind", "no-such-server", "silent", "refusing", "lame", "recursive", "broken", "present"]
"""`holds`: it answers for the domain with authority. `behind`: so it does, and not as the other new ones. `recursive`:
it answers, and not from a zone of its own. `present`: it is one of the servers that the domain has already."""


@dataclass(frozen=True, slots=True)
class SideServer:
    """One server of one side; `serial` of its SOA, `detail` says what is wrong with it. `address` is empty where it has
    none."""

    name: Name
    address: str
    state: SideState
    serial: int | None = None
    detail: Text = ""
    present: bool = False
    """It is one of the domain's present nameservers."""


@dataclass(frozen=True, slots=True, kw_only=True)
class RecordCompared:
    """One record set at both sides; values as the servers give them, TTLs in seconds, None where there is no record.

    `wanted`: what the new side is to give. `at`: the new servers that do not give it. `hinders`: the switch would lose
    it. `theirs`: the new servers lead the name by themselves, whatever they give.
    """

    name: Name
    type: str
    state: CompareState
    purpose: Purpose
    old: tuple[str, ...]
    new: tuple[str, ...]
    old_ttl: int | None
    new_ttl: int | None
    wanted: tuple[str, ...] = ()
    wanted_ttl: int = 0
    at: tuple[Name, ...] = ()
    hinders: bool = False
    theirs: bool = False

    @property
    def key(self) -> Key:
        return self.name, self.type


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """One check of both sides, at `at` (Unix seconds).

    `records`: all of them, or only those that are not `same` where it comes from the journal; `same` counts the others.
    `signed`: the parent has a DS record that does not fit the new side's keys. `target`: the servers compared with.
    `unanswered`: what one side did not answer, so that no one knows whether it would be lost.
    """

    domain: Name
    at: float
    verdict: CompareVerdict
    old: tuple[SideServer, ...]
    new: tuple[SideServer, ...]
    records: tuple[RecordCompared, ...]
    findings: tuple[Finding, ...] = ()
    signed: bool = False
    target: tuple[Name, ...] = ()
    same: int = 0
    unanswered: tuple[Unanswered, ...] = ()

    @property
    def hindering(self) -> tuple[RecordCompared, ...]:
        """What would be lost by switching now."""
        return tuple(each for each in self.records if each.hinders)

    @property
    def held(self) -> bool:
        """Whether at least one of the new servers holds the domain."""
        return any(each.state in ("holds", "behind") for each in self.new)

    @property
    def records_ready(self) -> bool:
        """Whether every new server is known to give all that must come along; a DS record is another matter."""
        return (
            not (self.hindering or self.unanswered)
            and bool(self.new)
            and all(each.state == "holds" for each in self.new)
        )


ServerState = Literal["agrees", "differs", "slow", "lame", "refusing", "silent", "broken"]
"""`slow`: it agrees, and for most queries took longer than a resolver waits for one try. `lame`: it answers, and does
not hold the zone (RFC 1912 section 2.8). `refusing`: it will not answer us (REFUSED), whatever it holds. `broken`: it
fails."""
Signatures = Literal["none", "good", "broken", "unknown"]


@dataclass(frozen=True, slots=True)
class ServerSeen:
    """One authoritative server: what it said of the zone. Serial of its SOA; `detail` says what differs, or why."""

    name: Name
    address: str
    state: ServerState
    serial: int | None = None
    detail: Text = ""

    @property
    def kept_silent(self) -> bool:
        """Whether it was asked, and may hold the domain all the same. A name without an address holds nothing."""
        return self.state == "silent" and bool(self.address)


@dataclass(frozen=True, slots=True)
class Chain:
    """How a zone is signed (RFC 4035 section 5). `signatures`: `none` for an unsigned zone. `signed`: whether the
    parent has a DS record; None where none of its servers said so, with what the first one did in `unanswered`."""

    signatures: Signatures
    signed: bool | None
    trouble: Text = ""
    unanswered: Trouble | None = None


@dataclass(frozen=True, slots=True)
class Delegation:
    """What the parent says: the servers it names, for how long (seconds), and whether the zone is signed, None where
    no one said so.

    `signatures`: whether the keys at the zone fit the DS at the parent (RFC 4035 section 5); `trouble` says why not.
    """

    parent: Name
    servers: tuple[Name, ...]
    ttl: int
    signed: bool | None = False
    signatures: Signatures = "none"
    trouble: Text = ""


@dataclass(frozen=True, slots=True)
class Registration:
    """What the registry says of the domain (RFC 9083); `expires` in Unix seconds."""

    registrar: str
    statuses: tuple[str, ...]
    expires: float | None
    name_servers: tuple[Name, ...]
    source: str
    missing: bool = False
    """The registry says that it has no such domain (RFC 7480 section 5.3); then nothing else is known."""


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
    """The target of an alias: the names it is followed through, and the addresses at the end."""

    target: Name
    through: tuple[Name, ...]
    addresses: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Survey:
    """One survey of one domain. `outside` holds CAA sets above it and at the targets of its aliases.

    `contradicted`: what an export has and the servers do not. `dangling`: alias targets that do not exist.
    `unknown`: what no one answered. `uneven`: names of sets whose records came with different TTLs (RFC 2181
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
    """Addresses of the brief that serve nothing, while the builder's own host name points elsewhere and answers."""

    @property
    def held(self) -> bool:
        """Whether any nameserver answered for the domain; not where the registry's zone names none."""
        if self.delegation is not None and not self.delegation.servers:
            return False
        return not self.servers or any(each.state in ("agrees", "differs", "slow") for each in self.servers)

    @property
    def gone(self) -> bool:
        """Whether no nameserver holds the domain, and that was said: a server that keeps silent may hold it."""
        return not self.held and not any(each.kept_silent for each in self.servers)

    @property
    def zone(self) -> Zone:
        return Zone.of(self.domain, (seen.record for seen in self.records))

    @property
    def surroundings(self) -> Zone:
        """Everything seen outside the domain that has a bearing on it."""
        return Zone.of(self.domain, (seen.record for seen in self.outside))
