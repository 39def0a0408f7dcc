"""Hosts that can run a domain in the practice world beside the first: a second DNS host, or the builder's nameservers,
which hold a zone after a while; and the registrar."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from homepath.core.dns.names import BadName, Name, absolute, child, is_host, labels, shown
from homepath.core.dns.records import Key, RecordSet, Zone
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import rfc3339
from homepath.practice.scene_file import OtherHostTable, RegistrationTable, SceneTable
from homepath.practice.web_server import Request, Response
from homepath.practice.zones import Reply, Signer, ZoneId, Zones, copy_at, with_keys

DS_TTL = 3600


def above(zones: Zones, domain: Name) -> Name:
    """The zone that delegates the domain. Raises BadInput."""
    found = domain.partition(".")[2]
    if found not in zones.ids() or not zones.get(found).values(domain, "NS"):
        raise BadInput(Problem("nobody registered this domain here", key="DOMAIN", seen=shown(domain)))
    return found


def set_servers(zones: Zones, domain: Name, servers: Sequence[str]) -> None:
    """Replace all nameservers by these. Raises BadInput as a form would: it takes any host name."""
    parent = above(zones, domain)
    names = []
    for text in servers:
        try:
            name = absolute(text)
        except BadName as error:
            raise BadInput(Problem(f"the form refuses it: {error}", key="SERVER", seen=text)) from error
        if not is_host(name) or len(labels(name)) < 2:
            raise BadInput(Problem("the form refuses it: this is no host name", key="SERVER", seen=text))
        names.append(name)
    if not names:
        raise BadInput(Problem("the form wants at least one nameserver", key="SERVER"))
    sets = dict(zones.get(parent).sets)
    before = sets[domain, "NS"]
    sets[domain, "NS"] = RecordSet(domain, "NS", before.ttl, tuple(names))
    zones.replace(parent, sets)


def set_ds(zones: Zones, domain: Name, values: Sequence[str]) -> None:
    """Replace all DS records by these; none takes them away."""
    parent = above(zones, domain)
    sets = dict(zones.get(parent).sets)
    sets.pop((domain, "DS"), None)
    if values:
        sets[domain, "DS"] = RecordSet(domain, "DS", DS_TTL, tuple(values))
    zones.replace(parent, sets)


def shown_form(zones: Zones, domain: Name) -> dict[str, Any]:
    """What the form shows."""
    zone = zones.get(above(zones, domain))
    return {"servers": [shown(name) for name in zone.values(domain, "NS")], "ds": list(zone.values(domain, "DS"))}


_JSON = {"Content-Type": "application/rdap+json"}


class Registry:
    """Answers for every domain that the registry's zone delegates. The time comes from the world's clock."""

    def __init__(self, table: RegistrationTable, zones: Zones, suffix: Name, begins: float) -> None:
        self._table, self._zones, self._suffix, self._begins = table, zones, suffix, begins

    def bootstrap(self, base: str) -> str:
        return json.dumps({"version": "1.0", "services": [[[shown(self._suffix)], [base]]]})

    def handler(self, base: Callable[[], str]) -> Callable[[Request], Response]:
        """Serves `/dns.json` and `/rdap/domain/NAME`."""

        def serve(request: Request) -> Response:
            if request.path == "/dns.json":
                return Response(200, self.bootstrap(base()), {"Content-Type": "application/json"})
            name = request.path.removeprefix("/rdap/domain/")
            found = self._object(absolute(name)) if name != request.path else None
            return Response(200, json.dumps(found), _JSON) if found else Response(404, "{}", _JSON)

        return serve

    def _object(self, domain: Name) -> dict[str, object] | None:
        servers = self._zones.get(self._suffix).values(domain, "NS")
        if not servers and set(self._table.statuses) <= {"active"}:
            return None
        expires = self._begins + self._table.days_left * 86400
        return {
            "objectClassName": "domain",
            "ldhName": shown(domain),
            "status": list(self._table.statuses),
            "events": [{"eventAction": "expiration", "eventDate": rfc3339(expires)}],
            "nameservers": [{"objectClassName": "nameserver", "ldhName": shown(server)} for server in servers],
            "entities": [
                {
                    "objectClassName": "entity",
                    "roles": ["registrar"],
                    "vcardArray": [
                        "vcard",
                        [["version", {}, "text", "4.0"], ["fn", {}, "text", self._table.registrar]],
                    ],
                }
            ],
        }


GUESSED = (
    *(("@", rrtype) for rrtype in ("A", "AAAA", "MX", "TXT")),
    *((label, rrtype) for label in ("www", "mail", "ftp", "webmail") for rrtype in ("A", "AAAA", "CNAME")),
    *((label, "TXT") for label in ("_dmarc", "default._domainkey")),
)
"""What a scan searches for; everything else it misses."""
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
        """Switch DNSSEC on at a host; the DS record for the parent zone."""
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
        """Whether the parent zone names this host's servers, and no others."""
        delegation = self._lookup_delegation(origin)
        return set(delegation) == set(self.find(host).servers)

    def _lookup_delegation(self, origin: Name) -> tuple[Name, ...]:
        above = origin.partition(".")[2]
        zone = self._zones.get(above) if above in self._zones.ids() else None
        return zone.values(origin, "NS") if zone else ()

    def tick(self) -> None:
        """A builder that adds the website only after the switch does so now."""
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
