"""Marks of responses: the same for what says the same, another for whatever differs, and never an exception."""

from __future__ import annotations

import random
import struct

import dns.flags
import dns.message
import dns.name
import dns.rcode
import dns.rdatatype
import dns.rrset
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from homepath.core.dns.answers import Answer, Question, Server
from homepath.net import octets as wire
from homepath.net.fingerprints import fingerprint
from homepath.net.wire import read_rare_answer
from tests.net.test_hostile_dns import records

QUESTION = Question("www.tidewick-kiln.example.", "A")
SKIP = len(wire.question_octets(QUESTION))
VALUES = {
    "A": ("192.0.2.1", "192.0.2.2", "192.0.2.3"),
    "NS": ("ns1.mossgate.example.", "ns2.mossgate.example.", "tidewick-kiln.example."),
    "MX": ("10 mx.mossgate.example.", "20 mx.mossgate.example.", "10 tidewick-kiln.example."),
    "TXT": ('"one"', '"one" "two"', '"onetwo"'),
    "SOA": ("ns1.mossgate.example. dns.mossgate.example. 1 2 3 4 5", "ns1.mossgate.example. dns.tw.example. 2 2 3 4 5"),
    "CNAME": ("sites.bricklark.example.", "www.bricklark.example."),
    "HTTPS": ("1 . alpn=h2", "1 . alpn=h3"),
}
OWNERS = (QUESTION.name, "tidewick-kiln.example.", "sites.bricklark.example.")


@st.composite
def answers(draw: st.DrawFn) -> dns.message.Message:
    """A response whose answer section holds up to two sets."""
    response = dns.message.make_response(dns.message.make_query(QUESTION.name, "A", use_edns=draw(st.booleans())))
    response.set_rcode(draw(st.sampled_from((dns.rcode.NOERROR, dns.rcode.NOERROR, dns.rcode.NXDOMAIN))))
    if draw(st.booleans()):
        response.flags |= dns.flags.AA
    for owner in draw(st.lists(st.sampled_from(OWNERS), max_size=2, unique=True)):
        kind = draw(st.sampled_from(sorted(VALUES)))
        values = draw(st.lists(st.sampled_from(VALUES[kind]), min_size=1, unique=True))
        if kind in ("SOA", "CNAME"):
            values = values[:1]
        response.answer.append(dns.rrset.from_text(owner, draw(st.sampled_from((60, 3600))), "IN", kind, *values))
    return response


def otherwise_written(response: dns.message.Message, dice: random.Random) -> bytes:
    """The same in other octets: no name is shortened, capitals here and there, values in another order."""

    def name_octets(name: dns.name.Name) -> bytes:
        octets = name.to_wire() or b""
        return octets.upper() if dice.random() < 0.5 else octets

    sections = []
    for rrset in response.answer:
        values = [rdata.to_wire() or b"" for rdata in rrset]
        dice.shuffle(values)
        head = struct.pack("!HHI", rrset.rdtype, 1, rrset.ttl)
        sections += [name_octets(rrset.name) + head + struct.pack("!H", len(each)) + each for each in values]
    header = struct.pack("!HHHHHH", 7, response.flags, 1, len(sections), 0, 0)
    asked = wire.question_octets(QUESTION)[:-4].upper() + wire.question_octets(QUESTION)[-4:]
    return header + asked + b"".join(sections)


def said(answer: Answer) -> object:
    first = answer.answer[0] if answer.answer else None
    return answer.rcode, answer.authoritative, first and (first.name, first.type, first.ttl, sorted(first.values))


@settings(max_examples=400, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(answers(), answers(), st.integers(0, 2**32))
def test_marks_are_the_same_exactly_where_the_answers_are(
    one: dns.message.Message, two: dns.message.Message, seed: int
) -> None:
    first, second = (fingerprint(each.to_wire(), SKIP) for each in (one, two))
    read_one, read_two = (read_rare_answer(each.to_wire(), QUESTION, Server("127.0.0.1"), 0.0) for each in (one, two))
    assert first
    assert (first == second) == (said(read_one) == said(read_two))
    assert fingerprint(otherwise_written(one, random.Random(seed)), SKIP) == first


@settings(max_examples=300, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(records(), max_size=3), st.binary(max_size=6), st.integers(12, 80), st.booleans())
def test_no_octets_break_it(found: list[dns.rrset.RRset], noise: bytes, at: int, cut: bool) -> None:
    response = dns.message.make_response(dns.message.make_query(QUESTION.name, "A"))
    response.answer = found
    octets = bytearray(response.to_wire(max_size=65535))
    begin = 12 + SKIP
    octets[max(begin, at) : max(begin, at) + len(noise)] = noise
    assert isinstance(fingerprint(bytes(octets[: max(begin, at)] if cut else octets), SKIP), str)


def test_nothing_there_is_told_by_the_code_alone_and_only_where_the_code_is_whole() -> None:
    response = dns.message.make_response(dns.message.make_query(QUESTION.name, "A", use_edns=True))
    response.flags |= dns.flags.AA
    assert fingerprint(response.to_wire(), SKIP) == "NOERROR"
    response.authority = [dns.rrset.from_text("example.", 60, "IN", "SOA", "a. b. 5 1 1 1 1")]
    assert fingerprint(response.to_wire(), SKIP) == "NOERROR"
    response.flags &= ~dns.flags.AA
    assert fingerprint(response.to_wire(), SKIP) not in ("NOERROR", "")  # sent on to others
    response.flags |= dns.flags.AA
    response.set_rcode(dns.rcode.BADVERS)  # a code of which the header holds the zero (RFC 6891 section 6.1.3)
    assert fingerprint(response.to_wire(), SKIP) == ""
