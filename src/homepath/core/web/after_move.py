"""After the move: what the pages themselves still say."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from urllib.parse import urlsplit

from homepath.core.dns.names import Name, shown
from homepath.core.message import msg
from homepath.core.model.findings import Finding
from homepath.core.model.urls import same_url
from homepath.core.model.visits import FreeAddress, Hop
from homepath.core.web.findings import web_finding
from homepath.core.web.hops import REDIRECTS
from homepath.core.web.markup import Markup

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
    """What the builder's free address does, from the ways into it over https and http."""
    ends = [way[-1] for way in ways]
    firsts = [way[0] for way in ways]
    if any(hop.status is not None and hop.status < 300 and len(way) == 1 for hop, way in zip(ends, ways, strict=True)):
        return "serving"
    if any(hop.status in REDIRECTS for hop in firsts):
        leads = {urlsplit(way[-1].url).hostname for way in ways if len(way) > 1}
        own = {urlsplit(way[0].url).hostname for way in ways}
        return "redirecting" if leads - own else "serving"
    return "gone" if all(hop.status is None or hop.status >= 400 for hop in firsts) else "unknown"
