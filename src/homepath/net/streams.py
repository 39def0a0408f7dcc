"""DNS over connections: TCP (RFC 7766), TLS (RFC 7858) and HTTPS (RFC 8484).

A connection lives as long as questions are under way on it, so nothing stays open behind anyone who asked.
"""

from __future__ import annotations

import asyncio
import random
import ssl
import struct
from dataclasses import dataclass, field

import httpcore

from homepath.core.dns.answers import Server, Trouble
from homepath.net import octets as wire
from homepath.net.connections import OneAddress
from homepath.net.network_file import Network
from homepath.net.vantages import Place
from homepath.net.wire import trouble_of

BIGGEST = 65535
_random = random.SystemRandom()


class NoAnswer(ValueError):
    """Nothing usable came. `broken`: something did come, but no answer to the question."""

    def __init__(self, trouble: Trouble, broken: bool = False) -> None:
        super().__init__(trouble.cause)
        self.trouble = trouble
        self.broken = broken


class Ended(NoAnswer):
    """The server closed the connection while a question was under way on it."""


@dataclass(slots=True, eq=False)
class _Line:
    """One connection, with the questions under way on it by their ids (RFC 7766 section 6.2.1.1)."""

    reader: asyncio.StreamReader
    writer: asyncio.StreamWriter
    pending: dict[int, tuple[bytes, asyncio.Future[bytes]]] = field(default_factory=dict)
    users: int = 0
    reading: asyncio.Task[None] | None = None


