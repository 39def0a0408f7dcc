"""Whether a signed zone's keys fit what its parent says (RFC 4035 section 5): DS, DNSKEY, and the keys' signature."""

from __future__ import annotations

import dns.dnssec
import dns.exception
import dns.name
import dns.rdatatype
import dns.rrset

from homepath.core.asking.walk import Cut
from homepath.core.model.names import shown
from homepath.core.model.questions import Question
from homepath.core.model.records import RecordSet
from homepath.core.model.survey import Signatures
from homepath.net.asker import Asker


async def check_signatures(asker: Asker, cut: Cut) -> tuple[Signatures, str]:
    """`none` for an unsigned zone, else whether the chain from the parent's DS to the zone's keys holds now.

    The parent is asked for the DS outright: a referral carries it only to those who ask for signatures.
    """
    above = await asker.ask_all([(Question(cut.zone, "DS"), server) for server in cut.parents])
    if not any(answer.usable for answer in above):
        return "unknown", "the parent could not be asked for a DS record"
    promised = next((found for answer in above if (found := answer.found(cut.zone, "DS"))), None)
    if promised is None:
        return "none", ""
    asks = [(Question(cut.zone, "DNSKEY"), server) for server in cut.servers]
    answers = [answer for answer in await asker.ask_all(asks, dnssec=True) if answer.usable]
    if not answers:
        return "unknown", "the zone's keys could not be asked for"
    trouble = ""
    for answer in answers:
        keys, proof = answer.found(cut.zone, "DNSKEY"), answer.found(cut.zone, "RRSIG")
        if keys is None:
            trouble = f"the parent has a DS record, and {shown(answer.server.name)} has no keys"
        elif proof is None:
            trouble = f"{shown(answer.server.name)} gives keys without a signature"
        else:
            trouble = _trouble(promised, keys, proof, asker.network.clock.now())
        if trouble:
            return "broken", trouble
    return "good", ""


def _trouble(promised: RecordSet, keys: RecordSet, proof: RecordSet, now: float) -> str:
    zone = dns.name.from_text(keys.name)
    keyset, signatures = _rrset(keys), _rrset(proof)
    known = set()
    for ds in _rrset(promised):
        for key in keyset:
            try:
                known.add(key if dns.dnssec.make_ds(zone, key, ds.digest_type, validating=True) == ds else None)
            except (dns.exception.DNSException, ValueError):
                continue
    trusted = [key for key in known if key is not None]
    if not trusted:
        return "none of the zone's keys fits the DS record at the parent"
    try:
        dns.dnssec.validate(keyset, signatures, {zone: dns.rrset.from_rdata_list(zone, keys.ttl, trusted)}, now=now)
    except (dns.exception.ValidationFailure, dns.exception.UnsupportedAlgorithm) as error:
        return f"the keys' signature does not hold ({error})"
    return ""


def _rrset(record: RecordSet) -> dns.rrset.RRset:
    return dns.rrset.from_text_list(record.name, record.ttl, "IN", record.type, list(record.values))
