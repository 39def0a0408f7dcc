"""What happens to domains that have arrived, by their owner, a host, the registrar or the builder: deeds in the
practice world, each with what has to be reported of it, and the part of a check that sees it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, Literal

from homepath.core.dns.records import RecordSet, Zone
from homepath.practice.scene_file import load_scene
from homepath.practice.scene_tables import BuilderTable, RegistrationTable, SceneTable, ServerTable
from homepath.practice.web_server import Request, Response
from homepath.practice.world import World

NAMES = tuple(f"d{number}.example" for number in range(40))
OWN_SERVERS = {NAMES[0]: ("ns3.mossgate.example.", "ns4.mossgate.example."), NAMES[1]: ("ns5.mossgate.example.",)}
"""Domains whose nameservers hold no other of them: what befalls one of these servers befalls one domain."""
SHARED = ("ns1.mossgate.example.", "ns2.mossgate.example.")
MX = "10 mx1.mossgate.example."
CODE, SITE = "bricklark-owner=tk-4471", "site-20817.edge.bricklark.example."
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


def servers_of(domain: str) -> tuple[str, ...]:
    return OWN_SERVERS.get(domain, SHARED)


def _arrived(domain: str) -> Zone:
    """The zone of a domain that has arrived, with mail."""
    origin, servers = f"{domain}.", servers_of(domain)
    sets = [
        ("@", "SOA", f"{servers[0]} dns.mossgate.example. 2026030101 7200 900 1209600 900"),
        ("@", "NS", *servers),
        ("@", "A", "192.0.2.10", "192.0.2.44"),
        ("www", "CNAME", SITE),
        ("@", "TXT", f'"{CODE}"', '"v=spf1 mx -all"'),
        ("@", "MX", MX),
        ("_dmarc", "TXT", '"v=DMARC1; p=quarantine"'),
        ("mail", "CNAME", "mx1.mossgate.example."),
    ]
    named = ((origin if label == "@" else f"{label}.{origin}", rrtype, values) for label, rrtype, *values in sets)
    return Zone.of(origin, [RecordSet(name, rrtype, 3600, tuple(values)) for name, rrtype, values in named])


def scene() -> SceneTable:
    """The demo's world with forty domains that have arrived, and nameservers elsewhere for a registrar to point to."""
    found = load_scene("first-site")
    more = [("ns1.elsewhere.example.", "203.0.113.177"), ("ns3.mossgate.example.", "203.0.113.63")]
    more += [("ns4.mossgate.example.", "203.0.113.64"), ("ns5.mossgate.example.", "203.0.113.65")]
    glue = "".join(f"{name} 3600 A {address}\n" for name, address in more)
    delegations = "".join(f"{name}. 21600 NS {server}\n" for name in NAMES for server in servers_of(name))
    hosts = found.zones["mossgate.example."] + "".join(
        f"{name} 3600 A {address}\n" for name, address in more if "mossgate" in name
    )
    zones = {**found.zones, "example.": f"{found.zones['example.']}\n{glue}{delegations}", "mossgate.example.": hosts}
    held = {
        server: tuple(f"{name}." for name in NAMES if server in servers_of(name))
        for server in (*SHARED, *(name for name, _ in more))
    }
    there = tuple(replace(each, zones=(*each.zones, *held.get(each.name, ()))) for each in found.servers)
    own = tuple(ServerTable(name, (address,), held[name]) for name, address in more)
    host = replace(found.host, zones=tuple(f"{name}." for name in NAMES))
    return replace(found, zones=zones, servers=(*there, *own), host=host, visited=())


