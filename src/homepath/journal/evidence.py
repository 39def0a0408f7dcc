"""All that the journal knows of a domain, as one value."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from homepath.core.dns.names import Name
from homepath.core.model.evidence import EdgeSeen, Evidence
from homepath.core.model.survey import Compared, Spread, Survey
from homepath.core.model.visits import Visit
from homepath.core.web.known import HstsSeen, hsts_in_force
from homepath.journal.journal import FILE, Journal, open_journal

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
    """What the journal holds, read again only after something was written."""
    state = journal.state
    before, known = journal.evidence.get(domain, (None, Evidence()))
    if before != state:
        known = _read_evidence(journal, domain, now)
        journal.evidence[domain] = state, known
    return known


def _read_evidence(journal: Journal, domain: Name, now: float) -> Evidence:
    found = Evidence(
        survey=journal.last_check("survey", domain, Survey),
        contents=tuple(
            each if each.first_at <= now else replace(each, first_at=now) for each in journal.contents(domain)
        ),
        spread=journal.last_check("watch", domain, Spread),
        visit=journal.last_check("visit", domain, Visit),
        edge=journal.last_check("edge", domain, EdgeSeen),
        hsts=hsts_in_force(journal.looks("hsts", domain, HstsSeen, MOST_HSTS), now),
        confirmed={step: min(at, now) for step, at in journal.confirmed(domain).items()},
        remembered=journal.steps(domain),
        visited_before=journal.was_checked("visit", domain),
        transfer_tried=journal.was_checked("transfer", domain),
        sent=journal.sent(domain),
        compared=journal.last_check("compare", domain, Compared),
        whole_seen=journal.was_checked("whole", domain),
        job_since=journal.last_change_of("job", domain)[0],
    )
    arrived = journal.last_change_of("arrived", domain)[0]
    if arrived is not None and arrived >= (found.job_since or 0.0):
        found = replace(found, arrived_at=arrived)
    return replace(found, left_out=tuple(dict.fromkeys(journal.left_out)))
