"""The present name servers of a domain beside those that are to take it over, record set by record set."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import Name
from homepath.core.dns.records import Key
from homepath.core.message import Text
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Purpose

CompareState = Literal["same", "as-planned", "differs", "missing", "extra"]
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
    """One record set at both sides; values as the servers give them, TTLs in seconds, None where nothing stands.

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
    """One look at both sides, at `at` (Unix seconds).

    `records`: all of them, or only those that are not `same` where it comes from the journal; `same` counts the others.
    `signed`: the parent has a DS record that does not fit the new side's keys. `target`: the servers compared with.
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
        """Whether every new server gives all that must come along; a DS record at the parent is another matter."""
        return not self.hindering and bool(self.new) and all(each.state == "holds" for each in self.new)
