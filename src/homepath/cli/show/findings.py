"""Findings as text: what was seen, and the cure below it; and whether the site is up."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.cli.show.paper import Paper
from homepath.core.model.findings import Finding
from homepath.core.model.steps import Assessment
from homepath.core.wording.words import TITLES, by_cause, said, site_words


def show_site(sheet: Paper, assessment: Assessment) -> None:
    """Whether the site is up, on every screen."""
    if words := site_words(assessment):
        sheet.say(words)


def show_notes(sheet: Paper, findings: Sequence[Finding], title: str = "Worth knowing") -> None:
    """What needs no act."""
    if not findings:
        return
    sheet.heading(title)
    for code, group in by_cause(findings):
        sheet.say(f"{said(group)}  ({code})", 2)


def show_findings(sheet: Paper, findings: Sequence[Finding]) -> None:
    """Grouped by level, worst first."""
    for level, title in TITLES.items():
        found = [finding for finding in findings if finding.level == level]
        if found:
            sheet.heading(title)
        for code, group in by_cause(found):
            sheet.say(f"{said(group)}  ({code})", 2)
            sheet.say(group[0].cure, 4)
