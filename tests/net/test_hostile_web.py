"""Web servers that misbehave, each a real one on loopback: bounded, and said in words."""

from __future__ import annotations

import asyncio
import contextlib
import gzip
import socket
import ssl
import tempfile
import time
from collections.abc import AsyncIterator, Awaitable, Callable
from pathlib import Path

import pytest
from cryptography import x509

from homepath.core.dns.answers import Server, Trouble
from homepath.core.model.visible import visible
from homepath.core.web.hops import Fetch, Fetched
from homepath.core.wording.say import say, trouble_words
from homepath.net import fetch as fetching
from homepath.net.connections import Connections
from homepath.net.network_file import Network
from homepath.net.wire import CAUSES
from homepath.practice.web_server import Authority

Serve = Callable[[asyncio.StreamReader, asyncio.StreamWriter], Awaitable[None]]
NOW = 1772442000.0


class _Story:
    slack = 3.0

    def now(self) -> float:
        return NOW

    async def sleep(self, seconds: float) -> None:
        raise AssertionError("nothing here waits")


@contextlib.asynccontextmanager
async def serving(serve: Serve, context: ssl.SSLContext | None = None) -> AsyncIterator[Network]:
    open_now = []

    async def noted(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        open_now.append(writer)
        with contextlib.suppress(asyncio.IncompleteReadError, ConnectionError):
            await serve(reader, writer)

    server = await asyncio.start_server(noted, "127.0.0.1", 0, ssl=context)
    port = server.sockets[0].getsockname()[1]
    reach = {("192.0.2.10", 80): ("127.0.0.1", port), ("192.0.2.10", 443): ("127.0.0.1", port)}
    yield Network(roots=(Server("127.0.0.1"),), reach=reach, clock=_Story())
    server.close()
    for writer in open_now:
        writer.transport.abort()
    await asyncio.sleep(0.02)  # aborted transports close in the next turns of the loop


def fetched(
    serve: Serve, context: ssl.SSLContext | None = None, anchors: list[x509.Certificate] | None = None
) -> Fetched:
    secure = context is not None
    want = Fetch(
        "https://www.a.example/p?q=1" if secure else "http://www.a.example/p?q=1",
        "www.a.example",
        443 if secure else 80,
        secure,
        "192.0.2.10",
    )

    async def main() -> Fetched:
        async with serving(serve, context) as network:
            return await fetching.fetch(want, network, anchors or [])

    return asyncio.run(main())


def says(octets: bytes, endless: bytes = b"") -> Serve:
    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        with contextlib.suppress(OSError, asyncio.IncompleteReadError):
            await reader.readuntil(b"\r\n\r\n")
            writer.write(octets)
            await writer.drain()
            for _ in range(2000 if endless else 0):
                writer.write(endless)
                await writer.drain()
        with contextlib.suppress(OSError):
            writer.close()

    return serve


async def stalls(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    with contextlib.suppress(OSError):
        await reader.read()
    writer.close()


OK = b"HTTP/1.1 200 OK\r\nContent-Length: 0\r\n\r\n"


def test_the_request_is_that_of_a_browser_for_that_host() -> None:
    seen = []

    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        seen.append((await reader.readuntil(b"\r\n\r\n")).decode())
        writer.write(OK)
        writer.close()

    assert fetched(serve).status == 200
    assert seen[0].startswith("GET /p?q=1 HTTP/1.1\r\nHost: www.a.example\r\n")
    assert "cookie" not in seen[0].lower()


@pytest.mark.parametrize(
    ("serve", "status"),
    [
        (says(b""), None),
        (says(b"nonsense\r\n\r\n"), None),
        (says(b"HTTP/1.1 200 OK\r\n" + b"X: " + b"x" * 200000 + b"\r\n\r\n"), None),
        (says(b"HTTP/1.1 200 OK\r\n", b"X-Flood: 1\r\n" * 50), None),
        (says(b"HTTP/1.1 200 OK\r\n\r\n", b"body" * 1000), 200),
        (says(b"HTTP/1.1 200 OK\r\nContent-Length: 99999999999\r\n\r\n"), 200),
        (says(b"HTTP/1.1 301 Moved\r\nLocation: /\x1b[31m\r\nContent-Length: 0\r\n\r\n"), 301),
        (stalls, None),
    ],
)
def test_bounded_and_in_words(serve: Serve, status: int | None, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(fetching, "PATIENCE", 1.0)
    found = fetched(serve)
    assert found.status == status
    assert bool(found.trouble) == (status is None)
    assert "\x1b" not in visible(trouble_words(found.trouble) if found.trouble else "")


async def drips(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    """A page that comes an octet at a time and never ends."""
    await reader.readuntil(b"\r\n\r\n")
    writer.write(b"HTTP/1.1 200 OK\r\nContent-Type: text/html\r\n\r\n<title>slow</title>")
    with contextlib.suppress(OSError):
        while True:
            writer.write(b"x")
            await writer.drain()
            await asyncio.sleep(0.02)


def test_a_page_that_never_ends_is_read_as_far_as_it_goes(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(fetching, "BODY_PATIENCE", 0.3)
    begins = time.monotonic()
    found = fetched(drips)
    assert (found.status, found.trouble, "<title>slow" in found.page) == (200, None, True)
    assert time.monotonic() - begins < 30  # it would never end
    endless = fetched(says(b"HTTP/1.1 200 OK\r\nContent-Type: text/html\r\n\r\n", b"y" * 10000))
    assert len(endless.page) == fetching.BIGGEST_HTML


def test_what_is_packed_unasked_is_not_unpacked() -> None:
    bomb = gzip.compress(b"z" * 50_000_000)
    head = b"HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Encoding: gzip\r\nContent-Length: %d\r\n\r\n"
    found = fetched(says(head % len(bomb) + bomb))
    assert (found.status, found.page) == (200, "")


@pytest.mark.parametrize(
    ("address", "port", "said"),
    [
        ("10.0.0.1", 80, "not a public address"),
        ("169.254.1.1", 80, "not a public address"),
        ("::1", 443, "not a public address"),
        ("fd00::1", 443, "not a public address"),
        ("192.0.2.10", 22, "not a web port"),
        ("192.0.2.10", 8443, "not a web port"),
    ],
)
def test_a_redirect_does_not_make_the_tool_knock_anywhere(address: str, port: int, said: str) -> None:
    """In the open world: private addresses and other ports are not contacted, whatever a redirect says."""
    want = Fetch(f"http://a.example:{port}/", "a.example", port, False, address)
    found = asyncio.run(fetching.fetch(want, Network(), []))
    assert found.status is None
    assert found.trouble is not None
    assert said in say(found.trouble.detail)


def test_a_giant_location_is_cut() -> None:
    huge = fetched(says(b"HTTP/1.1 301 Moved\r\nLocation: /" + b"x" * 1_000_000 + b"\r\nContent-Length: 0\r\n\r\n"))
    assert (huge.status, huge.location) == (None, None)
    found = fetched(says(b"HTTP/1.1 301 Moved\r\nLocation: /" + b"x" * 50000 + b"\r\nContent-Length: 0\r\n\r\n"))
    assert found.location is not None
    assert len(found.location) == 8001


def server_context(authority: Authority, names: list[str]) -> ssl.SSLContext:
    issued = authority.issue(names, NOW)
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    with tempfile.TemporaryDirectory() as folder:
        Path(folder, "all.pem").write_bytes(issued.chain + issued.key)
        context.load_cert_chain(Path(folder, "all.pem"))
    return context


def test_certificates_are_judged_by_our_own_call() -> None:
    authority = Authority("a root", NOW)
    anchors = x509.load_pem_x509_certificates(authority.bundle.encode())
    good = fetched(says(OK), server_context(authority, ["www.a.example"]), anchors)
    assert good.certificate is not None
    assert (good.status, good.certificate.state) == (200, "good")
    other = fetched(says(OK), server_context(authority, ["b.example"]), anchors)
    assert other.certificate is not None
    assert (other.status, other.certificate.state) == (200, "name-missing")
    strange = fetched(says(OK), server_context(Authority("b", NOW), ["www.a.example"]), anchors)
    assert strange.certificate is not None
    assert strange.certificate.state == "untrusted"


def test_a_sticky_promise_counts_only_over_https() -> None:
    """RFC 6797 section 8.1: the field is ignored over http."""
    said = says(b"HTTP/1.1 200 OK\r\nStrict-Transport-Security: max-age=31536000\r\nContent-Length: 0\r\n\r\n")
    secure = fetched(said, server_context(Authority("a root", NOW), ["www.a.example"]))
    assert (secure.status, secure.hsts) == (200, "max-age=31536000")
    assert fetched(said).hsts == ""


def test_a_handshake_that_stalls_or_fails_is_no_certificate(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(fetching, "PATIENCE", 1.0)
    for serve in (stalls, says(b"HTTP/1.1 400 Bad\r\n\r\n")):

        async def main(serve: Serve = serve) -> Fetched:
            async with serving(serve) as network:
                want = Fetch("https://www.a.example/", "www.a.example", 443, True, "192.0.2.10")
                return await fetching.fetch(want, network, [])

        found = asyncio.run(main())
        assert (found.status, found.certificate and found.certificate.state) == (None, "none")
        assert found.trouble


def test_nobody_listening() -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        reach = {("192.0.2.10", 80): taken.getsockname()}
        network = Network(roots=(Server("127.0.0.1"),), reach=reach)
        found = asyncio.run(
            fetching.fetch(Fetch("http://a.example/", "a.example", 80, False, "192.0.2.10"), network, [])
        )
    assert found.trouble == Trouble("no-connection", address="192.0.2.10")
    away = asyncio.run(fetching.fetch(Fetch("http://a.example/", "a.example", 80, False, "10.0.0.1"), network, []))
    assert away.trouble is not None
    assert away.trouble.cause == "off-limits"


def _classes(*modules: object) -> set[type[Exception]]:
    """Every exception class that these modules, and the classes' own subclasses, bring along."""
    named = [each for module in modules for each in vars(module).values()]
    found = {each for each in named if isinstance(each, type) and issubclass(each, Exception)}
    return found | {below for each in found for below in each.__subclasses__()}


def test_every_foreign_exception_is_translated() -> None:
    """Each exception class of the libraries at the seams has its line in the one table; a new one fails here."""
    import dns.exception
    import dns.message
    import dns.name
    import dns.query
    import dns.tsig
    import httpcore

    foreign = _classes(httpcore, ssl, dns.exception, dns.message, dns.name, dns.tsig, dns.query)
    foreign |= {TimeoutError, ConnectionResetError, OSError, asyncio.IncompleteReadError, EOFError, UnicodeError}
    programming = {dns.query.NoDOH, dns.query.NoDOQ, httpcore.ConnectionNotAvailable, Warning}
    unmapped = {
        each.__name__
        for each in foreign
        if not issubclass(each, tuple(programming)) and not any(issubclass(each, kind) for kind, _ in CAUSES)
    }
    assert unmapped == set()
    order = [kind for kind, _ in CAUSES]
    for number, kind in enumerate(order):  # a class that stands behind one it belongs to would never be reached
        assert not any(issubclass(kind, before) for before in order[:number]), kind


def keeps(octets: bytes, of_each: int = 99) -> tuple[Serve, list[int]]:
    """A server that leaves connections open for `of_each` requests, then gives them up without a word."""
    opened: list[int] = []

    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        opened.append(0)
        while True:
            await reader.readuntil(b"\r\n\r\n")
            if opened[-1] >= of_each:
                writer.close()
                return
            opened[-1] += 1
            writer.write(octets)

    return serve, opened


MOVED = b"HTTP/1.1 301 Moved\r\nLocation: /\r\nContent-Length: 5\r\n\r\nmoved"


@pytest.mark.parametrize("octets", [OK, MOVED])
@pytest.mark.parametrize("secure", [False, True])
@pytest.mark.parametrize(("of_each", "expected"), [(99, 1), (1, 4), (2, 2)])
def test_pages_of_one_site_share_a_connection_as_long_as_its_server_likes(
    octets: bytes, secure: bool, of_each: int, expected: int
) -> None:
    serve, opened = keeps(octets, of_each)
    authority = Authority("Oak", NOW)
    anchors = x509.load_pem_x509_certificates(authority.bundle.encode())
    context = server_context(authority, ["www.a.example"]) if secure else None

    async def main() -> list[Fetched]:
        connections = Connections(1)
        async with serving(serve, context) as network:
            wants = [_page(secure, number) for number in range(4)]
            got = [fetching.fetch(want, network, anchors, None, connections.to(want)) for want in wants]
            found = [await each for each in got]
            await connections.close()
            return found

    found = asyncio.run(main())
    assert {each.status for each in found} == {200 if octets == OK else 301}
    assert {each.certificate and each.certificate.state for each in found} == {"good" if secure else None}
    assert len([each for each in opened if each]) == expected


def test_who_waits_for_a_turn_does_not_wait_for_silence(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(fetching, "PATIENCE", 0.5)

    async def main() -> list[Fetched]:
        connections = Connections(1)

        async def one(want: Fetch, network: Network) -> Fetched:
            site = connections.to(want)
            async with site.turns:
                return await fetching.fetch(want, network, [], None, site)

        async with serving(stalls) as network:
            found = await asyncio.gather(*(one(_page(False, number), network) for number in range(8)))
            await connections.close()
            return found

    begun = time.monotonic()
    assert {each.trouble and each.trouble.cause for each in asyncio.run(main())} == {"silent"}
    assert time.monotonic() - begun < 8 * 0.5  # twice the patience, and what a busy machine needs


def _page(secure: bool, number: int) -> Fetch:
    scheme, port = ("https", 443) if secure else ("http", 80)
    return Fetch(f"{scheme}://www.a.example/{number}", "www.a.example", port, secure, "192.0.2.10")
