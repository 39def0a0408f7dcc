"""Station seven: every way in, as a browser would take it, with our own look at DNS (N27, N29)."""

from __future__ import annotations

import asyncio
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

from homepath.core.formats.contracts.visit import visit_json
from homepath.core.model.history import Content, changed_at
from homepath.core.model.names import Name, shown
from homepath.core.model.problems import BadInput, CouldNotLook, Problem
from homepath.core.model.times import from_rfc3339
from homepath.core.model.visits import Hop, Possibility, Visit
from homepath.core.rules.authority import refusing_sets
from homepath.core.rules.catalogue import findings as all_findings
from homepath.core.wanted.wanted import ALIAS, Wanted
from homepath.core.web.hops import Came, Fetch, Resolve, Resolved, follow
from homepath.core.web.pending import Known, possibilities
from homepath.core.web.ways import Ground, judge_visit
from homepath.journal.journal import open_journal
from homepath.net.asker import Asker
from homepath.net.fetch import fetch, load_anchors
from homepath.net.network_file import Network
from homepath.net.walker import Walker
from homepath.stations.project import Project

if TYPE_CHECKING:
    from cryptography.x509 import Certificate as X509

    from homepath.core.asking.walk import Found


@dataclass(slots=True)
class _Traveller:
    """Follows ways: looks names up once, fetches as asked."""

    network: Network
    walker: Walker
    anchors: list[X509]
    _known: dict[Name, asyncio.Task[tuple[tuple[str, ...], Found | None, str]]] = field(default_factory=dict)

    async def names(self, name: Name) -> tuple[tuple[str, ...], Found | None, str]:
        if name not in self._known:
            self._known[name] = asyncio.ensure_future(self.walker.addresses(name))
        return await self._known[name]

    async def walk(self, url: str, first_address: str | None = None) -> tuple[Hop, ...]:
        way = follow(url, first_address)
        came: Came | None = None
        while True:
            try:
                want = next(way) if came is None else way.send(came)
            except StopIteration as done:
                hops: tuple[Hop, ...] = done.value
                return hops
            came = await self._answer(want)

    async def _answer(self, want: Resolve | Fetch) -> Came:
        if isinstance(want, Fetch):
            return await fetch(want, self.network, self.anchors)
        addresses, _, why = await self.names(want.name)
        return Resolved(addresses, why)


def _traveller(network: Network) -> _Traveller:
    try:
        anchors = load_anchors(network.certificates)
    except (OSError, ValueError) as error:
        raise BadInput(
            Problem("this certificate bundle cannot be read", str(network.certificates), hint="it should be PEM text")
        ) from error
    return _Traveller(network, Walker(Asker(network)), anchors)


async def visit(project: Project, network: Network) -> Visit:
    """Visit http and https at every name of the site. Raises CouldNotLook when no name server could be asked."""
    wanted, traveller = project.wanted, _traveller(network)
    urls = [f"{scheme}://{shown(name)}/" for name in wanted.names for scheme in ("https", "http")]
    walks = await asyncio.gather(*(traveller.walk(url) for url in urls))
    grounds = {name: await _ground(project, traveller, name) for name in wanted.names}
    if all(ground.detail.startswith("no server of") for ground in grounds.values()):
        raise CouldNotLook(next(iter(grounds.values())).detail, "Check the connection, or the network file.")
    found = judge_visit(wanted, dict(zip(urls, walks, strict=True)), grounds, network.clock.now())
    found = replace(found, may_wait_for=_may_wait_for(project, found, grounds))
    with open_journal(project.folder) as journal:
        journal.record_look(found.at, "visit", project.domain, found.verdict, visit_json(found))
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
    findings = all_findings(project.case_of(before)) if before else ()
    known = Known(project.wanted, found.ways, findings, marks, since, from_rfc3339(by) if by else None, found.at)
    return possibilities(known)


async def _ground(project: Project, traveller: _Traveller, name: Name) -> Ground:
    addresses, found, why = await traveller.names(name)
    right, detail = await _leads_right(project, traveller, name, found)
    with open_journal(project.folder) as journal:
        past = journal.contents(project.domain)
    since = max(_since(project.wanted, name, past), default=None)
    return Ground(right, since, _forbidden(project, name), detail if addresses else why)


async def _leads_right(project: Project, traveller: _Traveller, name: Name, found: Found | None) -> tuple[bool, str]:
    """Whether DNS leads `name` where the brief says: by the builder's servers, an alias, or the wanted addresses."""
    wanted = project.wanted
    addresses = tuple(value for record in (found.sets if found else ()) for value in record.values)
    if wanted.choice.route == "nameservers":
        before = project.before.delegation if project.before else None
        handed = before is not None and set(before.servers) == set(wanted.nameservers)
        return handed and bool(addresses), f"its name servers are not {wanted.builder}'s yet"
    if name in wanted.forwarded:
        return bool(addresses), "it has no address; forward it in the DNS host's form"
    if alias := wanted.get(name, "CNAME"):
        chain = [value for record in (found.chain if found else ()) for value in record.values]
        right = alias.record.values[0] in chain and bool(addresses)
        return right, f"it should be an alias of {shown(alias.record.values[0])}"
    meant = {v for want in wanted.at(name) if want.record.type in ("A", "AAAA") for v in want.record.values}
    if flattened := wanted.get(name, ALIAS):
        meant = set((await traveller.names(flattened.record.values[0]))[0])
    stray = sorted(set(addresses) - meant)
    return bool(addresses) and not stray, f"it leads to {', '.join(stray)}" if stray else ""


def _since(wanted: Wanted, name: Name, past: list[Content]) -> list[float]:
    moments = (changed_at(past, want.record.key, want.record) for want in wanted.at(name))
    return [at for at in moments if at is not None]


def _forbidden(project: Project, name: Name) -> bool:
    """Whether the CAA records of the last survey forbid a certificate for `name`."""
    before = project.before
    return before is not None and any(refused == name for refused, _ in refusing_sets(project.case_of(before)))


async def builder_knows(project: Project, network: Network) -> bool | None:
    """Ask the builder's edge for the primary address while DNS may still point elsewhere (N26).

    None when the edge could not be asked.
    """
    wanted, traveller = project.wanted, _traveller(network)
    address = await _edge_address(wanted, traveller)
    if address is None:
        return None
    (hop, *_) = await traveller.walk(f"http://{shown(wanted.primary)}/", address)
    if hop.status is None:
        return None
    return hop.status not in (404, 410, 421)


async def _edge_address(wanted: Wanted, traveller: _Traveller) -> str | None:
    for want in wanted.at(wanted.primary):
        if want.record.type in ("A", "AAAA"):
            return want.record.values[0]
        if want.record.type == "CNAME":
            addresses, _, _ = await traveller.names(want.record.values[0])
            return addresses[0] if addresses else None
    return None
