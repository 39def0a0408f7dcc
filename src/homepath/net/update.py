"""Dynamic updates signed with TSIG (RFC 2136, RFC 8945), and zone transfers (RFC 5936)."""

from __future__ import annotations

import asyncio
import struct
from dataclasses import replace

import dns.exception
import dns.message
import dns.name
import dns.opcode
import dns.rcode
import dns.rdatatype
import dns.rrset
import dns.tsig
import dns.update

from homepath.core.dns.answers import Server, Trouble, of_trouble
from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet
from homepath.core.files.key_file import TsigKey
from homepath.core.message import Text, msg, reason
from homepath.core.model.problems import CouldNotCheck, NotSent, Refused
from homepath.core.plan.plan import Update
from homepath.net.network_file import Network, OffLimits
from homepath.net.streams import exchange_octets
from homepath.net.wire import to_sets, trouble_of

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
                raise NotGiven(Trouble("not-allowed", detail=dns.rcode.to_text(message.rcode())))
            soas += sum(len(rrset) for rrset in message.answer if rrset.rdtype == dns.rdatatype.SOA)
            found += message.answer
            if not message.answer:
                raise NotGiven(Trouble("not-dns"))
        if key and unsigned:
            raise NotGiven(Trouble("unsigned"))
        return list(to_sets(found))
    finally:
        writer.close()


LOOK = msg("update.look")
_COMPARE = msg("update.compare")
_OF_THE_KEY: dict[type[BaseException], tuple[Text, Text]] = {
    dns.tsig.PeerBadKey: (msg("update.of-the-key"), _COMPARE),
    dns.tsig.PeerBadSignature: (msg("update.of-the-key-2"), _COMPARE),
    dns.tsig.PeerBadTime: (msg("update.of-the-key-3"), msg("update.of-the-key-4")),
    dns.tsig.PeerError: (msg("update.of-the-key-5"), _COMPARE),
}
"""What the server says of the key (RFC 8945 section 5.2), and what to do; the special ones first."""
_REFUSALS = {
    "YXDOMAIN": msg("update.refusals"),
    "YXRRSET": msg("update.refusals-2"),
    "NXRRSET": msg("update.refusals-3"),
    "NXDOMAIN": msg("update.refusals-4"),
}


def build(update: Update, key: TsigKey) -> dns.update.UpdateMessage:
    """The whole update as one message: prerequisites, deletions, additions."""
    message = dns.update.UpdateMessage(update.zone, keyring=keyring_of(key), keyname=dns.name.from_text(key.name))
    for record in update.exact:
        message.present(record.name, _rdataset(record, 0))
    for name, rrtype in update.missing:
        message.absent(name, rrtype)
    for name in update.unused:
        message.absent(name)
    for record in update.deleted:
        message.delete(record.name, _rdataset(record, 0))
    for record in update.added:
        message.add(record.name, _rdataset(record, record.ttl))
    return message


def keyring_of(key: TsigKey) -> dict[dns.name.Name, dns.tsig.Key]:
    """The key as the DNS library wants it."""
    algorithm = dns.tsig.HMAC_MD5 if key.algorithm == "hmac-md5" else f"{key.algorithm}."
    return {dns.name.from_text(key.name): dns.tsig.Key(key.name, key.secret, algorithm)}


def _rdataset(record: RecordSet, ttl: int) -> dns.rdataset.Rdataset:
    return dns.rrset.from_text_list(record.name, ttl, "IN", record.type, list(record.values)).to_rdataset()


async def send_update(update: Update, key: TsigKey, server: Server, network: Network, patience: float = 10.0) -> None:
    """Send over TCP and read the verdict. Raises Refused when nothing was changed, CouldNotCheck when unknown."""
    message = build(update, key)
    try:
        place = network.place(server.address, server.port)
        octets = await asyncio.wait_for(exchange_octets(message.to_wire(), place), patience)
        if code := _plain_refusal(octets, message.id):
            raise _refusal(code, update, server)
        answer = dns.message.from_wire(octets, keyring=message.keyring, request_mac=message.mac)
    except OffLimits as error:
        raise Refused(msg("update.send-update", error=reason(error)), msg("update.send-update-2")) from error
    except tuple(_OF_THE_KEY) as error:
        refusal, hint = next(words for kind, words in _OF_THE_KEY.items() if isinstance(error, kind))
        raise Refused(msg("update.send-update-3", place=server.place, said=refusal), hint) from error
    except ConnectionRefusedError as error:
        raise NotSent(
            msg("update.send-update-4", why=of_trouble(_trouble(error, server))), msg("update.send-update-5")
        ) from error
    except Refused:
        raise
    except Exception as error:  # whatever comes back, or does not, the update may have been carried out
        raise CouldNotCheck(msg("update.send-update-6", why=of_trouble(_trouble(error, server))), LOOK) from error
    if answer.opcode() != dns.opcode.UPDATE or answer.id != message.id:
        raise CouldNotCheck(msg("update.send-update-7", place=server.place), LOOK)
    code = dns.rcode.to_text(answer.rcode())
    if code == "NOERROR":
        if not answer.had_tsig:
            raise CouldNotCheck(msg("update.send-update-8", place=server.place), LOOK)
        return
    raise _refusal(code, update, server)


def _plain_refusal(octets: bytes, number: int) -> str:
    """The code of an answer that refuses and says nothing else, as servers do that do not know the key
    (RFC 8945 section 5.2.1: it cannot be signed); empty for any other."""
    if len(octets) < 12 or octets[10:12] != b"\x00\x00" or int.from_bytes(octets[:2]) != number:
        return ""
    refused = octets[2] & 0xF8 == 0x80 | dns.opcode.UPDATE << 3
    code = octets[3] & 0x0F
    return (
        dns.rcode.to_text(dns.rcode.Rcode(code)) if refused and code in (dns.rcode.NOTAUTH, dns.rcode.REFUSED) else ""
    )


def _refusal(code: str, update: Update, server: Server) -> Refused:
    if code in _REFUSALS:
        return Refused(msg("update.refusal", REFUSALS=_REFUSALS[code], code_=code), msg("update.refusal-2"))
    if code in ("NOTAUTH", "REFUSED"):
        return Refused(
            msg("update.refusal-3", place=server.place, zone=update.zone, code_=code), msg("update.refusal-4")
        )
    return Refused(msg("update.refusal-5", place=server.place, code_=code), msg("update.refusal-6"))


def _trouble(error: BaseException, server: Server) -> Trouble:
    return replace(trouble_of(error, server), detail="")
