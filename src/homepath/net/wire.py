"""Answers with rare parts, and sets of other sources, read by the DNS library into the values of the core."""

from __future__ import annotations

import dns.edns
import dns.exception
import dns.flags
import dns.message
import dns.rcode
import dns.rdatatype
import dns.rrset

from homepath.core.dns.answers import Answer, Question, Server, Trouble
from homepath.core.dns.names import ROOT, BadName, absolute
from homepath.core.dns.records import Key, RecordSet
from homepath.core.dns.values import BadValue, canonical
from homepath.net.octets import MOST_RECORDS, MOST_TTL


class NotDns(ValueError):
    """Octets that are no DNS message."""


def read_rare_answer(octets: bytes, question: Question, server: Server, at: float) -> Answer:
    """The answer value of a response whose id and question were checked before. Raises NotDns."""
    try:
        message = dns.message.from_wire(octets, ignore_trailing=True, one_rr_per_rrset=True)
    except (dns.exception.DNSException, ValueError, IndexError) as error:
        raise NotDns(f"not a DNS message: {error}") from error
    sections = (message.answer, message.authority, message.additional)
    if sum(len(section) for section in sections) > MOST_RECORDS:
        return Answer(question, server, "broken", at, trouble=Trouble("too-large", server.name, server.place))
    try:
        found = [to_sets(section) for section in sections]
    except (BadValue, BadName) as error:
        return Answer(
            question, server, "broken", at, trouble=Trouble("unreadable", server.name, server.place, str(error))
        )
    return Answer(
        question,
        server,
        "answered",
        at,
        dns.rcode.to_text(message.rcode()),
        bool(message.flags & dns.flags.AA),
        found[0],
        found[1],
        found[2],
        trouble=_reason(message, server),
        uneven=_uneven(message.answer),
    )


def _uneven(section: list[dns.rrset.RRset]) -> bool:
    """Whether the records of one set come with different TTLs (RFC 2181 section 5.2)."""
    ttls: dict[tuple[object, object], set[int]] = {}
    for each in section:
        ttls.setdefault((each.name, each.rdtype), set()).add(each.ttl)
    return any(len(seen) > 1 for seen in ttls.values())


def _reason(message: dns.message.Message, server: Server) -> Trouble | None:
    """What the server itself says about its failure (RFC 8914)."""
    for option in message.options:
        if isinstance(option, dns.edns.EDEOption):
            words = dns.edns.EDECode.to_text(option.code).replace("_", " ").lower()
            said = f"{dns.rcode.to_text(message.rcode())}, {words}" + (f": {option.text[:120]}" if option.text else "")
            return Trouble("failed", server.name, server.place, said)
    return None


def to_sets(section: list[dns.rrset.RRset]) -> tuple[RecordSet, ...]:
    """The sets of a section; a TTL with the highest bit set counts as zero (RFC 2181 section 8), and of different
    ones in a set the smallest counts (section 5.2). Records of one set may come apart."""
    found: dict[Key, RecordSet] = {}
    for rrset in section:
        rrtype = dns.rdatatype.to_text(rrset.rdtype)
        if rrtype in ("OPT", "TSIG", "ANY"):
            continue
        values = tuple(canonical(rrtype, rdata.to_text(), ROOT) for rdata in rrset)
        ttl = rrset.ttl if rrset.ttl <= MOST_TTL else 0
        key = absolute(rrset.name.to_text()), rrtype
        if before := found.get(key):
            ttl, values = min(ttl, before.ttl), (*before.values, *values)
        found[key] = RecordSet(*key, ttl, values)
    return tuple(found.values())
