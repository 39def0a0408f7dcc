"""Sending a dynamic update signed with TSIG (RFC 2136, RFC 8945)."""

from __future__ import annotations

import asyncio

import dns.exception
import dns.message
import dns.name
import dns.opcode
import dns.rcode
import dns.rdatatype
import dns.rrset
import dns.tsig
import dns.update

from homepath.core.formats.key_file import TsigKey
from homepath.core.model.names import shown
from homepath.core.model.problems import CouldNotLook, Refused
from homepath.core.model.questions import Server
from homepath.core.model.records import RecordSet
from homepath.core.planning.update import Update
from homepath.net.network_file import Network, OffLimits
from homepath.net.streams import exchange_octets

_REFUSALS = {
    "YXDOMAIN": "a name that should be unused holds records now",
    "YXRRSET": "a record that should not exist is there now",
    "NXRRSET": "a record is no longer what the plan was made from",
    "NXDOMAIN": "a name that should exist is gone",
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
    """Send over TCP and read the verdict. Raises Refused when nothing was changed, CouldNotLook when unknown."""
    message = build(update, key)
    try:
        place = network.place(server.address, server.port)
        octets = await asyncio.wait_for(exchange_octets(message.to_wire(), place), patience)
        answer = dns.message.from_wire(octets, keyring=message.keyring, request_mac=message.mac)
    except (TimeoutError, OSError, OffLimits, ValueError) as error:
        raise CouldNotLook(
            f"{server.place} did not answer the update ({_words(error)})",
            "Run `homepath watch --once` to see whether it was carried out all the same.",
        ) from error
    except dns.exception.DNSException as error:
        raise Refused(
            f"{server.place} does not know the key, or its answer is not signed with it ({type(error).__name__})",
            "Compare the key file with the one of the DNS host: name, algorithm and secret must agree. "
            "Nothing can be said to have changed; `homepath watch --once` looks.",
        ) from error
    if answer.opcode() != dns.opcode.UPDATE or answer.id != message.id:
        raise CouldNotLook(f"{server.place} answered something else", "Is this the DNS host's update server?")
    code = dns.rcode.to_text(answer.rcode())
    if code == "NOERROR":
        if not answer.had_tsig:
            raise Refused(
                f"{server.place} did not sign its answer", "It cannot be trusted; look with `homepath watch`."
            )
        return
    raise _refusal(code, update, server)


def _refusal(code: str, update: Update, server: Server) -> Refused:
    if code in _REFUSALS:
        return Refused(
            f"nothing was sent on: {_REFUSALS[code]} ({code})",
            "Somebody changed the zone since the survey. Run `homepath survey`, look at the plan again, then send.",
        )
    if code in ("NOTAUTH", "REFUSED"):
        return Refused(
            f"{server.place} refuses the update of {shown(update.zone)} ({code})",
            "Check that the key file is right and may update this zone, and that this is the primary server "
            "(--server ADDRESS).",
        )
    return Refused(f"{server.place} answered {code}; nothing was changed", "Ask the DNS host what this means.")


def _words(error: BaseException) -> str:
    if isinstance(error, TimeoutError):
        return "no answer in time"
    return (error.strerror or "").lower() if isinstance(error, OSError) and error.strerror else str(error)
