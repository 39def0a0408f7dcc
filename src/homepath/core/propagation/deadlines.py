"""Until when a cache that keeps the rules can hold what is gone."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from homepath.core.dns.names import Name, is_within
from homepath.core.dns.records import Key
from homepath.core.model.acts import Cause, Wait
from homepath.core.model.history import Content, Copy, earlier_copies
from homepath.core.model.meant import Meant


def last_copy(contents: Sequence[Content], meants: Iterable[Meant], now: float) -> Wait | None:
    """The end of the wait for all of `meants`; None where every earlier content has run out in such caches.

    For each earlier content it is the moment at which the next one was first seen, plus its own TTL
    (RFC 1035 section 3.2.1), or the negative-caching time where nothing stood (RFC 2308 section 5). Where name servers
    changed, a cache may have fetched from the former ones as long as it held their names.
    """
    ends: list[tuple[float, Cause]] = []
    for meant in meants:
        copies = earlier_copies(contents, meant)
        ends += [(copy.dies, _cause(meant, copy)) for copy in copies]
        moved = moved_until(contents, meant.name, now) if meant.type != "NS" else None
        if moved is not None:
            ends.append((moved + max((copy.ttl for copy in copies), default=0), "parent"))
    latest = max(ends, default=None)
    if latest is None or latest[0] <= now:
        return None
    return Wait(math.ceil(latest[0]), latest[1])


def _cause(meant: Meant, copy: Copy) -> Cause:
    if meant.type in ("NS", "DS"):
        return "parent"
    return "absence" if copy.absent else "caches"


def moved_until(contents: Sequence[Content], name: Name, now: float) -> float | None:
    """Until when a cache may still ask the name servers of before; None where they never changed."""
    moves = {each.record.key for each in contents if each.record.type == "NS" and is_within(name, each.record.name)}
    ends = [copy.dies for key in moves for copy in earlier_copies(contents, _latest(contents, key))]
    return max((end for end in ends if end > now), default=None)


def _latest(contents: Sequence[Content], key: Key) -> Meant:
    """What the parent says now, else the zone."""
    mine = [each for each in contents if each.record.key == key]
    last = max(mine, key=lambda each: (each.source == "parent", each.last_at)).record
    return Meant(*key, last.values)
