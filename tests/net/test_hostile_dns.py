"""Nameservers that misbehave, each a real one on loopback. Nothing crashes, nothing wrong is believed."""

from __future__ import annotations

import asyncio
import socket
from collections.abc import Callable
from ipaddress import IPv6Address

import dns.flags
import dns.message
import dns.rcode
import dns.rdatatype
import dns.rrset
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from homepath.core.dns.answers import Answer, Question, Server
from homepath.net import octets as wire
from homepath.net.asker import Asker
from homepath.net.network_file import Network
from homepath.net.wire import Chance, NotDns, read_rare_answer
from homepath.practice.dns_server import DnsServer
from homepath.practice.zones import Reply, _lookup
from tests.core.cases import RIGHT, zone

HERE = Network(roots=(Server("127.0.0.1"),))
HOME = Server("127.0.0.1")
QUESTION = Question("www.tidewick-kiln.example.", "A")
Behave = Callable[[bytes], list[bytes]]


def answered(octets: bytes, address: str = "192.0.2.1") -> dns.message.Message:
    response = dns.message.make_response(dns.message.from_wire(octets))
    response.answer = [dns.rrset.from_text(QUESTION.name, 60, "IN", "A", address)]
    return response


def other_id(octets: bytes) -> list[bytes]:
    return [bytes([octets[0] ^ 1, octets[1]]) + answered(octets).to_wire()[2:]]


def other_question(octets: bytes) -> list[bytes]:
    asked = dns.message.make_query("evil.example.", "A", id=int.from_bytes(octets[:2], "big"))
    response = dns.message.make_response(asked)
    response.answer = [dns.rrset.from_text("evil.example.", 60, "IN", "A", "192.0.2.66")]
    return [response.to_wire()]


def without_edns(octets: bytes) -> list[bytes]:
    asked = dns.message.from_wire(octets)
    response = answered(octets) if asked.edns < 0 else dns.message.make_response(asked)
    if asked.edns >= 0:
        response.set_rcode(dns.rcode.FORMERR)
        response.use_edns(False)
    return [response.to_wire()]


def many(octets: bytes) -> list[bytes]:
    response = answered(octets)
    response.answer = [dns.rrset.from_text(f"n{at}.example.", 1, "IN", "A", "192.0.2.1") for at in range(500)]
    return [response.to_wire(max_size=65535)]


async def asked_of(behave: Behave, patience: float = 0.3) -> tuple[Answer, Asker]:
    loop = asyncio.get_running_loop()
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as server:
        server.bind(("127.0.0.1", 0))
        server.setblocking(False)

        async def serve() -> None:
            while True:
                octets, client = await loop.sock_recvfrom(server, 4096)
                for answer in behave(octets):
                    await loop.sock_sendto(server, answer, client)

        serving = asyncio.create_task(serve())
        asker = Asker(HERE, patience=patience)
        answer = await asker.ask(QUESTION, Server("127.0.0.1", server.getsockname()[1]))
        serving.cancel()
        return answer, asker


@pytest.mark.parametrize(
    ("behave", "outcome", "dropped"),
    [
        (lambda octets: [answered(octets).to_wire()], "answered", 0),
        (lambda octets: [], "silent", 0),
        (other_id, "silent", 1),
        (other_question, "silent", 1),
        (lambda octets: [b"garbage", b""], "broken", 1),
        (lambda octets: [b"x"] * 5, "broken", 3),
        (lambda octets: [*other_id(octets), *other_question(octets), answered(octets).to_wire()], "answered", 2),
        (without_edns, "answered", 0),
        (lambda octets: [octets], "silent", 1),
        (many, "broken", 0),
    ],
)
def test_answers_that_do_not_fit_are_dropped_and_counted(behave: Behave, outcome: str, dropped: int) -> None:
    answer, asker = asyncio.run(asked_of(behave))
    assert answer.outcome == outcome
    assert asker.dropped >= dropped
    if outcome == "answered":
        assert [record.values for record in answer.answer] == [("192.0.2.1",)]


def test_nobody_listening_is_silence_with_the_reason() -> None:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as taken:
        taken.bind(("127.0.0.1", 0))
        port = taken.getsockname()[1]
    answer = asyncio.run(Asker(HERE, patience=0.3).ask(QUESTION, Server("127.0.0.1", port)))
    assert (answer.outcome, answer.trouble and answer.trouble.cause) == ("silent", "no-connection")
    away = asyncio.run(Asker(HERE).ask(QUESTION, Server("192.0.2.1")))
    assert (away.outcome, away.trouble and away.trouble.cause) == ("silent", "off-limits")


def test_truncated_answers_are_fetched_over_tcp() -> None:
    big = zone(RIGHT + "\n".join(f'@ TXT "{at:03d}{"x" * 200}"' for at in range(30)))

    async def main() -> Answer:
        async def reply(name: str, rrtype: str) -> Reply:
            return _lookup(big, name, rrtype)

        server = DnsServer(reply)
        await server.start()
        answer = await Asker(HERE).ask(Question("tidewick-kiln.example.", "TXT"), Server("127.0.0.1", server.port))
        await server.stop()
        return answer

    assert len(asyncio.run(main()).answer[0].values) == 32


