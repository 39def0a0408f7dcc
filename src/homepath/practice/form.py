"""How a zone at the practice world's DNS host is edited: its form, with what forms do to what people type, and dynamic
updates (RFC 2136 section 3), all or nothing."""

from __future__ import annotations

from collections.abc import Mapping

import dns.rdataclass
import dns.rdatatype
import dns.rrset
import dns.update

from homepath.core.dns.names import BadName, Name, absolute, child, is_within
from homepath.core.dns.records import WEB_TYPES, Key, RecordSet, Zone
from homepath.core.dns.values import BadValue, canonical, text_value
from homepath.core.files.exports import read_master_file
from homepath.core.model.problems import BadInput, Problem
from homepath.practice.zones import ZoneId, Zones

TYPES = ("A", "AAAA", "CNAME", "TXT", "MX", "NS", "CAA", "SRV", "HTTPS", "SVCB", "TLSA", "DS")
"""What the form's list of types offers."""


def enter(zones: Zones, zone: ZoneId, host: str, rrtype: str, value: str, ttl: int, dot_needed: bool) -> RecordSet:
    """One more record, exactly as typed: the domain is added to every name, and to a target without final dot.

    Raises BadInput as a form would, in its own words.
    """
    record = _typed(zones.get(zone).origin, host, rrtype, value, ttl, dot_needed)
    sets = dict(zones.get(zone).sets)
    if not add(sets, record):
        raise BadInput(
            Problem("the form refuses it: a CNAME and other records cannot share a name", key=f"{host} {rrtype}")
        )
    zones.replace(zone, sets)
    return sets[record.key]


def delete(zones: Zones, zone: ZoneId, host: str, rrtype: str, value: str | None, dot_needed: bool) -> None:
    """Delete one record, or all of a type at a name. Raises BadInput when there is none."""
    sets, origin = dict(zones.get(zone).sets), zones.get(zone).origin
    name = _host(origin, host)
    found = sets.get((name, rrtype))
    gone = found.values if found else ()
    if value and rrtype in TYPES:
        gone = _typed(origin, host, rrtype, value, 0, dot_needed).values
    elif value:  # what the form shows but has no field for can only be deleted
        gone = (value,)
    if found is None or not set(gone) <= set(found.values):
        raise BadInput(Problem("the form shows no such entry", key=f"{host} {rrtype}", seen=value))
    left = tuple(each for each in found.values if each not in gone)
    if left:
        sets[found.key] = RecordSet(name, rrtype, found.ttl, left)
    else:
        del sets[found.key]
    zones.replace(zone, sets)


def put_address(zones: Zones, zone: ZoneId, host: str, address: str, ttl: int) -> None:
    """One address in place of everything that browsers follow at a name."""
    name = _host(zones.get(zone).origin, host)
    sets = {key: each for key, each in zones.get(zone).sets.items() if key[0] != name or key[1] not in WEB_TYPES}
    record = RecordSet(name, "A", ttl, (address,))
    zones.replace(zone, {**sets, record.key: record})


def _host(origin: Name, host: str) -> Name:
    try:
        return origin if host in ("@", "") else child(host.removesuffix("."), origin)
    except BadName as error:
        raise BadInput(Problem(f"the form refuses the name: {error}", key="NAME", seen=host)) from error


def _typed(origin: Name, host: str, rrtype: str, value: str, ttl: int, dot_needed: bool) -> RecordSet:
    try:
        if rrtype == "TXT":
            text = text_value(value)
        elif rrtype in TYPES:
            whole = value if value.endswith(".") or dot_needed else f"{value}."
            text = canonical(rrtype, whole if rrtype in ("CNAME", "MX", "NS", "SRV") else value, origin)
        else:
            raise BadValue(f"{rrtype} is not in the form's list of types")
    except BadValue as error:
        raise BadInput(Problem(f"the form refuses it: {error}", key=f"{host} {rrtype}", seen=value)) from error
    return RecordSet(_host(origin, host), rrtype, ttl, (text,))


def listed(zones: Zones, zone: ZoneId) -> list[RecordSet]:
    """What the form shows: everything but what the server itself writes."""
    held = zones.get(zone)
    shown = (each for each in held if each.type not in ("SOA", "DNSKEY"))
    return sorted(shown, key=lambda each: (each.name != held.origin, each.name, each.type))


