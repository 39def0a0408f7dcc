"""Findings about ways in, in the words of their pages."""

from __future__ import annotations

from collections.abc import Sequence
from urllib.parse import urlsplit

from homepath.core.dns.names import Name
from homepath.core.findings.registry import finding
from homepath.core.message import Text, msg
from homepath.core.model.findings import Finding, Level


def web_finding(code: str, url: str, message: Text, level: Level | None = None) -> Finding:
    """A finding at the host of `url`; cure and standard, and the level where none is given, are those of its kind."""
    return finding(code, f"{urlsplit(url).hostname or ''}.", "", msg("at-url", url=url, message=message), level=level)


def one_each(findings: Sequence[Finding]) -> list[Finding]:
    """One finding of a kind for each name: its http and its https way say the same thing."""
    first: dict[tuple[str, Name], Finding] = {}
    for each in findings:
        first.setdefault((each.code, each.name), each)
    return list(first.values())
