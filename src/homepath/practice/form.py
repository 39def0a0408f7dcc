"""The DNS host's form as a person uses it, with what forms do to the things people type."""

from __future__ import annotations

from homepath.core.dns.names import BadName, Name, absolute, child, is_within
from homepath.core.dns.records import WEB_TYPES, RecordSet
from homepath.core.dns.values import BadValue, canonical, text_value
from homepath.core.files.exports import read_master_file
from homepath.core.model.problems import BadInput, Problem
from homepath.practice.updates import add
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
