"""The zones of the practice world, how a server answers from them (RFC 1034 section 4.3.2, RFC 4592), and their
signatures."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

import dns.dnssec
import dns.name
import dns.rdata
import dns.rrset
from cryptography.hazmat.primitives.asymmetric import ec

from homepath.core.dns.ds import ds_to_set
from homepath.core.dns.names import Name, ancestors, is_within, parent
from homepath.core.dns.records import Key, RecordSet, Zone
from homepath.core.dns.soa import negative_ttl
from homepath.core.files.exports import read_master_file

KEY_TTL = 3600
_DAYS = 14 * 86400


class Signer:
    """The key of one zone at one host."""

    def __init__(self, origin: Name) -> None:
        self.origin = origin
        self._key = ec.generate_private_key(ec.SECP256R1())
        self._public = dns.dnssec.make_dnskey(self._key.public_key(), "ECDSAP256SHA256", flags=257)

    @property
    def keys(self) -> RecordSet:
        return RecordSet(self.origin, "DNSKEY", KEY_TTL, (self._public.to_text(),))

    @property
    def ds(self) -> RecordSet:
        """What the parent zone must hold for this key."""
        return RecordSet(self.origin, "DS", KEY_TTL, ds_to_set(self.origin, self.keys))

    def signed(self, answer: Reply, now: float) -> Reply:
        """The answer with a signature beside each set of this zone."""
        more = [self._signature(each, now) for each in answer.answer if each.type != "RRSIG"]
        return replace(answer, answer=(*answer.answer, *more))

    def _signature(self, record: RecordSet, now: float) -> RecordSet:
        zone = dns.name.from_text(self.origin)
        rrset = dns.rrset.from_text_list(record.name, record.ttl, "IN", record.type, list(record.values))
        made: dns.rdata.Rdata = dns.dnssec.sign(
            rrset, self._key, zone, self._public, inception=now - 3600, expiration=now + _DAYS
        )
        return RecordSet(record.name, "RRSIG", record.ttl, (made.to_text(),))


def with_keys(zone: Zone, signer: Signer) -> Zone:
    """The zone with its key in it."""
    return Zone(zone.origin, {**zone.sets, signer.keys.key: signer.keys})


@dataclass(frozen=True, slots=True)
class Reply:
    """The parts of an answer. `authoritative` False and no answer: a referral."""

    rcode: str
    authoritative: bool = True
    answer: tuple[RecordSet, ...] = ()
    authority: tuple[RecordSet, ...] = ()
    additional: tuple[RecordSet, ...] = ()


REFUSED = Reply("REFUSED", False)


ZoneId = str
"""Which copy of a zone: its origin for the one that a scene begins with, `origin@host` for one at another host."""


def copy_at(origin: Name, host: str) -> ZoneId:
    return f"{origin}@{host}"


class Zones:
    """All zones of the world; the only thing in it that changes, one whole zone at a time."""

    def __init__(self, texts: dict[Name, str]) -> None:
        self._zones: dict[ZoneId, Zone] = {
            origin: read_master_file(text, origin, f"zone {origin}") for origin, text in texts.items()
        }

    def get(self, zone: ZoneId) -> Zone:
        return self._zones[zone]

    def ids(self) -> list[ZoneId]:
        return list(self._zones)

    def add(self, zone: ZoneId, content: Zone) -> None:
        self._zones[zone] = content

    def drop(self, zone: ZoneId) -> None:
        self._zones.pop(zone, None)

    def replace(self, zone: ZoneId, sets: dict[Key, RecordSet]) -> None:
        """Put a new content in place; the SOA serial goes up by one (RFC 1982)."""
        origin = self._zones[zone].origin
        soa = sets[origin, "SOA"]
        parts = soa.values[0].split()
        parts[2] = str((int(parts[2]) + 1) % 2**32)
        sets[origin, "SOA"] = replace(soa, values=(" ".join(parts),))
        self._zones[zone] = Zone(origin, sets)

    def holder(self, name: Name, among: Mapping[Name, ZoneId]) -> Zone | None:
        """The zone nearest to `name` among those a server holds: their copies by origin."""
        held = next((among[at] for at in ancestors(name) if at in among), None)
        return None if held is None else self._zones.get(held)


def reply(zones: Zones, served: Mapping[Name, ZoneId] | Iterable[Name], name: Name, rrtype: str) -> Reply:
    """What a server with the zones `served`, their copies by origin, says to a question; of bare origins it holds the
    copies that the scene began with."""
    served = served if isinstance(served, Mapping) else {origin: origin for origin in served}
    if rrtype == "DS" and name in served and (above := {k: v for k, v in served.items() if k != name}):
        served = above if zones.holder(name, above) is not None else served  # a DS record belongs to the parent side
    zone = zones.holder(name, served)
    if zone is None:
        return REFUSED
    chain: list[RecordSet] = []
    while True:
        one = _lookup(zone, name, rrtype)
        if one.rcode != "NOERROR" or not one.answer or one.answer[0].type == rrtype or one.answer[0].type != "CNAME":
            return replace(one, answer=(*chain, *one.answer), authoritative=one.authoritative or bool(chain))
        chain.append(one.answer[0])
        name = one.answer[0].values[0]
        if not is_within(name, zone.origin) or len(chain) > 8:
            return Reply("NOERROR", True, tuple(chain))


def _lookup(zone: Zone, name: Name, rrtype: str) -> Reply:
    cut = _cut_above(zone, name, rrtype)
    if cut:
        return Reply("NOERROR", False, (), (cut,), _glue(zone, cut))
    found = _at(zone, name)
    if found is None:
        return Reply("NXDOMAIN", True, (), (_negative(zone),))
    sets = {each.type: each for each in found}
    if rrtype == "ANY" and found:
        return Reply("NOERROR", True, tuple(found))
    hit = sets.get(rrtype) or sets.get("CNAME")
    return Reply("NOERROR", True, (hit,)) if hit else Reply("NOERROR", True, (), (_negative(zone),))


def _cut_above(zone: Zone, name: Name, rrtype: str) -> RecordSet | None:
    """The delegation at or above `name` inside the zone; a DS question belongs to the parent side."""
    for at in reversed(ancestors(name)):
        if at != zone.origin and is_within(at, zone.origin):
            found = zone.get(at, "NS")
            if found and not (at == name and rrtype == "DS"):
                return found
    return None


def _at(zone: Zone, name: Name) -> list[RecordSet] | None:
    """The sets at `name`, by a wildcard where the name does not exist; None for NXDOMAIN."""
    found = zone.at(name)
    if found or any(each.name.endswith("." + name) for each in zone):
        return found
    at = parent(name)
    while is_within(at, zone.origin):
        exists = zone.at(at) or any(each.name.endswith("." + at) for each in zone)
        if exists:
            wild = zone.at(f"*.{at}")
            return [replace(each, name=name) for each in wild] or None
        at = parent(at)
    return None


def _negative(zone: Zone) -> RecordSet:
    soa = zone.sets[zone.origin, "SOA"]
    return replace(soa, ttl=negative_ttl(soa))


def _glue(zone: Zone, cut: RecordSet) -> tuple[RecordSet, ...]:
    return tuple(
        each for server in cut.values for rrtype in ("A", "AAAA") if (each := zone.get(server, rrtype)) is not None
    )
