"""Signed zones of the practice world: a key for each, signatures made when they are asked for (RFC 4034, 4035)."""

from __future__ import annotations

from dataclasses import replace

import dns.dnssec
import dns.name
import dns.rdata
import dns.rrset
from cryptography.hazmat.primitives.asymmetric import ec

from homepath.core.dns.ds import ds_to_set
from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet, Zone
from homepath.practice.zones import Reply

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
        """What the zone above must hold for this key."""
        return RecordSet(self.origin, "DS", KEY_TTL, ds_to_set(self.origin, self.keys))

    def signed(self, said: Reply, now: float) -> Reply:
        """The answer with a signature beside each set of this zone."""
        more = [self._signature(each, now) for each in said.answer if each.type != "RRSIG"]
        return replace(said, answer=(*said.answer, *more))

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
