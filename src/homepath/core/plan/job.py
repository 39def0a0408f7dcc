"""Everything that the whole job sets or removes, from the first check on: what is watched, and what is not guarded."""

from __future__ import annotations

from collections.abc import Iterable, Sequence, Set
from dataclasses import replace

from homepath.core.dns.records import WEB_TYPES, Key
from homepath.core.model.evidence import Content, first_zone, right_since_seen, zone_before
from homepath.core.model.plan import Change, DesiredSet
from homepath.core.plan.difference import moves
from homepath.core.plan.going_back import undo_desired
from homepath.core.plan.leaving import leave_desired
from homepath.core.site.case import Case, once
from homepath.core.site.wanted import ALIAS
from homepath.core.site.zone_facts import handed_over


def gone_there(case: Case) -> Case:
    """The case before the decision to undo the change."""
    return replace(case, wanted=replace(case.wanted, going="there"))


def _given_up(case: Case) -> Iterable[DesiredSet]:
    """Going back to the former nameservers, none of the website's new records is wanted: they were never
    there."""
    for want in case.wanted.wants:
        if want.joined:
            yield DesiredSet(*want.record.key, (), want.record.values)


def desired_of(change: Change) -> DesiredSet | None:
    """What a change makes of a record set; None for one that is kept, and for a host's own kind of alias."""
    if change.move == "keep" or change.type == ALIAS:
        return None
    plain = DesiredSet(change.name, change.type, change.values)
    if plain.joined and change.before:
        return DesiredSet(change.name, change.type, change.entered, change.deleted)
    return plain


@once
def job(case: Case) -> tuple[DesiredSet, ...]:
    """Every set that is wanted, or is changed from what was seen first or is there now; each once. Nameservers are not
    among them."""
    found: dict[Key, DesiredSet] = {}
    over = case.wanted.hand_over
    if case.wanted.going == "back" and over is None:
        return undo_desired(case, job(gone_there(case)))
    if case.wanted.going == "away" and (over is None or handed_over(case)):
        return tuple(leave_desired(case))
    if over is not None and case.wanted.going != "there":
        return tuple(_given_up(case))
    if over is not None and (over.by_builder or not handed_over(case)):
        return ()
    for want in case.wanted.wants:
        if want.record.type == ALIAS:
            found |= {each.key: each for each in _flattened(case, want.record.name, want.record.values[0])}
        elif not want.optional or case.zone.get(*want.record.key) is not None:
            found[want.record.key] = want.desired
    # now, each set as first queried, which may be nothing, and as first seen: often the same
    zones = [case.zone]
    for past in (zone_before(case.domain, case.history), first_zone(case.domain, case.history)):
        zones += [] if past in zones else [past]
    now = moves(case)
    first = [change for zone in zones[1:] for change in moves(replace(case, zone=zone))]
    left = {(change.name, change.type) for change in now}
    for change in (*now, *(each for each in first if not _settled_otherwise(case, each, left))):
        desired = desired_of(change)
        if desired is not None and desired.key not in found:
            found[desired.key] = desired
        elif desired is not None and desired.without and desired.key in found:
            before = found[desired.key]
            found[desired.key] = replace(before, without=tuple(dict.fromkeys((*before.without, *desired.without))))
    for key in _web_sets_seen(case):
        found.setdefault(key, DesiredSet(*key))
    return tuple(found.values())


def _settled_otherwise(case: Case, change: Change, left: Set[Key]) -> bool:
    """Whether the owner made right in another way what a former change was for, such as deleting a CAA set to which a
    value was to be added: it is not as the change would have made it, and is not among what is `left` to change."""
    key = change.name, change.type
    if key in left or key in case.unknown or case.unseen_at(change.name):
        return False
    desired = desired_of(change)
    return desired is not None and not desired.met_by(case.zone.get(*key))


def right_since(case: Case, contents: Sequence[Content], desired: Sequence[DesiredSet]) -> float | None:
    """From when on all of it was seen to be right, Unix seconds; None where that moment is not known.

    Where nameservers change, the parent's word on them counts too.
    """
    moments = [right_since_seen(contents, each) for each in desired]
    if (over := case.wanted.hand_over) is not None:
        handed = [replace(each, source="zone") for each in contents if each.source == "parent"]
        moments.append(right_since_seen(handed, DesiredSet(case.domain, "NS", over.servers)))
    return max((at for at in moments if at is not None), default=None)


def _flattened(case: Case, name: str, target: str) -> Iterable[DesiredSet]:
    """An alias at the apex shows as its target's addresses."""
    there = [case.surroundings.get(target, rrtype) for rrtype in ("A", "AAAA")]
    return [DesiredSet(name, each.type, each.values) for each in there if each is not None]


def _web_sets_seen(case: Case) -> Iterable[Key]:
    """Web records ever seen at the website's names; those that no one wants there must be gone."""
    names, protected = set(case.wanted.web_names), case.wanted.protected
    return dict.fromkeys(
        each.record.key
        for each in case.history
        if each.record.type in WEB_TYPES
        and each.record.name in names
        and each.source == "zone"
        and each.record.values
        and each.record.key not in protected
    )
