"""Changes as entries of a form, in the order of typing: set by set, each old value next to the new one."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet
from homepath.core.model.acts import Enter, Entry, Where
from homepath.core.model.plan import Change
from homepath.core.plan.update import deleted, entered


def enter_act(changes: Sequence[Change], where: Where = "DNS host") -> Enter:
    """The act that makes these changes. A set that a name must lose before it can get another comes first."""
    ordered = in_typing_order(changes)
    delete = [Entry(c.name, c.type, value, c.before_ttl) for c in ordered for value in deleted(c)]
    enter = [Entry(c.name, c.type, value, c.ttl) for c in ordered for value in entered(c)]
    return Enter(tuple(delete), tuple(enter), where)


def in_typing_order(changes: Iterable[Change]) -> list[Change]:
    """Name by name as the plan has them; within a name what goes comes first, since an alias stands alone."""
    changes = [change for change in changes if change.move != "keep"]
    names: list[Name] = list(dict.fromkeys(change.name for change in changes))
    return sorted(changes, key=lambda change: (names.index(change.name), bool(change.values)))


def retimed(record: RecordSet, ttl: int, reason: str) -> Change:
    """The same set with another TTL."""
    return Change("replace", record.name, record.type, ttl, record.values, record.values, "website", reason, record.ttl)
