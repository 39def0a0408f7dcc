"""What the journal knows at the moment of a look of `watch`."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from homepath.core.model.history import Content, Heard, earlier_copies
from homepath.core.model.meant import Meant
from homepath.core.model.names import Name
from homepath.core.model.readings import Reading
from homepath.core.propagation.readings import Watched
from homepath.journal.journal import Journal, VerdictChange

REMEMBERED = 2 * 86400.0
"""Seconds of earlier answers that a look takes into account; longer than nearly every TTL."""


@dataclass(frozen=True, slots=True)
class Memory:
    """What the journal knows at the moment of a look. `jumped`: entries later than now were left out."""

    contents: list[Content]
    heard: list[Heard]
    verdicts: dict[tuple[str, str], VerdictChange]
    jumped: bool


def remember(journal: Journal, domain: Name, now: float, slack: float) -> Memory:
    """The journal's past as far as it is past: a clock that was set back leaves entries later than now."""
    contents = [replace(each, first_at=min(each.first_at, now)) for each in journal.contents(domain)]
    heard = journal.heard(domain, now - REMEMBERED)
    changes = {each.key: each for each in journal.verdict_changes(domain)}
    sane = [each for each in heard if each.answer.at <= now + slack]
    return Memory(contents, sane, changes, len(sane) < len(heard))


def moved_until(contents: Sequence[Content], name: Name, now: float) -> float | None:
    """Until when a cache may still ask the name servers of before; None where they never changed."""
    moves = {
        each.record.key
        for each in contents
        if each.record.type == "NS" and (name == each.record.name or name.endswith(f".{each.record.name}"))
    }
    ends = [copy.dies for key in moves for copy in earlier_copies(contents, _latest(contents, key))]
    return max((end for end in ends if end > now), default=None)


def _latest(contents: Sequence[Content], key: tuple[str, str]) -> Meant:
    """What the parent says now, else the zone."""
    mine = [each for each in contents if each.record.key == key]
    last = max(mine, key=lambda each: (each.source == "parent", each.last_at)).record
    return Meant(*key, last.values)


def settled_at(memory: Memory, watched: Watched, earlier: Sequence[Reading]) -> float | None:
    """When the last look said settled of the same wanted content; None if it said something else."""
    last = memory.verdicts.get(watched.key)
    if last is None or last.verdict != "settled":
        return None
    same = any(each.role == "authoritative" and each.state == "new" and each.at >= last.at - 60 for each in earlier)
    return last.at if same else None
