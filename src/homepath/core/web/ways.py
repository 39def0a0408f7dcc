"""Hops and certificates of one address a visitor may type become its state and findings, redirects included."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise
from urllib.parse import urlsplit

from homepath.core.dns.names import Name, absolute
from homepath.core.message import Text, msg
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.visits import AddressTried, Hop, Way, WayState, same_url
from homepath.core.site.wanted import Wanted
from homepath.core.web.certificates import padlock_trouble, sticky
from homepath.core.web.hops import MOST_HOPS, REDIRECTS
from homepath.core.web.known import NameKnown, host_of, web_finding

PROBE = "/homepath-looks/here?way=in"
"""A path and a query that no site has: it only matters whether redirects keep them."""
CHALLENGE = "/.well-known/acme-challenge/homepath-looks"
"""Where an authority searches for the builder's answer over plain http (RFC 8555 section 8.3)."""


def judge_redirects(way: Way) -> list[Finding]:
    """What is wrong with the redirects of a way, though it ends on a page."""
    found = []
    pairs = list(pairwise(way.hops))
    if any(a.url.startswith("https:") and b.url.startswith("http:") for a, b in pairs):
        found.append(web_finding("redirect-downgrades", way.url, msg("redirect-downgrades")))
    if any(hop.status in (302, 303, 307) for hop in way.hops):
        found.append(web_finding("redirect-temporary", way.url, msg("redirect-temporary")))
    if any(hop.by_page for hop in way.hops):
        found.append(web_finding("redirect-by-page", way.url, msg("redirect-by-page")))
    if len(pairs) > 2:
        found.append(web_finding("redirect-long", way.url, msg("redirect-long", count_pairs=len(pairs))))
    found += [
        web_finding("certificate-ending", way.url, hop.certificate.detail)
        for hop in way.hops
        if hop.certificate and hop.certificate.state == "ending"
    ]
    return found


def judge_probe(url: str, hops: Sequence[Hop], wanted: Wanted) -> list[Finding]:
    """Whether path and query came through; `hops` of a way whose plain form arrives."""
    asked, last = urlsplit(url), urlsplit(hops[-1].url)
    if asked.path == urlsplit(CHALLENGE).path:
        return _challenge(url, hops, wanted)
    if len(hops) < 2 or hops[-1].status is None:
        return []
    goal = wanted.destination or wanted.primary
    if absolute(last.hostname or ".") != goal:
        words = msg("redirects.judge-probe.words", hostname=last.hostname, primary=wanted.primary)
        return [web_finding("wrong-destination", url, words)]
    # what the primary address itself does with a path that it does not have is not the redirect's fault
    reached = (urlsplit(hop.url) for hop in hops[1:] if hop.url.startswith("https:"))
    last = next((each for each in reached if absolute(each.hostname or ".") == goal), last)
    if (last.path.rstrip("/") or "/") != asked.path:
        message = msg("redirect-loses-path", path=asked.path, path2=last.path or "/")
        return [web_finding("redirect-loses-path", url, message)]
    if last.query != asked.query:
        message = msg("redirect-loses-query", query=asked.query, part=f"?{last.query}" if last.query else "")
        return [web_finding("redirect-loses-query", url, message)]
    return []


def _challenge(url: str, hops: Sequence[Hop], wanted: Wanted) -> list[Finding]:
    """An authority follows redirects, to other names too; what counts is that they end at the builder."""
    last = urlsplit(hops[-1].url).hostname
    if len(hops) > 1 and absolute(last or ".") not in wanted.names:
        return [web_finding("challenge-astray", url, msg("challenge-astray", last=last))]
    if len(hops) > 1 and hops[-1].status is None:
        return [web_finding("challenge-astray", url, msg("challenge-astray-2", url=hops[-1].url))]
    return []


def judge_addresses(way: Way, addresses: Sequence[AddressTried]) -> tuple[Way, list[Finding]]:
    """The way with its addresses; a way that arrives over one address and not over another does not arrive. Before it
    arrives, an address counts as dead where another one answers at all: certificates may still be to come. A way that
    ends elsewhere has that as its reason."""
    way = replace(way, addresses=tuple(addresses))
    arrived = way.state == "arrived"
    dead = [each for each in addresses if not (each.opens if arrived else each.answers)]
    early = way.url.startswith("http:") and way.state in ("waiting", "broken-page") and len(dead) < len(addresses)
    if not dead or not (arrived or early):
        return way, []
    tried = tuple(msg("address-tried", family=_family(each), address=each.address, why=_why(each)) for each in dead)
    found = web_finding("address-dead", way.url, msg("address-dead" if arrived else "address-dead-2", what=tried))
    return replace(way, state="no-answer", words=found.message) if arrived else way, [found]


