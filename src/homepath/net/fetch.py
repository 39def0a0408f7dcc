"""The one seam to web servers: one request to one address, with the certificate that was shown."""

from __future__ import annotations

import asyncio
import ssl
import warnings
from collections.abc import Sequence
from ipaddress import ip_address
from pathlib import Path
from typing import TYPE_CHECKING
from urllib.parse import urlsplit

import httpcore

from homepath.core.dns.names import absolute
from homepath.core.message import msg
from homepath.core.model.visits import Certificate, field_text, joined
from homepath.core.web.certificates import NONE, judge
from homepath.core.web.hops import Fetch, Fetched
from homepath.core.wording.say import trouble_words
from homepath.files import read_octets
from homepath.net.connections import HttpConnection, SiteConnections, chain_of
from homepath.net.network_file import Network, OffLimits
from homepath.net.session import Walker
from homepath.net.wire import trouble_of

if TYPE_CHECKING:
    from cryptography.x509 import Certificate as X509

BIGGEST_PAGE = 1_000_000
BIGGEST_HTML = 300_000
"""Octets of a page that are read to see what it says."""
PATIENCE = 10.0
"""Seconds of real time for one whole request."""
SHORT = 10_000
"""Octets of an unwanted body that are still read, because only then can its connection be used again."""
BODY_PATIENCE = 4.0
"""Seconds of real time for the body of a page, of which the beginning is enough."""
_AGENT = "homepath/0.1"


async def fetch(
    want: Fetch,
    network: Network,
    anchors: Sequence[X509],
    builders: str | None = None,
    site: SiteConnections | None = None,
) -> Fetched:
    """One GET without cookies or body. Never raises for what a server does.

    `builders`: a name of the builder's own, by which its default certificate is known. `site`: connections that other
    pages of the site use too.
    """
    own = site or SiteConnections()
    try:
        came = await _fetch(want, network, anchors, builders, own)
    finally:
        if site is None:
            await own.close()
    network.trace(f"web {want.address} {want.url}: {came.status or (came.trouble and came.trouble.cause)}")
    return came


async def _fetch(
    want: Fetch, network: Network, anchors: Sequence[X509], builders: str | None, site: SiteConnections
) -> Fetched:
    try:
        place = network.web_place(want.address, want.port)
    except OffLimits as error:
        return Fetched(None, None, trouble_of(error, address=want.address))

    def judged(shown: list[bytes]) -> Certificate | None:
        if not want.secure or not shown:
            return NONE if want.secure else None
        chain = tuple(shown)
        if chain not in site.judged:
            site.judged[chain] = judge(shown, want.host, anchors, network.clock.now(), builders)
        return site.judged[chain]

    url = _url_of(want)
    while True:
        connection, backend = site.to(place, url)
        kept = site.answered
        try:
            async with asyncio.timeout(PATIENCE):
                status, fields, body, protocol, shown = await _request(want, url, connection, BIGGEST_HTML)
            break
        except Exception as error:  # whatever the HTTP library and those below it throw for what a server does
            site.failed(connection)
            trouble = trouble_of(error, address=want.address)
            # a server may close a connection after a page, so try once more; but do not wait twice for a silent one
            if not kept or trouble.cause == "silent":
                return Fetched(None, None, trouble, judged(backend.chain))
    site.answered = True
    location = field_text(fields[b"location"]) if b"location" in fields else None
    hsts = fields.get(b"strict-transport-security", b"").decode("latin-1")[:200] if want.secure else ""
    return Fetched(status, location, None, judged(shown), hsts, protocol, _text(fields, body))


def _text(fields: dict[bytes, bytes], body: bytes) -> str:
    """The text of a page; nothing of what is packed though we did not ask for it, or is no page."""
    packed = fields.get(b"content-encoding", b"identity").lower() not in (b"identity", b"")
    kind = fields.get(b"content-type", b"text/html").lower()
    return "" if packed or b"html" not in kind else body.decode("utf-8", "replace")


class Unreadable(Exception):
    """A page that could not be read; the message says why."""


class NoSuchPage(Unreadable):
    """The server says that there is no such page (404)."""


