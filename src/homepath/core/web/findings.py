"""Findings about ways in, in the words of their pages."""

from __future__ import annotations

from collections.abc import Sequence
from urllib.parse import urlsplit

from homepath.core.model.findings import Finding
from homepath.core.model.names import Name
from homepath.core.web.pages import PAGES


def web_finding(code: str, url: str, message: str) -> Finding:
    """A finding at the host of `url`; level, cure and standard are those of its page."""
    page = PAGES[code]
    host = urlsplit(url).hostname or ""
    return Finding(code, page.level, f"{host}.", "", f"{url}: {message}.", page.mend, page.standard)


def one_each(findings: Sequence[Finding]) -> list[Finding]:
    """One finding of a kind for each name: its http and its https way say the same thing."""
    first: dict[tuple[str, Name], Finding] = {}
    for finding in findings:
        first.setdefault((finding.code, finding.name), finding)
    return list(first.values())
