"""The whole practice world: every server of a scene on 127.0.0.1, one clock, and the folder to work in."""

from __future__ import annotations

import asyncio
import base64
import contextlib
import json
import secrets
import time
from collections.abc import Callable, Mapping
from dataclasses import replace
from pathlib import Path

import dns.name
import dns.tsig

from homepath.core.dns.ds import fits
from homepath.core.dns.names import Name, absolute, ancestors, shown
from homepath.net.clock import FastClock
from homepath.practice import hosts
from homepath.practice.builder import Builder
from homepath.practice.control import Control
from homepath.practice.dns_server import FAULTS, Answerer, DnsServer
from homepath.practice.form import carry_out
from homepath.practice.hosts import Hosts, Registry
from homepath.practice.paths import STATE_FILE, Paths
from homepath.practice.resolver import Cache, Lookup
from homepath.practice.scene_file import OtherHostTable, PageTable, ResolverTable, SceneTable, ServerTable
from homepath.practice.web_server import Authority, Certificates, WebServer, closed_port, handler
from homepath.practice.zones import Reply, Signer, ZoneId, Zones, reply, with_keys

FASTEST = 600.0
_TICK = 30.0
"""Story seconds between two checks of the builder and two visits of the visitors."""


class World:
    """Made bound, started once, stopped once. Everything a person does in a browser is a method of `control`."""

    def __init__(self, scene: SceneTable, folder: Path, speed: float) -> None:
        self.scene, self.folder = scene, folder
        self.clock = FastClock(scene.story_begins, time.time(), min(speed, FASTEST))
        self.zones = Zones(dict(scene.zones))
        self.hosts = Hosts(scene, self.zones, self.lookup)
        self._signers = self._sign()
        self.authority = Authority(f"{scene.builder.issuer} practice root", self.clock.now())
        self.builder = Builder(scene.builder, self.zones, self.lookup, self.authority, self.clock.now())
        hosts = {scene.host.name: scene.host.server} | {host.name: host.servers[0] for host in self._dns_hosts}
        self._keys = {  # of each host's first server: the name of the key, its file, and the secret
            server: (absolute(f"{name.lower()}-key"), f"{name.lower()}.key", secrets.token_bytes(32))
            for name, server in hosts.items()
        }
        self._roots = tuple(t.name for t in scene.servers if "." in t.zones)
        self._paths = Paths(self.zones, self.served_by, self._roots)
        self.caches = {
            label: Cache(label, table.habit, table.limit, self._lookup_of(table.habit))
            for table in scene.resolvers
            for label in ([f"{table.label} {at}" for at in range(3)] if table.habit == "several" else [table.label])
        }
        self._name_servers = {table.name: self._name_server(table) for table in scene.servers}
        self._resolvers = {
            table.label: DnsServer(self._resolver(table), fault=table.habit if table.habit in FAULTS else "")
            for table in scene.resolvers
        }
        delay = scene.builder.round_trip / 1000
        self._edges = (
            WebServer(self.builder.serve, delay=delay),
            WebServer(self.builder.serve, self.builder.certificates, delay),
        )
        self._pages = [(table, WebServer(handler(table, self.builder.serve))) for table in scene.pages]
        self._secure_pages = {
            at: WebServer(web._handler, self._page_certificates(table))
            for at, (table, web) in enumerate(self._pages)
            if table.https
        }
        self._closed = closed_port()
        self._registry = Registry(scene.registration, self.zones, "example.", scene.story_begins)
        self._registry_server = WebServer(self._registry.handler(self._registry_base))
        self.control = Control(self)
        self.control_server = WebServer(self.control.handle)
        self._ticker: asyncio.Task[None] | None = None
        self.done = asyncio.Event()

    def _page_certificates(self, table: PageTable) -> Certificates:
        names = [shown(name) for name in table.names] or ["mossgate.example"]
        return Certificates(self.authority.issue(names, self.clock.now(), 300))

    def lookup(self, name: Name, rrtype: str) -> Reply:
        """What the servers say that names are delegated to now, aliases followed from zone to zone."""
        now = self.clock.now()
        answer, _ = self._paths.ask(name, rrtype, now)
        for _ in range(8):
            last = answer.answer[-1] if answer.answer else None
            if last is None or last.type != "CNAME" or rrtype == "CNAME":
                break
            more, _ = self._paths.ask(last.values[0], rrtype, now)
            answer = Reply(more.rcode, True, (*answer.answer, *more.answer), more.authority)
        return answer

    def _lookup_of(self, habit: str) -> Lookup:
        """How one cache asks: it remembers delegations as long as they say, and a validating one checks signatures."""
        paths = Paths(self.zones, self.served_by, self._roots)

        def lookup(name: Name, rrtype: str) -> Reply:
            answer, zone = paths.ask(name, rrtype, self.clock.now(), remember=True)
            links = paths.ds(zone) if habit == "validating" else None
            if links is not None:
                keys, _ = paths.ask(zone, "DNSKEY", self.clock.now(), remember=True)
                there = next((each for each in keys.answer if each.type == "DNSKEY"), None)
                if not fits(zone, links, there):
                    return Reply("SERVFAIL", False)
            return answer

        return lookup

    def served_by(self, server: Name) -> Mapping[Name, ZoneId] | None:
        """The zones that a nameserver holds now; None for a name that is none, or one that keeps silent."""
        table = next((t for t in self.scene.servers if server in (t.name, *t.names)), None)
        if table is None or table.habit != "plain":
            return None
        there = {origin: origin for origin in table.zones if origin in self.zones.ids()}
        for name in (table.name, *table.names):
            there |= self.hosts.held(name, self.clock.now())
        return there

    def zone_now(self, domain: Name) -> ZoneId | None:
        """The copy of a domain's zone that its delegation points to; None where its servers hold none."""
        parent = self.zones.get(hosts.above(self.zones, domain))
        for server in parent.values(domain, "NS"):
            held = self.served_by(server)
            if held is not None and domain in held:
                return held[domain]
        return None

    def _sign(self) -> dict[ZoneId, Signer]:
        """Zones that the DNS host has signed already, with their DS records at the registry."""
        made = {origin: Signer(origin) for origin in self.scene.signed}
        for origin, signer in made.items():
            self.zones.add(origin, with_keys(self.zones.get(origin), signer))
            hosts.set_ds(self.zones, origin, signer.ds.values)
        return made

    def _with_signatures(self, server: Name, name: Name, rrtype: str, answer: Reply) -> Reply:
        """What a server says, with signatures where the zone that it answers from has a key."""
        served = self.served_by(server) or {}
        origin = next((at for at in ancestors(name) if at in served), None)
        signers = {**self._signers, **self.hosts.signers}
        signer = signers.get(served[origin]) if origin is not None else None
        return answer if signer is None or rrtype == "DS" else signer.signed(answer, self.clock.now())

    def _registry_base(self) -> str:
        return f"http://127.0.0.1:{self._registry_server.port}/rdap/"

    def _name_server(self, table: ServerTable) -> DnsServer:
        async def answer(name: Name, rrtype: str) -> Reply | None:
            if table.habit == "recursive":
                return replace(self.lookup(name, rrtype), authoritative=False)
            served = self.served_by(table.name)
            return None if served is None else reply(self.zones, served, name, rrtype)

        def signed(name: Name, rrtype: str, answer: Reply) -> Reply:
            return self._with_signatures(table.name, name, rrtype, answer)

        if table.name not in self._keys:
            return DnsServer(answer, signed=signed)
        name, _, secret = self._keys[table.name]
        key = dns.name.from_text(name)
        ring = {key: dns.tsig.Key(key, secret, "hmac-sha256.")}
        return DnsServer(
            answer,
            lambda message: carry_out(self.zones, self.served_by(table.name) or {}, message),
            ring,
            signed=signed,
        )

    def _resolver(self, table: ResolverTable) -> Answerer:
        async def answer(name: Name, rrtype: str) -> Reply | None:
            if table.habit == "silent":
                return None
            if table.habit == "slow":
                await asyncio.sleep(table.limit / 1000)
            return self._one_of(table).resolve(name, rrtype, self.clock.now())

        return answer

    def _one_of(self, table: ResolverTable) -> Cache:
        """The cache that answers: any of several behind one address."""
        if table.habit != "several":
            return self.caches[table.label]
        return self.caches[f"{table.label} {secrets.randbelow(3)}"]

    @property
    def _dns_hosts(self) -> list[OtherHostTable]:
        return [host for host in self.scene.hosts if host.name != self.scene.builder.name]

    @property
    def first_command(self) -> str:
        """What to type first in this world."""
        if "homepath.toml" in self.scene.files:
            return "homepath leave" if self.scene.ends == "left" else "homepath next"
        files = sorted(self.scene.files)
        brief = next(name for name in files if name.endswith(".brief.toml"))
        notation = next((f" --notation {name}" for name in files if name.endswith(".notation.toml")), "")
        values = "".join(f" --value {name}={value}" for name, value in self.scene.values.items())
        return f"homepath start {shown(self.scene.host.zones[0])} --primary www --brief {brief}{values}{notation}"

    async def start(self) -> None:
        """Start every server and write the folder's files."""
        for server in (*self._name_servers.values(), *self._resolvers.values()):
            await server.start()
        for web in self._web_servers():
            await web.start()
        self.folder.mkdir(parents=True, exist_ok=True)
        for name, text in self.scene.files.items():
            if not (self.folder / name).exists():
                (self.folder / name).write_text(text, encoding="utf-8")
        self.write_network()
        (self.folder / "authority.pem").write_text(self.authority.bundle, encoding="ascii")
        for key, file, secret in self._keys.values():
            self._write_private(file, _key_text(key, secret))
        state = {"control": self.control_server.port, "token": self.control.token, "scene": self.scene.title}
        self._write_private(STATE_FILE, json.dumps(state) + "\n")
        self._ticker = asyncio.get_running_loop().create_task(self._tick())

    async def stop(self) -> None:
        if self._ticker:
            self._ticker.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await self._ticker
        for server in (*self._name_servers.values(), *self._resolvers.values()):
            await server.stop()
        for web in self._web_servers():
            await web.stop()
        self._closed.close()
        (self.folder / STATE_FILE).unlink(missing_ok=True)

    def _web_servers(self) -> list[WebServer]:
        pages = [*(web for _, web in self._pages), *self._secure_pages.values()]
        return [*self._edges, *pages, self._registry_server, self.control_server]

    def close(self) -> None:
        """Let `run` end."""
        self.done.set()

    def skip(self, seconds: float) -> None:
        """Let the story jump forward; anyone who reads the network file from now on sees the new time."""
        self.clock = FastClock(self.clock.now() + seconds, time.time(), self.clock.speed)
        self.write_network()
        self._carry_on()

    def _carry_on(self) -> None:
        now = self.clock.now()
        self.hosts.tick()
        self.builder.tick(now)
        for cache in self.caches.values():
            if cache.habit == "several" and secrets.randbelow(20):
                continue  # visitors are spread over the caches, so that each has its own age
            for name in self.scene.visited:
                cache.resolve(name, "A", now)

    async def _tick(self) -> None:
        while True:
            self._carry_on()
            await asyncio.sleep(max(0.05, _TICK / self.clock.speed))

    def _write_private(self, name: str, text: str) -> None:
        path = self.folder / name
        path.unlink(missing_ok=True)
        path.touch(0o600)
        path.write_text(text, encoding="utf-8")

    def write_network(self) -> None:
        """The network file that maps the story's addresses to this machine's ports."""
        root = next(t.name for t in self.scene.servers if "." in t.zones)
        lines = [
            "# Written by the practice world: nothing off this machine is contacted with it.",
            'format = "homepath.network/1"',
            f'roots = ["127.0.0.1:{self._name_servers[root].port}"]',
        ]
        for label, server in self._resolvers.items():
            lines += ["", "[[resolvers]]", f'address = "127.0.0.1:{server.port}"', f"label = {json.dumps(label)}"]
        lines += ["", "[trust]", 'certificates = "authority.pem"', "", "[clock]"]
        lines += [f"story = {self.clock.story!r}", f"machine = {self.clock.machine!r}", f"speed = {self.clock.speed!r}"]
        lines += ["", "[registration]", f'bootstrap = "http://127.0.0.1:{self._registry_server.port}/dns.json"']
        lines += ["", "[reach]"]
        lines += [f'"{story}" = "127.0.0.1:{port}"' for story, port in self._reach()]
        temporary = self.folder / ".network.toml.new"
        temporary.write_text("\n".join(lines) + "\n", encoding="utf-8")
        temporary.replace(self.folder / "network.toml")

    def _reach(self) -> list[tuple[str, int]]:
        closed: int = self._closed.getsockname()[1]
        found = [
            (_place(address, 53), self._name_servers[table.name].port)
            for table in self.scene.servers
            for address in table.addresses
        ]
        for address in self.scene.builder.addresses:
            found += [(_place(address, 80), self._edges[0].port), (_place(address, 443), self._edges[1].port)]
        for at, (table, web) in enumerate(self._pages):
            secure = self._secure_pages[at].port if at in self._secure_pages else closed
            for address in table.addresses:
                found += [(_place(address, 80), web.port), (_place(address, 443), secure)]
        return found


def _place(address: str, port: int) -> str:
    return f"[{address}]:{port}" if ":" in address else f"{address}:{port}"


async def run(world: World, until: Callable[[], bool] = lambda: False) -> None:
    """Keep the world open until it is told to close, or `until` says so."""
    await world.start()
    try:
        while not world.done.is_set() and not until():
            with contextlib.suppress(TimeoutError):
                await asyncio.wait_for(world.done.wait(), 0.2)
    finally:
        await world.stop()


def _key_text(key: Name, secret: bytes) -> str:
    text = base64.b64encode(secret).decode()
    return f'key "{key}" {{\n\talgorithm hmac-sha256;\n\tsecret "{text}";\n}};\n'
