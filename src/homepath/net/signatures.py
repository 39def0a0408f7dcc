"""Whether a signed zone's keys fit what its parent says (RFC 4035 section 5): DS, DNSKEY, and the keys' signature."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import dns.dnssec
import dns.exception
import dns.name
import dns.rdatatype
import dns.rrset

from homepath.core.dns.answers import Answer, Question, Trouble
from homepath.core.dns.records import RecordSet
from homepath.core.dns.walk import Cut
from homepath.core.dns.zone_answers import unanswered_why
from homepath.core.message import Text, msg
from homepath.core.model.survey import Chain
from homepath.net.asker import Asker

ALGORITHMS = frozenset({5, 7, 8, 10, 13, 14, 15, 16})
"""Signature algorithms that validators know (RFC 8624 section 3.1)."""
DIGESTS = frozenset({1, 2, 4})
"""Digests of a DS record that validators know (RFC 8624 section 3.3)."""


async def check_signatures(asker: Asker, cut: Cut) -> Chain:
    """Whether the chain from the parent's DS to the zone's own records holds now.

    The parent is asked for the DS outright: a referral carries it only to those who ask for signatures. DS records of
    algorithms that validators do not know are passed over; with no other, the zone counts as unsigned (RFC 4035
    section 5.2).
    """
    above = await asker.ask_all([(Question(cut.zone, "DS"), server) for server in cut.parents])
    silent = unanswered_why(above, cut.above) if above else Trouble("silent", cut.above)
    if silent is not None:
        return Chain("unknown", None, msg("signatures.no-ds-answer"), silent)
    promised = next((found for answer in above if (found := answer.found(cut.zone, "DS"))), None)
    every = _rrset(promised) if promised else ()
    links = [ds for ds in every if ds.algorithm in ALGORITHMS and ds.digest_type in DIGESTS]
    if not links:
        return Chain("none", bool(every))
    asks = [(Question(cut.zone, rrtype), server) for rrtype in ("DNSKEY", "SOA") for server in cut.servers]
    replies = await asker.ask_all(asks, dnssec=True)
    answers = [answer for answer in replies[: len(cut.servers)] if answer.usable]
    if not answers:
        return Chain("unknown", True, msg("signatures.no-keys-answer"))
    begins = {answer.server: answer for answer in replies[len(cut.servers) :] if answer.usable}
    trouble: Text = ""
    for answer in answers:
        keys, proof = answer.found(cut.zone, "DNSKEY"), answer.found(cut.zone, "RRSIG")
        if keys is None:
            trouble = msg("signatures.no-keys", server=answer.server.name)
        elif proof is None:
            trouble = msg("signatures.unsigned-keys", server=answer.server.name)
        else:
            soa = begins.get(answer.server)
            trouble = _trouble(links, keys, proof, soa, asker.network.clock.now())
        if trouble:
            return Chain("broken", True, trouble)
    return Chain("good", True)


def _trouble(links: Sequence[Any], keys: RecordSet, proof: RecordSet, soa: Answer | None, now: float) -> Text:
    """Why the keys, or the zone's SOA as a sample of its records, cannot be believed; empty where they can."""
    zone = dns.name.from_text(keys.name)
    keyset, signatures = _rrset(keys), _rrset(proof)
    known = set()
    for ds in links:
        for key in keyset:
            try:
                known.add(key if dns.dnssec.make_ds(zone, key, ds.digest_type, validating=True) == ds else None)
            except (dns.exception.DNSException, ValueError):
                continue
    trusted = [key for key in known if key is not None]
    if not trusted:
        return msg("signatures.no-match")
    try:
        dns.dnssec.validate(keyset, signatures, {zone: dns.rrset.from_rdata_list(zone, keys.ttl, trusted)}, now=now)
    except (dns.exception.ValidationFailure, dns.exception.UnsupportedAlgorithm) as error:
        return msg("signatures.bad-keys", error=str(error))
    record, signed = (soa.found(keys.name, kind) if soa else None for kind in ("SOA", "RRSIG"))
    if record is None:
        return ""
    if signed is None:
        return msg("signatures.unsigned-records")
    try:
        dns.dnssec.validate(_rrset(record), _rrset(signed), {zone: keyset}, now=now)
    except (dns.exception.ValidationFailure, dns.exception.UnsupportedAlgorithm) as error:
        return msg("signatures.bad-records", error=str(error))
    return ""


def _rrset(record: RecordSet) -> dns.rrset.RRset:
    return dns.rrset.from_text_list(record.name, record.ttl, "IN", record.type, list(record.values))
