"""Both sides of a hand-over compared: many servers as fast as the slowest of them, and a large zone in seconds."""

from __future__ import annotations

import asyncio
import multiprocessing
import socket
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import dns.message
import dns.rcode
import dns.rrset

from homepath.app.driving import Driver
from homepath.core.dns.answers import Question, Server
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.walk import Cut, Found
from homepath.core.model.brief import Brief, BriefRecord, Notation, Site
from homepath.core.model.brief import MoveTo as Move
from homepath.core.model.survey import Compared
from homepath.core.observe.compare import AT_ONCE, Sides, asked_keys, compare_check
from homepath.core.observe.requests import FindZone, LookUp, Questions, Request
from homepath.core.plan.new_zone import due
from homepath.core.site.case import Case
from homepath.core.site.wanted import work_out
from homepath.net.asker import Asker
from homepath.net.network_file import Network, load_network
from homepath.net.session import Session

DOMAIN = "tidewick-kiln.example."
ANSWERS_AFTER = 0.05
"""Seconds until a server of the first measurement answers."""
Table = dict[bytes, bytes]


def zone(count: int) -> Zone:
    sets = [
        RecordSet(DOMAIN, "SOA", 60, ("ns1.old.example. dns.old.example. 1 60 60 60 60",)),
        RecordSet(DOMAIN, "NS", 60, ("ns1.old.example.",)),
        *(RecordSet(f"n{at}.{DOMAIN}", "A", 60, (f"198.51.{at // 250}.{at % 250}",)) for at in range(count)),
    ]
    return Zone.of(DOMAIN, sets)


def table(held: Zone) -> Table:
    """What a server answers, by question: all but the id, so that it can answer as fast as it can be asked."""
    found = {}
    for record in held:
        query = dns.message.make_query(record.name, record.type, id=0)
        answer = dns.message.make_response(query)
        answer.flags |= 0x0400
        answer.answer = [dns.rrset.from_text_list(record.name, record.ttl, "IN", record.type, list(record.values))]
        octets = answer.to_wire()
        found[query.to_wire()[12 : 12 + len(query.question[0].name.to_wire() or b"") + 4]] = octets[2:]
    return found


def serve(count: int, servers: int, delay: float, ready: Connection) -> None:
    """So many servers with the same zone, in a process of their own; ends when the other side hangs up."""
    held = zone(count)
    answers = table(held)
    soa = dns.rrset.from_text_list(DOMAIN, 60, "IN", "SOA", list(held.values(DOMAIN, "SOA")))

    class Answers(asyncio.DatagramProtocol):
        def connection_made(self, transport: Any) -> None:
            self.transport = transport

        def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
            if delay:
                asyncio.get_running_loop().call_later(delay, self.answer, data, addr)
            else:
                self.answer(data, addr)

        def answer(self, data: bytes, addr: tuple[str, int]) -> None:
            end = data.index(b"\0", 12) + 5
            known = answers.get(data[12:end].lower())
            if known is None:
                answers[data[12:end].lower()] = known = nothing(data)
            self.transport.sendto(data[:2] + known[:10] + data[12:end] + known[10 + end - 12 :], addr)

    def nothing(data: bytes) -> bytes:
        answer = dns.message.make_response(dns.message.from_wire(data))
        answer.flags |= 0x0400
        answer.set_rcode(dns.rcode.NXDOMAIN)
        answer.authority = [soa]
        return answer.to_wire()[2:]

    async def main() -> None:
        loop = asyncio.get_running_loop()
        sockets = [socket.socket(socket.AF_INET, socket.SOCK_DGRAM) for _ in range(servers)]
        for each in sockets:
            each.bind(("127.0.0.1", 0))
            each.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 8_000_000)
            await loop.create_datagram_endpoint(Answers, sock=each)
        ready.send([each.getsockname()[1] for each in sockets])
        await asyncio.to_thread(ready.recv)

    asyncio.run(main())


@contextmanager
def serving(count: int, servers: int, delay: float) -> Iterator[list[Server]]:
    here, there = multiprocessing.Pipe()
    process = multiprocessing.Process(target=serve, args=(count, servers, delay, there), daemon=True)
    process.start()
    ports = here.recv()
    try:
        yield [Server("127.0.0.1", port, f"ns{at}.x.example.") for at, port in enumerate(ports, 1)]
    finally:
        here.send("end")
        process.join(5)


class Fixed(Driver):
    """Knows the servers beforehand: only what both sides are asked is measured."""

    old: tuple[Server, ...] = ()
    new: tuple[Server, ...] = ()

    async def _reply(self, request: Request) -> Any:
        match request:
            case FindZone():
                return Cut(DOMAIN, tuple(s.name for s in self.old), self.old, "example.", 60, ())
            case LookUp(name, _):
                return Found((), (RecordSet(name, "A", 60, ("127.0.0.1",)),), name, "NOERROR")
            case Questions(asks, recurse, unchecked, at_once):
                ports = {server.name: server.port for server in (*self.old, *self.new)}
                places = tuple((q, Server(s.address, ports[s.name], s.name)) for q, s in asks)
                return await self.walker.asker.ask_all(places, recurse, False, unchecked, at_once)
        return await super()._reply(request)


def made(count: int, new: list[Server]) -> Case:
    site = Site("tidewick-kiln.example", "n1", "b", move=Move("t", tuple(server.name for server in new)))
    brief = Brief("Bricklark", label=(BriefRecord("A", ("198.51.0.1",)),))
    return Case(work_out(site, brief, Notation()), zone(count), Zone("."), Notation())


def compared(network: Network, case: Case, old: list[Server], new: list[Server]) -> Compared:
    driver = Fixed(network, Session(Asker(network)))
    driver.old, driver.new = tuple(old), tuple(new)
    look = compare_check(case, due(case), Sides(tuple(server.name for server in new)), "hp-none")
    return asyncio.run(in_loop(driver, look))


async def in_loop(driver: Driver, look: Any) -> Compared:
    found: Compared = (await driver.drive(look)).compared
    return found


def chain(network: Network, case: Case, server: Server) -> Callable[[], object]:
    """One server alone: the SOA, then all that is asked of each, so many at a time."""
    keys = asked_keys(case, due(case), "hp-none")

    async def alone() -> None:
        driver = Fixed(network, Session(Asker(network)))
        driver.old = (server,)
        await driver.walker.asker.ask_all([(Question(DOMAIN, "SOA"), server)])
        asks = [(Question(*key), server) for key in keys]
        await driver.walker.asker.ask_all(asks, at_once=AT_ONCE)

    return lambda: asyncio.run(alone())


def main(folder: Path, ratio: Any, report: Any, timed: Any, say: Callable[[str], object]) -> None:
    (folder / "n.toml").write_text('format = "homepath.network/1"\nroots = ["127.0.0.1"]\n')
    network = load_network(folder / "n.toml")
    with serving(300, 8, ANSWERS_AFTER) as every:
        old, new = every[:4], every[4:]
        case = made(300, new)
        assert compared(network, case, old, new).verdict == "ready"
        found = ratio(lambda: compared(network, case, old, new), chain(network, case, old[0]), 5)
        report("compare, 2 x 4 servers, 300 records", "one server alone", found, 1.3)
    with serving(10_000, 2, 0) as every:
        case = made(10_000, every[1:])
        assert compared(network, case, every[:1], every[1:]).verdict == "ready"
        seconds = timed(lambda: compared(network, case, every[:1], every[1:]))
        say(f"compare of 10,000 records: {seconds:.2f} s, at most 5\n")