def _family(address: AddressTried) -> str:
    return "IPv6" if ":" in address.address else "IPv4"


def _why(address: AddressTried) -> Text:
    if address.status is None:
        return address.detail or msg("ways.why")
    return msg("ways.why-2", state=address.certificate.state) if address.certificate else str(address.status)


PAGES = (200, 201, 202, 203, 206)
"""Statuses that come with a page to show (RFC 9110 section 15.3)."""


def judge_way(
    url: str, hops: Sequence[Hop], wanted: Wanted, known: Mapping[Name, NameKnown], now: float
) -> tuple[Way, list[Finding]]:
    """The state of one entry point, with its findings. `known`: of every name of the site."""
    last = hops[-1]
    secure = next((hop.certificate for hop in hops if hop.url.startswith("https:") and hop.certificate), None)
    first = hops[0].certificate if url.startswith("https:") else None
    ends = last.url if last.status is not None and last.status not in REDIRECTS else None
    way = Way(url, ends, "arrived", tuple(hops), first or secure)
    state, found = _state(way, wanted, known, now)
    words = found[0].message if found else ""
    return replace(way, state=state, words=words), found


def _state(way: Way, wanted: Wanted, known: Mapping[Name, NameKnown], now: float) -> tuple[WayState, list[Finding]]:
    """What visitors meet decides; DNS explains a way that fails, and tells the old site's page from the new one's."""
    mine = known[host_of(way.url)]
    if loops(way.hops):
        return "loop", [_loop(way, mine)]
    state, found = _met(way, wanted, known, now)
    there = known.get(host_of(way.hops[-1].url), mine)
    if state == "arrived" and not mine.mixed and (there.right or there.proxied):
        return state, found
    for name in (mine, there):
        if name.stale_until is not None:
            seen = msg("ways.state.seen", stale_until=name.stale_until)
            return "waiting", [web_finding("old-answer", way.url, seen)]
        if name.unseen and not name.leads:
            return "unknown", [web_finding("destination-unknown", way.url, name.unseen)]
    astray = mine if not mine.leads else there
    if astray.leads:
        return state, found
    dead = way.hops[-1].status is None
    seen = msg("ways.state.seen-2", builder=wanted.builder, detail=astray.detail)
    found = [web_finding("no-answer" if dead else "wrong-destination", way.url, seen)]
    return "no-answer" if dead else "wrong-destination", found + _blocked(way, astray)


def _met(way: Way, wanted: Wanted, known: Mapping[Name, NameKnown], now: float) -> tuple[WayState, list[Finding]]:
    """What a visitor gets at the end of the way; the name where it ends may still be young."""
    last, url = way.hops[-1], way.url
    mine = known[host_of(url)]
    there = known.get(host_of(last.url), mine)
    waits = there.may_come(wanted, now)
    strange = last.certificate is not None and last.certificate.state not in ("good", "ending")
    if last.status in (404, 410, 421) and not (strange and there.served):
        seen = msg("ways.met.seen", builder=wanted.builder, status=last.status)
        return ("waiting" if waits else "broken-page"), [web_finding("builder-unaware", url, seen)]
    if trouble := padlock_trouble(way, wanted, known, now):
        return trouble
    if last.status is None and mine.leads and len(way.hops) > 1 and host_of(last.url) not in known:
        return "wrong-destination", _strayed(way, wanted, mine)
    if last.status is None:
        detail = last.detail or msg("ways.met.detail")
        if mine.forwarded and url.startswith("https:"):
            return "no-answer", [
                web_finding("forwarder-without-https", url, msg("forwarder-without-https", detail=detail))
            ]
        if url.startswith("https:") and waits and not there.certified_now:
            words = msg("ways.met.words", detail=detail)
            return "waiting", [web_finding("certificate-pending", url, words), *sticky(way, mine, msg("ways.why"))]
        only_https = last.url.startswith("https:") and there.answers
        by_builder = wanted.hand_over is not None and wanted.hand_over.by_builder and not only_https
        cure = msg("no-answer.cure-2", builder=wanted.builder) if by_builder else None
        return "no-answer", [web_finding("https-missing" if only_https else "no-answer", url, detail, cure=cure)]
    if last.status in REDIRECTS:
        seen = msg("ways.met.seen-2", location=last.location) if last.location else msg("ways.met.seen-3")
        return "broken-page", [web_finding("page-broken", url, seen)]
    if last.status not in PAGES:
        return "broken-page", [web_finding("page-broken", url, msg("page-broken", status=last.status))]
    return _destination(way, wanted, waits, mine)


