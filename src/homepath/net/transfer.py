"""A whole zone from a server that allows it (RFC 5936)."""

from __future__ import annotations

import asyncio
import struct

import dns.exception
import dns.message
import dns.name
import dns.rcode
import dns.rdatatype
import dns.rrset

from homepath.core.dns.answers import Server, Trouble
from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet
from homepath.core.files.key_file import TsigKey
from homepath.net.network_file import Network
from homepath.net.troubles import trouble_of
from homepath.net.update import keyring_of
from homepath.net.wire import to_sets

BIGGEST = 64_000_000
PATIENCE = 30.0
UNSIGNED_IN_A_ROW = 99


class NotGiven(Exception):
    """The server does not give the zone."""

    def __init__(self, trouble: Trouble) -> None:
        super().__init__(trouble.cause)
        self.trouble = trouble


async def transfer(zone: Name, server: Server, network: Network, key: TsigKey | None = None) -> list[RecordSet]:
    """All record sets of the zone, asked over TCP. Raises NotGiven.

    With a key the first and the last message of the answer must be signed with it, and no more than 99 in a row may
    lack a signature (RFC 8945 section 5.3.1).
    """
    query = dns.message.make_query(dns.name.from_text(zone), dns.rdatatype.AXFR)
    if key:
        query.use_tsig(keyring_of(key), dns.name.from_text(key.name))
    try:
        place = network.place(server.address, server.port)
        async with asyncio.timeout(PATIENCE):
            return await _read(query, place, key)
    except NotGiven:
        raise
    except Exception as error:  # whatever hostile octets do to the parser
        raise NotGiven(trouble_of(error, server)) from error


async def _read(query: dns.message.Message, place: tuple[str, int], key: TsigKey | None) -> list[RecordSet]:
    reader, writer = await asyncio.open_connection(*place)
    found: list[dns.rrset.RRset] = []
    soas, size, context, unsigned = 0, 0, None, UNSIGNED_IN_A_ROW
    try:
        octets = query.to_wire()
        writer.write(struct.pack("!H", len(octets)) + octets)
        while soas < 2:
            (length,) = struct.unpack("!H", await reader.readexactly(2))
            size += length
            if size > BIGGEST:
                raise NotGiven(Trouble("too-large"))
            message = dns.message.from_wire(
                await reader.readexactly(length),
                keyring=query.keyring,
                request_mac=query.mac,
                xfr=True,
                origin=None,
                tsig_ctx=context,
                multi=bool(key),
                one_rr_per_rrset=False,
            )
            context = message.tsig_ctx
            unsigned = 0 if message.had_tsig else unsigned + 1
            if key and unsigned > UNSIGNED_IN_A_ROW:
                raise NotGiven(Trouble("unsigned"))
            if message.id != query.id or message.rcode() != dns.rcode.NOERROR:
                raise NotGiven(Trouble("not-allowed", said=dns.rcode.to_text(message.rcode())))
            soas += sum(len(rrset) for rrset in message.answer if rrset.rdtype == dns.rdatatype.SOA)
            found += message.answer
            if not message.answer:
                raise NotGiven(Trouble("not-dns"))
        if key and unsigned:
            raise NotGiven(Trouble("unsigned"))
        return list(to_sets(found))
    finally:
        writer.close()
