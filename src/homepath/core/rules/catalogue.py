"""All rules, and all of them applied."""

from __future__ import annotations

from homepath.core.model.findings import Finding, worst_first
from homepath.core.rules import (
    answers,
    authority,
    delegation,
    destinations,
    hsts,
    keystrokes,
    mail,
    ownership,
    registration,
    standing,
    timing,
)
from homepath.core.rules.rule import Rule
from homepath.core.site.case import Case

FAMILIES = (
    registration,
    delegation,
    answers,
    standing,
    destinations,
    keystrokes,
    ownership,
    mail,
    authority,
    hsts,
    timing,
)
RULES: tuple[Rule, ...] = tuple(rule for family in FAMILIES for rule in family.RULES)


def findings(case: Case) -> tuple[Finding, ...]:
    """Every finding of every rule, worst first."""
    return tuple(worst_first([finding for rule in RULES for finding in rule.find(case)]))
