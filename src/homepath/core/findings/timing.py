"""Findings about how long caches remember."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

KINDS = (
    Kind(
        "ttl-long",
        "note",
        "RFC 1035 section 3.2.1, RFC 2181 section 8",
        "The record to be changed may be kept by caches for long.",
        "Some visitors see the old site until their cache lets go; nothing can speed that up afterwards.",
        "Lower the TTL first and wait the old one out, where a site is in use.",
        who="nobody",
        fixed_by="enter",
    ),
    Kind(
        "absence-cached",
        "note",
        "RFC 2308 section 5",
        "The zone lets caches remember for long that a name does not exist.",
        "Who asks too early waits for that time, although the record is there.",
        "Enter the record before anybody asks for it.",
        who="nobody",
        fixed_by="enter",
    ),
)
