"""What happens to domains that have arrived, by their owner, a host, the registrar or the builder: deeds in the
practice world, each with what has to be reported of it, and the part of a check that sees it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, Literal

from homepath.core.dns.records import RecordSet, Zone
from homepath.practice.scene_file import load_scene
from homepath.practice.scene_tables import SceneTable, ServerTable
from homepath.practice.web_server import Response
from homepath.practice.world import World

DOMAIN = "tidewick-kiln.example"
ORIGIN = f"{DOMAIN}."
WWW = f"www.{ORIGIN}"
NS1, MX = "ns1.mossgate.example.", "10 mx1.mossgate.example."
DAY = 86400
Deed = Callable[["Incidents"], None]
Seen = Literal["records", "serial", "servers", "delegation", "DS", "ways", "registry"]


@dataclass(frozen=True)
class Incident:
    """`code`: the finding that names the cause; empty where nothing is reported, or only silence. `verdict`: of the
    line that is reported, None for no line. `by`: which question of the short check shows it."""

    name: str
    deed: Deed
    by: Seen
    verdict: str | None
    code: str
    where: str


def scene() -> SceneTable:
    """The demo's scene, with nameservers elsewhere to which a registrar can point the domain."""
    found = load_scene("first-site")
    zones = {**found.zones, "example.": f"{found.zones['example.']}\nns1.elsewhere 3600 A 203.0.113.177\n"}
    elsewhere = ServerTable("ns1.elsewhere.example.", ("203.0.113.177",), ())
    return replace(found, zones=zones, servers=(*found.servers, elsewhere))


class Incidents:
    """The world with the handles that incidents pull; `over` puts everything back."""

    def __init__(self, world: World) -> None:
        self.world = world
        builder = world.builder
        self._before = (
            [(zone, world.zones.get(zone)) for zone in (ORIGIN, "example.")],
            (world.scene, world.served_by, builder._table, dict(builder.claims), world._registry._table),
            [edge._handler for edge in world._edges],
        )

    def over(self) -> None:
        zones, (scene, served_by, table, claims, registry), handlers = self._before
        for zone, content in zones:
            self.world.zones.add(zone, content)
        self.world.scene, self.world.served_by = scene, served_by  # type: ignore[method-assign]
        builder = self.world.builder
        builder._table, builder.claims, self.world._registry._table = table, dict(claims), registry
        self.certificates(0, 300)
        for edge, handler in zip(self.world._edges, handlers, strict=True):
            edge._handler = handler

    def form(self, deed: str, name: str, rrtype: str, value: str | None = None) -> None:
        asked = {"domain": DOMAIN, "name": name, "type": rrtype, "value": value, "ttl": 3600}
        getattr(self.world.control, deed)(asked)

    def parent(self, rrtype: str, *values: str) -> None:
        zone = self.world.zones.get("example.")
        sets = {key: each for key, each in zone.sets.items() if key != (ORIGIN, rrtype)}
        if values:
            sets[ORIGIN, rrtype] = RecordSet(ORIGIN, rrtype, 21600, values)
        self.world.zones.add("example.", Zone("example.", sets))

    def silent(self, begin: str) -> None:
        self._servers(lambda each: replace(each, habit="silent") if each.name.startswith(begin) else each)

    def refusing(self) -> None:
        self._servers(lambda each: replace(each, zones=tuple(zone for zone in each.zones if zone != ORIGIN)))

    def _servers(self, change: Callable[[ServerTable], ServerTable]) -> None:
        self.world.scene = replace(self.world.scene, servers=tuple(map(change, self.world.scene.servers)))

    def another_copy(self, server: str, zone: Zone) -> None:
        """One server, or servers elsewhere, answer from another copy of the zone."""
        self.world.zones.add(f"{ORIGIN}@copy", zone)
        before = self.world.served_by

        def served_by(name: str) -> Any:
            held = before(name)
            return {**(held or {}), ORIGIN: f"{ORIGIN}@copy"} if name.startswith(server) else held

        self.world.served_by = served_by  # type: ignore[assignment, method-assign]

    def registry(self, **table: Any) -> None:
        self.world._registry._table = replace(self.world._registry._table, **table)

    def days_left(self, days: int) -> None:
        passed = (self.world.clock.now() - self.world.scene.story_begins) / DAY
        self.registry(days_left=int(passed) + days)

    def builder(self, **table: Any) -> None:
        self.world.builder._table = replace(self.world.builder._table, **table)

    def certificates(self, begun: int, days: int) -> None:
        """New ones for both names, begun so many days ago."""
        begins = self.world.clock.now() - begun * DAY
        for name in (DOMAIN, f"www.{DOMAIN}"):
            self.world.builder.certificates.put(name, self.world.authority.issue([name], begins, days))

    def disconnect(self) -> None:
        self.world.builder.disconnect(ORIGIN)

    def pages(self, handler: Callable[[Any], Response]) -> None:
        for edge in self.world._edges:
            edge._handler = handler


def _parked(it: Incidents) -> None:
    kept = [each for each in it.world.zones.get(ORIGIN) if each.type in ("SOA", "NS")]
    parked = (
        RecordSet(ORIGIN, "A", 3600, ("198.51.100.7",)),
        RecordSet(WWW, "CNAME", 3600, ("parking.mossgate.example.",)),
    )
    it.world.zones.add(ORIGIN, Zone.of(ORIGIN, [*kept, *parked]))


def _moved_away(it: Incidents) -> None:
    server = "ns1.elsewhere.example."
    sets = [
        RecordSet(ORIGIN, "SOA", 3600, (f"{server} keeper.elsewhere.example. 5 7200 900 1209600 300",)),
        RecordSet(ORIGIN, "NS", 3600, (server,)),
        RecordSet(ORIGIN, "A", 3600, ("198.51.100.7",)),
    ]
    it.another_copy("ns1.elsewhere", Zone.of(ORIGIN, sets))
    it.parent("NS", server)


