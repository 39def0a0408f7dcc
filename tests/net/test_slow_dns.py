"""A server that answers late: each answer is taken as long as its question is open, and late is not silent."""

from __future__ import annotations

import asyncio
import socket
from collections.abc import Callable

import dns.message
import dns.rrset

from homepath.core.dns.answers import Answer, Question, Server
from homepath.net.asker import Asker
from homepath.net.network_file import Network
from tests.net import idle_clock

HERE = Network(roots=(Server("127.0.0.1"),))


def reply(octets: bytes, ttls: tuple[int, ...] = (60,)) -> bytes:
    response = dns.message.make_response(dns.message.from_wire(octets))
    name = response.question[0].name
    for last, ttl in enumerate(ttls, 1):
        response.answer.append(dns.rrset.from_text(name, ttl, "IN", "A", f"192.0.2.{last}"))
    return response.to_wire()


async def asked(count: int, answers: Callable[[int, bytes], tuple[float, bytes]]) -> tuple[list[Answer], Asker]:
    """`count` questions to a server that sends, for its n-th question, some octets after some seconds."""
    loop = asyncio.get_running_loop()
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as server:
        server.bind(("127.0.0.1", 0))
        server.setblocking(False)

        async def serve() -> None:
            number = 0
            while True:
                octets, client = await loop.sock_recvfrom(server, 4096)
                wait, answer = answers(number, octets)
                number += 1
                loop.call_later(wait, server.sendto, answer, client)

        serving = asyncio.create_task(serve())
        asker = Asker(HERE, patience=0.2)
        there = Server("127.0.0.1", server.getsockname()[1])
        found = await asker.ask_all([(Question(f"n{at}.example.", "A"), there) for at in range(count)])
        serving.cancel()
        return found, asker


def test_a_late_answer_to_the_first_try_is_an_answer_and_said_to_be_late() -> None:
    found, asker = idle_clock.run(asked(60, lambda number, octets: (0.28, reply(octets))))
    assert {(answer.outcome, answer.late) for answer in found} == {("answered", True)}
    assert asker.dropped == 0
    found, _ = idle_clock.run(asked(60, lambda number, octets: (0.0, reply(octets))))
    assert {(answer.outcome, answer.late) for answer in found} == {("answered", False)}


def test_a_server_that_drops_each_first_try_is_asked_again() -> None:
    """Two tries, the second one answered at once."""
    seen: set[bytes] = set()

    def second(number: int, octets: bytes) -> tuple[float, bytes]:
        name = dns.message.from_wire(octets).question[0].name.to_text().lower().encode()
        known = name in seen
        seen.add(name)
        return 0.0, reply(octets) if known else b""

    found, _ = idle_clock.run(asked(5, second))
    assert {(answer.outcome, answer.late) for answer in found} == {("answered", True)}


def test_one_set_with_two_keeping_times_is_said() -> None:
    found, _ = idle_clock.run(asked(1, lambda number, octets: (0.0, reply(octets, (300, 60)))))
    (record,) = found[0].answer
    assert (found[0].uneven, record.ttl, record.values) == (True, 60, ("192.0.2.1", "192.0.2.2"))
    found, _ = idle_clock.run(asked(1, lambda number, octets: (0.0, reply(octets, (300, 300)))))
    assert (found[0].uneven, found[0].answer[0].ttl) == (False, 300)


def test_after_the_end_of_a_look_nothing_new_is_asked() -> None:
    async def main() -> tuple[Answer, int]:
        asker = Asker(HERE, patience=0.2)
        asker.ends = asyncio.get_running_loop().time() - 1
        return await asker.ask(Question("a.example.", "A"), Server("127.0.0.1", 9)), asker.asked

    answer, count = idle_clock.run(main())
    assert (answer.outcome, answer.trouble and answer.trouble.cause, count) == ("silent", "no-time", 0)
