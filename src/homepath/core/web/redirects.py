"""How redirects behave on a way that arrives: permanence, length, encryption, and what they drop."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from urllib.parse import urlsplit

from homepath.core.dns.names import absolute
from homepath.core.message import msg
from homepath.core.model.findings import Finding
from homepath.core.model.visits import Hop, Way
from homepath.core.site.wanted import Wanted
from homepath.core.web.findings import web_finding

PROBE = "/homepath-looks/here?way=in"
"""A path and a query that no site has: it only matters whether redirects keep them."""
CHALLENGE = "/.well-known/acme-challenge/homepath-looks"
"""Where an authority looks for the builder's answer over plain http (RFC 8555 section 8.3)."""


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
        return [
            web_finding("redirect-loses-path", url, msg("redirect-loses-path", path=asked.path, path2=last.path or "/"))
        ]
    if last.query != asked.query:
        return [
            web_finding(
                "redirect-loses-query",
                url,
                msg("redirect-loses-query", query=asked.query, part=f"?{last.query}" if last.query else "nothing"),
            )
        ]
    return []


def _challenge(url: str, hops: Sequence[Hop], wanted: Wanted) -> list[Finding]:
    """An authority follows redirects, to other names too; what counts is that they end at the builder."""
    last = urlsplit(hops[-1].url).hostname
    if len(hops) > 1 and absolute(last or ".") not in wanted.names:
        return [web_finding("challenge-astray", url, msg("challenge-astray", last=last))]
    if len(hops) > 1 and hops[-1].status is None:
        return [web_finding("challenge-astray", url, msg("challenge-astray-2", url=hops[-1].url))]
    return []
