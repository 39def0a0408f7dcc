"""Hops and certificates of every way in become states, findings and one verdict (N27, N29)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from urllib.parse import urlsplit

from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.names import Name, absolute, shown
from homepath.core.model.visits import Hop, Visit, VisitVerdict, Way, WayState
from homepath.core.wanted.wanted import Wanted
from homepath.core.web.hops import MOST_HOPS, REDIRECTS, same_url
from homepath.core.web.pages import PAGES


@dataclass(frozen=True, slots=True)
class Ground:
    """What is known of a name before its page is judged.

    `right`: DNS leads it where the builder wants it. `since`: first moment that was seen so. `forbidden`: CAA
    forbids the builder's issuers to issue for it. `https_works`: the primary already has a good certificate, so
    that a builder which sends people to http does not do so for want of one.
    """

    right: bool
    since: float | None = None
    forbidden: bool = False
    detail: str = ""
    https_works: bool = True


def judge_way(url: str, hops: Sequence[Hop], wanted: Wanted, ground: Ground, now: float) -> tuple[Way, list[Finding]]:
    """The state of one way in, with its findings."""
    last = hops[-1]
    secure = next((hop.certificate for hop in hops if hop.url.startswith("https:") and hop.certificate), None)
    first = hops[0].certificate if url.startswith("https:") else None
    ends = last.url if last.status is not None and last.status not in REDIRECTS else None
    way = Way(url, ends, "arrived", tuple(hops), first or secure)
    state, found = _state(way, wanted, ground, now)
    words = found[0].message if found else ""
    return replace(way, state=state, words=words), found


def _state(way: Way, wanted: Wanted, ground: Ground, now: float) -> tuple[WayState, list[Finding]]:
    last, url = way.hops[-1], way.url
    waits = ground.right and not ground.forbidden and _still_usual(ground, wanted, now)
    if not ground.right:
        code = "no-answer" if last.status is None else "wrong-destination"
        state: WayState = "no-answer" if last.status is None else "wrong-destination"
        return state, [_finding(code, url, f"DNS does not lead it to {wanted.builder} yet: {ground.detail}")]
    if _loops(way):
        return "loop", [_finding("redirect-loop", url, f"it goes round in a circle after {len(way.hops)} hops")]
    if trouble := _certificate_trouble(way, wanted, ground, waits):
        pending = trouble[0].code == "certificate-pending"
        return ("waiting" if pending else "unsafe"), trouble
    if last.status is None:
        detail = last.detail or "nothing answered"
        if url.startswith("https:") and waits:
            return "waiting", [_finding("certificate-pending", url, f"https is not answering yet ({detail})")]
        return "no-answer", [_finding("https-missing" if last.url.startswith("https:") else "no-answer", url, detail)]
    if last.status in (404, 410, 421):
        seen = f"{wanted.builder} answers {last.status}: it does not know this name yet, or has not looked again"
        return ("waiting" if waits else "broken-page"), [_finding("builder-unaware", url, seen)]
    if last.status in REDIRECTS:
        seen = f"it redirects to {last.location!r}, where no browser goes" if last.location else "it redirects nowhere"
        return "broken-page", [_finding("page-broken", url, seen)]
    if last.status >= 400:
        return "broken-page", [_finding("page-broken", url, f"it ends with status {last.status}")]
    return _destination(way, wanted, waits, ground.https_works)


def _still_usual(ground: Ground, wanted: Wanted, now: float) -> bool:
    return ground.since is None or now - ground.since < wanted.https.longest_wait


def _loops(way: Way) -> bool:
    last = way.hops[-1]
    again = sum(same_url(hop.url, last.url) for hop in way.hops) > 1
    return last.status in REDIRECTS and (again or len(way.hops) >= MOST_HOPS)


def _certificate_trouble(way: Way, wanted: Wanted, ground: Ground, waits: bool) -> list[Finding]:
    for hop in way.hops:
        seen = hop.certificate
        if seen is None or seen.state in ("good", "ending"):
            continue
        host = urlsplit(hop.url).hostname
        said = f"the certificate shown for {host}: {seen.detail or seen.state}"
        if ground.forbidden:
            text = f"{said}; and CAA records forbid the builder's authority to issue one"
            return [_finding("certificate-name-missing", way.url, text)]
        if seen.state in ("none", "name-missing", "untrusted") and waits:
            words = f"the certificate for {host} has not come yet; the one shown: {seen.detail or seen.state}"
            return [_finding("certificate-pending", way.url, words)]
        code = {"expired": "certificate-expired", "name-missing": "certificate-name-missing"}.get(
            seen.state, "certificate-untrusted"
        )
        return [_finding(code, way.url, said)]
    return []


def _destination(way: Way, wanted: Wanted, waits: bool, https_works: bool) -> tuple[WayState, list[Finding]]:
    """The way ended on a page: is it the primary address over https?"""
    last = urlsplit(way.hops[-1].url)
    there = absolute(last.hostname or ".") == (wanted.destination or wanted.primary)
    found = list(_manners(way))
    if there and last.scheme == "https":
        return "arrived", found
    if there:
        seen = f"it ends on {last.geturl()} without https"
        code = "certificate-pending" if waits and not https_works else "https-not-enforced"
        return ("waiting" if code == "certificate-pending" else "wrong-destination"), [_finding(code, way.url, seen)]
    if len(way.hops) == 1:
        return "wrong-destination", [
            _finding("no-redirect", way.url, f"it serves a page of its own instead of leading to {wanted.primary_url}")
        ]
    return "wrong-destination", [_finding("wrong-destination", way.url, f"it ends on {last.geturl()}"), *found]


def _manners(way: Way) -> list[Finding]:
    found = []
    pairs = list(zip(way.hops, way.hops[1:], strict=False))
    if any(a.url.startswith("https:") and b.url.startswith("http:") for a, b in pairs):
        found.append(_finding("redirect-downgrades", way.url, "a redirect leads from https back to http"))
    if any(hop.status in (302, 303, 307) for hop in way.hops):
        found.append(_finding("redirect-temporary", way.url, "a redirect on the way is only temporary"))
    if len(pairs) > 2:
        found.append(_finding("redirect-long", way.url, f"it takes {len(pairs)} redirects; two are enough"))
    found += [
        _finding("certificate-ending", way.url, hop.certificate.detail)
        for hop in way.hops
        if hop.certificate and hop.certificate.state == "ending"
    ]
    return found


def _finding(code: str, url: str, message: str) -> Finding:
    page = PAGES[code]
    host = urlsplit(url).hostname or ""
    return Finding(code, page.level, f"{host}.", "", f"{url}: {message}.", page.mend, page.standard)


def _one_each(findings: Sequence[Finding]) -> list[Finding]:
    """One finding of a kind for each name: its http and its https way say the same thing."""
    first: dict[tuple[str, Name], Finding] = {}
    for finding in findings:
        first.setdefault((finding.code, finding.name), finding)
    return list(first.values())


def judge_visit(
    wanted: Wanted, walked: Mapping[str, Sequence[Hop]], grounds: Mapping[Name, Ground], now: float
) -> Visit:
    """All ways in, and the verdict for the whole."""
    ways, found = [], []
    secure = walked.get(f"https://{shown(wanted.primary)}/", ())
    https_works = (
        bool(secure) and secure[0].certificate is not None and secure[0].certificate.state in ("good", "ending")
    )
    for url, hops in walked.items():
        ground = replace(grounds[absolute(urlsplit(url).hostname or ".")], https_works=https_works)
        way, said = judge_way(url, hops, wanted, ground, now)
        ways.append(way)
        found += said
    states = {way.state for way in ways}
    verdict: VisitVerdict = "broken"
    if states == {"arrived"}:
        verdict = "arrived"
    elif states <= {"arrived", "waiting"}:
        verdict = "waiting"
    until = None
    if verdict == "waiting":
        since = max((ground.since for ground in grounds.values() if ground.since is not None), default=now)
        until = since + wanted.https.longest_wait
    return Visit(
        wanted.domain, now, wanted.primary_url, verdict, tuple(ways), tuple(worst_first(_one_each(found))), until
    )