class Streams:
    """Queries over connections, several at once on one. `unfit` counts answers that fit no question."""

    def __init__(self, network: Network) -> None:
        self._network = network
        self._lines: dict[Server, asyncio.Task[_Line]] = {}
        self._pools: dict[Server, tuple[httpcore.AsyncConnectionPool, int]] = {}
        self.unfit = 0

    async def exchange(self, query: bytes, asked: bytes, server: Server, place: Place) -> bytes:
        """The response to `query`, whose question section is `asked`. Raises NoAnswer, OSError."""
        if server.transport == "https":
            return await self._over_https(query, asked, server, place)
        try:
            return await self._on_line(query, asked, server, place)
        except Ended:
            # some servers close after one answer; a line of its own for each question then
            return await self._on_line(query, asked, server, place, alone=True)

    async def _on_line(self, query: bytes, asked: bytes, server: Server, place: Place, alone: bool = False) -> bytes:
        if alone:
            return await self._ask(await self._open(server, place), query, asked, None)
        opening = self._lines.get(server)
        if opening is None:
            opening = self._lines[server] = asyncio.ensure_future(self._open(server, place))
        try:
            line = await asyncio.shield(opening)
        except BaseException:
            self._lines.pop(server, None)
            raise
        return await self._ask(line, query, asked, server)

    async def _ask(self, line: _Line, query: bytes, asked: bytes, server: Server | None) -> bytes:
        line.users += 1
        number = _random.getrandbits(16)
        while number in line.pending:
            number = _random.getrandbits(16)
        answer: asyncio.Future[bytes] = asyncio.get_running_loop().create_future()
        line.pending[number] = asked, answer
        try:
            line.writer.write(struct.pack("!HH", len(query), number) + query[2:])
            await line.writer.drain()
            return await answer
        finally:
            line.pending.pop(number, None)
            line.users -= 1
            if not line.users:
                self._close(server, line)

    async def _open(self, server: Server, place: Place) -> _Line:
        try:
            if server.transport == "tls":
                name = server.name.removesuffix(".") or server.address
                reader, writer = await asyncio.open_connection(*place, ssl=self._trust("dot"), server_hostname=name)
            else:
                reader, writer = await asyncio.open_connection(*place)
        except ssl.SSLError as error:
            raise NoAnswer(trouble_of(error), broken=True) from error
        line = _Line(reader, writer)
        line.reading = asyncio.ensure_future(self._read(line))
        return line

    def _trust(self, protocol: str) -> ssl.SSLContext:
        """Names and chains are checked (RFC 8310 section 5): an answer of a stranger is worth nothing."""
        bundle = self._network.certificates
        context = ssl.create_default_context(cafile=str(bundle) if bundle else None)
        context.set_alpn_protocols([protocol] if protocol == "dot" else ["h2", "http/1.1"])
        return context

    async def _read(self, line: _Line) -> None:
        trouble: NoAnswer = Ended(Trouble("connection-lost"))
        try:
            while True:
                (length,) = struct.unpack("!H", await line.reader.readexactly(2))
                octets = await line.reader.readexactly(length)
                number = octets[0] << 8 | octets[1] if len(octets) >= 12 else -1
                asked, answer = line.pending.get(number, (b"", None))
                if answer is None or answer.done() or not wire.answers(octets, asked, False):
                    self.unfit += 1
                    trouble = NoAnswer(Trouble("not-dns"), broken=True)
                    break
                answer.set_result(octets)
        except (OSError, asyncio.IncompleteReadError):
            pass
        for _, answer in line.pending.values():
            if not answer.done():
                answer.set_exception(trouble)

    def _close(self, server: Server | None, line: _Line) -> None:
        if server is not None:
            self._lines.pop(server, None)
        if line.reading:
            line.reading.cancel()
        line.writer.transport.abort()

    async def _over_https(self, query: bytes, asked: bytes, server: Server, place: Place) -> bytes:
        """POST of the message with id 0 (RFC 8484 section 4.1)."""
        pool, users = self._pools.get(server) or (self._pool(place), 0)
        self._pools[server] = pool, users + 1
        host = server.name.removesuffix(".") or (f"[{server.address}]" if ":" in server.address else server.address)
        headers: dict[bytes | str, bytes | str] = {
            "Host": host,
            "Accept": "application/dns-message",
            "Content-Type": "application/dns-message",
        }
        url = httpcore.URL(scheme="https", host=host, port=server.port, target=server.path or "/dns-query")
        try:
            async with pool.stream("POST", url, headers=headers, content=b"\x00\x00" + query[2:]) as response:
                body = b""
                async for part in response.aiter_stream():
                    body += part
                    if len(body) > BIGGEST:
                        raise NoAnswer(Trouble("too-large"), broken=True)
                if response.status != 200:
                    raise NoAnswer(Trouble("not-dns", detail=f"HTTP status {response.status}"), broken=True)
        except (httpcore.NetworkError, httpcore.ProtocolError, httpcore.TimeoutException, ssl.SSLError) as error:
            trouble = trouble_of(error)
            raise NoAnswer(trouble, trouble.cause in ("tls", "untrusted")) from error
        finally:
            pool, users = self._pools.pop(server)
            if users > 1:
                self._pools[server] = pool, users - 1
            else:
                await pool.aclose()
        if not wire.answers(body, asked, False):
            self.unfit += 1
            raise NoAnswer(Trouble("not-dns"), broken=True)
        return body

    def _pool(self, place: Place) -> httpcore.AsyncConnectionPool:
        return httpcore.AsyncConnectionPool(
            ssl_context=self._trust("https"), network_backend=OneAddress(place), http2=True, max_connections=4
        )


async def exchange_octets(octets: bytes, place: Place) -> bytes:
    """One message of two octets of length, then the message (RFC 1035 section 4.2.2), and what comes back.

    Raises OSError, NoAnswer.
    """
    reader, writer = await asyncio.open_connection(*place)
    try:
        writer.write(struct.pack("!H", len(octets)) + octets)
        await writer.drain()
        (length,) = struct.unpack("!H", await reader.readexactly(2))
        return await reader.readexactly(length)
    except asyncio.IncompleteReadError as error:
        raise NoAnswer(Trouble("connection-lost"), broken=True) from error
    finally:
        writer.close()
