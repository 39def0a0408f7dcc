"""Dynamic updates as a DNS host carries them out, all or nothing (RFC 2136 section 3)."""

from __future__ import annotations

from collections.abc import Mapping

import dns.rdataclass
import dns.rdatatype
import dns.rrset
import dns.update

from homepath.core.dns.names import Name, absolute, is_within
from homepath.core.dns.records import Key, RecordSet, Zone
from homepath.core.dns.values import canonical
from homepath.practice.zones import ZoneId, Zones


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
