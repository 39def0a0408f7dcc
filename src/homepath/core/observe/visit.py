"""Visits every address of the site as a browser would, with our own DNS lookups."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import get_args
from urllib.parse import urlsplit

from homepath.core.dns.answers import cure_of, of_trouble
from homepath.core.dns.names import Name, absolute, shown
from homepath.core.dns.walk import Cut
from homepath.core.message import msg
from homepath.core.model.evidence import EdgeSeen, Evidence
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.problems import CouldNotCheck
from homepath.core.model.visits import AddressTried, FreeAddress, Hop, Possibility, Visit, VisitVerdict
from homepath.core.observe.moved import moved_visit
from homepath.core.observe.names import NOT_ASKED, LookedUp, NamesChecked, edge_address, names_known, names_to_resolve
from homepath.core.observe.requests import Addresses, Beside, Exchange, FetchOnce, FindZone, Follow, time
from homepath.core.site.case import Case
from homepath.core.site.wanted import Wanted
from homepath.core.web.hops import (
    NOWHERE,
    TWINS,
    UNKNOWN_HERE,
    Fetch,
    Fetched,
    free_address_state,
    judge_pages,
    pages_to_read,
)
from homepath.core.web.known import NameKnown, one_each, web_finding
from homepath.core.web.markup import Markup, read_markup
from homepath.core.web.ways import CHALLENGE, PROBE, loops
from homepath.core.web.whole import Known, Walked, judge_visit, possibilities

MOST_ADDRESSES = 8
"""Addresses of one name that are tried."""
Hops = tuple[Hop, ...]


def visit_check(
    case: Case, evidence: Evidence, through: bool = False, findings: Sequence[Finding] = ()
) -> Exchange[Visit]:
    """One domain: each way plainly and with a path and a query, each address alone, the pages of the site.

    `through`: names are looked up with a resolver, so what the authoritative servers say is asked for beside it.
    `findings`: of the last survey. Raises CouldNotCheck if no server answered for the names.
    """
    wanted = case.wanted
    own = [wanted.free_address] if wanted.free_address else []  # its pages are asked for below
    known_names = yield from _look_up(wanted, through, own)
    checked = known_names.up
    if all(trouble and trouble.cause in NOT_ASKED for _, _, trouble in (checked[name] for name in wanted.names)):
        trouble = checked[wanted.names[0]][2]
        why = of_trouble(trouble) if trouble else ""
        whom = "visit.no-resolver" if through else "visit.no-server"
        raise CouldNotCheck(msg(whom, domain=wanted.domain, why=why), cure_of(trouble))
    walked, home, free = yield from _walk(wanted, checked)
    now = yield from time()
    known = names_known(case, evidence, known_names, now)
    known = yield from _ask_edge(wanted, checked, walked, known)
    found = judge_visit(wanted, walked, known, now)
    edges = checked[wanted.edge][0] if wanted.edge in checked else ()
    found = yield from moved_visit(
        wanted,
        found,
        lambda rrtype: [address for address in edges if (":" in address) == (rrtype == "AAAA")],
        lambda name: known[name].right,
        lambda name: now - (known[name].since or now) > wanted.https.usual_wait,
    )
    found = _after_move(wanted, found, home, free)
    return replace(found, may_wait_for=_may_wait_for(case, evidence, found, known, findings))


def ahead_check(case: Case) -> Exchange[Visit]:
    """Ask the builder's servers for the site under its names, wherever DNS leads today.

    Raises CouldNotCheck when the brief names no address of the builder that can be asked.
    """
    wanted = case.wanted
    checked = (yield from _look_up(wanted)).up
    edges = {name: edge_address(wanted, checked, name) for name in wanted.names}
    asked = {name: address for name, address in edges.items() if address is not None}
    if not asked:
        raise CouldNotCheck(msg("visit.ahead-look", builder=wanted.builder), msg("visit.ahead-look-2"))
    urls = [f"{scheme}://{shown(name)}/" for name in asked for scheme in ("https", "http")]
    ways = {}
    for url in urls:
        ways[url] = yield from _at_edge(url, asked)
    now = yield from time()
    known = {name: NameKnown(True) for name in wanted.names}
    return replace(judge_visit(wanted, Walked(ways, {}, {}), known, now), ahead=True)


def builder_check(case: Case) -> Exchange[EdgeSeen]:
    """Whether the builder's servers already serve the primary address, and with a good certificate."""
    wanted = case.wanted
    checked = (yield from _look_up(wanted)).up
    address = edge_address(wanted, checked, wanted.primary)
    if address is None:
        now = yield from time()
        return EdgeSeen(now, None)
    name = shown(wanted.primary)
    at_edge = {wanted.primary: address}
    (plain, secure) = yield [Follow(f"http://{name}/", at_edge), Follow(f"https://{name}/", at_edge)]
    now = yield from time()
    first: Hop = plain[0]
    good = secure[0].certificate is not None and secure[0].certificate.state in ("good", "ending")
    knows = None if first.status is None else first.status not in UNKNOWN_HERE
    return EdgeSeen(now, knows, bool(good and secure[0].status not in UNKNOWN_HERE))


