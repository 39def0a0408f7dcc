"""Hops and certificates of every way in become states, findings and one verdict."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from urllib.parse import urlsplit

from homepath.core.formats.times import clock_words
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.hsts import Hsts
from homepath.core.model.names import Name, absolute, shown
from homepath.core.model.visits import Hop, Way, WayState
from homepath.core.wanted.wanted import Wanted
from homepath.core.web.certificates import covers
from homepath.core.web.findings import web_finding
from homepath.core.web.hops import MOST_HOPS, REDIRECTS, same_url
from homepath.core.web.issuing import next_issuing_day
from homepath.core.web.redirects import judge_redirects

PAGES = (200, 201, 202, 203, 206)
"""Statuses that come with a page to show (RFC 9110 section 15.3)."""


@dataclass(frozen=True, slots=True)
class NameKnown:
    """What is known of a name before its page is judged.

    `right`: DNS leads it where the builder wants it. `since`: first moment that was seen so. `obstacle`: what stops
    the builder's authority from issuing, in words. `https_works`: the primary already has a good certificate, so that
    a builder which sends people to http does not do so for want of one. `edge_healthy`: the builder, asked directly,
    serves the name; None where it was not asked. `forwarded`: something other than the builder redirects the name.
    `hsts`: what the name told browsers before. `proxied`: DNS leads elsewhere, and what answers there is the builder's
    page all the same. `mixed`: beside the builder's addresses it leads to others, so that visitors meet now one, now
    the other. `stale_until`: a resolver still holds the old answer for it, so long. `certified`: a good certificate was
    seen for it since DNS is right.
    """

    right: bool
    since: float | None = None
    obstacle: str = ""
    detail: str = ""
    https_works: bool = True
    edge_healthy: bool | None = None
    forwarded: bool = False
    hsts: Hsts | None = None
    proxied: bool = False
    mixed: bool = False
    stale_until: float | None = None
    certified: bool = False

    @property
    def leads(self) -> bool:
        """Whether what answers at the name is the builder, or something that was meant to redirect it."""
        return self.right or self.proxied or self.forwarded


def judge_way(
    url: str, hops: Sequence[Hop], wanted: Wanted, known: Mapping[Name, NameKnown], now: float
) -> tuple[Way, list[Finding]]:
    """The state of one way in, with its findings. `known`: of every name of the site."""
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
    state, found = _met(way, wanted, mine, now)
    there = known.get(host_of(way.hops[-1].url), mine)
    if state == "arrived" and not mine.mixed and (there.right or there.proxied):
        return state, found
    for name in (mine, there):
        if name.stale_until is not None:
            seen = f"the resolver that was asked still holds the old answer, until {clock_words(name.stale_until)}"
            return "waiting", [web_finding("old-answer", way.url, seen)]
    astray = mine if not mine.leads else there
    if astray.leads:
        return state, found
    dead = way.hops[-1].status is None
    seen = f"DNS does not lead it to {wanted.builder} yet: {astray.detail}"
    found = [web_finding("no-answer" if dead else "wrong-destination", way.url, seen)]
    return "no-answer" if dead else "wrong-destination", found + _blocked(way, astray)


def host_of(url: str) -> Name:
    return absolute(urlsplit(url).hostname or ".")


def _met(way: Way, wanted: Wanted, known: NameKnown, now: float) -> tuple[WayState, list[Finding]]:
    """What a visitor meets at the end of the way."""
    last, url = way.hops[-1], way.url
    waits = (known.right or known.proxied) and not known.obstacle and _still_usual(known, wanted, now)
    if last.status in (404, 410, 421):
        seen = f"{wanted.builder} answers {last.status}: it does not know this name yet, or has not looked again"
        return ("waiting" if waits else "broken-page"), [web_finding("builder-unaware", url, seen)]
    if trouble := _certificate_trouble(way, wanted, known, waits, now):
        pending = trouble[0].code == "certificate-pending" or (
            trouble[0].code == "certificate-name-missing" and waits and not known.certified
        )
        return ("waiting" if pending else "unsafe"), trouble
    if last.status is None:
        detail = last.detail or "nothing answered"
        if known.forwarded and url.startswith("https:"):
            return "no-answer", [web_finding("forwarder-without-https", url, f"https does not answer ({detail})")]
        if url.startswith("https:") and waits:
            words = f"https is not answering yet ({detail})"
            return "waiting", [web_finding("certificate-pending", url, words), *_sticky(way, known, "no answer")]
        secure = last.url.startswith("https:")
        return "no-answer", [web_finding("https-missing" if secure else "no-answer", url, detail)]
    if last.status in REDIRECTS:
        seen = f"it redirects to {last.location!r}, where no browser goes" if last.location else "it redirects nowhere"
        return "broken-page", [web_finding("page-broken", url, seen)]
    if last.status not in PAGES:
        return "broken-page", [web_finding("page-broken", url, f"it ends with status {last.status}, and no page")]
    return _destination(way, wanted, waits, known)


def _still_usual(known: NameKnown, wanted: Wanted, now: float) -> bool:
    return known.since is None or now - known.since < wanted.https.longest_wait


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
        what = "https leads to itself" if len(schemes) == 1 else "http and https lead to each other"
        seen = f"at {circle[-1].address} {what} without end, while the builder itself answers well"
        return web_finding("proxy-loop", way.url, seen)
    return web_finding("redirect-loop", way.url, f"it goes round in a circle after {len(way.hops)} hops")


def _blocked(way: Way, known: NameKnown) -> list[Finding]:
    """A certificate that cannot come while DNS leads elsewhere, told apart from one that is on its way."""
    if known.obstacle and any(hop.certificate and hop.certificate.state != "good" for hop in way.hops):
        return [web_finding("certificate-blocked", way.url, f"no certificate will come: {known.obstacle}")]
    return []


def _certificate_trouble(way: Way, wanted: Wanted, known: NameKnown, waits: bool, now: float) -> list[Finding]:
    for hop in way.hops:
        seen = hop.certificate
        if seen is None or seen.state in ("good", "ending"):
            continue
        host = urlsplit(hop.url).hostname
        shown_now = seen.detail or seen.state
        said = f"the certificate shown for {host}: {shown_now}"
        absent = seen.state in ("none", "default", "name-missing") or (seen.state == "untrusted" and not seen.covers)
        partly = seen.state == "name-missing" and any(covers(seen.names, shown(name)) for name in wanted.names)
        if known.forwarded and hop is way.hops[0]:
            return [web_finding("forwarder-without-https", way.url, said)]
        if absent and known.obstacle:
            return [web_finding("certificate-blocked", way.url, f"{said}; it will not come: {known.obstacle}")]
        if partly and waits and not known.certified:
            words = f"the certificate is for {', '.join(seen.names[:4])} only; {host} is not in it yet"
            return [web_finding("certificate-name-missing", way.url, words), *_sticky(way, known, said)]
        if absent and waits and not known.certified:
            words = f"the certificate for {host} has not come yet; the one shown: {shown_now}"
            words += next_issuing_day(wanted.https.issuing_days, now)
            return [web_finding("certificate-pending", way.url, words), *_sticky(way, known, said)]
        code = {
            "expired": "certificate-expired",
            "name-missing": "certificate-name-missing",
            "default": "certificate-name-missing",
            "none": "https-missing",
        }.get(seen.state, "certificate-untrusted")
        return [web_finding(code, way.url, said), *_sticky(way, known, said)]
    return []


def _sticky(way: Way, known: NameKnown, said: str) -> list[Finding]:
    if known.hsts is None or not known.hsts.binds:
        return []
    words = f"the former site promised https {known.hsts.words}, and {said}"
    return [web_finding("sticky-https-too-early", way.url, words)]


def _destination(way: Way, wanted: Wanted, waits: bool, known: NameKnown) -> tuple[WayState, list[Finding]]:
    """The way ended on a page: is it the primary address over https?"""
    last = urlsplit(way.hops[-1].url)
    there = absolute(last.hostname or ".") == (wanted.destination or wanted.primary)
    found = judge_redirects(way)
    young = waits and not known.https_works
    if there and last.scheme == "https":
        return ("unsafe" if any(each.level != "note" for each in found) else "arrived"), worst_first(found)
    if there:
        seen = f"it ends on {last.geturl()} without https"
        if known.obstacle and not known.https_works:
            return "unsafe", [web_finding("certificate-blocked", way.url, f"{seen}: {known.obstacle}")]
        code = "certificate-pending" if young else "https-not-enforced"
        return ("waiting" if code == "certificate-pending" else "wrong-destination"), [web_finding(code, way.url, seen)]
    if young and absolute(last.hostname or ".") in wanted.names:
        seen = f"it ends on {last.geturl()}; builders lead on to the main address once the certificate has come"
        return "waiting", [web_finding("certificate-pending", way.url, seen)]
    if len(way.hops) == 1:
        words = f"it serves a page of its own instead of leading to {wanted.primary_url}"
        return "wrong-destination", [web_finding("no-redirect", way.url, words)]
    return "wrong-destination", [web_finding("wrong-destination", way.url, f"it ends on {last.geturl()}"), *found]