def read_file(zones: Zones, zone: ZoneId, text: str) -> int:
    """The form's import of a master file: everything but the zone's own SOA and nameservers; how many sets it took.

    Nothing is taken from a file with a mistake in it. Raises BadInput.
    """
    held = zones.get(zone)
    sets = dict(held.sets)
    taken = 0
    for record in read_master_file(text, held.origin, "the file"):
        own = record.type in ("SOA", "DNSKEY") or record.key == (held.origin, "NS")
        if own or not is_within(record.name, held.origin):
            continue
        if not add(sets, record):
            raise BadInput(
                Problem(f"the import refuses {record.type} at {record.name}: a CNAME cannot share its name", "the file")
            )
        taken += 1
    zones.replace(zone, sets)
    return taken


def zone_of(zones: Zones, edited: tuple[Name, ...], domain: str) -> ZoneId:
    """The zone that a person means by `domain`. Raises BadInput."""
    origin = absolute(domain)
    if origin not in edited or origin not in zones.ids():
        known = ", ".join(each.removesuffix(".") for each in edited if each in zones.ids())
        raise BadInput(Problem("this DNS host has no such domain", key="DOMAIN", seen=domain, hint=f"it has: {known}"))
    return origin


def carry_out(zones: Zones, served: Mapping[Name, ZoneId], message: dns.update.UpdateMessage) -> str:
    """Apply a verified update; the rcode. Nothing changes unless every prerequisite holds."""
    origin = absolute(message.zone[0].name.to_text())
    if origin not in served or served[origin] not in zones.ids():
        return "NOTAUTH"
    zone = zones.get(served[origin])
    trouble = _prerequisites(zone, message.prerequisite)
    if trouble:
        return trouble
    sets = dict(zone.sets)
    for rrset in message.update:
        if not is_within(absolute(rrset.name.to_text()), origin):
            return "NOTZONE"
        _apply(sets, rrset, origin)
    if sets != dict(zone.sets):
        zones.replace(served[origin], sets)
    return "NOERROR"


def _plain(rrset: dns.rrset.RRset) -> RecordSet:
    rrtype = dns.rdatatype.to_text(rrset.rdtype)
    values = tuple(canonical(rrtype, rdata.to_text()) for rdata in rrset)
    return RecordSet(absolute(rrset.name.to_text()), rrtype, rrset.ttl, values)


def _prerequisites(zone: Zone, section: list[dns.rrset.RRset]) -> str | None:
    compared: dict[Key, RecordSet] = {}
    for rrset in section:
        name, rrtype = absolute(rrset.name.to_text()), dns.rdatatype.to_text(rrset.rdtype)
        used, there = bool(zone.at(name)), zone.get(name, rrtype) is not None
        if rrset.deleting == dns.rdataclass.ANY:
            if not (used if rrtype == "ANY" else there):
                return "NXDOMAIN" if rrtype == "ANY" else "NXRRSET"
        elif rrset.deleting == dns.rdataclass.NONE:
            if used if rrtype == "ANY" else there:
                return "YXDOMAIN" if rrtype == "ANY" else "YXRRSET"
        else:
            one = _plain(rrset)
            before = compared.get(one.key)
            compared[one.key] = RecordSet(*one.key, 0, one.values + (before.values if before else ()))
    for key, wanted in compared.items():
        found = zone.sets.get(key)
        if found is None or found.values != wanted.values:
            return "NXRRSET"
    return None


def _apply(sets: dict[Key, RecordSet], rrset: dns.rrset.RRset, origin: Name) -> None:
    name, rrtype = absolute(rrset.name.to_text()), dns.rdatatype.to_text(rrset.rdtype)
    guarded = ("SOA", "NS") if name == origin else ()
    if rrset.deleting == dns.rdataclass.ANY:
        for key in [k for k in sets if k[0] == name and rrtype in ("ANY", k[1]) and k[1] not in guarded]:
            del sets[key]
    elif rrset.deleting == dns.rdataclass.NONE:
        found, gone = sets.get((name, rrtype)), _plain(rrset).values
        if found and rrtype != "SOA":
            left = tuple(value for value in found.values if value not in gone)
            if left:
                sets[name, rrtype] = RecordSet(name, rrtype, found.ttl, left)
            elif rrtype not in guarded:
                del sets[name, rrtype]
    else:
        add(sets, _plain(rrset))


def add(sets: dict[Key, RecordSet], record: RecordSet) -> bool:
    """Add to what is there; an alias beside other data is silently ignored (RFC 2136 section 3.4.2.2)."""
    others = [key for key in sets if key[0] == record.name and key[1] != record.type]
    if (record.type == "CNAME" and others) or any(key[1] == "CNAME" for key in others):
        return False
    before = sets.get(record.key)
    values = record.values + (before.values if before and record.type != "CNAME" else ())
    sets[record.key] = RecordSet(*record.key, record.ttl, values)
    return True
