"""All kinds of findings, the one way to make a finding of one, and all rules applied."""

from __future__ import annotations

from collections.abc import Mapping

from homepath.core.dns.names import Name
from homepath.core.findings import (
    answers,
    authority,
    delegation,
    destinations,
    hand_over,
    keystrokes,
    mail,
    misplaced,
    ownership,
    registration,
    timing,
    web,
)
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import Text
from homepath.core.model.findings import Finding, Level, worst_first
from homepath.core.site.case import Case


def findings(case: Case) -> tuple[Finding, ...]:
    """Every finding of every rule, worst first."""
    return tuple(worst_first([_found(rule.code, seen) for rule in RULES for seen in rule.check(case)]))


def _found(code: str, seen: Sighting) -> Finding:
    return finding(code, seen.name, seen.type, seen.message, seen.cure, seen.level)


FAMILIES = (
    registration,
    delegation,
    hand_over,
    answers,
    misplaced,
    destinations,
    keystrokes,
    ownership,
    mail,
    authority,
    timing,
    web,
)
KINDS: Mapping[str, Kind] = {kind.code: kind for family in FAMILIES for kind in family.KINDS}
RULES: tuple[Rule, ...] = tuple(rule for family in FAMILIES for rule in getattr(family, "RULES", ()))


def kind_of(each: Finding) -> Kind:
    """What there is to say of a finding's kind."""
    return KINDS[each.code]


def finding(
    code: str, name: Name, rrtype: str, message: Text, cure: Text | None = None, level: Level | None = None
) -> Finding:
    """A finding of a known kind; level and cure are the kind's own where none is given."""
    kind = KINDS[code]
    return Finding(code, level or kind.level, name, rrtype, message, kind.cure if cure is None else cure, kind.standard)
