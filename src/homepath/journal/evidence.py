"""All that the journal knows of a domain, as one value."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TypeVar

from homepath.core.dns.names import Name
from homepath.core.model.evidence import EdgeSeen, Evidence
from homepath.core.model.survey import Compared, Spread, Survey
from homepath.core.model.visits import Visit
from homepath.core.web.known import HstsSeen, hsts_in_force
from homepath.journal.journal import FILE, Journal, open_journal

T = TypeVar("T")
MOST_HSTS = 50
"""Visits that saw HSTS and are taken into account, the newest."""


def evidence_in(folder: Path, domain: Name, now: float) -> Evidence:
    """The evidence that the folder's journal holds; nothing where there is no journal. Raises BadInput.

    Records later than `now` come from a clock that was set back: they are taken as of now.
    """
    if not (folder / FILE).exists():
        return Evidence()
    with open_journal(folder) as journal:
        return read_evidence(journal, domain, now)


def world_in(folder: Path, domain: Name) -> str:
    """In which world (`Network.world`) the domain was last checked from a folder; empty where it never was."""
    if not (folder / FILE).exists():
        return ""
    with open_journal(folder) as journal:
        return journal.last_change_of("world", domain)[1] or ""


def read_evidence(journal: Journal, domain: Name, now: float) -> Evidence:
    """What the journal holds; each part is read again only after something of it was written."""
    return journal.kept(domain, "", lambda: _read_evidence(journal, domain, now))


def _read_evidence(journal: Journal, domain: Name, now: float) -> Evidence:
    def last(kind: str, shape: type[T]) -> T | None:
        return journal.kept(domain, kind, lambda: journal.last_check(kind, domain, shape))

    def part(subject: str, read: Callable[[Name], T]) -> T:
        return journal.kept(domain, subject, lambda: read(domain))

    contents = part("contents", journal.contents)
    found = Evidence(
        survey=last("survey", Survey),
        contents=tuple(each if each.first_at <= now else replace(each, first_at=now) for each in contents),
        spread=last("watch", Spread),
        visit=last("visit", Visit),
        edge=last("edge", EdgeSeen),
        hsts=hsts_in_force(journal.looks("hsts", domain, HstsSeen, MOST_HSTS), now),
        confirmed={step: min(at, now) for step, at in part("told", journal.confirmed).items()},
        remembered=part("steps", journal.steps),
        visited_before=journal.was_checked("visit", domain),
        transfer_tried=journal.was_checked("transfer", domain),
        sent=part("changes", journal.sent),
        compared=last("compare", Compared),
        whole_seen=journal.was_checked("whole", domain),
        job_since=journal.last_change_of("job", domain)[0],
    )
    arrived = journal.last_change_of("arrived", domain)[0]
    if arrived is not None and arrived >= (found.job_since or 0.0):
        found = replace(found, arrived_at=arrived)
    return replace(found, left_out=tuple(dict.fromkeys(journal.left_out)))
