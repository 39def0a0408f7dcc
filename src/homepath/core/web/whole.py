"""All addresses together: which of them arrive, the one verdict, and what the builder may be waiting for."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from urllib.parse import urlsplit

from homepath.core.dns.names import Name, shown
from homepath.core.findings.registry import kind_of
from homepath.core.message import msg
from homepath.core.model.brief import numbered
from homepath.core.model.evidence import BuilderWait, check_pressed
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.visits import AddressTried, Hop, Possibility, Visit, VisitVerdict, Way, WayState
from homepath.core.site.wanted import Wanted
from homepath.core.web.known import NameKnown, host_of, one_each
from homepath.core.web.ways import PAGES, PROBE, judge_addresses, judge_probe, judge_way


@dataclass(frozen=True, slots=True)
class Known:
    """All that was seen. `since`: when DNS was first seen to be right; `settled_by`: when the last cache lets go.

    `findings`: of the last survey; `confirmed`: steps that the person said are done, by id. `wait`: the one for the
    builder.
    """

    wanted: Wanted
    ways: Sequence[Way]
    findings: Sequence[Finding]
    confirmed: Mapping[str, float]
    since: float | None
    settled_by: float | None
    now: float

    @property
    def wait(self) -> BuilderWait:
        https = self.wanted.https
        return BuilderWait(self.begin, https.usual_wait, https.longest_wait)

    @property
    def pressed(self) -> bool:
        """Whether the check button was pressed since DNS is right; pressing it again does not help."""
        return check_pressed(self.confirmed, self.begin)

    @property
    def unaware(self) -> bool:
        """The builder's servers answer, and do not serve the name."""
        return any(way.hops[-1].status in (404, 410, 421) for way in self.ways)

    @property
    def uncertified(self) -> bool:
        return any(hop.certificate and hop.certificate.state != "good" for way in self.ways for hop in way.hops)

    @property
    def begin(self) -> float:
        return self.now if self.since is None else self.since

    @property
    def waited(self) -> float:
        return max(0.0, self.now - self.begin)


Test = Callable[[Known], Iterator[Possibility]]


def possibilities(known: Known) -> tuple[Possibility, ...]:
    """The list, most likely first; empty when every entry point arrives."""
    if all(way.state == "arrived" for way in known.ways):
        return ()
    return tuple(found for test in _TESTS for found in test(known))


def _hindered(known: Known) -> Iterator[Possibility]:
    """Something that was seen is in the way: no wait will help."""
    first = {each.code: each for each in reversed(known.findings) if kind_of(each).holds_up_builder}
    for each in reversed(first.values()):
        yield Possibility(msg("pending.hindered", code=each.code, message=each.message), each.cure, None)


def _not_told(known: Known) -> Iterator[Possibility]:
    if known.unaware and "claim" not in known.confirmed:
        yield Possibility(
            msg("pending.not-told", builder=known.wanted.builder),
            msg("pending.not-told-2", names=known.wanted.names),
            None,
        )


def _step_left_out(known: Known) -> Iterator[Possibility]:
    later = ("after-records", "after-nameservers", "after-verification")
    for about, step in numbered(known.wanted.steps):
        if step.when in later and f"builder-step:{about}" not in known.confirmed:
            yield Possibility(
                msg("pending.step-left-out", builder=known.wanted.builder, title=step.title), step.instruction, None
            )


def _own_cache(known: Known) -> Iterator[Possibility]:
    if known.unaware and known.settled_by is not None and known.settled_by > known.now:
        yield Possibility(msg("pending.own-cache", builder=known.wanted.builder), msg("pending.own-cache-2"), None)


def _own_rhythm(known: Known) -> Iterator[Possibility]:
    usual = known.wanted.https.usual_wait
    if known.unaware and known.waited < usual:
        yield Possibility(
            msg("pending.own-rhythm", builder=known.wanted.builder, usual=usual),
            msg("pending.wait") if known.pressed else msg("pending.own-rhythm-2"),
            known.wait.next_check(known.now),
        )


def _certificate(known: Known) -> Iterator[Possibility]:
    https = known.wanted.https
    if not known.uncertified or known.waited >= https.longest_wait:
        return
    days = msg("pending.certificate.days", issuing_days=tuple(https.issuing_days)) if https.issuing_days else ""
    yield Possibility(
        msg("pending.certificate", longest_wait=https.longest_wait, days=days),
        msg("pending.certificate-2"),
        known.wait.next_check(known.now),
    )


