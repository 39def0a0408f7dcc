"""Zone transfers from servers that sign them, do not sign them, or stop signing on the way."""

from __future__ import annotations

import asyncio
import base64
import struct
from typing import Any

import dns.flags
import dns.message
import dns.name
import dns.rcode
import dns.rrset
import dns.tsig
import pytest

from homepath.core.dns.answers import Server
from homepath.core.dns.records import RecordSet
from homepath.core.files.key_file import TsigKey
from homepath.net.network_file import Network
from homepath.net.update import NotGiven, keyring_of, transfer

ZONE = "tidewick-kiln.example."
KEY = TsigKey("owner-key.", "hmac-sha256", base64.b64decode("c2VjcmV0LXNlY3JldA=="))
SOA = f"{ZONE} 60 IN SOA ns. dns. 1 2 3 4 5"
PARTS = [[SOA, f"{ZONE} 60 IN MX 10 a.example."], [f"{ZONE} 60 IN MX 20 b.example."], [f"{ZONE} 60 IN TXT x", SOA]]


def given(signed: tuple[bool, ...], key: TsigKey | None = KEY, rcode: int = 0) -> list[RecordSet]:
    """The zone as a server gives it that signs only some of its messages."""

    async def main() -> list[RecordSet]:
        async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            (length,) = struct.unpack("!H", await reader.readexactly(2))
            query = dns.message.from_wire(await reader.readexactly(length), keyring=keyring_of(KEY))
            context: Any = None
            for lines, sign in zip(PARTS, signed, strict=True):
                response = dns.message.make_response(query)
                response.set_rcode(dns.rcode.Rcode(rcode))
                response.tsig = None
                for line in lines:
                    name, ttl, _, kind, value = line.split(" ", 4)
                    response.answer.append(dns.rrset.from_text(name, int(ttl), "IN", kind, value))
                if sign:
                    response.use_tsig(keyring_of(KEY), dns.name.from_text(KEY.name))
                    response.request_mac = query.mac or b""
                octets: Any = response.to_wire(multi=True, tsig_ctx=context if sign else None)
                context = response.tsig_ctx if sign else context
                if not sign and context is not None:
                    context.update(octets)
                writer.write(struct.pack("!H", len(octets)) + octets)
            await writer.drain()
            writer.close()

        server = await asyncio.start_server(serve, "127.0.0.1", 0)
        port = server.sockets[0].getsockname()[1]
        async with server:
            return await transfer(ZONE, Server("127.0.0.1", port), Network(roots=(Server("127.0.0.1"),)), key)

    return asyncio.run(main())


def test_all_values_of_a_set_come_along_however_they_are_sent() -> None:
    for signed, key in (((True, True, True), KEY), ((True, False, True), KEY), ((False,) * 3, None)):
        sets = {(record.name, record.type): record.values for record in given(signed, key)}
        assert sets[ZONE, "MX"] == ("10 a.example.", "20 b.example.")
        assert set(sets) == {(ZONE, "SOA"), (ZONE, "MX"), (ZONE, "TXT")}


@pytest.mark.parametrize("signed", [(False, False, False), (False, True, True), (True, True, False)])
def test_with_a_key_the_first_and_the_last_message_must_be_signed(signed: tuple[bool, ...]) -> None:
    with pytest.raises(NotGiven) as lost:
        given(signed)
    assert lost.value.trouble.cause == "unsigned"


def test_a_refusal_is_said() -> None:
    with pytest.raises(NotGiven) as lost:
        given((True, True, True), rcode=5)
    assert lost.value.trouble.cause == "not-allowed"