class Town:
    """The world of `scene` with the handles that incidents pull, each for one domain."""

    def __init__(self, world: World) -> None:
        self.world = world
        self.silent: set[str] = set()
        self.copies: dict[tuple[str, str], str | None] = {}
        """By server and zone: the copy that it answers from, None where it holds the zone no more."""
        self.registered: dict[str, RegistrationTable] = {}
        self.builders: dict[str, BuilderTable] = {}
        self.pages: dict[str, Callable[[Request], Response]] = {}
        for name in NAMES:
            world.zones.add(f"{name}.", _arrived(name))
            names = (f"{name}.", f"www.{name}.")
            world.builder.connect(f"{name}.", names, names[1], "tk-4471", world.clock.now())
            self.certificates(name, 0, 300)
        for claim in world.builder.claims.values():
            claim.states = dict.fromkeys(claim.names, "connected")
        self._served_by, world.served_by = world.served_by, self.served_by  # type: ignore[method-assign]
        self._object, world._registry._object = world._registry._object, self._registration  # type: ignore[method-assign]
        for edge in world._edges:
            edge._handler = self._page

    def served_by(self, server: str) -> dict[str, str] | None:
        if server in self.silent:
            return None
        mine = {zone: copy for (name, zone), copy in self.copies.items() if name == server}
        held = self._served_by(server)
        found = {**(held or {}), **mine}
        return {zone: copy for zone, copy in found.items() if copy is not None} if found or held is not None else None

    def _registration(self, domain: str) -> dict[str, object] | None:
        registry = self.world._registry
        registry._table = self.registered.get(domain, self.world.scene.registration)
        return self._object(domain)

    def _page(self, request: Request) -> Response:
        domain = request.host.removeprefix("www.")
        self.world.builder._table = self.builders.get(domain, self.world.scene.builder)
        return self.pages.get(domain, self.world.builder.serve)(request)

    def certificates(self, domain: str, begun: int, days: int) -> None:
        """New ones for both names, begun so many days ago."""
        begins = self.world.clock.now() - begun * DAY
        for name in (domain, f"www.{domain}"):
            self.world.builder.certificates.put(name, self.world.authority.issue([name], begins, days))


class Incidents:
    """What happens to one domain of the town; `over` puts everything back."""

    def __init__(self, town: Town, domain: str) -> None:
        self.town, self.world, self.domain, self.origin = town, town.world, domain, f"{domain}."
        self.www, self.servers = f"www.{self.origin}", servers_of(domain)
        self.before, self.claim = self.world.zones.get(self.origin), self.world.builder.claims[self.origin]

    def over(self) -> None:
        """All as it was; the zone has a new serial, as after an owner's own repair."""
        self.town.silent -= set(self.servers)
        self.town.copies = {key: copy for key, copy in self.town.copies.items() if key[1] != self.origin}
        for table in (self.town.registered, self.town.builders, self.town.pages):
            table.pop(self.origin, None)
            table.pop(self.domain, None)
        self.parent("NS", *self.servers)
        self.parent("DS")
        if (zone := self.world.zones.get(self.origin)) != self.before:
            soa = (self.origin, "SOA")
            self.world.zones.replace(self.origin, {**self.before.sets, soa: zone.sets[soa]})
        if self.origin not in self.world.builder.claims:
            self.world.builder.claims[self.origin] = self.claim
        self.town.certificates(self.domain, 0, 300)

    def form(self, deed: str, name: str, rrtype: str, value: str | None = None) -> None:
        asked = {"domain": self.domain, "name": name, "type": rrtype, "value": value, "ttl": 3600}
        getattr(self.world.control, deed)(asked)

    def parent(self, rrtype: str, *values: str) -> None:
        zone = self.world.zones.get("example.")
        sets = {key: each for key, each in zone.sets.items() if key != (self.origin, rrtype)}
        if values:
            sets[self.origin, rrtype] = RecordSet(self.origin, rrtype, 21600, values)
        self.world.zones.add("example.", Zone("example.", sets))

    def silent(self, *servers: str) -> None:
        self.town.silent |= set(servers)

    def refusing(self) -> None:
        self.town.copies |= {(server, self.origin): None for server in self.servers}

    def another_copy(self, server: str, zone: Zone) -> None:
        """One server, or servers elsewhere, answer from another copy of the zone."""
        self.world.zones.add(f"{self.origin}@copy", zone)
        self.town.copies[server, self.origin] = f"{self.origin}@copy"

    def registry(self, **table: Any) -> None:
        self.town.registered[self.origin] = replace(self.world.scene.registration, **table)

    def days_left(self, days: int) -> None:
        passed = (self.world.clock.now() - self.world.scene.story_begins) / DAY
        self.registry(days_left=int(passed) + days)

    def builder(self, **table: Any) -> None:
        self.town.builders[self.domain] = replace(self.world.scene.builder, **table)


def _parked(it: Incidents) -> None:
    kept = [each for each in it.before if each.type in ("SOA", "NS")]
    parked = (
        RecordSet(it.origin, "A", 3600, ("198.51.100.7",)),
        RecordSet(it.www, "CNAME", 3600, ("parking.mossgate.example.",)),
    )
    it.world.zones.replace(it.origin, dict(Zone.of(it.origin, [*kept, *parked]).sets))


