"""Kinds of findings about what was to stay."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

KINDS = (
    Kind(
        "kept-record-gone",
        "blocker",
        "the journal",
        fixed_by="put-back",
    ),
    Kind(
        "kept-record-changed",
        "blocker",
        "the journal",
        fixed_by="put-back",
    ),
)
