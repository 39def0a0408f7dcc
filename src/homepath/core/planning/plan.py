"""The whole plan from a case."""

from __future__ import annotations

from homepath.core.model.plan import Plan
from homepath.core.model.questions import negative_ttl
from homepath.core.model.records import Zone
from homepath.core.planning.difference import changes
from homepath.core.planning.guard import loss_findings, losses
from homepath.core.planning.job import job
from homepath.core.rules.catalogue import findings
from homepath.core.wanted.case import Case

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
        (*loss_findings(case, losses(case, job(case, moves))), *findings(case)),
        choice.reasons,
        choice.open,
        case.wanted.redirects,
    )


def absent_ttl(zone: Zone) -> int:
    """How long caches may remember that something is missing from this zone, in seconds (RFC 2308 section 5)."""
    soa = zone.get(zone.origin, "SOA")
    return negative_ttl(soa) if soa else UNKNOWN_ABSENT_TTL