def _look_up(wanted: Wanted, through: bool = False, also: Sequence[Name] = ()) -> Exchange[NamesChecked]:
    """The names and those of `also`, looked up, and whether the parent names the wanted servers, by its own walk."""
    names = list(dict.fromkeys([*names_to_resolve(wanted), *also]))
    at_source = [Addresses(name, True) for name in names] if through else []
    cut, *replies = yield [FindZone(wanted.domain), *(Addresses(name) for name in names), *at_source]
    over = wanted.hand_over
    handed_over = over is not None and isinstance(cut, Cut) and set(cut.names) == set(over.servers)
    up = dict(zip(names, replies[: len(names)], strict=True))
    return NamesChecked(up, handed_over, dict(zip(names, replies[len(names) :], strict=False)))


@dataclass(frozen=True, slots=True)
class _Home:
    """The home page, the pages of the same host that it links to, and what its usual second addresses answer."""

    last: Hop
    pages: Mapping[str, Markup]
    twins: Mapping[str, Hop]


def _walk(wanted: Wanted, checked: Mapping[Name, LookedUp]) -> Exchange[tuple[Walked, _Home, FreeAddress | None]]:
    """Everything that is tried on the web, at the same time."""
    names = [shown(name) for name in wanted.names]
    home_url = f"https://{shown(wanted.primary)}/"
    urls = [f"{scheme}://{name}/" for name in names for scheme in ("https", "http")]
    probes = [f"{url.removesuffix('/')}{PROBE}" for url in urls if url != home_url]
    probes += [f"http://{name}{CHALLENGE}" for name in names]
    twins = [f"{home_url.removesuffix('/')}{path}" for path in (*TWINS, NOWHERE)]
    free = [f"{s}://{shown(wanted.free_address)}/" for s in ("https", "http")] if wanted.free_address else []
    alone = [each for url in urls for each in _each_address(url, checked)]
    every = list(dict.fromkeys([*urls, *probes, *twins, home_url, *free]))
    pages, *replies = yield [
        Beside(_pages(home_url)),
        *(Follow(url) for url in every),
        *(FetchOnce(each) for each in alone),
    ]
    hops: dict[str, Hops] = dict(zip(every, replies[: len(every)], strict=True))
    tried: dict[str, list[AddressTried]] = {}
    for want, came in zip(alone, replies[len(every) :], strict=True):
        if came.trouble is not None and came.trouble.cause in ("not-asked", "no-time"):
            continue  # this says nothing about the address
        tried.setdefault(want.url, []).append(_tried(want, came))
    walked = Walked({url: hops[url] for url in urls}, {url: hops[url] for url in probes}, tried)
    single = {url: hops[url][0] for url in twins if len(hops[url]) == 1}
    state = free_address_state([hops[url] for url in free]) if free else None
    return walked, _Home(hops[home_url][-1], pages, single), state


def _pages(home_url: str) -> Exchange[dict[str, Markup]]:
    """The home page, and then the pages that it links to."""
    (hops,) = yield [Follow(home_url)]
    last: Hop = hops[-1]
    pages = {last.url: read_markup(last.page, last.url)}
    further = pages_to_read(pages[last.url], last.url) if last.page else []
    if further:
        read = yield [Follow(url) for url in further]
        pages |= {url: read_markup(way[-1].page, url) for url, way in zip(further, read, strict=True)}
    return pages


def _each_address(url: str, checked: Mapping[Name, LookedUp]) -> list[Fetch]:
    """Every address of the host of `url`, each to be asked for the page; none when there is only one."""
    host = urlsplit(url).hostname or ""
    addresses = checked[absolute(host)][0]
    secure = url.startswith("https:")
    if len(addresses) < 2:
        return []
    return [Fetch(url, host, 443 if secure else 80, secure, each) for each in addresses[:MOST_ADDRESSES]]


