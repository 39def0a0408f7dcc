"""A plan as one dynamic update: what must still be true, and what is then done (RFC 2136)."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from homepath.core.dns.names import Name
from homepath.core.dns.records import Key, RecordSet, Zone
from homepath.core.model.acts import Enter
from homepath.core.model.plan import Change, move_of

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

    Where a TTL changes with a set, the whole set is written anew: an RRset has one TTL (RFC 2181 section 5.2).
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
    """What the entries of an act make of each record set of `zone`."""
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
    """The values to take out; all of them where the TTL of a set changes, since it has one (RFC 2181 section 5.2)."""
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