def _strayed(way: Way, wanted: Wanted, known: NameKnown) -> list[Finding]:
    """A way that is redirected to another address than the primary one."""
    last = way.hops[-1]
    if known.forwarded:
        cure = msg("wrong-destination.cure-forwarded", primary_url=wanted.primary_url)
        return [web_finding("wrong-destination", way.url, msg("wrong-destination", geturl=last.url), cure=cure)]
    if host_of(last.url) in (*wanted.names, wanted.free_address):
        primary = wanted.destination or wanted.primary
        return [web_finding("primary-elsewhere", way.url, msg("primary-elsewhere", url=last.url, primary=primary))]
    seen = msg("redirect-elsewhere-dead" if last.status is None else "redirect-elsewhere", url=last.url)
    return [web_finding("redirect-elsewhere", way.url, seen)]


def loops(hops: Sequence[Hop]) -> bool:
    """Whether a way goes round: it ends on a redirect to where it has been, or after more hops than a browser takes."""
    last = hops[-1]
    again = sum(same_url(hop.url, last.url) for hop in hops) > 1
    return (last.status in REDIRECTS or last.by_page) and (again or len(hops) >= MOST_HOPS)


def _loop(way: Way, known: NameKnown) -> Finding:
    """A proxy is behind it where the circle stays at one host and the builder, asked directly, is healthy."""
    first = next(at for at, hop in enumerate(way.hops) if same_url(hop.url, way.hops[-1].url))
    circle = way.hops[first:]
    places = {(urlsplit(hop.url).hostname, urlsplit(hop.url).path or "/") for hop in circle}
    if len(places) == 1 and known.edge_healthy:
        schemes = sorted({urlsplit(hop.url).scheme for hop in circle})
        what = msg("ways.loop.what") if len(schemes) == 1 else msg("ways.loop.what-2")
        seen = msg("ways.loop.seen", address=circle[-1].address, what=what)
        return web_finding("proxy-loop", way.url, seen)
    return web_finding("redirect-loop", way.url, msg("redirect-loop", count_hops=len(way.hops)))


def _blocked(way: Way, known: NameKnown) -> list[Finding]:
    """A certificate that cannot come while DNS points elsewhere, told apart from one that is on its way."""
    if known.obstacle and any(hop.certificate and hop.certificate.state != "good" for hop in way.hops):
        return [web_finding("certificate-blocked", way.url, msg("certificate-blocked", obstacle=known.obstacle))]
    return []


def _destination(way: Way, wanted: Wanted, waits: bool, known: NameKnown) -> tuple[WayState, list[Finding]]:
    """The way ended on a page: is it the primary address over https?"""
    last = urlsplit(way.hops[-1].url)
    there = absolute(last.hostname or ".") == (wanted.destination or wanted.primary)
    found = judge_redirects(way)
    young = waits and not known.https_works
    if there and last.scheme == "https":
        return ("unsafe" if any(each.level != "note" for each in found) else "arrived"), worst_first(found)
    if there:
        seen = msg("ways.destination.seen", geturl=last.geturl())
        if known.obstacle and not known.https_works:
            return "unsafe", [
                web_finding(
                    "certificate-blocked", way.url, msg("destination.blocked", seen=seen, obstacle=known.obstacle)
                )
            ]
        code = "certificate-pending" if young else "https-not-enforced"
        return ("waiting" if code == "certificate-pending" else "wrong-destination"), [web_finding(code, way.url, seen)]
    if young and absolute(last.hostname or ".") in wanted.names:
        seen = msg("ways.destination.seen-2", geturl=last.geturl())
        return "waiting", [web_finding("certificate-pending", way.url, seen)]
    if len(way.hops) == 1:
        words = msg("ways.destination.words", primary_url=wanted.primary_url)
        return "wrong-destination", [web_finding("no-redirect", way.url, words)]
    return "wrong-destination", [*_strayed(way, wanted, known), *found]
