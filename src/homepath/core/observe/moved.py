"""Whether the builder has moved: the brief's addresses serve nothing, its own host name points elsewhere."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from homepath.core.dns.names import ROOT, Name, shown
from homepath.core.dns.records import ADDRESS_TYPES, RecordSet, Zone
from homepath.core.findings.registry import kind_of
from homepath.core.message import Text, msg
from homepath.core.model.findings import Finding, Level, worst_first
from homepath.core.model.visits import Hop, Visit
from homepath.core.observe.requests import Exchange, FetchOnce, Follow
from homepath.core.site.wanted import Wanted
from homepath.core.web.hops import UNKNOWN_HERE, Fetch, Fetched
from homepath.core.web.known import web_finding
from homepath.core.web.markup import read_markup

MOST_ASKED = 4
"""Addresses of each side that are tried."""


@dataclass(frozen=True, slots=True)
class Apart:
    """Addresses that the brief wants at a name, none of which the builder's own host name points to."""

    want: RecordSet
    theirs: tuple[str, ...]


def apart(wanted: Wanted, edge: Callable[[str], Sequence[str]]) -> Iterator[Apart]:
    """Every such set. `edge`: the addresses of the builder's own host name, by type."""
    if wanted.edge == ROOT or wanted.going != "there" or not wanted.choice.by_records:
        return
    for name in wanted.web_names:
        for want in wanted.at(name):
            theirs = tuple(edge(want.record.type)) if want.record.type in ADDRESS_TYPES else ()
            if theirs and not set(theirs) & set(want.record.values):
                yield Apart(want.record, theirs)


def moved_check(wanted: Wanted, outside: Zone) -> Exchange[tuple[RecordSet, ...]]:
    """The record sets of the brief that are outdated: asked over http before anything is entered."""
    found = []
    for each in apart(wanted, lambda rrtype: outside.values(wanted.edge, rrtype)):
        host = shown(each.want.name)
        mine, theirs = each.want.values[:MOST_ASKED], each.theirs[:MOST_ASKED]
        replies = yield [FetchOnce(Fetch(f"http://{host}/", host, 80, False, at)) for at in (*mine, *theirs)]
        if outdated(replies[: len(mine)], replies[len(mine) :]):
            found.append(each.want)
    return tuple(found)


def outdated(at_brief: Sequence[Fetched], at_edge: Sequence[Fetched]) -> bool:
    """The builder serves the name at its own host name's address and not at the brief's; or the one is silent and the
    other is not. Where both answer, or neither does, no one can tell."""
    if any(_serves(each.status) for each in at_brief):
        return False
    if any(_serves(each.status) for each in at_edge):
        return True
    return all(each.status is None for each in at_brief) and any(each.status is not None for each in at_edge)


def _serves(status: int | None) -> bool:
    return status is not None and status not in UNKNOWN_HERE and status < 500


def moved_visit(
    wanted: Wanted,
    found: Visit,
    edge: Callable[[str], Sequence[str]],
    right: Callable[[Name], bool],
    overdue: Callable[[Name], bool],
) -> Exchange[Visit]:
    """The visit, where names that point to the brief's addresses do not arrive because the builder is elsewhere by now.

    That is no waiting for a certificate: no authority will find the site there. Where both sides answer alike no one
    can tell; once the usual wait is over (`overdue`) it is worth knowing all the same.
    """
    gone: list[Apart] = []
    apart_still: list[Apart] = []
    for each in apart(wanted, edge):
        ways = [way for way in found.ways if way.url.partition("//")[2].rstrip("/") == shown(each.want.name)]
        if not right(each.want.name) or not ways or any(way.state == "arrived" for way in ways):
            continue
        url = f"http://{shown(each.want.name)}/"
        (hops,) = yield [Follow(url, {each.want.name: each.theirs[0]})]
        here = [hop for way in ways for hop in way.hops[:1]]
        if _elsewhere(here, hops[0]):
            gone.append(each)
        elif overdue(each.want.name) and each.want.key not in wanted.trusted:
            apart_still.append(each)
    names = {each.want.name for each in gone}
    kept = [each for each in found.findings if not (each.name in names and kind_of(each).builder_shows)]
    moved = [
        _finding_of(each, msg("moved.moved-visit", mine=_mine(each), theirs=_theirs(each, wanted))) for each in gone
    ]
    for each in apart_still:
        words = msg("moved.moved-visit.words", mine=_mine(each), theirs=_theirs(each, wanted))
        moved.append(_finding_of(each, words, "risk"))
    if not moved:
        return found
    found = replace(found, findings=tuple(worst_first([*kept, *moved])))
    return replace(found, verdict="broken", wait_until=None) if gone else found


def _finding_of(each: Apart, words: Text, level: Level | None = None) -> Finding:
    return web_finding("brief-outdated", f"https://{shown(each.want.name)}/", words, level)


def _mine(each: Apart) -> str:
    return ", ".join(each.want.values)


def _theirs(each: Apart, wanted: Wanted) -> Text:
    return msg("moved.theirs", edge=wanted.edge, theirs=tuple(each.theirs))


def _elsewhere(here: Sequence[Hop], there: Hop) -> bool:
    """The builder serves the name at its own host name's address, and the brief's address answers something else."""
    if not _serves(there.status):
        return all(hop.status is None for hop in here) and there.status is not None
    plain = [hop for hop in here if hop.url.startswith("http://") and _serves(hop.status)]
    return not any(_same(hop, there) for hop in plain)


def _same(one: Hop, other: Hop) -> bool:
    if one.location or other.location:
        return one.location == other.location
    first, second = read_markup(one.page, one.url).title, read_markup(other.page, other.url).title
    return one.page == other.page or (bool(first) and first == second)
