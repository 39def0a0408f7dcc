"""Web connections that go to an address of our choosing, whatever the host is called, and keep the chain shown."""

from __future__ import annotations

import ssl
from collections.abc import Iterable
from typing import Any

import httpcore


class OneAddress(httpcore.AsyncNetworkBackend):
    """Connects to one place and keeps the certificates of the handshake, as the server sent them."""

    def __init__(self, place: tuple[str, int]) -> None:
        self._place = place
        self._inner = httpcore.AnyIOBackend()
        self.chain: list[bytes] = []

    async def connect_tcp(
        self,
        host: str,
        port: int,
        timeout: float | None = None,
        local_address: str | None = None,
        socket_options: Iterable[Any] | None = None,
    ) -> httpcore.AsyncNetworkStream:
        stream = await self._inner.connect_tcp(*self._place, timeout=timeout)
        return _Stream(stream, self)


class _Stream(httpcore.AsyncNetworkStream):
    def __init__(self, inner: httpcore.AsyncNetworkStream, backend: OneAddress) -> None:
        self._inner, self._backend = inner, backend

    async def read(self, max_bytes: int, timeout: float | None = None) -> bytes:
        return await self._inner.read(max_bytes, timeout)

    async def write(self, buffer: bytes, timeout: float | None = None) -> None:
        await self._inner.write(buffer, timeout)

    async def aclose(self) -> None:
        await self._inner.aclose()

    def get_extra_info(self, info: str) -> Any:
        return self._inner.get_extra_info(info)

    async def start_tls(
        self, ssl_context: ssl.SSLContext, server_hostname: str | None = None, timeout: float | None = None
    ) -> httpcore.AsyncNetworkStream:
        stream = await self._inner.start_tls(ssl_context, server_hostname, timeout)
        self._backend.chain = _chain(stream.get_extra_info("ssl_object"))
        return _Stream(stream, self._backend)


def _chain(connection: Any) -> list[bytes]:
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
