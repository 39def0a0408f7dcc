"""Between DNS messages on the wire and the values of the core."""

from __future__ import annotations

import dns.exception
import dns.flags
import dns.message
import dns.name
import dns.rcode
import dns.rdatatype
import dns.rrset

from homepath.core.model.names import ROOT, BadName, absolute
from homepath.core.model.questions import Answer, Question, Server
from homepath.core.model.records import RecordSet
from homepath.core.model.values import BadValue, canonical

PAYLOAD = 1232
"""Octets offered with EDNS: what passes nearly everywhere without fragments."""
MOST_SETS = 400


class NotDns(ValueError):
    """Octets that are no DNS message, or no answer to what was asked."""


def query(question: Question, recurse: bool, edns: bool, dnssec: bool = False) -> dns.message.QueryMessage:
    message = dns.message.make_query(
        dns.name.from_text(question.name),
        question.type,
        use_edns=0 if edns else False,
        payload=PAYLOAD if edns else None,
        want_dnssec=dnssec and edns,
    )
    if not recurse:
        message.flags &= ~dns.flags.RD
    return message


def parse_response(wire: bytes, asked: dns.message.Message) -> dns.message.Message:
    """The message in `wire`, when its id, opcode and question are those asked (RFC 5452 section 9.1).

    Raises NotDns.
    """
    try:
        message = dns.message.from_wire(wire, ignore_trailing=True)
    except (dns.exception.DNSException, ValueError, IndexError) as error:
        raise NotDns(f"not a DNS message: {error}") from error
    if not asked.is_response(message):
        raise NotDns("an answer to another question")
    if message.rcode() == dns.rcode.NOERROR and message.question != asked.question:
        raise NotDns("an answer without the question asked")
    return message


def to_answer(question: Question, server: Server, message: dns.message.Message, at: float) -> Answer:
    sections = (message.answer, message.authority, message.additional)
    if sum(len(section) for section in sections) > MOST_SETS:
        return Answer(question, server, "broken", at, detail=f"an answer with more than {MOST_SETS} record sets")
    try:
        answer, authority, additional = (to_sets(section) for section in sections)
    except (BadValue, BadName) as error:
        return Answer(question, server, "broken", at, detail=f"a record that breaks the rules: {error}")
    return Answer(
        question,
        server,
        "answered",
        at,
        dns.rcode.to_text(message.rcode()),
        bool(message.flags & dns.flags.AA),
        answer,
        authority,
        additional,
    )


def to_sets(section: list[dns.rrset.RRset]) -> tuple[RecordSet, ...]:
    found = []
    for rrset in section:
        rrtype = dns.rdatatype.to_text(rrset.rdtype)
        if rrtype in ("OPT", "TSIG", "ANY"):
            continue
        values = tuple(canonical(rrtype, rdata.to_text(), ROOT) for rdata in rrset)
        found.append(RecordSet(absolute(rrset.name.to_text()), rrtype, min(rrset.ttl, 2147483647), values))
    return tuple(found)
