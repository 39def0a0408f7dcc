"""Kinds of findings about what was to stay."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

KINDS = (
    Kind(
        "kept-record-gone",
        "blocker",
        "the journal",
        "An entry that has nothing to do with the website was there before, and is gone.",
        "What it served stops: mail is not delivered or not believed, another service is not found.",
        "Enter exactly what stood there. If you took it away on purpose, say so once.",
        fixed_by="put-back",
    ),
    Kind(
        "kept-record-changed",
        "blocker",
        "the journal",
        "An entry that has nothing to do with the website has other values than before.",
        "What it served may stop, or go somewhere else.",
        "Put back exactly what stood there. If you changed it on purpose, say so once.",
        fixed_by="put-back",
    ),
)