async def read_page(url: str, network: Network, walker: Walker) -> str:
    """The text of a page that answers 200, certificates checked, redirects not followed. Raises Unreadable."""
    encoded = joined(url, url)
    if encoded is None:
        raise Unreadable(msg("fetch.read-page"))
    url = encoded
    parts = urlsplit(url)
    secure, host = parts.scheme == "https", parts.hostname or ""
    port = parts.port or (443 if secure else 80)
    address = host
    if not _is_address(host):
        addresses, _, trouble = await walker.addresses(absolute(host))
        if not addresses:
            raise Unreadable(trouble_words(trouble) if trouble else msg("fetch.read-page-2", host=host))
        address = addresses[0]
    want, site = Fetch(url, host, port, secure, address), SiteConnections()
    try:
        asked = _url_of(want)
        connection, _ = site.to(network.web_place(address, port), asked)
        async with asyncio.timeout(PATIENCE):
            status, _, body, _, chain = await _request(want, asked, connection, BIGGEST_PAGE, strict=True)
    except Exception as error:
        raise Unreadable(trouble_words(trouble_of(error, address=host))) from error
    finally:
        await site.close()
    seen = judge(chain, host, load_anchors(network.certificates), network.clock.now()) if secure else None
    if seen and seen.state not in ("good", "ending"):
        raise Unreadable(msg("fetch.read-page-3", host=host, state=seen.state))
    if status == 404:
        raise NoSuchPage(msg("fetch.read-page-4", host=host, status=status))
    if status != 200:
        raise Unreadable(msg("fetch.read-page-4", host=host, status=status))
    return body.decode("utf-8", "replace")


def _is_address(host: str) -> bool:
    try:
        ip_address(host)
    except ValueError:
        return False
    return True


def _url_of(want: Fetch) -> httpcore.URL:
    """The URL as the HTTP library takes it, without its fragment."""
    path = "/" + want.url.split("://", 1)[1].partition("/")[2].partition("#")[0]
    if "/" not in want.url.split("://", 1)[1] and "?" in want.url:
        path = "/?" + want.url.partition("?")[2].partition("#")[0]
    return httpcore.URL(scheme="https" if want.secure else "http", host=want.host, port=want.port, target=path)


async def _request(
    want: Fetch, url: httpcore.URL, connection: HttpConnection, most: int, strict: bool = False
) -> tuple[int, dict[bytes, bytes], bytes, str, list[bytes]]:
    """Status, fields, the first `most` octets of the body, the protocol spoken, and the certificates shown.

    `strict`: more octets are an error of the server; else the rest is not read.
    """
    timeouts = dict.fromkeys(("connect", "read", "write", "pool"), PATIENCE / 2)
    usual = want.port == (443 if want.secure else 80)
    host = want.host if usual else f"{want.host}:{want.port}"
    headers: dict[bytes | str, bytes | str] = {
        "Host": host,
        "User-Agent": _AGENT,
        "Accept": "text/html,*/*;q=0.5",
        "Accept-Encoding": "identity",
    }
    async with connection.stream("GET", url, headers=headers, extensions={"timeout": timeouts}) as response:
        fields = {name.lower(): value for name, value in reversed(response.headers)}
        protocol = bytes(response.extensions.get("http_version", b"")).decode("ascii", "replace").lower()
        protocol = "h2" if protocol.startswith("http/2") else protocol
        chain = chain_of(response.extensions["network_stream"].get_extra_info("ssl_object"))
        if strict or response.status == 200:
            return response.status, fields, await _body(response, most, strict), protocol, chain
        if len(fields.get(b"content-length", b"99999")) < 5:  # so short that the connection is worth more
            await _body(response, SHORT, strict)
        return response.status, fields, b"", protocol, chain


async def _body(response: httpcore.Response, most: int, strict: bool) -> bytes:
    """At most `most` octets; unless `strict`, what came before an end without judge_redirects is enough."""
    body = bytearray()
    try:
        async with asyncio.timeout(BODY_PATIENCE):
            async for part in response.aiter_stream():
                body += part
                if len(body) > most:
                    if strict:
                        raise httpcore.RemoteProtocolError(msg("fetch.body", most=most))
                    break
    except (TimeoutError, httpcore.TimeoutException, httpcore.NetworkError, httpcore.ProtocolError):
        if strict:
            raise
    return bytes(body[:most])


def load_anchors(bundle: Path | None) -> list[X509]:
    """The trusted authorities of a PEM bundle, or of this machine. Raises OSError, or ValueError for no bundle.

    One of the machine's own that the library cannot read is passed over.
    """
    from cryptography import x509

    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # old roots have odd serial numbers, which is none of a visitor's business
        if bundle is not None:
            return x509.load_pem_x509_certificates(read_octets(bundle, msg("file.certificates")))
        found = ssl.create_default_context().get_ca_certs(binary_form=True)
        if found:
            return [each for octets in found if (each := _readable(octets)) is not None]
        for place in ("/etc/ssl/certs/ca-certificates.crt", "/etc/pki/tls/certs/ca-bundle.crt", "/etc/ssl/cert.pem"):
            if Path(place).is_file():
                return x509.load_pem_x509_certificates(Path(place).read_bytes())
    return []


def _readable(octets: bytes) -> X509 | None:
    from cryptography import x509

    try:
        return x509.load_der_x509_certificate(octets)
    except ValueError:
        return None
