"""Whoever else can run a domain in the practice world: zones opened at a second DNS host, or at the builder's own name
servers, which hold them after a while."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from homepath.core.dns.names import Name, child
from homepath.core.dns.records import Key, RecordSet, Zone
from homepath.core.model.problems import BadInput, Problem
from homepath.practice.scene_file import OtherHostTable, SceneTable
from homepath.practice.signing import Signer, with_keys
from homepath.practice.zones import Reply, ZoneId, Zones, copy_at

GUESSED = (
    *(("@", rrtype) for rrtype in ("A", "AAAA", "MX", "TXT")),
    *((label, rrtype) for label in ("www", "mail", "ftp", "webmail") for rrtype in ("A", "AAAA", "CNAME")),
    *((label, "TXT") for label in ("_dmarc", "default._domainkey")),
)
"""What a scan looks for; everything else it misses."""
Lookup = Callable[[Name, str], Reply]


@dataclass(slots=True)
class _Opened:
    origin: Name
    loads_at: float


class Hosts:
    """The further hosts of a scene with their zones. The time comes with each call."""

    def __init__(self, scene: SceneTable, zones: Zones, lookup: Lookup) -> None:
        self._scene, self._zones, self._lookup = scene, zones, lookup
        self._tables = {table.name: table for table in scene.hosts}
        self._opened: dict[str, dict[Name, _Opened]] = {name: {} for name in self._tables}
        self.signers: dict[ZoneId, Signer] = {}

    def find(self, name: str) -> OtherHostTable:
        """The host of this name. Raises BadInput."""
        found = next((t for t in self._tables.values() if t.name.lower() == name.lower()), None)
        if found is None:
            known = ", ".join([self._scene.host.name, *self._tables])
            raise BadInput(
                Problem("there is no such host in this world", key="--at", seen=name, hint=f"it has: {known}")
            )
        return found

    @property
    def of_builder(self) -> OtherHostTable | None:
        return self._tables.get(self._scene.builder.name)

    def zone(self, host: str, origin: Name) -> ZoneId:
        """The copy of a zone at a host. Raises BadInput where it was not opened there."""
        table = self.find(host)
        if origin not in self._opened[table.name]:
            raise BadInput(
                Problem(f"{table.name} has no such domain yet", key="DOMAIN", seen=origin, hint="add it there first")
            )
        return copy_at(origin, table.name)

    def open(self, host: str, origin: Name, now: float) -> OtherHostTable:
        """Add a domain at a host; what was added before stays as it is."""
        table = self.find(host)
        if origin not in self._opened[table.name]:
            self._opened[table.name][origin] = _Opened(origin, now + table.loads_after)
            self._zones.add(copy_at(origin, table.name), self._fresh(table, origin))
        return table

    def close(self, host: str, origin: Name) -> None:
        """Delete a domain at a host."""
        table = self.find(host)
        self._zones.drop(self.zone(host, origin))
        del self._opened[table.name][origin]

    def sign(self, host: str, origin: Name) -> RecordSet:
        """Switch DNSSEC on at a host; the DS record for the zone above."""
        zone = self.zone(host, origin)
        signer = self.signers.setdefault(zone, Signer(origin))
        self._zones.add(zone, with_keys(self._zones.get(zone), signer))
        return signer.ds

    def held(self, server: Name, now: float) -> dict[Name, ZoneId]:
        """The zones that a server of one of these hosts holds by now."""
        return {
            each.origin: copy_at(each.origin, name)
            for name, table in self._tables.items()
            if server in table.servers
            for each in self._opened[name].values()
            if now >= each.loads_at
        }

    def runs(self, host: str, origin: Name) -> bool:
        """Whether the zone above names this host's servers, and no others."""
        said = self._lookup_delegation(origin)
        return set(said) == set(self.find(host).servers)

    def _lookup_delegation(self, origin: Name) -> tuple[Name, ...]:
        above = origin.partition(".")[2]
        zone = self._zones.get(above) if above in self._zones.ids() else None
        return zone.values(origin, "NS") if zone else ()

    def tick(self) -> None:
        """A builder that leads the website only after the switch does so now."""
        table = self.of_builder
        for origin in self._opened[table.name] if table is not None and table.website_late else ():
            zone = self._zones.get(copy_at(origin, table.name)) if table else None
            if zone is not None and zone.get(origin, "A") is None and self.runs(table.name, origin):  # type: ignore[union-attr]
                sets = {**zone.sets, **self._website(origin)}
                self._zones.replace(copy_at(origin, table.name), sets)  # type: ignore[union-attr]

    def _fresh(self, table: OtherHostTable, origin: Name) -> Zone:
        first = table.servers[0]
        begin = (
            RecordSet(origin, "SOA", 3600, (f"{first} dns.{first} 1 7200 900 1209600 900",)),
            RecordSet(origin, "NS", table.ttl, table.servers),
        )
        sets: dict[Key, RecordSet] = {each.key: each for each in begin}
        if table is self.of_builder and not table.website_late:
            sets |= self._website(origin)
        if table.scans:
            sets |= {each.key: each for each in self._scanned(origin, table.ttl)}
        return Zone(origin, sets)

    def _website(self, origin: Name) -> dict[Key, RecordSet]:
        addresses = self._scene.builder.addresses[:1]
        made = (RecordSet(name, "A", 300, addresses) for name in (origin, child("www", origin)))
        return {each.key: each for each in made}

    def _scanned(self, origin: Name, ttl: int) -> list[RecordSet]:
        found: dict[Key, RecordSet] = {}
        for label, rrtype in GUESSED:
            name = origin if label == "@" else child(label, origin)
            for each in self._lookup(name, rrtype).answer[:1]:
                if each.name == name and not any(key[0] == name and "CNAME" in (key[1], each.type) for key in found):
                    found[each.key] = RecordSet(name, each.type, ttl, each.values)
        return list(found.values())
