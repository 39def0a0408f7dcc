"""The one seam to name servers: a question goes out, an answer value comes back, whatever happens."""

from __future__ import annotations

import asyncio
import socket
import struct
from collections.abc import Sequence
from dataclasses import dataclass, field

import dns.flags
import dns.message
import dns.rcode

from homepath.core.asking.walk import Ask
from homepath.core.model.questions import Answer, Outcome, Question, Server
from homepath.net import wire
from homepath.net.network_file import Network, OffLimits, Place

AT_ONCE = 64
"""Questions under way at one moment."""


@dataclass(slots=True)
class Asker:
    """Asks over UDP, over TCP when truncated, without EDNS where a server does not know it (RFC 6891 section 7).

    `patience`: seconds of real time for one try; `tries`: how often. `dropped` counts what came unasked.
    """

    network: Network
    patience: float = 2.0
    tries: int = 2
    dropped: int = 0
    asked: int = 0
    _limit: asyncio.Semaphore = field(default_factory=lambda: asyncio.Semaphore(AT_ONCE))

    async def ask(self, question: Question, server: Server, recurse: bool = False, dnssec: bool = False) -> Answer:
        """The answer, or an answer value that says `silent` or `broken`. Never raises for what a server does."""
        try:
            place = self.network.place(server.address, server.port)
        except OffLimits as error:
            return self._nothing(question, server, "silent", str(error))
        async with self._limit:
            answer = await self._ask_place(question, server, place, recurse, dnssec)
        said = answer.rcode if answer.outcome == "answered" else f"{answer.outcome}, {answer.detail}"
        self.network.trace(f"dns {server.place} {question.name} {question.type}: {said}")
        return answer

    async def ask_all(self, asks: Sequence[Ask], recurse: bool = False, dnssec: bool = False) -> list[Answer]:
        """All answers, in the order of the questions, asked at the same time."""
        return list(await asyncio.gather(*(self.ask(question, server, recurse, dnssec) for question, server in asks)))

    async def _ask_place(self, question: Question, server: Server, place: Place, recurse: bool, dnssec: bool) -> Answer:
        edns, trouble = True, ""
        for _ in range(self.tries):
            asked = wire.query(question, recurse, edns, dnssec)
            self.asked += 1
            try:
                message = await asyncio.wait_for(self._exchange(asked, place), self.patience)
            except TimeoutError:
                continue
            except wire.NotDns as error:
                trouble = str(error)
                continue
            except OSError as error:
                return self._nothing(question, server, "silent", f"nobody listens there ({_words(error)})")
            if edns and message.rcode() in (dns.rcode.FORMERR, dns.rcode.NOTIMP):
                edns = False  # an old server may stumble over EDNS
                continue
            return wire.to_answer(question, server, message, self.network.clock.now())
        return self._nothing(question, server, "broken" if trouble else "silent", trouble or "no answer in time")

    async def _exchange(self, asked: dns.message.Message, place: Place) -> dns.message.Message:
        message = await self._over_udp(asked, place)
        return await exchange_tcp(asked, place) if message.flags & dns.flags.TC else message

    async def _over_udp(self, asked: dns.message.Message, place: Place) -> dns.message.Message:
        loop = asyncio.get_running_loop()
        family = socket.AF_INET6 if ":" in place[0] else socket.AF_INET
        with socket.socket(family, socket.SOCK_DGRAM) as sock:
            sock.setblocking(False)
            sock.connect(place)  # the kernel drops datagrams from other addresses and picks a random port
            await loop.sock_sendall(sock, asked.to_wire())
            trouble = 0
            while True:
                octets = await loop.sock_recv(sock, 65535)
                try:
                    return wire.parse_response(octets, asked)
                except wire.NotDns:
                    self.dropped += 1
                    trouble += 1
                    if trouble >= 3:
                        raise

    def _nothing(self, question: Question, server: Server, outcome: Outcome, detail: str) -> Answer:
        return Answer(question, server, outcome, self.network.clock.now(), detail=detail)


async def exchange_tcp(asked: dns.message.Message, place: Place) -> dns.message.Message:
    """One message over TCP and its answer (RFC 7766). Raises OSError, NotDns."""
    return wire.parse_response(await exchange_octets(asked.to_wire(), place), asked)


async def exchange_octets(octets: bytes, place: Place) -> bytes:
    """Two octets of length, then the message (RFC 1035 section 4.2.2); at most 65,535 octets come back."""
    reader, writer = await asyncio.open_connection(*place)
    try:
        writer.write(struct.pack("!H", len(octets)) + octets)
        await writer.drain()
        (length,) = struct.unpack("!H", await reader.readexactly(2))
        return await reader.readexactly(length)
    except asyncio.IncompleteReadError as error:
        raise wire.NotDns("the connection ended in the middle of an answer") from error
    finally:
        writer.close()


def _words(error: OSError) -> str:
    return (error.strerror or type(error).__name__).lower()
