"""Network files, `homepath.network/1`: where to ask, and whom to trust. Without one: the public Internet."""

from __future__ import annotations

import os
import socket
from collections.abc import Callable, Iterable, Mapping
from contextlib import suppress
from dataclasses import dataclass, field
from functools import cache
from hashlib import blake2b
from ipaddress import IPv4Address, IPv6Address, ip_address, ip_network
from pathlib import Path
from typing import Any

from homepath.core.dns.answers import Server
from homepath.core.files.strict import Field, list_of, map_of, number, read_file, table, text, yes_no
from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem
from homepath.files import read_text
from homepath.net.clock import Clock, FastClock, MachineClock
from homepath.net.pace import Paces
from homepath.net.vantages import (
    PLACE,
    RESOLVER,
    Place,
    Resolver,
    a_place,
    load_list,
    read_place,
    resolver_of,
    system_resolvers,
    without_doubles,
)

_TABLE = """
0.0.0.0/8            this network (RFC 791)
10.0.0.0/8           private use (RFC 1918)
100.64.0.0/10        shared address space (RFC 6598)
127.0.0.0/8          loopback (RFC 1122)
169.254.0.0/16       link local (RFC 3927)
172.16.0.0/12        private use (RFC 1918)
192.0.0.0/24         protocol assignments (RFC 6890)
192.0.2.0/24         documentation (RFC 5737)
192.88.99.0/24       former relay of 6to4 (RFC 7526)
192.168.0.0/16       private use (RFC 1918)
198.18.0.0/15        benchmarking (RFC 2544)
198.51.100.0/24      documentation (RFC 5737)
203.0.113.0/24       documentation (RFC 5737)
224.0.0.0/4          multicast (RFC 1112)
240.0.0.0/4          reserved (RFC 1112)
::/96                IPv4 embedded (RFC 4291)
::ffff:0:0/96        IPv4 mapped (RFC 4291)
64:ff9b::/96         IPv4 translated (RFC 6052)
64:ff9b:1::/48       IPv4 translated, local (RFC 8215)
100::/64             discarded (RFC 6666)
2001::/23            protocol assignments (RFC 2928)
2001:db8::/32        documentation (RFC 3849)
2002::/16            6to4, IPv4 embedded (RFC 3056)
3fff::/20            documentation (RFC 9637)
5f00::/16            segment routing (RFC 9602)
fc00::/7             unique local (RFC 4193)
fe80::/10            link local (RFC 4291)
fec0::/10            site local (RFC 3879)
ff00::/8             multicast (RFC 4291)
"""
_RANGES = tuple((ip_network(line.split()[0]), line.split(None, 1)[1].strip()) for line in _TABLE.strip().splitlines())


def not_public(address: str) -> str:
    """Why an address is none that a public server has; empty for one that may be contacted. A zone index is none."""
    if "%" in address:
        return "an interface of one machine (RFC 4007)"
    known: IPv4Address | IPv6Address = ip_address(address)
    return next((why for network, why in _RANGES if network.version == known.version and known in network), "")


FORMAT = "homepath.network/1"

_PUBLIC_ROOTS = ("198.41.0.4", "170.247.170.2", "192.33.4.12", "199.7.91.13", "192.5.5.241", "193.0.14.129")
_PUBLIC_RESOLVERS = ("1.1.1.1", "8.8.8.8", "9.9.9.9", "64.6.64.6", "77.88.8.8", "94.140.14.140", "185.228.168.9")


class OffLimits(Exception):
    """An address that this network does not allow to contact; the message says why."""


def _quiet(words: str) -> None:
    """The usual trace: no one listens."""


def is_quiet(network: Network) -> bool:
    """Whether no one listens to the trace."""
    return network.trace is _quiet


