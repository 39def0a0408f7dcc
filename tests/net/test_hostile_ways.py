"""Ways over servers that misbehave: HTTP/2 without a status, letters of all kinds in redirects, endless slowness."""

from __future__ import annotations

import asyncio
import time
from collections.abc import Awaitable, Callable
from typing import Any

import h2.config
import h2.connection
import h2.events
import pytest
from cryptography import x509

from homepath.app.driving import Driver
from homepath.core.dns.answers import Server
from homepath.core.model.visits import Hop
from homepath.core.observe.requests import Follow
from homepath.core.web.hops import Fetch, Fetched
from homepath.core.wording.say import say
from homepath.net import fetch as fetching
from homepath.net.network_file import Network
from homepath.net.session import session
from homepath.practice.web_server import Authority
from tests.net.test_hostile_web import NOW, fetched, says, server_context, serving

Serve = Callable[[asyncio.StreamReader, asyncio.StreamWriter], Awaitable[None]]


def over_h2(headers: list[tuple[bytes, bytes]]) -> Fetched:
    """What comes of an HTTP/2 answer with just these header fields, whatever the standard asks for."""
    authority = Authority("a root", NOW)
    context = server_context(authority, ["www.a.example"])
    context.set_alpn_protocols(["h2"])

    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        config = h2.config.H2Configuration(
            client_side=False, validate_outbound_headers=False, normalize_outbound_headers=False
        )
        line = h2.connection.H2Connection(config)
        line.initiate_connection()
        writer.write(line.data_to_send())
        while octets := await reader.read(65535):
            for event in line.receive_data(octets):
                if isinstance(event, h2.events.RequestReceived):
                    assert event.stream_id is not None
                    line.send_headers(event.stream_id, headers, end_stream=True)
            writer.write(line.data_to_send())
            await writer.drain()

    return fetched(serve, context, x509.load_pem_x509_certificates(authority.bundle.encode()))


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ([(b":status", b"200")], 200),
        ([(b":status", b"204")], 204),
        ([(b"server", b"x")], None),
        ([(b":status", b"abc")], None),
        ([(b":status", b"")], None),
        ([(b":status", b"200"), (b"location", "/café".encode())], 200),
    ],
)
def test_an_http2_answer_needs_a_usable_status(headers: list[tuple[bytes, bytes]], status: int | None) -> None:
    found = over_h2(headers)
    assert found.status == status
    assert found.certificate is not None
    if status is None:
        assert found.trouble is not None
        assert found.trouble.cause in ("not-http", "unreadable", "unknown", "connection-lost")


@pytest.mark.parametrize(
    ("location", "path"),
    [
        ("/café?q=ü".encode(), "/caf%C3%A9?q=%C3%BC"),
        ("/café".encode("latin-1"), "/caf%C3%A9"),
        (b"/caf%C3%A9", "/caf%C3%A9"),
        (b"http://www.a.example/a b", "/a%20b"),
    ],
)
def test_letters_of_all_kinds_in_a_redirect_are_asked_for_as_a_browser_does(location: bytes, path: str) -> None:
    asked: list[str] = []

    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        head = await reader.readuntil(b"\r\n\r\n")
        asked.append(head.split(b" ")[1].decode("ascii"))
        first = len(asked) == 1
        writer.write(
            b"HTTP/1.1 301 x\r\nLocation: " + location + b"\r\nContent-Length: 0\r\n\r\n"
            if first
            else b"HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Length: 21\r\n\r\n<a href='/\xc3\xbcber'>x</a>"
        )
        await writer.drain()
        writer.close()

    async def main() -> tuple[Hop, ...]:
        async with serving(serve) as network:
            driver = Driver(network, session(network))

            def look() -> Any:
                (hops,) = yield [Follow("http://www.a.example/", {"www.a.example.": "192.0.2.10"})]
                return hops

            hops: tuple[Hop, ...] = await driver.drive(look())
            return hops

    hops = asyncio.run(main())
    assert [hop.status for hop in hops] == [301, 200]
    assert asked == ["/", path]


def test_a_server_that_is_slow_for_ever_holds_no_visit_longer_than_a_look_may_last(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """Each hop answers just within its time and leads on: what ends it is the time of the whole look."""
    monkeypatch.setattr("homepath.net.session.LONGEST", 1.5)
    asked: list[bytes] = []

    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        asked.append(await reader.readuntil(b"\r\n\r\n"))
        await asyncio.sleep(0.5)
        writer.write(b"HTTP/1.1 302 x\r\nLocation: /%d\r\nContent-Length: 0\r\n\r\n" % len(asked))
        await writer.drain()
        writer.close()

    async def main() -> tuple[list[tuple[Hop, ...]], float]:
        async with serving(serve) as network:
            driver = Driver(network, session(network))
            fixed = {"www.a.example.": "192.0.2.10"}

            def look() -> Any:
                ways = yield [Follow(f"http://www.a.example/{at}", fixed) for at in range(40)]
                return ways

            begin = time.monotonic()
            return await driver.drive(look()), time.monotonic() - begin

    ways, seconds = asyncio.run(main())
    assert len(ways) == 40
    assert any(hop.detail and "no time left" in say(hop.detail) for way in ways for hop in way)
    assert seconds < 1.5 + fetching.PATIENCE + 60  # all 40 of them would take minutes
    assert len(asked) < 40 * 8


def test_each_page_is_asked_for_once_however_many_ways_lead_over_it() -> None:
    asked: list[bytes] = []

    async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        head = await reader.readuntil(b"\r\n\r\n")
        asked.append(head.split(b" ")[1])
        to = b"HTTP/1.1 301 x\r\nLocation: /home\r\nContent-Length: 0\r\n\r\n"
        writer.write(to if asked[-1] != b"/home" else b"HTTP/1.1 200 OK\r\nContent-Length: 0\r\n\r\n")
        await writer.drain()
        writer.close()

    async def main() -> Any:
        async with serving(serve) as network:
            driver = Driver(network, session(network))
            fixed = {"www.a.example.": "192.0.2.10"}

            def look() -> Any:
                ways = yield [Follow(f"http://www.a.example/{at}", fixed) for at in range(5)]
                return ways

            return await driver.drive(look())

    ways = asyncio.run(main())
    assert all(way[-1].status == 200 for way in ways)
    assert asked.count(b"/home") == 1


def test_a_name_with_a_port_that_is_none_is_no_page() -> None:
    network = Network(roots=(Server("127.0.0.1"),))
    want = Fetch("http://a.example/", "a.example", 80, False, "192.0.2.99")
    found = asyncio.run(fetching.fetch(want, network, []))
    assert found.trouble is not None
    assert found.trouble.cause == "off-limits"
    assert fetched(says(b"HTTP/1.1 abc\r\n\r\n")).status is None
