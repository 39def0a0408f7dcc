"""Answers with rare parts, and sets of other sources, read by the DNS library into the values of the core; and the one
table that turns foreign exceptions into values."""

from __future__ import annotations

import asyncio
import os
import ssl

import dns.edns
import dns.exception
import dns.flags
import dns.message
import dns.rcode
import dns.rdatatype
import dns.rrset
import dns.tsig
import httpcore

from homepath.core.dns.answers import Answer, Question, Server, Trouble, TroubleCause
from homepath.core.dns.names import ROOT, BadName, absolute
from homepath.core.dns.records import Key, RecordSet
from homepath.core.dns.values import BadValue, canonical
from homepath.core.message import reason
from homepath.net.network_file import OffLimits
from homepath.net.octets import MOST_RECORDS, MOST_TTL

POOL = 8192
"""Octets fetched at once; none is ever given twice."""


class Chance:
    """Random octets as `os.urandom` returns them. Belongs to one event loop of one process, and is never copied."""

    __slots__ = ("_at", "_octets")

    def __init__(self) -> None:
        self._octets, self._at = b"", 0

    def take(self, count: int) -> bytes:
        """So many octets that no one was given before."""
        begin, end = self._at, self._at + count
        if end > len(self._octets):
            self._octets = os.urandom(max(POOL, count))
            begin, end = 0, count
        self._at = end
        return self._octets[begin:end]


CAUSES: tuple[tuple[type[BaseException], TroubleCause], ...] = (
    (OffLimits, "off-limits"),
    (TimeoutError, "silent"),
    (httpcore.TimeoutException, "silent"),
    (dns.exception.Timeout, "silent"),
    (ConnectionRefusedError, "no-connection"),
    (httpcore.ConnectError, "no-connection"),
    (ConnectionError, "connection-lost"),
    (asyncio.IncompleteReadError, "connection-lost"),
    (EOFError, "connection-lost"),
    (httpcore.ReadError, "connection-lost"),
    (httpcore.WriteError, "connection-lost"),
    (httpcore.NetworkError, "connection-lost"),
    (ssl.SSLError, "tls"),
    (httpcore.UnsupportedProtocol, "not-http"),
    (httpcore.ProtocolError, "not-http"),
    (httpcore.ProxyError, "no-connection"),
    (httpcore.ConnectionNotAvailable, "no-connection"),
    (dns.tsig.PeerBadKey, "refused"),
    (dns.tsig.BadSignature, "unsigned"),
    (dns.tsig.BadTime, "unsigned"),
    (dns.tsig.PeerError, "refused"),
    (dns.exception.DNSException, "not-dns"),
    (OSError, "no-connection"),
    (UnicodeError, "unreadable"),
    (ValueError, "unreadable"),
)
"""The first line whose class fits counts, so a special one comes before the general one."""


def cause_of(error: BaseException) -> TroubleCause:
    """Why a check failed, by the class of what was raised, or of what that was raised for."""
    chain = _chain(error)
    if (
        any(isinstance(each, ssl.SSLCertVerificationError) for each in chain)
        or "certificate verify" in str(error).lower()
    ):
        return "untrusted"
    if any(isinstance(each, ssl.SSLError) for each in chain):
        return "tls"
    return next((cause for kind, cause in CAUSES if isinstance(error, kind)), "unknown")


def _chain(error: BaseException) -> list[BaseException]:
    """The error and those it was raised for: the HTTP library wraps a failed handshake into errors of its own."""
    found: list[BaseException] = []
    at: BaseException | None = error
    while at is not None and len(found) < 6:
        found.append(at)
        at = at.__cause__ or at.__context__
    return found


def trouble_of(error: BaseException, server: Server | None = None, address: str = "") -> Trouble:
    """The trouble that `error` means; what the library says is kept only where it adds to the cause."""
    detail = reason(error) if isinstance(error, OffLimits) else ""
    where = server.place if server else address
    return Trouble(cause_of(error), server.name if server else "", where, detail)


class NotDns(ValueError):
    """Octets that are no DNS message."""


def read_rare_answer(octets: bytes, question: Question, server: Server, at: float) -> Answer:
    """The answer value of a response whose id and question were checked before. Raises NotDns."""
    try:
        message = dns.message.from_wire(octets, ignore_trailing=True, one_rr_per_rrset=True)
    except (dns.exception.DNSException, ValueError, IndexError) as error:
        raise NotDns(f"not a DNS message: {error}") from error
    sections = (message.answer, message.authority, message.additional)
    if sum(len(section) for section in sections) > MOST_RECORDS:
        return Answer(question, server, "broken", at, trouble=Trouble("too-large", server.name, server.place))
    try:
        found = [to_sets(section) for section in sections]
    except (BadValue, BadName) as error:
        return Answer(
            question, server, "broken", at, trouble=Trouble("unreadable", server.name, server.place, str(error))
        )
    return Answer(
        question,
        server,
        "answered",
        at,
        dns.rcode.to_text(message.rcode()),
        bool(message.flags & dns.flags.AA),
        found[0],
        found[1],
        found[2],
        trouble=_reason(message, server),
        uneven=_uneven(message.answer),
    )


def _uneven(section: list[dns.rrset.RRset]) -> bool:
    """Whether the records of one set come with different TTLs (RFC 2181 section 5.2)."""
    ttls: dict[tuple[object, object], set[int]] = {}
    for each in section:
        ttls.setdefault((each.name, each.rdtype), set()).add(each.ttl)
    return any(len(seen) > 1 for seen in ttls.values())


def _reason(message: dns.message.Message, server: Server) -> Trouble | None:
    """What the server itself says about its failure (RFC 8914)."""
    for option in message.options:
        if isinstance(option, dns.edns.EDEOption):
            words = dns.edns.EDECode.to_text(option.code).replace("_", " ").lower()
            detail = f"{dns.rcode.to_text(message.rcode())}, {words}" + (
                f": {option.text[:120]}" if option.text else ""
            )
            return Trouble("failed", server.name, server.place, detail)
    return None


def to_sets(section: list[dns.rrset.RRset]) -> tuple[RecordSet, ...]:
    """The sets of a section; a TTL with the highest bit set counts as zero (RFC 2181 section 8), and of different
    ones in a set the smallest counts (section 5.2). Records of one set may come apart."""
    found: dict[Key, RecordSet] = {}
    for rrset in section:
        rrtype = dns.rdatatype.to_text(rrset.rdtype)
        if rrtype in ("OPT", "TSIG", "ANY"):
            continue
        values = tuple(canonical(rrtype, rdata.to_text(), ROOT) for rdata in rrset)
        ttl = rrset.ttl if rrset.ttl <= MOST_TTL else 0
        key = absolute(rrset.name.to_text()), rrtype
        if before := found.get(key):
            ttl, values = min(ttl, before.ttl), (*before.values, *values)
        found[key] = RecordSet(*key, ttl, values)
    return tuple(found.values())