@dataclass(frozen=True, slots=True)
class Network:
    """Where questions go. `reach` says where an address of a practice world really listens.

    `trace` is told of every question and request when it is over. `bootstrap`: file or URL of the registry of
    registration services (RFC 9224).
    """

    roots: tuple[Server, ...] = tuple(Server(address) for address in _PUBLIC_ROOTS)
    resolvers: tuple[Resolver, ...] = tuple(Resolver(Server(address), address) for address in _PUBLIC_RESOLVERS)
    certificates: Path | None = None
    dns_port: int = 53
    http_port: int = 80
    https_port: int = 443
    reach: Mapping[Place, Place] = field(default_factory=dict)
    clock: Clock = field(default_factory=MachineClock)
    bootstrap: str | None = None
    trace: Callable[[str], None] = _quiet
    paces: Paces = field(default_factory=Paces)
    """How fast a check of many domains sends queries."""
    ipv6: bool | None = None
    """Whether IPv6 can be used; None: as this machine can."""

    @property
    def world(self) -> str:
        """A short mark of whom this network begins to ask: the same for everybody on the same network."""
        places = sorted((each.address, each.port) for each in self.roots)
        return blake2b(repr(places).encode(), digest_size=6).hexdigest()

    @property
    def closed(self) -> bool:
        """A world whose roots are on this machine is closed: nothing off this machine is contacted."""
        return all(ip_address(root.address).is_loopback for root in self.roots)

    def has_route(self, address: str) -> bool:
        """Whether an address is of a family that this machine can use."""
        if ":" not in address:
            return True
        return self.ipv6 if self.ipv6 is not None else self.closed or has_ipv6()

    def usable(self, addresses: Iterable[str]) -> tuple[str, ...]:
        """The addresses without those of IPv6 where this machine has none: their silence would be its own. Where there
        is no other address, all of them."""
        every = tuple(addresses)
        return tuple(filter(self.has_route, every)) or every

    def place(self, address: str, port: int) -> Place:
        """Where to connect for `address` and `port`. Raises OffLimits.

        What a hostile zone names must not make this tool probe a private network, so in the open world only
        public addresses are contacted, in a closed one only those of this machine.
        """
        mapped = self.reach.get((address, port))
        if mapped:
            return mapped
        port = {80: self.http_port, 443: self.https_port}.get(port, port)
        if ip_address(address).is_loopback and self.closed:
            return address, port
        if (address, port) in self._listed:
            return address, port
        if self.closed:
            raise OffLimits(msg("network-file.place", address=address))
        if why := not_public(address):
            raise OffLimits(msg("network-file.place-2", address=address, why=why))
        return address, port

    @property
    def _listed(self) -> frozenset[Place]:
        """The places of the listed resolvers and roots: exactly these, for questions, and nothing else there."""
        return frozenset((each.address, each.port) for each in (*self.roots, *(r.server for r in self.resolvers)))

    def web_place(self, address: str, port: int) -> Place:
        """Where to connect for a page. A redirect must not make this tool knock at other ports. Raises OffLimits."""
        if (address, port) in self.reach or self.closed:
            return self.place(address, port)
        if port not in (80, 443):
            raise OffLimits(msg("network-file.web-place", address=address, port=port))
        if why := not_public(address):
            raise OffLimits(msg("network-file.place-2", address=address, why=why))
        return self.place(address, port)


@cache
def has_ipv6() -> bool:
    """Whether this machine has a route for IPv6. Nothing is sent: a datagram socket only asks the kernel for one."""
    with suppress(OSError), socket.socket(socket.AF_INET6, socket.SOCK_DGRAM) as probe:
        probe.connect(("2000::1", 53))
        return True
    return False


@dataclass(frozen=True, slots=True)
class _Content:
    """A network file as written; addresses without a port still have none."""

    roots: tuple[str, ...]
    resolvers: tuple[dict[str, Any], ...]
    resolver_lists: tuple[str, ...]
    system_resolvers: bool
    trust: dict[str, Any]
    ports: dict[str, int]
    reach: dict[str, str]
    clock: FastClock | None
    registration: dict[str, Any]
    pace: Paces


_PORT = number(1, 65535)
_PACE = number(0.1, 1_000_000, whole=False)
_CLOCK = {
    "story": Field(number(0, 1e11, whole=False)),
    "machine": Field(number(0, 1e11, whole=False)),
    "speed": Field(number(0.01, 600, whole=False)),
}
_FORM = table(
    _Content,
    {
        "roots": Field(list_of(PLACE, least=1)),
        "resolvers": Field(list_of(RESOLVER), ()),
        "resolver_lists": Field(list_of(text()), ()),
        "system_resolvers": Field(yes_no, False),
        "trust": Field(table(dict, {"certificates": Field(text(), None)}), {}),
        "ports": Field(table(dict, {name: Field(_PORT, None) for name in ("dns", "http", "https")}), {}),
        "reach": Field(map_of(PLACE, a_place), {}),
        "clock": Field(table(FastClock, _CLOCK), None),
        "registration": Field(table(dict, {"bootstrap": Field(text())}), {}),
        "pace": Field(
            table(Paces, {"server": Field(_PACE, Paces().server), "resolver": Field(_PACE, Paces().resolver)}), Paces()
        ),
    },
)


def load_network(path: Path | None) -> Network:
    """The network of a file, or the public one with this machine's own resolvers. Raises BadInput."""
    if path is None:
        return Network(resolvers=without_doubles((*system_resolvers(), *Network().resolvers)))
    content: _Content = read_file(read_text(path, msg("file.network")), str(path), _FORM, FORMAT)
    port = content.ports.get("dns") or 53
    certificates = content.trust.get("certificates")
    bundle = path.parent / certificates if certificates else None
    if bundle and not os.path.isfile(bundle):  # noqa: PTH113 - a name that is none is no file
        raise BadInput(Problem(msg("network-file.load-network"), str(path), key="trust.certificates", seen=str(bundle)))
    return Network(
        tuple(Server(*read_place(root, port)) for root in content.roots),
        _resolvers(content, path, port),
        bundle,
        port,
        content.ports.get("http") or 80,
        content.ports.get("https") or 443,
        {read_place(key, port): read_place(value, port) for key, value in content.reach.items()},
        content.clock or MachineClock(),
        _beside(path, content.registration.get("bootstrap")),
        paces=content.pace,
    )


def _resolvers(content: _Content, path: Path, port: int) -> tuple[Resolver, ...]:
    """The vantages of the file itself, of its lists, and of this machine when the file says so."""
    found = [resolver_of(table, port) for table in content.resolvers]
    for name in content.resolver_lists:
        found += load_list(path.parent / name)
    if content.system_resolvers:
        found += system_resolvers()
    return without_doubles(found)


def _beside(path: Path, bootstrap: str | None) -> str | None:
    if bootstrap is None or bootstrap.startswith(("http://", "https://")):
        return bootstrap
    return str(path.parent / bootstrap)
