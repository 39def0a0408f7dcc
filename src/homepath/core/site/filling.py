"""The brief's records with the site's values in their places, and the nameservers that take a domain over."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from homepath.core.dns.names import BadName, Name, absolute, child, is_within, labels, parent
from homepath.core.dns.records import RecordSet
from homepath.core.dns.values import BadValue, canonical, target, text_value
from homepath.core.message import Text, msg, reason
from homepath.core.model.brief import PLAIN_ZONE, Brief, BriefRecord, NewZone, Notation, Site
from homepath.core.model.plan import DesiredSet, Purpose
from homepath.core.model.problems import BadInput, Problem
from homepath.core.site.choices import Choice


@dataclass(frozen=True, slots=True, kw_only=True)
class HandOver:
    """Other nameservers take the domain over. `host`: who runs them. `by_builder`: they are the builder's own, and
    lead the website's names by themselves. `unsaid`: values of the brief that are not known yet: assigned servers."""

    servers: tuple[Name, ...]
    host: str
    by_builder: bool
    new_zone: NewZone = PLAIN_ZONE
    unsaid: tuple[str, ...] = ()


def traces_of(
    brief: Brief, filler: Filler, parts: Sequence[tuple[Name, Sequence[BriefRecord]]], domain: Name
) -> Traces:
    """By what the builder is known, whichever of its ways was gone."""
    bases = dict.fromkeys([domain, child("www", domain), *(name for name, _ in parts)])
    sets: list[RecordSet] = []
    for record in all_records(brief):
        here = bases if record not in (*brief.further, *brief.redirect_records, *brief.ownership) else [domain]
        sets += [filler.want(record, base, "website").record for base in here if record.type != ALIAS]
    aliases = [value for each in sets if each.type == "CNAME" for value in each.values]
    texts = [filler.fill(text) for text in (brief.free_address or "", brief.apex_alias or "", *brief.nameservers)]
    addresses = frozenset(value for each in sets if each.type in ("A", "AAAA") for value in each.values)
    names = [name for name in (*aliases, *own_names(filter(None, texts))) if not is_within(name, domain)]
    return Traces(domains_of(names), addresses, tuple(sets))


def hand_over_of(site: Site, brief: Brief, notation: Notation, choice: Choice, filler: Filler) -> HandOver | None:
    if choice.route == "records":
        return None
    if choice.by_move and site.move is not None:
        servers = tuple(absolute(server) for server in site.move.servers)
        return HandOver(servers=servers, host=notation.host, by_builder=False, new_zone=notation.new_zone)
    servers, unsaid = servers_of(filler, brief)
    return HandOver(servers=servers, host=brief.builder, by_builder=True, new_zone=brief.new_zone, unsaid=unsaid)


def servers_of(filler: Filler, brief: Brief) -> tuple[tuple[Name, ...], tuple[str, ...]]:
    """The builder's nameservers, and the values that are missing to know them all. Raises BadInput."""
    unsaid = tuple(name for name in late_values(brief) if not filler.values.get(name, "").strip())
    if unsaid:
        return (), unsaid
    try:
        return tuple(absolute(filler.fill(server)) for server in brief.nameservers), ()
    except BadName as error:
        raise BadInput(Problem(msg("taking-over.servers-of", error=reason(error)), brief.file)) from error


def late_values(brief: Brief) -> tuple[str, ...]:
    """The values that only the brief's nameservers need: the builder assigns those once it knows the domain."""
    elsewhere = (*brief.apex, *brief.www, *brief.label, *brief.ownership, *brief.further, *brief.redirect_records)
    elsewhere += (*brief.www_by_address, *brief.label_by_address)
    texts = " ".join(text for record in elsewhere for text in (*record.values, record.host))
    texts += f" {brief.free_address or ''} {brief.apex_alias or ''}"
    servers = " ".join(brief.nameservers)
    return tuple(v.name for v in brief.asked if f"{{{v.name}}}" in servers and f"{{{v.name}}}" not in texts)


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
        """Whether a value of a record set points to the builder, or was asked for by it."""
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
    """The builder's own domains, from names of its own: what is above the name of one customer."""
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
"""Means the DNS host's own kind of alias at the apex; on the wire it is seen as the target's addresses."""


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
    def desired(self) -> DesiredSet:
        return DesiredSet(*self.record.key, self.record.values, (), self.optional)

    @property
    def joined(self) -> bool:
        return self.desired.joined

    def met_by(self, present: RecordSet | None) -> bool:
        return self.desired.met_by(present)


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