@settings(max_examples=200, suppress_health_check=[HealthCheck.too_slow])
@given(st.data())
def test_any_damage_to_an_answer_is_an_answer_value(data: st.DataObject) -> None:
    """Bytes of a real answer flipped at random places: read as something, or refused as no DNS.

    What the quick way reads, the DNS library reads alike.
    """
    asked = wire.question_octets(QUESTION)
    octets = bytearray(answered(wire.query_octets(asked, 7, True, True, False, False)).to_wire())
    for _ in range(data.draw(st.integers(1, 6))):
        octets[data.draw(st.integers(2, len(octets) - 1))] = data.draw(st.integers(0, 255))
    if not wire.answers(bytes(octets), asked, False):
        return
    try:
        quick = wire.read_answer(bytes(octets), len(asked), QUESTION, HOME, 0.0)
    except wire.Unusual:
        quick = None
    try:
        slow = read_rare_answer(bytes(octets), QUESTION, HOME, 0.0)
    except NotDns:
        assert quick is None
        return
    assert slow.outcome in ("answered", "broken")
    assert quick is None or quick == slow


def test_control_characters_in_a_text_record_are_spelled() -> None:
    response = answered(dns.message.make_query(QUESTION.name, "A").to_wire())
    response.answer = [dns.rrset.from_text("a.example.", 60, "IN", "TXT", r'"\027[2J\007"')]
    answer = read_rare_answer(response.to_wire(), QUESTION, HOME, 0.0)
    assert answer.answer[0].values == (r'"\027[2J\007"',)


def lower_case(octets: bytes) -> list[bytes]:
    """An old server that does not keep capitals."""
    end = octets.index(b"\x00", 12) + 1
    return [answered(octets[:12] + octets[12:end].lower() + octets[end:]).to_wire()]


def test_capitals_guard_a_question_and_an_old_server_is_asked_plainly() -> None:
    seen: list[bytes] = []

    def old(octets: bytes) -> list[bytes]:
        seen.append(octets)
        return lower_case(octets)

    answer, _ = asyncio.run(asked_of(old))
    assert (answer.outcome, answer.late) == ("answered", False)
    first, second = (dns.message.from_wire(octets).question[0].name.to_text() for octets in seen)
    assert first.lower() == second == QUESTION.name
    answer, _ = asyncio.run(asked_of(lambda octets: [answered(octets).to_wire()]))
    assert answer.outcome == "answered"
    asked = wire.question_octets(QUESTION)
    chance = Chance()
    mixed = {wire.in_mixed_case(asked, chance.take(len(asked))) for _ in range(20)}
    assert len(mixed) > 10
    assert {each.lower() for each in mixed} == {asked.lower()}
    assert all(each[-4:] == asked[-4:] and each[0] == asked[0] for each in mixed)


LABEL = st.text("abcz09-_", min_size=1, max_size=12)
NAME = st.lists(LABEL, min_size=1, max_size=4).map(lambda labels: ".".join(labels) + ".")
TEXT = st.lists(st.binary(max_size=40), min_size=1, max_size=3)


@st.composite
def records(draw: st.DrawFn) -> dns.rrset.RRset:
    kind = draw(st.sampled_from(("A", "AAAA", "CNAME", "NS", "MX", "TXT", "SOA", "CAA", "SRV")))
    host = draw(NAME)
    pieces = " ".join('"' + "".join(f"\\{octet:03d}" for octet in piece) + '"' for piece in draw(TEXT))
    value = {
        "A": ".".join(str(octet) for octet in draw(st.binary(min_size=4, max_size=4))),
        "AAAA": str(IPv6Address(draw(st.binary(min_size=16, max_size=16)))),
        "MX": f"{draw(st.integers(0, 65535))} {host}",
        "TXT": pieces,
        "SOA": f"{host} {draw(NAME)} {draw(st.integers(0, 2**32 - 1))} 1 2 3 {draw(st.integers(0, 2**31))}",
        "CAA": f'0 issue "{host[:-1]}"',
        "SRV": f"1 2 443 {host}",
    }.get(kind, host)
    return dns.rrset.from_text(draw(NAME), draw(st.integers(0, 2**31 - 1)), "IN", kind, value)


@settings(max_examples=300, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(records(), max_size=6), st.lists(records(), max_size=3), st.booleans())
def test_both_readers_give_equal_answers(
    answer: list[dns.rrset.RRset], authority: list[dns.rrset.RRset], edns: bool
) -> None:
    response = dns.message.make_response(dns.message.make_query(QUESTION.name, "A", use_edns=edns))
    for section, found in ((response.answer, answer), (response.authority, authority)):
        for each in found:
            same = response.find_rrset(section, each.name, each.rdclass, each.rdtype, create=True)
            for rdata in each:
                same.add(rdata)
            same.ttl = each.ttl
    octets = response.to_wire(max_size=65535)
    slow = read_rare_answer(octets, QUESTION, HOME, 0.0)
    try:
        assert wire.read_answer(octets, len(wire.question_octets(QUESTION)), QUESTION, HOME, 0.0) == slow
    except wire.Unusual:
        plain = {"A", "CNAME", "NS", "MX", "TXT", "SOA"}
        assert {dns.rdatatype.to_text(each.rdtype) for each in (*answer, *authority)} - plain


def test_a_dead_place_does_not_hold_up_hundreds_of_questions() -> None:
    """After some questions in a row without an answer the rest is not sent; other places are not held up."""

    async def main() -> tuple[list[Answer], int]:
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as silent:
            silent.bind(("127.0.0.1", 0))
            asker = Asker(HERE, patience=0.2)
            there = Server("127.0.0.1", silent.getsockname()[1])
            asks = [(Question(f"n{at}.example.", "A"), there) for at in range(400)]
            return await asker.ask_all(asks), asker.asked

    answers, asked = asyncio.run(main())
    assert {answer.outcome for answer in answers} == {"silent"}
    assert asked < 500
    assert [answers[at].trouble.cause for at in (0, -1) if answers[at].trouble] == ["silent", "not-asked"]  # type: ignore[union-attr]
