"""Kinds of findings about caches, resolvers and clocks."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

KINDS = (
    Kind(
        "resolver-answers-for-itself",
        "note",
        "RFC 1034 section 4.3.1, RFC 6761 section 6.4",
        who="resolver",
    ),
    Kind(
        "ttl-clamped",
        "note",
        "RFC 8767 section 4, RFC 2181 section 8",
        who="resolver",
    ),
    Kind(
        "several-caches",
        "note",
        "RFC 1034 section 4.3.5",
        who="resolver",
    ),
    Kind(
        "clock-set-back",
        "note",
        "RFC 1035 section 3.2.1",
    ),
)