def _too_long(known: Known) -> Iterator[Possibility]:
    if known.since is None or known.waited < known.wanted.https.usual_wait:
        return
    late = known.wait.over(known.now)
    if not late:
        longest = known.wanted.https.longest_wait
        yield Possibility(
            msg("pending.too-long", waited=known.waited, longest=longest),
            msg("pending.too-long-2") if known.pressed else msg("pending.too-long-3"),
            known.wait.next_check(known.now),
        )
        return
    yield Possibility(msg("pending.too-long-4", waited=known.waited), msg("pending.too-long-5"), None)


_TESTS: tuple[Test, ...] = (_hindered, _not_told, _step_left_out, _own_cache, _own_rhythm, _certificate, _too_long)


@dataclass(frozen=True, slots=True)
class Walked:
    """Everything that was tried. `ways`: hops by the typed URL; `probes`: the same ways with a path and a query;
    `addresses`: each address of each name on its own, by the URL asked."""

    ways: Mapping[str, Sequence[Hop]]
    probes: Mapping[str, Sequence[Hop]]
    addresses: Mapping[str, Sequence[AddressTried]]


def judge_visit(wanted: Wanted, walked: Walked, known: Mapping[Name, NameKnown], now: float) -> Visit:
    """All entry points, and the verdict for the whole."""
    ways: list[Way] = []
    found: list[Finding] = []
    secure = walked.ways.get(f"https://{shown(wanted.primary)}/", ())
    https_works = (
        bool(secure) and secure[0].certificate is not None and secure[0].certificate.state in ("good", "ending")
    )
    served = {host_of(way[-1].url) for way in walked.ways.values() if _plain_page(way)}
    certified = _certified(walked.ways.values(), known)
    dead = {host_of(url) for url, hops in walked.ways.items() if url.startswith("http:") and hops[0].status is None}
    grounds = {
        name: replace(
            each,
            https_works=https_works,
            served=name in served and each.leads,
            certified_now=name in certified,
            answers=name not in dead,
        )
        for name, each in known.items()
    }
    for url, hops in walked.ways.items():
        way, more = judge_way(url, hops, wanted, grounds, now)
        way, at_addresses = judge_addresses(way, walked.addresses.get(url, ()))
        ways.append(way)
        found += [*more, *at_addresses]
    ways, more = _probed(ways, walked.probes, wanted)
    found += more
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
        certified=certified,
    )


def _plain_page(way: Sequence[Hop]) -> bool:
    return bool(way) and way[-1].url.startswith("http:") and way[-1].status in PAGES


def _probed(
    ways: Sequence[Way], probes: Mapping[str, Sequence[Hop]], wanted: Wanted
) -> tuple[list[Way], list[Finding]]:
    """A way that arrives, and loses the path of every link to the site, has not arrived. One fault hides no other."""
    found, judged, goal = [], [], wanted.destination or wanted.primary
    secure = [way for way in ways if way.url.startswith("https:") and way.hops and way.hops[0].certificate]
    has_padlock = {
        host_of(way.url) for way in secure if way.certificate and way.certificate.state in ("good", "ending")
    }
    for way in ways:
        more: list[Finding] = []
        end = way.hops[-1].url
        reaches = end.startswith("https:") and host_of(end) == goal
        mine = [(url, hops) for url, hops in probes.items() if urlsplit(url)[:2] == urlsplit(way.url)[:2]]
        probe = next((hops for url, hops in mine if url.endswith(PROBE)), ())
        way = replace(way, probe=tuple(replace(hop, page="") for hop in probe))
        if way.state == "arrived" or (way.state == "unsafe" and reaches):
            more = [each for url, hops in mine for each in judge_probe(url, hops, wanted)]
        if host_of(way.url) in has_padlock:
            more = [each for each in more if each.code != "challenge-astray"]  # it got its certificate all the same
        worse = [each for each in more if each.level != "note"]
        drops = worse and way.state == "arrived"
        judged.append(replace(way, state="drops-path", words=worse[0].message) if drops else way)
        found += more
    return judged, found


def _certified(ways: Iterable[Sequence[Hop]], known: Mapping[Name, NameKnown]) -> tuple[Name, ...]:
    """The names for which a good certificate was seen, now or before, while DNS was right."""
    hops = [hop for way in ways for hop in way]
    now = {host_of(hop.url) for hop in hops if hop.certificate and hop.certificate.state in ("good", "ending")}
    return tuple(name for name, each in known.items() if each.right and (each.certified or name in now))


def _verdict(states: set[WayState]) -> VisitVerdict:
    if states == {"arrived"}:
        return "arrived"
    if states <= {"arrived", "waiting"}:
        return "waiting"
    return "unknown" if states <= {"arrived", "waiting", "unknown"} else "broken"
