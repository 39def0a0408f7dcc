"""A visit and a forecast in words: where each typed address ends, what each certificate says, which caches are
left out."""

from __future__ import annotations

from urllib.parse import urlsplit

from homepath.core.dns.names import shown
from homepath.core.model.forecast import Caches, Forecast
from homepath.core.model.times import rfc3339
from homepath.core.model.visits import Certificate, CertificateState, Hop, Visit, Way, same_url
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting, many


def left_out(caches: Caches) -> str:
    """Which caches the end of a forecast does not speak of."""
    parts = []
    if caches.clamped:
        parts.append(f"{100 * caches.clamped:.0f} % that keep nothing for less than {lasting(caches.floor)}")
    if caches.stale:
        parts.append(f"{100 * caches.stale:.0f} % that give expired answers once")
    if not parts:
        return "All moved: if every cache respects TTLs; --clamped and --stale add those that do not."
    return f"All moved: of caches that respect TTLs. Left out: {' and '.join(parts)}."


def gap_words(forecast: Forecast) -> tuple[str, ...]:
    """What those meet who come over https before the builder has its certificate; nothing where no one does."""
    gap = forecast.gap
    if gap is None:
        return ()
    most = max(forecast.best.warned, default=0.0)
    by = "usually" if gap.from_brief else "typically"
    found = [
        f"The site there has https today. Until the builder's own certificate comes ({by} {lasting(gap.usual)} after "
        f"the change, at most {lasting(gap.longest)}), visitors who use https and reach the builder already "
        f"get a certificate error: up to {100 * most:.0f} % of them at one time, as if all of them had got it for "
        f"{forecast.best.warned_minutes:.0f} min."
    ]
    if gap.binding:
        found.append("Browsers that visited before do not let the visitor past that warning (HSTS).")
    return tuple(found)


FREE = {
    "serving": "still serves the site",
    "redirecting": "redirects elsewhere",
    "gone": "serves nothing",
    "unknown": "returns an unclear answer",
}


def verdict_words(visit: Visit) -> str:
    """Where all entry points end, in one sentence."""
    if visit.expected:
        return visit.expected
    arrived = sum(way.state == "arrived" for way in visit.ways)
    ways = many(len(visit.ways), "address", "addresses")
    every = f"all {ways}" if len(visit.ways) > 2 else ways.replace("two", "both")
    if visit.verdict == "arrived":
        return f"Arrived: {every} end at {visit.primary_url} with a valid certificate."
    if visit.verdict == "waiting":
        unaware = any(finding.code == "builder-unaware" for finding in visit.findings)
        what = "the builder's own check of the records" if unaware else "the certificate"
        return f"Waiting for {what}."
    if visit.verdict == "unknown":
        return "Not known: where DNS sends visitors is not known for every address."
    if arrived > 1:
        return f"Not right: {arrived} of {ways} end where they should."
    some = f"one of {ways}" if arrived else f"none of {ways}"
    return f"Not right: {some} ends where it should."


def ahead_words(visit: Visit) -> str:
    """What the builder's servers answer before DNS sends visitors there."""
    name = shown(visit.domain)
    if any(way.hops[-1].status in (404, 410, 421) for way in visit.ways):
        return (
            f"The builder does not know every name of {name} yet. If the domain was added there, it waits for the "
            "records: many builders answer only once their check has passed."
        )
    if visit.verdict == "arrived":
        return f"Ready: the builder serves {name} with a valid certificate, before DNS points there."
    if any(way.hops[0].status is not None for way in visit.ways):
        return f"The builder knows {name}, but not everything is ready there."
    return f"The builder's servers do not answer for {name}."


_NO_PADLOCK = ("none", "default", "name-missing", "untrusted", "incomplete", "expired", "not-yet-valid")


def visitor_gets(way: Way, undoing: bool) -> str:
    """What a visitor gets, with the hops on the way. `undoing`: the change is undone, or the domain leaves."""
    led = "".join(f" {part}" for part in _parts(way)[1:])
    bad = next((h.certificate for h in way.hops if h.certificate and h.certificate.state in _NO_PADLOCK), None)
    last = way.hops[-1]
    if way.state == "arrived":
        return "your site" + (f", redirected:{led}" if led else "")
    if last.status in (404, 410, 421) and way.state == "waiting":
        return f"the builder does not know this name yet ({last.status}){led}"
    if bad is not None and way.url.startswith("https:"):
        return f"browsers warn: {'no certificate yet' if way.state == 'waiting' else 'no valid certificate'}{led}"
    if way.state == "waiting":
        return f"shown without encryption{led}" if not led else f"redirected, shown without encryption:{led}"
    if way.state == "loop":
        return f"loops:{led}"
    if last.status is None and last is way.hops[0]:
        return _end(last)
    words = {"no-answer": "no answer", "wrong-destination": "ends elsewhere", "drops-path": "loses the path of a link"}
    if last.status is not None and any(not each.opens for each in way.addresses):
        words["no-answer"] = "your site, but not at every address"
    words |= {"unknown": "not known", "broken-page": "an error page", "unsafe": "not encrypted"}
    if undoing:
        words["wrong-destination"] = "a page"  # none is wrong now
    return f"{words.get(way.state, way.state)}: {way.hops[0].status or _end(last)}{led}"


def _parts(way: Way) -> list[str]:
    """The typed address, then each hop: its status and its target."""
    parts = [way.url]
    for hop, after in zip(way.hops, [*way.hops[1:], None], strict=True):
        if after is not None:
            parts.append(f"─{'page' if hop.by_page else hop.status}→ {_short(after.url, hop.url)}")
        else:
            again = any(same_url(hop.url, before.url) for before in way.hops[:-1])
            parts[-1] += f"  {hop.status}, and loops" if again and hop.location else f"  {_end(hop)}"
    return parts


def _short(url: str, before: str) -> str:
    """`itself` where nothing changed, `https` where only that did, else the whole address."""
    if same_url(url, before):
        return "itself"
    one, two = urlsplit(before), urlsplit(url)
    only_scheme = one.scheme != two.scheme and (one.netloc, one.path or "/", one.query) == (
        two.netloc,
        two.path or "/",
        two.query,
    )
    return f"{two.scheme}" if only_scheme else url


def _end(hop: Hop) -> str:
    if hop.status is None:
        return f"no answer: {say(hop.detail)}"
    return str(hop.status) + (f" to {hop.location}" if hop.location else "")


_CERTIFICATES: dict[CertificateState, str] = {
    "ending": "ends soon",
    "not-yet-valid": "not valid yet",
    "name-missing": "for other names",
    "untrusted": "not trusted",
}


def certificate_words(seen: Certificate) -> str:
    """What a server showed: good or why not, by whom, until when."""
    if seen.state == "none":
        return f"none ({say(seen.detail)})" if seen.detail else "none"
    ends = f", until {rfc3339(seen.not_after)[:10]}" if seen.not_after is not None else ""
    if seen.state == "default":
        return f"not yet: {say(seen.detail)}"
    detail = f" ({say(seen.detail)})" if seen.detail else ""
    return f"{_CERTIFICATES.get(seen.state, seen.state)}: by {seen.issuer}{ends}{detail}"


def certificates_of(visit: Visit) -> dict[str, Certificate]:
    """What each host showed, the first time that it was asked."""
    seen: dict[str, Certificate] = {}
    for way in visit.ways:
        for hop in way.hops:
            if hop.certificate is not None:
                seen.setdefault(urlsplit(hop.url).hostname or "", hop.certificate)
    return seen
