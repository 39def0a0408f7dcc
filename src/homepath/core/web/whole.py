"""All ways in together: which of them arrive, and the one verdict."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from urllib.parse import urlsplit

from homepath.core.dns.names import Name, shown
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.visits import AddressTried, Hop, Visit, VisitVerdict, Way, WayState
from homepath.core.site.wanted import Wanted
from homepath.core.web.findings import one_each
from homepath.core.web.known import NameKnown, host_of
from homepath.core.web.redirects import judge_probe
from homepath.core.web.ways import judge_addresses, judge_way


@dataclass(frozen=True, slots=True)
class Walked:
    """Everything that was tried. `ways`: hops by the typed URL; `probes`: the same ways with a path and a query;
    `addresses`: each address of each name on its own, by the URL asked."""

    ways: Mapping[str, Sequence[Hop]]
    probes: Mapping[str, Sequence[Hop]]
    addresses: Mapping[str, Sequence[AddressTried]]


def judge_visit(wanted: Wanted, walked: Walked, known: Mapping[Name, NameKnown], now: float) -> Visit:
    """All ways in, and the verdict for the whole."""
    ways: list[Way] = []
    found: list[Finding] = []
    secure = walked.ways.get(f"https://{shown(wanted.primary)}/", ())
    https_works = (
        bool(secure) and secure[0].certificate is not None and secure[0].certificate.state in ("good", "ending")
    )
    grounds = {name: replace(each, https_works=https_works) for name, each in known.items()}
    for url, hops in walked.ways.items():
        way, said = judge_way(url, hops, wanted, grounds, now)
        way, dead = judge_addresses(way, walked.addresses.get(url, ()))
        ways.append(way)
        found += [*said, *dead]
    ways, said = _probed(ways, walked.probes, wanted)
    found += said
    verdict = _verdict({way.state for way in ways})
    until = None
    if verdict == "waiting":
        stale = [each.stale_until for each in known.values() if each.stale_until is not None]
        since = max((each.since for each in known.values() if each.since is not None), default=now)
        until = max(stale) if stale else since + wanted.https.longest_wait
    return Visit(
        wanted.domain,
        now,
        wanted.primary_url,
        verdict,
        tuple(ways),
        tuple(worst_first(one_each(found))),
        until,
        led=tuple(name for name, each in known.items() if each.right),
        certified=_certified(ways, known),
    )


def _probed(
    ways: Sequence[Way], probes: Mapping[str, Sequence[Hop]], wanted: Wanted
) -> tuple[list[Way], list[Finding]]:
    """A way that arrives, and loses the path of every link to the site, has not arrived."""
    found, judged = [], []
    secure = [way for way in ways if way.url.startswith("https:") and way.hops and way.hops[0].certificate]
    has_padlock = {
        host_of(way.url) for way in secure if way.certificate and way.certificate.state in ("good", "ending")
    }
    for way in ways:
        said: list[Finding] = []
        if way.state == "arrived":
            mine = [(url, hops) for url, hops in probes.items() if urlsplit(url)[:2] == urlsplit(way.url)[:2]]
            said = [each for url, hops in mine for each in judge_probe(url, hops, wanted)]
        if host_of(way.url) in has_padlock:
            said = [each for each in said if each.code != "challenge-astray"]  # it got its certificate all the same
        worse = [each for each in said if each.level != "note"]
        judged.append(replace(way, state="drops-path", words=worse[0].message) if worse else way)
        found += said
    return judged, found


def _certified(ways: Sequence[Way], known: Mapping[Name, NameKnown]) -> tuple[Name, ...]:
    """The names for which a good certificate was seen, now or before, while DNS was right."""
    hops = [hop for way in ways for hop in way.hops]
    now = {host_of(hop.url) for hop in hops if hop.certificate and hop.certificate.state in ("good", "ending")}
    return tuple(name for name, each in known.items() if each.right and (each.certified or name in now))


def _verdict(states: set[WayState]) -> VisitVerdict:
    if states == {"arrived"}:
        return "arrived"
    return "waiting" if states <= {"arrived", "waiting"} else "broken"
