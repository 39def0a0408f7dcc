"""Findings in words: one cause is one sentence, however many names show it."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.core.dns.names import shown
from homepath.core.model.findings import Finding

TITLES = {"blocker": "In the way", "risk": "To mend", "note": "Worth knowing"}


def by_cause(findings: Sequence[Finding]) -> list[tuple[str, list[Finding]]]:
    """One cause is said once, for all names that show it."""
    groups: dict[tuple[str, str], list[Finding]] = {}
    for finding in findings:
        groups.setdefault((finding.code, finding.cure), []).append(finding)
    return [(code, group) for (code, _), group in groups.items()]


def said(group: Sequence[Finding]) -> str:
    """What was seen, and the other names where the same was."""
    first, *more = group
    names = [shown(finding.name) for finding in more if finding.name != first.name]
    return first.message + (f" The same at {' and '.join(dict.fromkeys(names))}." if names else "")
