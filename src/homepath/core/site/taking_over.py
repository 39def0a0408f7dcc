"""Who takes a domain over, by which name servers, and by what a builder is known in a zone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from homepath.core.dns.names import BadName, Name, absolute, child, is_within
from homepath.core.dns.records import RecordSet
from homepath.core.message import msg, reason
from homepath.core.model.brief import PLAIN_ZONE, Brief, BriefRecord, NewZone, Notation, Site
from homepath.core.model.problems import BadInput, Problem
from homepath.core.site.choices import Choice
from homepath.core.site.filling import ALIAS, Filler, Traces, all_records, domains_of, own_names


@dataclass(frozen=True, slots=True, kw_only=True)
class HandOver:
    """Other name servers take the domain over. `host`: who runs them. `by_builder`: they are the builder's own, and
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
    """The builder's name servers, and the values that are missing to know them all. Raises BadInput."""
    unsaid = tuple(name for name in late_values(brief) if not filler.values.get(name, "").strip())
    if unsaid:
        return (), unsaid
    try:
        return tuple(absolute(filler.fill(server)) for server in brief.nameservers), ()
    except BadName as error:
        raise BadInput(Problem(msg("taking-over.servers-of", error=reason(error)), brief.file)) from error


def late_values(brief: Brief) -> tuple[str, ...]:
    """The values that only the brief's name servers need: the builder assigns those once it knows the domain."""
    elsewhere = (*brief.apex, *brief.www, *brief.label, *brief.ownership, *brief.further, *brief.redirect_records)
    elsewhere += (*brief.www_by_address, *brief.label_by_address)
    texts = " ".join(text for record in elsewhere for text in (*record.values, record.host))
    texts += f" {brief.free_address or ''} {brief.apex_alias or ''}"
    servers = " ".join(brief.nameservers)
    return tuple(v.name for v in brief.asked if f"{{{v.name}}}" in servers and f"{{{v.name}}}" not in texts)
