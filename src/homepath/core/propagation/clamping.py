"""Resolvers that keep answers longer than their TTL (RFC 8767, and floors that operators set)."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from homepath.core.model.findings import Finding
from homepath.core.model.names import shown
from homepath.core.model.readings import RecordSpread
from homepath.core.model.records import Key
from homepath.core.model.times import lasting


def clamped(records: Sequence[RecordSpread], longest: Mapping[Key, int]) -> Iterator[Finding]:
    """One finding for each resolver that counts down from more than any authoritative server ever gave.

    `longest`: the highest TTL ever given for a record set, in seconds; sets without one are left out.
    """
    spoken = set()
    for record in records:
        most = longest.get((record.name, record.type), 0)
        for reading in record.readings:
            above = reading.ttl if reading.role == "resolver" and reading.values else None
            if most and above is not None and above > most and reading.vantage not in spoken:
                spoken.add(reading.vantage)
                yield Finding(
                    "ttl-clamped",
                    "note",
                    record.name,
                    record.type,
                    f"{reading.vantage} keeps {shown(record.name)} for {lasting(above)}, "
                    f"although the domain's servers say {lasting(most)}.",
                    "Its own countdown counts; nothing can be done from here.",
                    "RFC 8767 section 4, RFC 2181 section 8",
                )
