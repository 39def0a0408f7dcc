"""Findings that can only come of typing, and which of those seen are certain."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from homepath.core.model.findings import Finding

SLIPS = frozenset({"near-miss", "name-doubled", "target-unfinished", "pasted-quote", "wrong-name", "alias-by-address"})
"""Nobody has such an entry before the job: it was typed, and not as it was meant."""
EXPLAINING = frozenset(
    {
        *("proof-differs", "address-set-incomplete", "address-elsewhere", "ipv6-elsewhere"),
        *("service-binding-elsewhere", "cname-not-alone", "cname-at-apex", "cname-twice"),
    }
)
"""Findings that explain what is wrong with an entry, once something was typed."""


def slips(findings: Iterable[Finding]) -> tuple[Finding, ...]:
    """What was typed and is not what was meant; waiting does not help, so each is in the way."""
    return tuple(replace(each, level="blocker") for each in findings if each.code in SLIPS)
