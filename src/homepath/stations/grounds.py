"""What is known of each name before its pages are judged: DNS, obstacles, earlier hsts."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.core.asking.walk import Found
from homepath.core.formats.contracts.visit import hsts_from_json
from homepath.core.model.history import Content, right_since_seen
from homepath.core.model.hsts import Hsts
from homepath.core.model.names import Name, shown
from homepath.core.rules.authority import refusing_sets
from homepath.core.wanted.wanted import ALIAS, Wanted
from homepath.core.web.ways import Ground
from homepath.journal.journal import open_journal
from homepath.stations.project import Project
from homepath.stations.travelling import Traveller


async def grounds_of(project: Project, traveller: Traveller) -> dict[Name, Ground]:
    """The ground of every name of the site."""
    with open_journal(project.folder) as journal:
        past, visits = journal.contents(project.domain), journal.looks("visit", project.domain)
    now = traveller.network.clock.now()
    hsts = hsts_from_json([(each.at, each.body) for each in visits], project.wanted.names, now)
    return {name: await _ground(project, traveller, name, past, hsts.get(name)) for name in project.wanted.names}


async def _ground(
    project: Project, traveller: Traveller, name: Name, past: Sequence[Content], hsts: Hsts | None
) -> Ground:
    addresses, found, why = await traveller.names(name)
    right, detail = await _leads_right(project, traveller, name, found)
    moments = (right_since_seen(past, want.meant) for want in project.wanted.at(name))
    since = max((at for at in moments if at is not None), default=None)
    forwarded = name in project.wanted.forwarded or bool(set(addresses) & set(project.notation.forwarding_addresses))
    obstacle = _obstacle(project, name, addresses, right, detail)
    return Ground(right, since, obstacle, detail if addresses else why, forwarded=forwarded, hsts=hsts)


async def _leads_right(project: Project, traveller: Traveller, name: Name, found: Found | None) -> tuple[bool, str]:
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
    meant = await _meant(wanted, traveller, name)
    stray = sorted(set(addresses) - meant)
    return bool(addresses) and not stray, f"it leads to {', '.join(stray)}" if stray else ""


async def _meant(wanted: Wanted, traveller: Traveller, name: Name) -> set[str]:
    if flattened := wanted.get(name, ALIAS):
        return set((await traveller.names(flattened.record.values[0]))[0])
    return {v for want in wanted.at(name) if want.record.type in ("A", "AAAA") for v in want.record.values}


def _obstacle(project: Project, name: Name, addresses: Sequence[str], right: bool, detail: str) -> str:
    """What keeps the builder's authority from issuing for `name`, in words; empty when nothing was found."""
    before = project.before
    if before is not None and any(refused == name for refused, _ in refusing_sets(project.case_of(before))):
        return "CAA records forbid the builder's authority to issue one"
    if before is not None and before.delegation and before.delegation.signatures == "broken":
        return "the domain's signatures are broken, so the authority's resolver refuses it"
    meant = {v for want in project.wanted.at(name) if want.record.type in ("A", "AAAA") for v in want.record.values}
    if not right and meant & set(addresses):
        return f"beside the builder's own addresses {detail.removeprefix('it ')}, where the authority may look instead"
    return ""
