"""Following one way in, hop by hop: a generator that yields addresses to look up and pages to fetch."""

from __future__ import annotations

import re
from collections.abc import Generator, Mapping
from dataclasses import dataclass, field, replace
from types import MappingProxyType
from urllib.parse import urlsplit

from homepath.core.dns.names import BadName, Name, absolute
from homepath.core.dns.trouble import Trouble, of_trouble
from homepath.core.message import Text, msg, reason
from homepath.core.model.urls import joined, same_url
from homepath.core.model.visits import Certificate, Hop
from homepath.core.web.markup import read_markup

_NOWHERE: Mapping[Name, str] = MappingProxyType({})
MOST_HOPS = 8
LONGEST_REFRESH = 30
"""Seconds."""
UNKNOWN_HERE = (404, 410, 421)
"""What an edge answers for a name that it does not serve (RFC 9110 sections 15.5.5, 15.5.11, 15.5.20)."""
REDIRECTS = (301, 302, 303, 307, 308)
"""RFC 9110 section 15.4."""


@dataclass(frozen=True, slots=True)
class Resolve:
    """Ask for the addresses of a name."""

    name: Name


@dataclass(frozen=True, slots=True)
class Fetch:
    """Ask one address for one URL, as a browser would: its host in SNI and in the Host field."""

    url: str
    host: str
    port: int
    secure: bool
    address: str


@dataclass(frozen=True, slots=True)
class Resolved:
    addresses: tuple[str, ...]
    trouble: Trouble | None = None


@dataclass(frozen=True, slots=True)
class Fetched:
    """What came back; `status` None when nothing usable came."""

    status: int | None
    location: str | None = None
    trouble: Trouble | None = None
    certificate: Certificate | None = None
    hsts: str = ""
    protocol: str = ""
    page: str = field(default="", repr=False)


Needed = Resolve | Fetch
Came = Resolved | Fetched


def follow(url: str, fixed: Mapping[Name, str] = _NOWHERE) -> Generator[Needed, Came, tuple[Hop, ...]]:
    """The hops from `url` to where it ends. The names in `fixed` are not looked up: they are asked at that address."""
    hops: list[Hop] = []
    at: str | None = url
    while at is not None and len(hops) < MOST_HOPS:
        hop = yield from _one_hop(at, fixed)
        seen = any(earlier.url == at for earlier in hops)
        hops.append(hop)
        at = None if seen else _next_url(hop)
    return tuple(hops)


def _next_url(hop: Hop) -> str | None:
    if not (hop.status in REDIRECTS or hop.by_page) or not hop.location:
        return None
    return joined(hop.url, hop.location)


def _one_hop(url: str, fixed: Mapping[Name, str]) -> Generator[Needed, Came, Hop]:
    try:
        parts = urlsplit(url)
        secure, host, port = parts.scheme == "https", parts.hostname or "", parts.port
        if not host or re.search(r"[\x00-\x20\x7f]", url):
            raise ValueError(msg("hops.characters"))
        name = absolute(host)
    except (ValueError, BadName) as error:
        return Hop(url, None, None, None, msg("hops.one-hop", error=reason(error)))
    addresses: tuple[str, ...] = (fixed[name],) if name in fixed else ()
    if not addresses:
        resolved = yield Resolve(name)
        assert isinstance(resolved, Resolved)
        if not resolved.addresses:
            return Hop(url, None, None, None, _words(resolved.trouble) or msg("hops.one-hop-2"))
        addresses = resolved.addresses
    fetched, address = Fetched(None), addresses[0]
    for address in addresses[:2]:  # a browser tries another address when the first one is dead
        came = yield Fetch(url, name.removesuffix("."), port or (443 if secure else 80), secure, address)
        assert isinstance(came, Fetched)
        fetched = came
        if came.status is not None or came.certificate is not None:
            break
    hop = Hop(
        url,
        fetched.status,
        fetched.location,
        address,
        _words(fetched.trouble),
        fetched.certificate,
        fetched.hsts,
        fetched.protocol,
        page=fetched.page,
    )
    return _sent_on_by_page(hop)


def _words(trouble: Trouble | None) -> Text:
    return of_trouble(trouble) if trouble else ""


def _sent_on_by_page(hop: Hop) -> Hop:
    """A page may send the browser on by itself; after more than half a minute nobody would call that a redirect."""
    if hop.status != 200 or "refresh" not in hop.page.lower():
        return hop
    refresh = read_markup(hop.page, hop.url).refresh
    if refresh is None or refresh[0] > LONGEST_REFRESH or same_url(refresh[1], hop.url):
        return hop
    return replace(hop, location=refresh[1], by_page=True)
