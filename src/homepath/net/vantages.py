"""Resolvers to ask: of the network file, of a list of one's own (`homepath.resolvers/1`), and of this machine."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from ipaddress import ip_address
from pathlib import Path
from typing import Any, cast

from homepath.core.dns.answers import Server, Transport
from homepath.core.dns.names import absolute
from homepath.core.files.strict import Field, list_of, one_of, read_file, table, text
from homepath.core.message import msg
from homepath.files import read_text

FORMAT = "homepath.resolvers/1"
PORTS = {"tls": 853, "https": 443}
"""RFC 7858 section 3.1, RFC 8484 section 8.1."""
Place = tuple[str, int]
"""Address and port."""


@dataclass(frozen=True, slots=True)
class Resolver:
    """A vantage that is asked as visitors' machines ask it; `label` is what people read."""

    server: Server
    label: str


def read_place(text: str, port: int) -> Place:
    """`address`, `address:port` or `[IPv6]:port`. Raises ValueError."""
    match = re.fullmatch(r"\[([^\]]+)\](?::([0-9]{1,5}))?|([^:]+)(?::([0-9]{1,5}))?|([0-9A-Fa-f:.]+)", text.strip())
    if match is None:
        raise ValueError(msg("vantages.read-place", text=text))
    address = match[1] or match[3] or match[5]
    try:
        address = str(ip_address(address))
    except ValueError as error:
        raise ValueError(msg("vantages.read-place-2", address=address)) from error
    number = int(match[2] or match[4] or port)
    if not 0 < number < 65536:
        raise ValueError(msg("vantages.read-place-3", number=number))
    return address, number


def a_place(words: str) -> str:
    """`words`, when they are a place; the port may be missing. Raises ValueError."""
    read_place(words, 53)
    return words


def _a_path(words: str) -> str:
    if not re.fullmatch(r"/[!-~]{0,200}", words):
        raise ValueError(msg("vantages.a-path", words=words))
    return words


PLACE = text(a_place)
RESOLVER = table(
    dict,
    {
        "address": Field(PLACE),
        "label": Field(text(), ""),
        "transport": Field(one_of("udp", "tls", "https"), "udp"),
        "name": Field(text(absolute), ""),
        "path": Field(text(_a_path), ""),
    },
)


@dataclass(frozen=True, slots=True)
class _List:
    resolvers: tuple[dict[str, Any], ...]


_LIST = table(_List, {"resolvers": Field(list_of(RESOLVER, least=1))})


def resolver_of(table: dict[str, Any], port: int = 53) -> Resolver:
    """One `[[resolvers]]` table. `name` is what the certificate of a tls or https resolver must be for."""
    transport = cast(Transport, table["transport"])
    place = read_place(table["address"], PORTS.get(transport, port))
    return Resolver(Server(*place, table["name"], transport, table["path"]), table["label"] or table["address"])


def load_list(path: Path) -> list[Resolver]:
    """The resolvers of a list file. Raises BadInput."""
    content: _List = read_file(read_text(path, msg("file.resolvers")), str(path), _LIST, FORMAT)
    return [resolver_of(each) for each in content.resolvers]


def system_resolvers(file: str = "/etc/resolv.conf") -> list[Resolver]:
    """The resolvers that this machine itself uses, as its settings name them; empty where it names none."""
    import dns.exception
    import dns.resolver

    try:
        known = dns.resolver.Resolver(file)
    except (dns.exception.DNSException, OSError):
        return []
    found = [(str(each), known.port) for each in known.nameservers]
    return [Resolver(Server(*read_place(address, port)), f"this machine's, {address}") for address, port in found]


def without_doubles(resolvers: Iterable[Resolver]) -> tuple[Resolver, ...]:
    """Each server once, by its first label; where several servers share it, with the address."""
    first: dict[Server, Resolver] = {}
    for each in resolvers:
        first.setdefault(each.server, each)
    labels = [each.label for each in first.values()]
    return tuple(
        each if labels.count(each.label) == 1 else Resolver(each.server, f"{each.label} ({each.server.place})")
        for each in first.values()
    )
