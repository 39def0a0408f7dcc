"""Findings about how long caches remember, and about what is only waited for."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.records import WEB_TYPES
from homepath.core.dns.soa import negative_ttl
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import msg
from homepath.core.site.case import Case

KINDS = (
    Kind("resolver-answers-for-itself", "note", "RFC 1034 section 4.3.1, RFC 6761 section 6.4", who="resolver"),
    Kind("ttl-clamped", "note", "RFC 8767 section 4, RFC 2181 section 8", who="resolver"),
    Kind("several-caches", "note", "RFC 1034 section 4.3.5", who="resolver"),
    Kind("clock-set-back", "note", "RFC 1035 section 3.2.1"),
    Kind("ttl-long", "note", "RFC 1035 section 3.2.1, RFC 2181 section 8", who="nobody", fixed_by="enter"),
    Kind("absence-cached", "note", "RFC 2308 section 5", who="nobody", fixed_by="enter"),
)


LONG_TTL = 3600
"""Seconds; an old answer that lives longer than this is worth lowering first when a site is in use."""
LONG_ABSENCE = 300
"""Seconds; a shorter wait is over before a second check."""


def _ttl_long(case: Case) -> Iterator[Sighting]:
    for name in case.wanted.web_names:
        for record in case.zone.at(name):
            want = case.wanted.get(name, record.type)
            changes = record.type in WEB_TYPES and (want is None or not want.met_by(record))
            if changes and record.ttl > LONG_TTL:
                yield Sighting(
                    name,
                    record.type,
                    msg("ttl-long", type=record.type, name=name, ttl=record.ttl),
                    msg("ttl-long.cure"),
                )


def _absence_cached(case: Case) -> Iterator[Sighting]:
    soa = case.zone.get(case.domain, "SOA")
    if soa is None or negative_ttl(soa) <= LONG_ABSENCE:
        return
    waited_for = [
        want.record.name
        for want in case.wanted.wants
        if want.purpose in ("website", "proof of ownership") and want.record.name != case.domain
        if not case.zone.at(want.record.name) and not want.optional
    ]
    if waited_for:
        names = tuple(dict.fromkeys(waited_for))
        yield Sighting(
            waited_for[0],
            "",
            msg("absence-cached", names=names, negative_ttl=negative_ttl(soa)),
            msg("absence-cached.cure"),
        )


RULES = (Rule("ttl-long", _ttl_long), Rule("absence-cached", _absence_cached))