def _tried(want: Fetch, came: Fetched) -> AddressTried:
    words = of_trouble(came.trouble) if came.trouble else ""
    return AddressTried(want.address, came.status, words, came.certificate)


def _at_edge(url: str, edges: Mapping[Name, str]) -> Exchange[Hops]:
    """Addresses with which every name of the site is requested from the builder's servers."""
    (hops,) = yield [Follow(url, edges)]
    return tuple(hops)


def _ask_edge(
    wanted: Wanted, checked: Mapping[Name, LookedUp], walked: Walked, known: Mapping[Name, NameKnown]
) -> Exchange[dict[Name, NameKnown]]:
    """The builder is asked directly where redirects loop (is it healthy by itself?), and where DNS points
    elsewhere and the primary address answers all the same (is that its page, handed on by a proxy?)."""
    found = dict(known)
    edges = {name: address for name in wanted.names if (address := edge_address(wanted, checked, name))}
    for url, hops in walked.ways.items():
        name = absolute(urlsplit(url).hostname or ".")
        circle, mine = loops(hops), found[name]
        astray = not mine.right and not mine.forwarded and hops[-1].status == 200
        if name not in edges or not (circle or astray) or mine.edge_healthy is not None or mine.proxied:
            continue
        edge = yield from _at_edge(f"https://{shown(name)}/", edges)
        healthy = edge[-1].status is not None and edge[-1].status < 400 and not loops(edge)
        proxied = astray and healthy and _same_page(hops[-1], edge[-1])
        found[name] = replace(mine, edge_healthy=healthy, proxied=proxied)
    return found


def _same_page(one: Hop, other: Hop) -> bool:
    """Whether two answers are the same page at the same host: the same text, or at least the same title."""
    if urlsplit(one.url).hostname != urlsplit(other.url).hostname or not one.page:
        return False
    first, second = read_markup(one.page, one.url).title, read_markup(other.page, other.url).title
    return one.page == other.page or (bool(first) and first == second)


def _after_move(wanted: Wanted, found: Visit, home: _Home, free: FreeAddress | None) -> Visit:
    """The pages themselves, once the primary address arrives; the builder's free address at any time."""
    home_url = f"https://{shown(wanted.primary)}/"
    findings = list(found.findings)
    arrived = any(way.url == home_url and way.state == "arrived" for way in found.ways)
    if free == "gone" and wanted.free_address and not arrived:
        url = f"https://{shown(wanted.free_address)}/"
        findings.append(web_finding("free-address-silent", url, msg("free-address-silent")))
    if arrived and wanted.destination in ("", wanted.primary):
        findings += judge_pages(home.pages, home.last.url, wanted.free_address, home.twins, home.last.page)
        if free == "serving" and wanted.free_address:
            url = f"https://{shown(wanted.free_address)}/"
            findings.append(web_finding("free-address-serves", url, msg("free-address-serves")))
    return replace(found, findings=tuple(worst_first(one_each(findings))), free_address=free)


def _may_wait_for(
    case: Case, evidence: Evidence, found: Visit, known: Mapping[Name, NameKnown], findings: Sequence[Finding]
) -> tuple[Possibility, ...]:
    """Only where DNS is right at every name, as before that the builder has every reason to wait; and only until the
    site has arrived, as what breaks later is no wait."""
    if not all(each.right for each in known.values()) or evidence.arrived_at is not None:
        return ()
    since = max((each.since for each in known.values() if each.since is not None), default=None)
    survey = evidence.survey
    fresh = survey is not None and survey.at >= (since or 0.0)  # one from before the change tells of the old records
    findings = findings if fresh else ()
    by = evidence.spread.settled_by if evidence.spread else None
    return possibilities(Known(case.wanted, found.ways, findings, evidence.confirmed, since, by, found.at))


def together(visits: Sequence[Visit]) -> Visit:
    """The visits of a site's domains as one: the first with what the others add."""
    found, *more = visits
    for each in more:
        found = replace(
            found,
            verdict=max(found.verdict, each.verdict, key=get_args(VisitVerdict).index),
            ways=(*found.ways, *each.ways),
            findings=tuple(worst_first([*found.findings, *each.findings])),
            wait_until=max((at for at in (found.wait_until, each.wait_until) if at is not None), default=None),
            may_wait_for=(*found.may_wait_for, *each.may_wait_for),
            led=(*found.led, *each.led),
            expected=found.expected or each.expected,
        )
    return found
