"""The brief's records with the site's values in their places."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from homepath.core.dns.names import BadName, Name, absolute, child, is_within, labels, parent
from homepath.core.dns.records import RecordSet
from homepath.core.dns.values import BadValue, canonical, target, text_value
from homepath.core.message import Text, msg
from homepath.core.model.brief import Brief, BriefRecord
from homepath.core.model.meant import Meant
from homepath.core.model.plan import Purpose
from homepath.core.model.problems import BadInput, Problem


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


USUAL_TTL = 3600
"""Seconds; used where a brief names no TTL."""
ALIAS = "ALIAS"
"""Stands for the DNS host's own kind of alias at the apex; on the wire it is seen as the target's addresses."""


@dataclass(frozen=True, slots=True)
class Want:
    """A record set that must be there. Of a joined type, the values must be among others, else they are all.

    An `optional` one may be missing, but if it is there it must be this one.
    """

    record: RecordSet
    purpose: Purpose
    reason: Text
    optional: bool = False

    @property
    def meant(self) -> Meant:
        return Meant(*self.record.key, self.record.values, (), self.optional)

    @property
    def joined(self) -> bool:
        return self.meant.joined

    def met_by(self, present: RecordSet | None) -> bool:
        return self.meant.met_by(present)


@dataclass(frozen=True, slots=True)
class Filler:
    """Puts the site's values into the places of the brief."""

    values: Mapping[str, str]
    brief: Brief

    def fill(self, text: str) -> str:
        for name, value in self.values.items():
            text = text.replace("{" + name + "}", value.strip())
        return text

    def want(self, record: BriefRecord, base: Name, purpose: Purpose) -> Want:
        filled = [self.fill(value) for value in record.values]
        rrtype = "CNAME" if record.type == ALIAS else record.type
        try:
            name = child(self.fill(record.host), base)
            canonicals = tuple(text_value(value) if rrtype == "TXT" else canonical(rrtype, value) for value in filled)
        except (BadName, BadValue) as error:
            raise BadInput(
                Problem(
                    msg("filling.want", error=error.args[0]),
                    self.brief.file,
                    record.line or None,
                    seen=", ".join(filled),
                    hint=msg("filling.want.hint"),
                )
            ) from error
        place = msg("filling.want.place", file=self.brief.file, line=record.line) if record.line else self.brief.file
        ttl = USUAL_TTL if record.ttl is None else record.ttl
        reason = msg("filling.want.reason", builder=self.brief.builder, place=place)
        return Want(RecordSet(name, record.type, ttl, canonicals), purpose, reason, record.optional)