def _one_behind(it: Incidents) -> None:
    it.another_copy("ns2.mossgate", it.world.zones.get(ORIGIN))
    it.form("enter", "shop", "A", "198.51.100.9")


def _short_ttl(it: Incidents) -> None:
    zone = it.world.zones.get(ORIGIN)
    it.world.zones.add(ORIGIN, Zone.of(ORIGIN, [replace(e, ttl=60) if e.name == WWW else e for e in zone]))


def entered(name: str, rrtype: str, value: str) -> Deed:
    return lambda it: it.form("enter", name, rrtype, value)


def deleted(name: str, rrtype: str, value: str | None = None) -> Deed:
    return lambda it: it.form("delete", name, rrtype, value)


def edited(name: str, rrtype: str, old: str, new: str) -> Deed:
    def deed(it: Incidents) -> None:
        it.form("delete", name, rrtype, old)
        it.form("enter", name, rrtype, new)

    return deed


def parent(rrtype: str, *values: str) -> Deed:
    return lambda it: it.parent(rrtype, *values)


def undelegated(*statuses: str) -> Deed:
    def deed(it: Incidents) -> None:
        it.parent("NS")
        it.registry(statuses=statuses or ("active",))

    return deed


def registry(**table: Any) -> Deed:
    return lambda it: it.registry(**table)


def builder(**table: Any) -> Deed:
    return lambda it: it.builder(**table)


_HOST: list[tuple[str, Deed, Seen, str | None, str]] = [
    ("www-deleted", deleted("www", "CNAME"), "records", "wrong", "site-record-gone"),
    ("address-deleted", deleted("@", "A"), "records", "wrong", "site-record-gone"),
    ("address-changed", edited("@", "A", "192.0.2.10", "198.51.100.99"), "records", "wrong", "address-elsewhere"),
    ("ipv6-added", entered("@", "AAAA", "2001:db8::66"), "records", "wrong", "ipv6-elsewhere"),
    ("issuer-forbidden", entered("@", "CAA", '0 issue "other.example"'), "serial", "wrong", "issuer-not-allowed"),
    ("proof-deleted", deleted("@", "TXT", "bricklark-owner=tk-4471"), "records", "wrong", "proof-missing"),
    ("parked-again", _parked, "records", "wrong", "parked"),
    ("wildcard-added", entered("*", "A", "198.51.100.88"), "serial", "as-wanted", "wildcard-added"),
    ("ttl-changed", _short_ttl, "records", None, ""),
    ("mx-deleted", deleted("@", "MX"), "records", "wrong", "kept-record-gone"),
    ("mx-changed", edited("@", "MX", MX, "10 mx9.mossgate.example."), "records", "wrong", "kept-record-changed"),
    ("spf-deleted", deleted("@", "TXT", "v=spf1 mx -all"), "records", "wrong", "kept-record-changed"),
    ("spf-twice", entered("@", "TXT", "v=spf1 include:news.fernhollow.example -all"), "records", "wrong", "spf-twice"),
    ("label-added", entered("shop", "A", "198.51.100.9"), "serial", None, ""),
    ("one-server-silent", lambda it: it.silent("ns2.mossgate"), "servers", "as-wanted", "server-lame"),
    ("all-servers-silent", lambda it: it.silent("ns"), "servers", "unknown", ""),
    ("zone-deleted", Incidents.refusing, "servers", "wrong", "zone-not-served"),
    ("one-server-behind", _one_behind, "serial", "as-wanted", "servers-disagree"),
]
_REGISTRAR: list[tuple[str, Deed, Seen, str | None, str]] = [
    ("servers-of-nobody", parent("NS", "ns1.gone.example."), "delegation", "wrong", "nameservers-changed"),
    ("servers-elsewhere", _moved_away, "delegation", "wrong", "nameservers-changed"),
    ("one-of-nobody", parent("NS", NS1, "ns9.mossgate.example."), "delegation", "as-wanted", "delegation-differs"),
    ("key-of-nobody", parent("DS", f"12345 13 2 {'ab' * 32}"), "DS", "wrong", "signature-broken"),
    ("on-hold", undelegated("client hold"), "delegation", "wrong", "registration-on-hold"),
    ("in-redemption", undelegated("redemption period"), "delegation", "wrong", "registration-deleting"),
    ("out-of-the-registry", undelegated(), "delegation", "wrong", "not-delegated"),
    ("pending-delete", registry(statuses=("pending delete",)), "registry", "wrong", "registration-deleting"),
    ("expired", lambda it: it.days_left(-2), "registry", "wrong", "registration-expired"),
    ("expires-soon", lambda it: it.days_left(20), "registry", "as-wanted", "registration-ending"),
]
_BUILDER: list[tuple[str, Deed, Seen, str | None, str]] = [
    ("certificate-expired", lambda it: it.certificates(91, 90), "ways", "wrong", "certificate-expired"),
    ("disconnected", lambda it: it.disconnect(), "ways", "wrong", "builder-unaware"),
    ("page-broken", lambda it: it.pages(lambda _: Response(500, "no", {})), "ways", "wrong", "page-broken"),
    ("no-redirect", builder(redirects=False), "ways", "wrong", "no-redirect"),
    ("path-lost", builder(redirect_keeps="nothing"), "ways", "wrong", "redirect-loses-path"),
    ("redirect-temporary", builder(redirect_status=302), "ways", "as-wanted", "redirect-temporary"),
]
INCIDENTS = [
    Incident(*row, where)
    for where, rows in (("DNS host", _HOST), ("registrar", _REGISTRAR), ("builder", _BUILDER))
    for row in rows
]
