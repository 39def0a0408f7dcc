"""Station seven: every way in, as a browser would take it, with our own look at DNS."""

from __future__ import annotations

import asyncio
from collections.abc import Mapping
from dataclasses import dataclass, replace
from urllib.parse import urlsplit

from homepath.core.formats.contracts.visit import visit_json
from homepath.core.model.findings import worst_first
from homepath.core.model.names import Name, absolute, shown
from homepath.core.model.problems import CouldNotLook
from homepath.core.model.times import from_rfc3339
from homepath.core.model.visits import FreeAddress, Hop, Possibility, Visit
from homepath.core.rules.catalogue import findings as all_findings
from homepath.core.wanted.wanted import ALIAS, Wanted
from homepath.core.web.after_move import TWINS, free_address_state, judge_pages, pages_to_read
from homepath.core.web.findings import one_each, web_finding
from homepath.core.web.markup import Markup, read_markup
from homepath.core.web.pending import Known, possibilities
from homepath.core.web.redirects import CHALLENGE, PROBE
from homepath.core.web.ways import Ground, Walked, judge_visit, loops
from homepath.journal.journal import open_journal
from homepath.net.network_file import Network
from homepath.stations.grounds import grounds_of
from homepath.stations.project import Project
from homepath.stations.travelling import Traveller, chosen_resolver, traveller


async def visit(project: Project, network: Network, through: str | None = None) -> Visit:
    """Visit http and https at every name of the site and of its further domains.

    `through`: label or address of a resolver to look names up with, instead of the authoritative servers. Raises
    CouldNotLook when no name server could be asked, BadInput for an unknown resolver.
    """
    projects = [project, *(project.further(domain) for domain in project.site.also)]
    found, *more = await asyncio.gather(*(_visit_one(each, network, through) for each in projects))
    for each in more:
        found = replace(
            found,
            verdict=max(found.verdict, each.verdict, key=("arrived", "waiting", "broken").index),
            ways=(*found.ways, *each.ways),
            findings=tuple(worst_first([*found.findings, *each.findings])),
            wait_until=max((at for at in (found.wait_until, each.wait_until) if at is not None), default=None),
            may_wait_for=(*found.may_wait_for, *each.may_wait_for),
        )
    return _kept(project, found)


async def _visit_one(project: Project, network: Network, through: str | None) -> Visit:
    """One domain: each way plainly and with a path and a query, and each address alone."""
    wanted = project.wanted
    server = chosen_resolver(network, through) if through else None
    guide = traveller(network, wanted.free_address, server)
    walked, grounds, home, free = await asyncio.gather(
        _walk(wanted, guide), grounds_of(project, guide), _read_home(wanted, guide), _free_address(wanted, guide)
    )
    if all(ground.detail.startswith("no server of") for ground in grounds.values()):
        raise CouldNotLook(next(iter(grounds.values())).detail, "Check the connection, or the network file.")
    grounds = await _ask_edge(wanted, guide, walked, grounds)
    found = judge_visit(wanted, walked, grounds, network.clock.now())
    found = _after_move(wanted, found, home, free)
    return replace(found, may_wait_for=_may_wait_for(project, found, grounds))


async def ahead(project: Project, network: Network) -> Visit:
    """Ask the builder's edge for the site under its new names, wherever DNS leads today.

    Raises CouldNotLook when the brief names no address of the edge that can be asked.
    """
    wanted = project.wanted
    guide = traveller(network, wanted.free_address)
    edges = {name: await edge_address(wanted, guide, name) for name in wanted.names}
    asked = {name: address for name, address in edges.items() if address is not None}
    if not asked:
        raise CouldNotLook(
            f"no address of {wanted.builder}'s edge is known, so it cannot be asked ahead",
            "With name servers handed over, the builder's servers answer only after the switch.",
        )
    pairs = [(f"{scheme}://{shown(name)}/", asked[name]) for name in asked for scheme in ("https", "http")]
    walks = await asyncio.gather(*(_at_edge(guide, url, asked) for url, _ in pairs))
    ways = {url: hops for (url, _), hops in zip(pairs, walks, strict=True)}
    grounds = {name: Ground(True) for name in wanted.names}
    return _kept(project, replace(judge_visit(wanted, Walked(ways, {}, {}), grounds, network.clock.now()), ahead=True))


async def _at_edge(guide: Traveller, url: str, edges: Mapping[Name, str]) -> tuple[Hop, ...]:
    """A way on which every name of the site is looked for at the edge."""
    hops: list[Hop] = []
    at: str | None = url
    while at is not None and len(hops) < 4:
        address = edges.get(absolute(urlsplit(at).hostname or "."))
        if address is None:
            hops += await guide.walk(at)
            break
        (hop, *more) = await guide.walk(at, address)
        hops.append(hop)
        at = more[0].url if more and all(more[0].url != each.url for each in hops) else None
    return tuple(hops)


async def _walk(wanted: Wanted, guide: Traveller) -> Walked:
    names = [shown(name) for name in wanted.names]
    urls = [f"{scheme}://{name}/" for name in names for scheme in ("https", "http")]
    probes = [f"{url.removesuffix('/')}{PROBE}" for url in urls if url != f"https://{shown(wanted.primary)}/"]
    probes += [f"http://{name}{CHALLENGE}" for name in names]
    addresses = asyncio.gather(*(guide.addresses(url, urlsplit(url).hostname or "") for url in urls))
    ways, tried, opened = await asyncio.gather(guide.walk_all(urls), guide.walk_all(probes), addresses)
    return Walked(ways, tried, dict(zip(urls, opened, strict=True)))


