"""The whole plan from a case, and a signed update's part of it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from homepath.core.dns.names import Name
from homepath.core.dns.records import Key, RecordSet, Zone
from homepath.core.dns.soa import negative_ttl
from homepath.core.findings.registry import finding, findings, kind_of
from homepath.core.model.acts import Enter
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.plan import Change, Plan, move_of
from homepath.core.plan.difference import changes, with_kept_sets
from homepath.core.plan.going_back import undo_changes, undo_sightings
from homepath.core.plan.guard import loss_findings, losses
from homepath.core.plan.job import gone_there, job
from homepath.core.plan.leaving import leave_changes, leave_sightings
from homepath.core.site.case import Case
from homepath.core.site.wanted import ALIAS, Going
from homepath.core.site.zone_facts import handed_over

_SHIFTING = ("SOA", "RRSIG", "NSEC", "NSEC3")
"""Types that a server changes by itself, so their old values prove nothing."""


@dataclass(frozen=True, slots=True)
class Update:
    """`exact`: sets that must be there with just these values (section 2.4.2); `missing`: sets that must not be
    there (2.4.3); `unused`: names that must hold nothing (2.4.5). Then deletions of values, and additions."""

    zone: Name
    exact: tuple[RecordSet, ...]
    missing: tuple[Key, ...]
    unused: tuple[Name, ...]
    deleted: tuple[RecordSet, ...]
    added: tuple[RecordSet, ...]


def make_update(zone: Zone, changes: Iterable[Change]) -> Update:
    """The update that carries out `changes` on `zone`, and nothing if the zone is no longer that one.

    Where a TTL changes with a set, the whole set is rewritten: an RRset has one TTL (RFC 2181 section 5.2).
    """
    work = [change for change in changes if change.move != "keep"]
    touched = {change.name for change in work}
    exact = [record for record in zone if record.name in touched and record.type not in _SHIFTING]
    unused = tuple(sorted(name for name in touched if not zone.at(name)))
    missing = [(c.name, c.type) for c in work if not c.before and c.name not in unused]
    deleted, added = [], []
    for change in work:
        if change.before:
            deleted.append(RecordSet(change.name, change.type, 0, change.before))
        if change.values:
            added.append(RecordSet(change.name, change.type, change.ttl, change.values))
    return Update(zone.origin, tuple(exact), tuple(missing), unused, tuple(deleted), tuple(added))


def changes_of(zone: Zone, act: Enter) -> tuple[Change, ...]:
    """What the records of an act make of each record set of `zone`."""
    keys = dict.fromkeys((entry.name, entry.type) for entry in (*act.delete, *act.enter))
    return tuple(_change_of(zone, act, key) for key in keys)


def _change_of(zone: Zone, act: Enter, key: Key) -> Change:
    present = zone.get(*key)
    before = present.values if present else ()
    gone = {entry.value for entry in act.delete if (entry.name, entry.type) == key}
    come = [entry for entry in act.enter if (entry.name, entry.type) == key]
    values = tuple(sorted((set(before) - gone) | {entry.value for entry in come}))
    ttls = [entry.ttl for entry in come if entry.ttl is not None]
    old = present.ttl if present else None
    ttl = ttls[0] if ttls else old or 0
    return Change(move_of(key[1], before, values), *key, ttl, values, before, "other", "", old)


def deleted(change: Change) -> tuple[str, ...]:
    """The values to delete; all of them where the TTL of a set changes, since it has one (RFC 2181 section 5.2)."""
    return change.before if _retimed(change) else change.deleted


def entered(change: Change) -> tuple[str, ...]:
    return change.values if _retimed(change) else change.entered


def _retimed(change: Change) -> bool:
    stays = set(change.before) & set(change.values)
    return bool(stays) and change.before_ttl is not None and change.before_ttl != change.ttl


def applied(zone: Zone, changes: Iterable[Change]) -> Zone:
    """The zone as it is once all changes are entered."""
    sets = dict(zone.sets)
    for change in changes:
        sets.pop((change.name, change.type), None)
        if change.values:
            sets[(change.name, change.type)] = RecordSet(change.name, change.type, change.ttl, change.values)
    return Zone(zone.origin, sets)


UNKNOWN_ABSENT_TTL = 10800
"""Seconds; the longest that RFC 2308 section 5 recommends caches to keep a negative answer, where no SOA was seen."""


def make_plan(case: Case) -> Plan:
    """Changes and findings for the way chosen."""
    moves = changes_on_the_way(case)
    choice, going = case.wanted.choice, case.wanted.going
    return Plan(
        case.domain,
        case.wanted.primary,
        ROUTES.get(going, choice.route),
        moves,
        (*loss_findings(case, losses(case, job(case))), *_still(case, moves, findings_on_the_way(case))),
        choice.reasons if going == "there" else (),
        choice.open if going == "there" else (),
        case.wanted.redirects if going == "there" else None,
    )


ROUTES: Mapping[Going, Literal["undo", "leave"]] = {"back": "undo", "away": "leave"}


def changes_on_the_way(case: Case) -> tuple[Change, ...]:
    """The changes of the route: to the builder, back, or away from it."""
    over = case.wanted.hand_over is not None and not (case.wanted.going == "away" and handed_over(case))
    if over or case.wanted.going == "there":
        return changes(case)
    if case.wanted.going == "back":
        return with_kept_sets(case, tuple(undo_changes(case, job(gone_there(case)))))
    return with_kept_sets(case, tuple(leave_changes(case)))


def findings_on_the_way(case: Case) -> tuple[Finding, ...]:
    """The rules' findings; when going back or leaving only those about the domain itself, and the route's own."""
    if case.wanted.going == "there":
        return findings(case)
    own = leave_sightings(case) if case.wanted.going == "away" else undo_sightings(case, job(gone_there(case)))
    sightings = [finding(code, s.name, s.type, s.message, s.cure, s.level) for code, s in own]
    return tuple(worst_first([*sightings, *(each for each in findings(case) if kind_of(each).about_domain)]))


def _still(case: Case, moves: Sequence[Change], found: Sequence[Finding]) -> tuple[Finding, ...]:
    """The findings, without blockers that the plan itself removes."""
    if not any(kind_of(each).clash and each.level == "blocker" for each in found):
        return tuple(found)
    after = findings(replace(case, zone=applied(case.zone, [change for change in moves if change.type != ALIAS])))
    left = {(each.code, each.name, each.type) for each in after}
    return tuple(
        each
        for each in found
        if each.level != "blocker" or not kind_of(each).clash or (each.code, each.name, each.type) in left
    )


def absent_ttl(zone: Zone) -> int:
    """How long caches may remember that something is missing from this zone, in seconds (RFC 2308 section 5)."""
    soa = zone.get(zone.origin, "SOA")
    return negative_ttl(soa) if soa else UNKNOWN_ABSENT_TTL
