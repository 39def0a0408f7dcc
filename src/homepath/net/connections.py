"""Connections to web servers: each to one address, kept as long as pages of the same site are to come."""

from __future__ import annotations

import asyncio
import ssl
from collections.abc import Coroutine, Iterable
from functools import cache
from typing import Any, TypeVar

import h2.config
import httpcore

from homepath.core.model.visits import Certificate
from homepath.core.web.hops import Fetch

# The HTTP library switches the checks of RFC 9113 section 8.2 off, and takes an answer without a status for a good one.
httpcore.AsyncHTTP2Connection.CONFIG = h2.config.H2Configuration(validate_inbound_headers=True)


@cache
def _any_certificate() -> ssl.SSLContext:
    """A context that completes the handshake with whatever is shown: it is judged afterwards, in words."""
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
    context.check_hostname = False
    context.verify_mode = ssl.CERT_NONE
    context.set_alpn_protocols(["h2", "http/1.1"])
    return context


ALL_AT_ONCE = 64
"""Pages of one site that may be under way at one moment."""
HttpConnection = httpcore.AsyncConnectionPool | httpcore.AsyncHTTPConnection
"""What the HTTP library takes a request with: several connections, or one."""


class SiteConnections:
    """The connections to one site at one address, kept for its next page (RFC 9112 section 9.3)."""

    def __init__(self, at_once: int = ALL_AT_ONCE) -> None:
        self.turns = asyncio.Semaphore(at_once)
        self.answered = False
        self.judged: dict[tuple[bytes, ...], Certificate] = {}
        self._at_once = at_once
        self._open: tuple[HttpConnection, OneAddress] | None = None
        self._former: list[HttpConnection] = []

    def to(self, place: tuple[str, int], url: httpcore.URL) -> tuple[HttpConnection, OneAddress]:
        if self._open is not None and _is_over(self._open[0]):
            self._leave()
        if self._open is None:
            backend = OneAddress(place)
            trust, http2 = _any_certificate(), True
            if self._at_once == 1:  # a pool would only cost time
                connection: HttpConnection = httpcore.AsyncHTTPConnection(
                    url.origin, trust, http2=http2, network_backend=backend
                )
            else:
                connection = httpcore.AsyncConnectionPool(
                    trust, max_connections=None, http2=http2, network_backend=backend
                )
            self._open = connection, backend
        return self._open

    def failed(self, connection: HttpConnection) -> None:
        """Nobody waits for a turn any more, and the next page opens a connection of its own."""
        for _ in range(self._at_once, ALL_AT_ONCE):
            self.turns.release()
        self._at_once = ALL_AT_ONCE
        if self._open and self._open[0] is connection:
            self._leave()

    def _leave(self) -> None:
        self._former += (self._open or ())[:1]
        self._open, self.answered = None, False

    async def close(self) -> None:
        self._leave()
        for connection in self._former:
            await connection.aclose()


def _is_over(connection: HttpConnection) -> bool:
    """Whether the server has closed the one connection; a pool sees to its own."""
    return isinstance(connection, httpcore.AsyncHTTPConnection) and (connection.is_closed() or connection.has_expired())


class Connections:
    """The connections of one check. `at_once`: pages of one site that are under way at one moment; with one, they come
    over one connection, since among many domains a handshake costs more than waiting."""

    def __init__(self, at_once: int = ALL_AT_ONCE) -> None:
        self._at_once = at_once
        self._sites: dict[tuple[str, str, int, bool], SiteConnections] = {}

    def to(self, want: Fetch) -> SiteConnections:
        key = (want.address, want.host, want.port, want.secure)
        return self._sites.setdefault(key, SiteConnections(self._at_once))

    async def close(self) -> None:
        sites, self._sites = self._sites, {}
        for site in sites.values():
            await site.close()


T = TypeVar("T")


class OneAddress(httpcore.AsyncNetworkBackend):
    """Connects to one place and keeps the certificates of the handshake, as the server sent them."""

    def __init__(self, place: tuple[str, int]) -> None:
        self._place = place
        self.chain: list[bytes] = []

    async def connect_tcp(
        self,
        host: str,
        port: int,
        timeout: float | None = None,
        local_address: str | None = None,
        socket_options: Iterable[Any] | None = None,
    ) -> httpcore.AsyncNetworkStream:
        opening = asyncio.open_connection(*self._place)
        return _Stream(*await _within(timeout, httpcore.ConnectTimeout, httpcore.ConnectError, opening), self)


class _Stream(httpcore.AsyncNetworkStream):
    """One connection of the HTTP library."""

    def __init__(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter, backend: OneAddress) -> None:
        self._reader, self._writer, self._backend = reader, writer, backend

    async def read(self, max_bytes: int, timeout: float | None = None) -> bytes:
        return await _within(timeout, httpcore.ReadTimeout, httpcore.ReadError, self._reader.read(max_bytes))

    async def write(self, buffer: bytes, timeout: float | None = None) -> None:
        if not buffer:
            return
        self._writer.write(buffer)
        if self._writer.transport.get_write_buffer_size():  # else all of it has left
            await _within(timeout, httpcore.WriteTimeout, httpcore.WriteError, self._writer.drain())

    async def aclose(self) -> None:
        self._writer.transport.abort()  # nothing is left to send, and no server is waited for

    def get_extra_info(self, info: str) -> Any:
        if info == "is_readable":  # of a connection that nothing is expected on: whether it was closed
            return self._reader.at_eof()
        return self._writer.get_extra_info(info)

    async def start_tls(
        self, ssl_context: ssl.SSLContext, server_hostname: str | None = None, timeout: float | None = None
    ) -> httpcore.AsyncNetworkStream:
        handshake = self._writer.start_tls(ssl_context, server_hostname=server_hostname)
        await _within(timeout, httpcore.ConnectTimeout, httpcore.ConnectError, handshake)
        self._backend.chain = chain_of(self._writer.get_extra_info("ssl_object"))
        return self


async def _within(
    seconds: float | None, late: type[Exception], failed: type[Exception], work: Coroutine[Any, Any, T]
) -> T:
    """What the work returns, or the error of the HTTP library for what happened to a connection."""
    try:
        async with asyncio.timeout(seconds):
            return await work
    except TimeoutError as error:
        raise late(str(error)) from error
    except OSError as error:
        raise failed(str(error)) from error


def chain_of(connection: Any) -> list[bytes]:
    """The certificates as the server sent them, in DER. Public from Python 3.13 on, before that an inner method."""
    if connection is None:
        return []
    if hasattr(connection, "get_unverified_chain"):
        return list(connection.get_unverified_chain())
    inner: Any = getattr(connection, "_sslobj", None)
    if inner is not None and hasattr(inner, "get_unverified_chain"):
        return [each.public_bytes(ssl._ssl.ENCODING_DER) for each in inner.get_unverified_chain() or []]  # type: ignore[attr-defined]
    leaf = connection.getpeercert(binary_form=True)
    return [leaf] if leaf else []
