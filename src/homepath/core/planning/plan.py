"""The whole plan from a case."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from homepath.core.model.findings import Finding
from homepath.core.model.plan import Change, Plan
from homepath.core.model.questions import negative_ttl
from homepath.core.model.records import Zone
from homepath.core.planning.difference import changes
from homepath.core.planning.guard import loss_findings, losses
from homepath.core.planning.job import job
from homepath.core.planning.update import applied
from homepath.core.rules.catalogue import findings
from homepath.core.wanted.case import Case
from homepath.core.wanted.wanted import ALIAS

UNKNOWN_ABSENT_TTL = 10800
"""Seconds; the longest that RFC 2308 section 5 recommends caches to keep a negative answer, where no SOA was seen."""


def make_plan(case: Case) -> Plan:
    """Changes and findings for the way chosen."""
    moves = changes(case)
    choice = case.wanted.choice
    return Plan(
        case.domain,
        case.wanted.primary,
        choice.route,
        moves,
        (*loss_findings(case, losses(case, job(case, moves))), *_still(case, moves, findings(case))),
        choice.reasons,
        choice.open,
        case.wanted.redirects,
    )


CLASHES = ("cname-not-alone", "mail-at-cname-name", "delegated-away", "cname-at-apex", "cname-twice")
"""Findings about what stands beside what; what the plan itself takes away is no clash."""


def _still(case: Case, moves: Sequence[Change], found: Sequence[Finding]) -> tuple[Finding, ...]:
    """The findings, without blockers that are gone once the plan is carried out."""
    if not any(each.code in CLASHES and each.level == "blocker" for each in found):
        return tuple(found)
    after = findings(replace(case, zone=applied(case.zone, [change for change in moves if change.type != ALIAS])))
    left = {(each.code, each.name, each.type) for each in after}
    return tuple(
        each
        for each in found
        if each.level != "blocker" or each.code not in CLASHES or (each.code, each.name, each.type) in left
    )


def absent_ttl(zone: Zone) -> int:
    """How long caches may remember that something is missing from this zone, in seconds (RFC 2308 section 5)."""
    soa = zone.get(zone.origin, "SOA")
    return negative_ttl(soa) if soa else UNKNOWN_ABSENT_TTL
