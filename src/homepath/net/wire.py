"""Answers with rare parts, and sets of other sources, read by the DNS library into the values of the core."""

from __future__ import annotations

import dns.edns
import dns.exception
import dns.flags
import dns.message
import dns.rcode
import dns.rdatatype
import dns.rrset

from homepath.core.model.names import ROOT, BadName, absolute
from homepath.core.model.questions import Answer, Question, Server
from homepath.core.model.records import RecordSet
from homepath.core.model.trouble import Trouble
from homepath.core.model.values import BadValue, canonical
from homepath.net.octets import MOST_TTL

MOST_SETS = 400


class NotDns(ValueError):
    """Octets that are no DNS message."""


def read_rare_answer(octets: bytes, question: Question, server: Server, at: float) -> Answer:
    """The answer value of a response whose id and question were checked before. Raises NotDns."""
    try:
        message = dns.message.from_wire(octets, ignore_trailing=True)
    except (dns.exception.DNSException, ValueError, IndexError) as error:
        raise NotDns(f"not a DNS message: {error}") from error
    sections = (message.answer, message.authority, message.additional)
    if sum(len(section) for section in sections) > MOST_SETS:
        return Answer(question, server, "broken", at, trouble=Trouble("too-large", server.name, server.place))
    try:
        answer, authority, additional = (to_sets(section) for section in sections)
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
        answer,
        authority,
        additional,
        _reason(message, server),
    )


def _reason(message: dns.message.Message, server: Server) -> Trouble | None:
    """What the server itself says about its failure (RFC 8914)."""
    for option in message.options:
        if isinstance(option, dns.edns.EDEOption):
            words = dns.edns.EDECode.to_text(option.code).replace("_", " ").lower()
            said = f"{dns.rcode.to_text(message.rcode())}, {words}" + (f": {option.text[:120]}" if option.text else "")
            return Trouble("failed", server.name, server.place, said)
    return None


def to_sets(section: list[dns.rrset.RRset]) -> tuple[RecordSet, ...]:
    """The sets of a section; a TTL with the highest bit set counts as zero (RFC 2181 section 8)."""
    found = []
    for rrset in section:
        rrtype = dns.rdatatype.to_text(rrset.rdtype)
        if rrtype in ("OPT", "TSIG", "ANY"):
            continue
        values = tuple(canonical(rrtype, rdata.to_text(), ROOT) for rdata in rrset)
        ttl = rrset.ttl if rrset.ttl <= MOST_TTL else 0
        found.append(RecordSet(absolute(rrset.name.to_text()), rrtype, ttl, values))
    return tuple(found)
