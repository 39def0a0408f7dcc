"""All rules, and all of them applied."""

from __future__ import annotations

from homepath.core.findings.registry import FAMILIES, finding
from homepath.core.findings.rule import Rule, Sighting
from homepath.core.model.findings import Finding, worst_first
from homepath.core.site.case import Case

RULES: tuple[Rule, ...] = tuple(rule for family in FAMILIES for rule in getattr(family, "RULES", ()))


def findings(case: Case) -> tuple[Finding, ...]:
    """Every finding of every rule, worst first."""
    return tuple(worst_first([_found(rule.code, seen) for rule in RULES for seen in rule.check(case)]))


def _found(code: str, seen: Sighting) -> Finding:
    return finding(code, seen.name, seen.type, seen.message, seen.cure, seen.level)
