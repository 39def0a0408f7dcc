"""Nameservers over UDP and TCP on 127.0.0.1: bound before they start, octets in, octets out."""

from __future__ import annotations

import asyncio
import contextlib
import socket
import struct
from collections.abc import Awaitable, Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import cast

import dns.exception
import dns.flags
import dns.message
import dns.name
import dns.opcode
import dns.rcode
import dns.rdatatype
import dns.rrset
import dns.tsig
import dns.update

from homepath.core.dns.names import Name, absolute
from homepath.core.dns.records import RecordSet
from homepath.practice.zones import Reply

_KNOWN = frozenset(b"abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_*")
OPT = 41
DO = 0x8000
"""In the flags of EDNS: signatures are wanted (RFC 3225)."""
RD, CD = 0x0100, 0x0010


@dataclass(frozen=True, slots=True)
class Plain:
    """`end`: where the question's name ends. `flags`: those that an answer repeats. `payload`: what EDNS allows."""

    name: str
    rrtype: str
    end: int
    flags: int
    edns: bool = False
    payload: int = 0
    dnssec: bool = False


def read_plain(octets: bytes) -> Plain | None:
    """The question, or None where it is not plain (RFC 1035 section 4.1)."""
    if len(octets) < 17:
        return None
    _, flags, questions, answers, authorities, more = struct.unpack("!6H", octets[:12])
    if flags & ~(RD | CD | 0x0020) or (questions, answers, authorities) != (1, 0, 0) or more > 1:
        return None
    labels, at = [], 12
    while octets[at]:
        label = octets[at + 1 : at + 1 + octets[at]]
        if (
            octets[at] > 63
            or len(label) < octets[at]
            or not _KNOWN.issuperset(label)
            or len(octets) < at + octets[at] + 6
        ):
            return None
        labels.append(label.decode("ascii").lower())
        at += 1 + octets[at]
    rrtype, rrclass = struct.unpack("!2H", octets[at + 1 : at + 5])
    name, end, rest = ".".join(labels) + ".", at + 1, octets[at + 5 :]
    if rrclass != 1:
        return None
    if not more:
        return None if rest else Plain(name, _type_name(rrtype), end, flags)
    if len(rest) != 11 or rest[0] or struct.unpack("!H", rest[1:3])[0] != OPT or rest[9:11] != b"\0\0":
        return None
    payload, _, version, signs = struct.unpack("!HBBH", rest[3:9])
    if version:
        return None
    return Plain(name, _type_name(rrtype), end, flags, True, payload, bool(signs & DO))


@lru_cache
def _type_name(number: int) -> str:
    return dns.rdatatype.to_text(dns.rdatatype.RdataType.make(number))


FAULTS = ("refusing", "other-question", "truncating", "drops-edns", "checking")
"""What a faulty resolver does with every question: refuse it, answer another one, never give more than TC over UDP,
ignore anyone who offers EDNS, or find the signatures broken and fail unless told not to check (RFC 4035 section
3.2.2)."""
MOST_ON_A_LINE = 100
"""Questions on one connection (RFC 7766 section 6.2.1)."""
Answerer = Callable[[Name, str], Awaitable[Reply | None]]
"""Returns the reply to a question; None for silence."""
Signed = Callable[[Name, str, Reply], Reply]
"""The reply with its signatures, for anyone who asks for them (RFC 4035 section 3.1)."""
Updater = Callable[[dns.update.UpdateMessage], str]


def bound_pair() -> tuple[socket.socket, socket.socket]:
    """A UDP and a TCP socket on the same free port of 127.0.0.1."""
    for _ in range(50):
        udp = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        udp.bind(("127.0.0.1", 0))
        tcp = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        try:
            tcp.bind(udp.getsockname())
        except OSError:
            udp.close()
            tcp.close()
            continue
        udp.setblocking(False)
        tcp.setblocking(False)
        return udp, tcp
    raise OSError("no free port for both UDP and TCP on 127.0.0.1")


