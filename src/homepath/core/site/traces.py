"""By what a builder is known in a zone: its own host names, its addresses, the records that its brief asks for."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from homepath.core.dns.names import BadName, Name, absolute, is_within, labels, parent
from homepath.core.dns.records import RecordSet
from homepath.core.dns.values import target
from homepath.core.model.brief import Brief, BriefRecord


@dataclass(frozen=True, slots=True)
class Traces:
    """`domains`: every name below them is the builder's. `addresses`: of its edge. `records`: what the brief asks for,
    in all its alternatives, filled with the site's values."""

    domains: frozenset[Name] = frozenset()
    addresses: frozenset[str] = frozenset()
    records: tuple[RecordSet, ...] = ()

    def owns(self, name: Name) -> bool:
        return any(is_within(name, domain) for domain in self.domains)

    def mine(self, record: RecordSet, value: str) -> bool:
        """Whether a value of a record set leads to the builder, or was asked for by it."""
        if record.type in ("A", "AAAA"):
            return value in self.addresses
        points = target(record.type, value)
        if points is not None and self.owns(points):
            return True
        one = RecordSet(record.name, record.type, 0, (value,)).meanings
        return any(each.key == record.key and one & each.meanings for each in self.records)


def all_records(brief: Brief) -> list[BriefRecord]:
    """Every record of the brief, whichever way would be gone."""
    return [
        *(*brief.apex, *brief.www, *brief.label, *brief.www_by_address, *brief.label_by_address),
        *(*brief.further, *brief.redirect_records, *brief.ownership),
    ]


def domains_of(names: Iterable[Name]) -> frozenset[Name]:
    """The builder's own domains, from names of its own: what stands above the name of one customer."""
    found = set()
    for name in names:
        above = parent(name)
        found.add(above if len(labels(above)) > 1 else name)
    return frozenset(found)


def own_names(texts: Iterable[str]) -> list[Name]:
    """Those of the texts that are full host names."""
    found = []
    for text in texts:
        try:
            name = absolute(text)
        except BadName:
            continue
        if len(labels(name)) > 1 and "{" not in name:
            found.append(name)
    return found
