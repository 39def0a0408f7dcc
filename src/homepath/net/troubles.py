"""The one table in which foreign exceptions become a `Trouble`."""

from __future__ import annotations

import asyncio
import ssl

import dns.exception
import dns.tsig
import httpcore

from homepath.core.dns.answers import Server, Trouble, TroubleCause
from homepath.core.message import reason
from homepath.net.network_file import OffLimits

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
"""The first line whose class fits counts, so a special one stands before the one it belongs to."""


def cause_of(error: BaseException) -> TroubleCause:
    """Why a look failed, by the class of what was raised, or of what that was raised for."""
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
    """The trouble that `error` stands for; what the library says is kept only where it adds to the cause."""
    said = reason(error) if isinstance(error, OffLimits) else ""
    where = server.place if server else address
    return Trouble(cause_of(error), server.name if server else "", where, said)