class DnsServer:
    """One listening place. Questions go to `answerer`, signed updates to `updater` if there is one."""

    def __init__(
        self,
        answerer: Answerer,
        updater: Updater | None = None,
        keyring: dict[dns.name.Name, dns.tsig.Key] | None = None,
        fault: str = "",
        signed: Signed | None = None,
    ) -> None:
        self._signed = signed
        self._answerer, self._updater, self._keyring = answerer, updater, keyring or {}
        self._fault = fault
        self._udp, self._tcp = bound_pair()
        self.port: int = self._udp.getsockname()[1]
        self._tasks: set[asyncio.Task[None]] = set()
        self._server: asyncio.Server | None = None
        self._transport: asyncio.BaseTransport | None = None

    async def start(self) -> None:
        loop = asyncio.get_running_loop()
        self._server = await asyncio.start_server(self._serve_stream, sock=self._tcp)
        self._transport, _ = await loop.create_datagram_endpoint(lambda: _Datagrams(self), sock=self._udp)

    async def stop(self) -> None:
        """Close everything; what was still being answered is left unanswered."""
        if self._server and self._transport:
            self._server.close()
            self._transport.close()
        for task in list(self._tasks):
            task.cancel()
        await asyncio.sleep(0)  # closing transports and cancelled tasks take one turn of the loop

    def take(self, octets: bytes, reply: Callable[[bytes], None]) -> None:
        async def run() -> None:
            answer = await self._respond(octets, 512)
            if answer:
                reply(answer)

        task = asyncio.get_running_loop().create_task(run())
        self._tasks.add(task)
        task.add_done_callback(self._tasks.discard)

    async def _serve_stream(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        with contextlib.suppress(OSError, asyncio.IncompleteReadError, TimeoutError):
            async with asyncio.timeout(10):
                for _ in range(MOST_ON_A_LINE):
                    (length,) = struct.unpack("!H", await reader.readexactly(2))
                    answer = await self._respond(await reader.readexactly(length), 65535)
                    if answer:
                        writer.write(struct.pack("!H", len(answer)) + answer)
                        await writer.drain()
        writer.close()

    async def _respond(self, octets: bytes, limit: int) -> bytes | None:
        plain = None if self._fault else read_plain(octets)
        if plain is None:
            return await self._respond_with_care(octets, limit)
        reply = await self._answerer(plain.name, plain.rrtype)
        if reply is None:
            return None
        if plain.dnssec and self._signed is not None:
            reply = self._signed(plain.name, plain.rrtype, reply)
        made = _composed(plain.name, plain.rrtype, plain.flags, plain.edns, reply, max(limit, plain.payload))
        return octets[:2] + made[2:12] + octets[12 : plain.end] + made[plain.end :]

    async def _respond_with_care(self, octets: bytes, limit: int) -> bytes | None:
        """The same for every message that is not just a question, and for servers with a fault."""
        try:
            message = dns.message.from_wire(octets, keyring=self._keyring)
        except dns.message.UnknownTSIGKey:
            return _error(octets, dns.rcode.NOTAUTH)
        except (dns.exception.DNSException, ValueError):
            return _error(octets, dns.rcode.NOTAUTH if self._keyring else dns.rcode.FORMERR)
        if isinstance(message, dns.update.UpdateMessage):
            return self._update(message)
        if message.opcode() != dns.opcode.QUERY or len(message.question) != 1 or message.flags & dns.flags.QR:
            return _error(octets, dns.rcode.NOTIMP)
        question = message.question[0]
        name, rrtype = absolute(question.name.to_text()), dns.rdatatype.to_text(question.rdtype)
        reply = await self._answerer(name, rrtype)
        if reply is not None and self._signed is not None and message.ednsflags & dns.flags.DO:
            reply = self._signed(name, rrtype, reply)
        if reply is None or (self._fault == "drops-edns" and message.edns >= 0):
            return None
        if self._fault == "refusing":
            reply = Reply("REFUSED", False)
        if self._fault == "checking" and not message.flags & dns.flags.CD:
            reply = Reply("SERVFAIL", False)
        if self._fault == "other-question":
            message = dns.message.make_query("elsewhere.example.", question.rdtype, id=message.id)
        if self._fault == "truncating" and limit < 65535:
            return _truncated(message)
        return _to_wire(message, reply, max(limit, message.payload or 0))

    def _update(self, message: dns.update.UpdateMessage) -> bytes:
        response = dns.message.make_response(message)
        allowed = self._updater is not None and message.had_tsig
        code = self._updater(message) if self._updater and allowed else "REFUSED"
        response.set_rcode(dns.rcode.from_text(code))
        return response.to_wire()


class _Datagrams(asyncio.DatagramProtocol):
    def __init__(self, server: DnsServer) -> None:
        self._server = server
        self._transport: asyncio.DatagramTransport | None = None

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        self._transport = cast(asyncio.DatagramTransport, transport)

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        transport = self._transport
        if transport is not None:
            self._server.take(data, lambda octets: transport.sendto(octets, addr))


def _error(octets: bytes, code: dns.rcode.Rcode) -> bytes | None:
    """An answer with only an rcode to something that could not be read whole."""
    if len(octets) < 12:
        return None
    flags = struct.unpack("!H", octets[2:4])[0]
    return octets[:2] + struct.pack("!HHHHH", (flags & 0x7900) | 0x8000 | int(code), 0, 0, 0, 0)


def _truncated(query: dns.message.Message) -> bytes:
    response = dns.message.make_response(query)
    response.flags |= dns.flags.TC
    return response.to_wire()


@lru_cache(maxsize=4096)
def _composed(name: str, rrtype: str, flags: int, edns: bool, reply: Reply, limit: int) -> bytes:
    """An answer with the id 0: what was composed once is used again, with the id and the spelling of the question at
    hand, since names may come in any capitals and go back as they came."""
    query = dns.message.make_query(name, rrtype, use_edns=0 if edns else False, id=0)
    query.flags = dns.flags.Flag(flags)
    return _to_wire(query, reply, limit)


def _to_wire(query: dns.message.Message, reply: Reply, limit: int) -> bytes:
    response = dns.message.make_response(query, recursion_available=bool(query.flags & dns.flags.RD))
    response.set_rcode(dns.rcode.from_text(reply.rcode))
    if reply.authoritative:
        response.flags |= dns.flags.AA
    response.answer = [_rrset(each) for each in reply.answer]
    response.authority = [_rrset(each) for each in reply.authority]
    response.additional = [_rrset(each) for each in reply.additional]
    try:
        return response.to_wire(max_size=limit)
    except dns.exception.TooBig:
        response.answer, response.authority, response.additional = [], [], []
        response.flags |= dns.flags.TC
        return response.to_wire(max_size=limit)


def _rrset(record: RecordSet) -> dns.rrset.RRset:
    return dns.rrset.from_text_list(record.name, record.ttl, "IN", record.type, list(record.values))