def _moved_away(it: Incidents) -> None:
    server = "ns1.elsewhere.example."
    sets = [
        RecordSet(it.origin, "SOA", 3600, (f"{server} keeper.elsewhere.example. 5 7200 900 1209600 300",)),
        RecordSet(it.origin, "NS", 3600, (server,)),
        RecordSet(it.origin, "A", 3600, ("198.51.100.7",)),
    ]
    it.another_copy(server, Zone.of(it.origin, sets))
    it.parent("NS", server)


def _one_behind(it: Incidents) -> None:
    it.another_copy(it.servers[-1], it.before)
    it.form("enter", "shop", "A", "198.51.100.9")


def _page_broken(it: Incidents) -> None:
    it.town.pages[it.domain] = lambda _: Response(500, "no", {})


def _disconnected(it: Incidents) -> None:
    it.world.builder.disconnect(it.origin)


def _short_ttl(it: Incidents) -> None:
    www = it.before.sets[it.www, "CNAME"]
    it.world.zones.replace(it.origin, {**it.before.sets, www.key: replace(www, ttl=60)})


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


def redirected(to: str) -> Deed:
    """The builder's servers redirect the site's addresses, and serve a page where they lead to one of them."""

    def deed(it: Incidents) -> None:
        goal = to.format(domain=it.domain)
        moved, page = Response(301, "", {"Location": goal}), Response(200, "<title>Tidewick</title>", {})
        it.town.pages[it.domain] = lambda request: page if goal == f"https://{request.host}/" else moved

    return deed


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
    ("no-mail-record", edited("@", "MX", MX, "0 ."), "records", "wrong", "kept-record-changed"),
    ("dmarc-twice", entered("_dmarc", "TXT", "v=DMARC1; p=none"), "records", "wrong", "kept-record-changed"),
    ("label-added", entered("shop", "A", "198.51.100.9"), "serial", None, ""),
    ("one-server-silent", lambda it: it.silent(it.servers[-1]), "servers", "as-wanted", "server-lame"),
    ("all-servers-silent", lambda it: it.silent(*it.servers), "servers", "unknown", ""),
    ("zone-deleted", Incidents.refusing, "servers", "wrong", "zone-not-served"),
    ("one-server-behind", _one_behind, "serial", "as-wanted", "servers-disagree"),
]
_REGISTRAR: list[tuple[str, Deed, Seen, str | None, str]] = [
    ("servers-of-nobody", parent("NS", "ns1.gone.example."), "delegation", "wrong", "nameservers-changed"),
    ("servers-elsewhere", _moved_away, "delegation", "wrong", "nameservers-changed"),
    (
        "one-of-nobody",
        parent("NS", SHARED[0], "ns9.mossgate.example."),
        "delegation",
        "as-wanted",
        "delegation-differs",
    ),
    ("key-of-nobody", parent("DS", f"12345 13 2 {'ab' * 32}"), "DS", "wrong", "signature-broken"),
    ("on-hold", undelegated("client hold"), "delegation", "wrong", "registration-on-hold"),
    ("in-redemption", undelegated("redemption period"), "delegation", "wrong", "registration-deleting"),
    ("out-of-the-registry", undelegated(), "delegation", "wrong", "not-delegated"),
    ("pending-delete", registry(statuses=("pending delete",)), "registry", "wrong", "registration-deleting"),
    ("expired", lambda it: it.days_left(-2), "registry", "wrong", "registration-expired"),
    ("expires-soon", lambda it: it.days_left(20), "registry", "as-wanted", "registration-ending"),
]
_BUILDER: list[tuple[str, Deed, Seen, str | None, str]] = [
    ("certificate-expired", lambda it: it.town.certificates(it.domain, 91, 90), "ways", "wrong", "certificate-expired"),
    ("disconnected", _disconnected, "ways", "wrong", "builder-unaware"),
    ("page-broken", _page_broken, "ways", "wrong", "page-broken"),
    ("primary-changed", redirected("https://{domain}/"), "ways", "wrong", "primary-elsewhere"),
    ("redirected-away", redirected("https://shop.elsewhere.example/"), "ways", "wrong", "redirect-elsewhere"),
    ("no-redirect", builder(redirects=False), "ways", "wrong", "no-redirect"),
    ("path-lost", builder(redirect_keeps="nothing"), "ways", "wrong", "redirect-loses-path"),
    ("redirect-temporary", builder(redirect_status=302), "ways", "as-wanted", "redirect-temporary"),
]
INCIDENTS = [
    Incident(*row, where)
    for where, rows in (("DNS host", _HOST), ("registrar", _REGISTRAR), ("builder", _BUILDER))
    for row in rows
]
