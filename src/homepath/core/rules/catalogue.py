"""All rules, and all of them applied."""

from __future__ import annotations

from homepath.core.model.findings import Finding, worst_first
from homepath.core.rules import records, services
from homepath.core.rules.rule import Case, Rule

RULES: tuple[Rule, ...] = (*records.RULES, *services.RULES)


def findings(case: Case) -> tuple[Finding, ...]:
    """Every finding of every rule, worst first."""
    return tuple(worst_first([finding for rule in RULES for finding in rule.find(case)]))
