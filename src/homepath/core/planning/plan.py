"""The whole plan from a case."""

from __future__ import annotations

from homepath.core.model.plan import Plan, Redirecting
from homepath.core.model.questions import negative_ttl
from homepath.core.model.records import Zone
from homepath.core.planning.difference import changes
from homepath.core.planning.steps import steps
from homepath.core.rules.catalogue import findings
from homepath.core.wanted.case import Case

UNKNOWN_ABSENT_TTL = 10800
"""Seconds; the longest that RFC 2308 section 5 recommends caches to keep a negative answer, where no SOA was seen."""


def make_plan(case: Case) -> Plan:
    """Changes, findings and steps for the way chosen."""
    moves = changes(case)
    absent = absent_ttl(case.zone)
    choice = case.wanted.choice
    return Plan(
        case.domain,
        case.wanted.primary,
        choice.route,
        moves,
        findings(case),
        steps(case, moves, absent),
        choice.reasons,
        choice.open,
        _redirecting(case),
    )


def _redirecting(case: Case) -> Redirecting | None:
    there = case.wanted.redirects
    return Redirecting(there.place, there.names, there.secure, there.reason, there.others) if there else None


def absent_ttl(zone: Zone) -> int:
    """How long caches may remember that something is missing from this zone, in seconds (RFC 2308 section 5)."""
    soa = zone.get(zone.origin, "SOA")
    return negative_ttl(soa) if soa else UNKNOWN_ABSENT_TTL
