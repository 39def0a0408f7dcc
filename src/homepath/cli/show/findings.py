"""Findings as text: what was seen, and the cure below it."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.cli.show.paper import Paper
from homepath.core.model.findings import Finding
from homepath.core.model.names import shown

_TITLES = {"blocker": "In the way", "risk": "To mend", "note": "Worth knowing"}


def show_notes(sheet: Paper, findings: Sequence[Finding], title: str = "Worth knowing") -> None:
    """What needs no act."""
    if not findings:
        return
    sheet.heading(title)
    for code, group in _by_cause(findings):
        sheet.say(f"{_said(group)}  ({code})", 2)


def _by_cause(findings: Sequence[Finding]) -> list[tuple[str, list[Finding]]]:
    """One cause is said once, for all names that show it."""
    groups: dict[tuple[str, str], list[Finding]] = {}
    for finding in findings:
        groups.setdefault((finding.code, finding.cure), []).append(finding)
    return [(code, group) for (code, _), group in groups.items()]


def _said(group: Sequence[Finding]) -> str:
    first, *more = group
    names = [shown(finding.name) for finding in more if finding.name != first.name]
    return first.message + (f" The same at {' and '.join(dict.fromkeys(names))}." if names else "")


def show_findings(sheet: Paper, findings: Sequence[Finding]) -> None:
    """Grouped by level, worst first."""
    for level, title in _TITLES.items():
        found = [finding for finding in findings if finding.level == level]
        if found:
            sheet.heading(title)
        for code, group in _by_cause(found):
            sheet.say(f"{_said(group)}  ({code})", 2)
            sheet.say(group[0].cure, 4)
