"""Findings as text: what was seen, and the cure below it."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.cli.show.paper import Paper
from homepath.core.model.findings import Finding

_TITLES = {"blocker": "In the way", "risk": "To mend", "note": "Worth knowing"}


def show_notes(sheet: Paper, findings: Sequence[Finding]) -> None:
    """What needs no act."""
    if not findings:
        return
    sheet.heading("Worth knowing")
    for finding in findings:
        sheet.say(f"{finding.message}  ({finding.code})", 2)


def show_findings(sheet: Paper, findings: Sequence[Finding]) -> None:
    """Grouped by level, worst first."""
    for level, title in _TITLES.items():
        found = [finding for finding in findings if finding.level == level]
        if found:
            sheet.heading(title)
        for finding in found:
            sheet.say(f"{finding.message}  ({finding.code})", 2)
            sheet.say(finding.cure, 4)
