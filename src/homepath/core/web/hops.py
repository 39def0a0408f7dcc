"""Following one address, hop by hop: a generator that yields names to look up and pages to fetch; and what the pages of
a site that arrived say of themselves."""

from __future__ import annotations

import re
from collections.abc import Generator, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from types import MappingProxyType
from urllib.parse import urlsplit

from homepath.core.dns.answers import Trouble, of_trouble
from homepath.core.dns.names import BadName, Name, absolute, shown
from homepath.core.message import Text, msg, reason
from homepath.core.model.findings import Finding
from homepath.core.model.visits import Certificate, FreeAddress, Hop, joined, same_url
from homepath.core.web.known import web_finding
from homepath.core.web.markup import Markup, read_markup

TWINS = ("/home", "/index.html")
NOWHERE = "/homepath-looks-for-nothing"
"""A path that no site has: a server that answers it with the home page answers every path so, and has no twins."""
MOST_PAGES = 12
"""Pages that are read, the home page included."""


def pages_to_read(home: Markup, home_url: str) -> list[str]:
    """The pages on the same host that the home page links to, each once, in their order."""
    host = urlsplit(home_url).hostname
    found = [link for link in home.links if urlsplit(link).hostname == host and not same_url(link, home_url)]
    return list(dict.fromkeys(found))[: MOST_PAGES - 1]


def judge_pages(
    pages: Mapping[str, Markup], home_url: str, free: Name | None, twins: Mapping[str, Hop], home_text: str
) -> list[Finding]:
    """`pages`: by their URL, the home page among them; `twins`: how further addresses of the home page answered."""
    return [
        *_mixed(pages),
        *_free_links(pages, free),
        *_canonical(pages.get(home_url), home_url),
        *_twins(twins, home_url, home_text),
    ]


def _mixed(pages: Mapping[str, Markup]) -> Iterator[Finding]:
    for url, markup in pages.items():
        plain = [part for part in markup.parts if part.startswith("http://")]
        if url.startswith("https://") and plain:
            more = msg("after-move.mixed.more", len=len(plain) - 1) if len(plain) > 1 else ""
            yield web_finding("mixed-content", url, msg("mixed-content", plain=plain[0], more=more))


def _free_links(pages: Mapping[str, Markup], free: Name | None) -> Iterator[Finding]:
    if free is None:
        return
    for url, markup in pages.items():
        back = [link for link in (*markup.links, *markup.parts) if urlsplit(link).hostname == shown(free)]
        if back:
            more = msg("after-move.mixed.more", len=len(back) - 1) if len(back) > 1 else ""
            yield web_finding("links-to-free-address", url, msg("links-to-free-address", back=back[0], more=more))


def _canonical(home: Markup | None, home_url: str) -> Iterator[Finding]:
    if home is not None and home.canonical and not same_url(home.canonical, home_url):
        yield web_finding("canonical-elsewhere", home_url, msg("canonical-elsewhere", canonical=home.canonical))


def _twins(twins: Mapping[str, Hop], home_url: str, home_text: str) -> Iterator[Finding]:
    """A twin that serves the same page as `/` without naming `/` as its own address."""
    nowhere = next((hop for url, hop in twins.items() if urlsplit(url).path == NOWHERE), None)
    if nowhere and nowhere.status == 200 and nowhere.page and _same_page(nowhere, home_text, home_url):
        return
    for url, hop in twins.items():
        if hop.status == 200 and hop.page and _same_page(hop, home_text, home_url):
            yield web_finding("two-home-pages", home_url, msg("two-home-pages", url=url))


def _same_page(hop: Hop, home_text: str, home_url: str) -> bool:
    from homepath.core.web.markup import read_markup

    there, here = read_markup(hop.page, hop.url), read_markup(home_text, home_url)
    if there.canonical and same_url(there.canonical, home_url):
        return False
    return hop.page == home_text or bool(there.title and there.title == here.title)


def free_address_state(ways: Sequence[Sequence[Hop]]) -> FreeAddress:
    """What the builder's free address does, tried over https and http."""
    ends = [way[-1] for way in ways]
    firsts = [way[0] for way in ways]
    if any(hop.status is not None and hop.status < 300 and len(way) == 1 for hop, way in zip(ends, ways, strict=True)):
        return "serving"
    if any(hop.status in REDIRECTS for hop in firsts):
        leads = {urlsplit(way[-1].url).hostname for way in ways if len(way) > 1}
        own = {urlsplit(way[0].url).hostname for way in ways}
        return "redirecting" if leads - own else "serving"
    return "gone" if all(hop.status is None or hop.status >= 400 for hop in firsts) else "unknown"


_NOWHERE: Mapping[Name, str] = MappingProxyType({})
MOST_HOPS = 8
LONGEST_REFRESH = 30
"""Seconds."""
UNKNOWN_HERE = (404, 410, 421)
"""What a builder's server answers for a name that it does not serve (RFC 9110 sections 15.5.5, 15.5.11, 15.5.20)."""
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
    """A page may send the browser on by itself; after more than half a minute no one would call that a redirect."""
    if hop.status != 200 or "refresh" not in hop.page.lower():
        return hop
    refresh = read_markup(hop.page, hop.url).refresh
    if refresh is None or refresh[0] > LONGEST_REFRESH or same_url(refresh[1], hop.url):
        return hop
    return replace(hop, location=refresh[1], by_page=True)