async def _ask_edge(
    wanted: Wanted, guide: Traveller, walked: Walked, grounds: Mapping[Name, Ground]
) -> dict[Name, Ground]:
    """The builder is asked directly where a way goes round in a circle (is it healthy by itself?), and where DNS leads
    elsewhere and the primary address answers all the same (is that its page, handed on by a proxy?)."""
    found = dict(grounds)
    edges = {name: address for name in wanted.names if (address := await edge_address(wanted, guide, name))}
    for url, hops in walked.ways.items():
        name = absolute(urlsplit(url).hostname or ".")
        circle, ground = loops(hops), found[name]
        astray = not ground.right and not ground.forwarded and hops[-1].status == 200
        if name not in edges or not (circle or astray) or ground.edge_healthy is not None or ground.proxied:
            continue
        edge = await _at_edge(guide, f"https://{shown(name)}/", edges)
        healthy = edge[-1].status is not None and edge[-1].status < 400 and not loops(edge)
        found[name] = replace(
            ground, edge_healthy=healthy, proxied=astray and healthy and _same_page(hops[-1], edge[-1])
        )
    return found


def _same_page(one: Hop, other: Hop) -> bool:
    """Whether two answers are the same page at the same host: the same text, or at least the same title."""
    if urlsplit(one.url).hostname != urlsplit(other.url).hostname or not one.page:
        return False
    first, second = read_markup(one.page, one.url).title, read_markup(other.page, other.url).title
    return one.page == other.page or (bool(first) and first == second)


@dataclass(frozen=True, slots=True)
class _Home:
    """The home page, the pages of the same host that it links to, and what its usual second addresses answer."""

    last: Hop
    pages: Mapping[str, Markup]
    twins: Mapping[str, Hop]


async def _read_home(wanted: Wanted, guide: Traveller) -> _Home:
    """Read along while other ways are still walked; whether it counts is decided afterwards."""
    home_url = f"https://{shown(wanted.primary)}/"
    twins = [f"{home_url.removesuffix('/')}{path}" for path in TWINS]
    tried = asyncio.ensure_future(guide.walk_all(twins))
    last = (await guide.walk(home_url))[-1]
    markup = read_markup(last.page, last.url)
    read = await guide.walk_all(pages_to_read(markup, last.url) if last.page else [])
    pages = {last.url: markup, **{url: read_markup(hops[-1].page, url) for url, hops in read.items()}}
    return _Home(last, pages, {url: hops[0] for url, hops in (await tried).items() if len(hops) == 1})


def _after_move(wanted: Wanted, found: Visit, home: _Home, free: FreeAddress | None) -> Visit:
    """The pages themselves, once the primary address arrives; the builder's free address at any time."""
    home_url = f"https://{shown(wanted.primary)}/"
    findings = list(found.findings)
    arrived = any(way.url == home_url and way.state == "arrived" for way in found.ways)
    if arrived and wanted.destination in ("", wanted.primary):
        findings += judge_pages(home.pages, home.last.url, wanted.free_address, home.twins, home.last.page)
        if free == "serving" and wanted.free_address:
            url = f"https://{shown(wanted.free_address)}/"
            findings.append(web_finding("free-address-serves", url, "it serves the site too"))
    return replace(found, findings=tuple(worst_first(one_each(findings))), free_address=free)


async def _free_address(wanted: Wanted, guide: Traveller) -> FreeAddress | None:
    if wanted.free_address is None:
        return None
    urls = [f"{scheme}://{shown(wanted.free_address)}/" for scheme in ("https", "http")]
    return free_address_state(list((await guide.walk_all(urls)).values()))


def _kept(project: Project, found: Visit) -> Visit:
    with open_journal(project.folder) as journal:
        kind = "visit-ahead" if found.ahead else "visit"
        journal.record_look(found.at, kind, project.domain, found.verdict, visit_json(found))
    return found


def _may_wait_for(project: Project, found: Visit, grounds: Mapping[Name, Ground]) -> tuple[Possibility, ...]:
    """Only where DNS is right at every name: before that, the builder has every reason to wait."""
    if not all(ground.right for ground in grounds.values()):
        return ()
    before = project.before
    with open_journal(project.folder) as journal:
        marks, last = journal.marks(project.domain), journal.last_look("watch", project.domain)
    by = last.body.get("settled_by") if last else None
    since = max((ground.since for ground in grounds.values() if ground.since is not None), default=None)
    fresh = before is not None and before.at >= (since or 0.0)  # one from before the change tells of the old records
    findings = all_findings(project.case_of(before)) if before and fresh else ()
    known = Known(project.wanted, found.ways, findings, marks, since, from_rfc3339(by) if by else None, found.at)
    return possibilities(known)


async def builder_knows(project: Project, network: Network) -> bool | None:
    """Ask the builder's edge for the primary address while DNS may still point elsewhere.

    None when the edge could not be asked.
    """
    wanted = project.wanted
    guide = traveller(network, wanted.free_address)
    address = await edge_address(wanted, guide, wanted.primary)
    if address is None:
        return None
    (hop, *_) = await guide.walk(f"http://{shown(wanted.primary)}/", address)
    if hop.status is None:
        return None
    return hop.status not in (404, 410, 421)


async def edge_address(wanted: Wanted, guide: Traveller, name: Name) -> str | None:
    """An address of the builder's edge, as the brief wants it for `name`; None where it names none."""
    for want in wanted.at(name):
        if want.record.type in ("A", "AAAA"):
            return want.record.values[0]
        if want.record.type in ("CNAME", ALIAS):
            addresses, _, _ = await guide.names(want.record.values[0])
            return addresses[0] if addresses else None
    return None
