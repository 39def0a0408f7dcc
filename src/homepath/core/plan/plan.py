"""The whole plan from a case."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Literal

from homepath.core.dns.records import Zone
from homepath.core.dns.soa import negative_ttl
from homepath.core.findings.registry import finding, findings, kind_of
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.plan import Change, Plan
from homepath.core.plan.difference import changes, with_the_rest
from homepath.core.plan.going_back import undo_changes, undo_sightings
from homepath.core.plan.guard import loss_findings, losses
from homepath.core.plan.job import gone_there, job
from homepath.core.plan.leaving import leave_changes, leave_sightings
from homepath.core.plan.update import applied
from homepath.core.site.case import Case
from homepath.core.site.wanted import ALIAS, Going
from homepath.core.site.zone_facts import handed_over

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
        (*loss_findings(case, losses(case, job(case, moves))), *_still(case, moves, findings_on_the_way(case))),
        choice.reasons if going == "there" else (),
        choice.open if going == "there" else (),
        case.wanted.redirects if going == "there" else None,
    )


ROUTES: Mapping[Going, Literal["undo", "leave"]] = {"back": "undo", "away": "leave"}


def changes_on_the_way(case: Case) -> tuple[Change, ...]:
    """The changes of the way that is gone: there, back, or away from the builder."""
    over = case.wanted.hand_over is not None and not (case.wanted.going == "away" and handed_over(case))
    if over or case.wanted.going == "there":
        return changes(case)
    if case.wanted.going == "back":
        return with_the_rest(case, tuple(undo_changes(case, job(gone_there(case)))))
    return with_the_rest(case, tuple(leave_changes(case)))


def findings_on_the_way(case: Case) -> tuple[Finding, ...]:
    """The rules' findings; on the way back or away only those about the domain itself, and the way's own."""
    if case.wanted.going == "there":
        return findings(case)
    own = leave_sightings(case) if case.wanted.going == "away" else undo_sightings(case, job(gone_there(case)))
    said = [finding(code, s.name, s.type, s.message, s.cure, s.level) for code, s in own]
    return tuple(worst_first([*said, *(each for each in findings(case) if kind_of(each).about_domain)]))


def _still(case: Case, moves: Sequence[Change], found: Sequence[Finding]) -> tuple[Finding, ...]:
    """The findings, without blockers that are gone once the plan is carried out."""
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
