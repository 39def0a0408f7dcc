"""Certificates on a way in: which of them is not good, and whether a better one may still come."""

from __future__ import annotations

from collections.abc import Mapping
from urllib.parse import urlsplit

from homepath.core.dns.names import Name, shown
from homepath.core.message import Text, msg
from homepath.core.model.findings import Finding
from homepath.core.model.visits import Certificate, Way, WayState
from homepath.core.site.wanted import Wanted
from homepath.core.web.certificates import covers, next_issuing_day
from homepath.core.web.findings import web_finding
from homepath.core.web.known import NameKnown, host_of

_CODES = {
    "expired": "certificate-expired",
    "name-missing": "certificate-name-missing",
    "default": "certificate-name-missing",
    "none": "https-missing",
}


def padlock_trouble(
    way: Way, wanted: Wanted, known: Mapping[Name, NameKnown], now: float
) -> tuple[WayState, list[Finding]] | None:
    """The first certificate on the way that is not good, judged by what is known of the name that showed it."""
    mine = known[host_of(way.url)]
    for hop in way.hops:
        seen = hop.certificate
        if seen is None or seen.state in ("good", "ending"):
            continue
        there = known.get(host_of(hop.url), mine)
        if mine.forwarded and hop is way.hops[0]:
            said = msg(
                "padlocks.padlock-trouble.said", hostname=urlsplit(hop.url).hostname, detail=seen.detail or seen.state
            )
            return "unsafe", [web_finding("forwarder-without-https", way.url, said)]
        return _judged(way, seen, urlsplit(hop.url).hostname or "", there, wanted, now)
    return None


def _judged(
    way: Way, seen: Certificate, host: str, there: NameKnown, wanted: Wanted, now: float
) -> tuple[WayState, list[Finding]]:
    """One that covers the name and is not trusted is no builder's default: no waiting makes it good. After a good one
    was seen, one that is missing again does not come by itself."""
    shown_now = seen.detail or seen.state
    said = msg("padlocks.judged.said", host=host, shown_now=shown_now)
    absent = seen.state in ("none", "default", "name-missing") or (seen.state == "untrusted" and not seen.covers)
    if absent and there.obstacle:
        words = msg("padlocks.judged.words", said=said, obstacle=there.obstacle)
        return "unsafe", [web_finding("certificate-blocked", way.url, words)]
    if absent and there.may_come(wanted, now) and not there.certified:
        partly = seen.state == "name-missing" and any(covers(seen.names, shown(name)) for name in wanted.names)
        if partly:
            words = msg("padlocks.judged.words-2", names=tuple(seen.names[:4]), host=host)
            return "waiting", [web_finding("certificate-name-missing", way.url, words), *sticky(way, there, said)]
        day = next_issuing_day(wanted.https.issuing_days, now)
        words = msg("padlocks.judged.words-3", host=host, shown_now=shown_now, day=day)
        return "waiting", [web_finding("certificate-pending", way.url, words), *sticky(way, there, said)]
    code = _CODES.get(seen.state, "certificate-untrusted")
    return "unsafe", [web_finding(code, way.url, said), *sticky(way, there, said)]


def sticky(way: Way, known: NameKnown, said: Text) -> list[Finding]:
    """The former site made browsers insist on https, which does not work (RFC 6797)."""
    if known.hsts is None or not known.hsts.binds:
        return []
    words = msg("padlocks.sticky.words", words=known.hsts.words, said=said)
    return [web_finding("sticky-https-too-early", way.url, words)]
