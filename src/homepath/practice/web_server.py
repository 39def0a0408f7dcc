"""A small web server for the practice world, http or https with SNI, and the authority that issues its certificates."""

from __future__ import annotations

import asyncio
import contextlib
import socket
import ssl
import tempfile
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta
from http import HTTPStatus
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import AuthorityInformationAccessOID, ExtendedKeyUsageOID, NameOID

from homepath.practice.scene_file import PageTable

_DAY = timedelta(days=1)


@dataclass(frozen=True)
class Issued:
    """A certificate with its chain and private key, as PEM text."""

    chain: bytes
    key: bytes


class Authority:
    """Issues certificates valid from a moment of the story on."""

    def __init__(self, name: str, now: float) -> None:
        self._key = ec.generate_private_key(ec.SECP256R1())
        self._name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)])
        begins = datetime.fromtimestamp(now, UTC) - _DAY
        usage = x509.KeyUsage(False, False, False, False, False, True, True, False, False)
        self._certificate = (
            _builder(self._name, self._name, self._key.public_key(), begins, begins + 3650 * _DAY)
            .add_extension(x509.BasicConstraints(ca=True, path_length=1), critical=True)
            .add_extension(usage, critical=True)
            .add_extension(x509.SubjectKeyIdentifier.from_public_key(self._key.public_key()), critical=False)
            .sign(self._key, hashes.SHA256())
        )

    @property
    def bundle(self) -> str:
        """The root as PEM text, to be trusted in this world."""
        return self._certificate.public_bytes(serialization.Encoding.PEM).decode()

    def issue_below(self, names: Sequence[str], now: float, sent: bool = True) -> Issued:
        """A certificate by an intermediate authority, whose own is sent along, or left out as careless servers do."""
        below = Authority(f"{self._name.rfc4514_string().removeprefix('CN=')} issuing", now)
        begins = datetime.fromtimestamp(now, UTC) - _DAY
        usage = x509.KeyUsage(False, False, False, False, False, True, True, False, False)
        link = (
            _builder(below._name, self._name, below._key.public_key(), begins, begins + 1000 * _DAY)
            .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
            .add_extension(usage, critical=True)
            .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(self._key.public_key()), critical=False)
            .sign(self._key, hashes.SHA256())
        )
        issued = below.issue(names, now, where="http://tallowseal.example/issuing.der")
        more = link.public_bytes(serialization.Encoding.PEM) if sent else b""
        return Issued(issued.chain + more, issued.key)

    def issue(self, names: Sequence[str], now: float, days: int = 90, where: str = "") -> Issued:
        """A certificate for these host names; `where` the issuer's own is to be had, if it says so."""
        key = ec.generate_private_key(ec.SECP256R1())
        begins = datetime.fromtimestamp(now, UTC) - timedelta(minutes=5)
        subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, names[0][:64])])
        unsigned = (
            _builder(subject, self._name, key.public_key(), begins, begins + days * _DAY)
            .add_extension(x509.SubjectAlternativeName([x509.DNSName(name) for name in names]), critical=False)
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(self._key.public_key()), critical=False)
        )
        if where:
            issuers = x509.AccessDescription(
                AuthorityInformationAccessOID.CA_ISSUERS, x509.UniformResourceIdentifier(where)
            )
            unsigned = unsigned.add_extension(x509.AuthorityInformationAccess([issuers]), critical=False)
        leaf = unsigned.sign(self._key, hashes.SHA256())
        pem = serialization.Encoding.PEM
        secret = key.private_bytes(pem, serialization.PrivateFormat.PKCS8, serialization.NoEncryption())
        return Issued(leaf.public_bytes(pem), secret)


def _builder(
    subject: x509.Name, issuer: x509.Name, key: ec.EllipticCurvePublicKey, begins: datetime, ends: datetime
) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key)
        .serial_number(x509.random_serial_number())
        .not_valid_before(begins)
        .not_valid_after(ends)
    )


def handler(table: PageTable, edge: Handler) -> Handler:
    """How this server answers; `edge` is the builder's, for a proxy to ask."""

    def handle(request: Request) -> Response:
        if table.kind == "forwarder":
            return redirect(table.to.rstrip("/") + forwarded_path(request.path, table.keeps), table.status)
        if table.kind == "proxy":
            return edge(replace(request, secure=request.secure and table.fetches == "https"))
        if table.kind == "site":
            return _old_site(table, request)
        return page("This domain is parked", f"{request.host} has no site yet.")

    return handle


def _old_site(table: PageTable, request: Request) -> Response:
    if table.https and not request.secure:
        return redirect(f"https://{request.host}{request.path}")
    answer = page("The site as it was", f"{request.host} at its former home.")
    if not (table.hsts and request.secure):
        return answer
    return replace(answer, headers={**answer.headers, "Strict-Transport-Security": table.hsts})


BIGGEST_HEAD = 16384
BIGGEST_BODY = 65536
PATIENCE = 10.0


@dataclass(frozen=True, slots=True)
class Request:
    method: str
    host: str
    path: str
    secure: bool
    body: bytes = b""


@dataclass(frozen=True, slots=True)
class Response:
    status: int
    body: str = ""
    headers: Mapping[str, str] = field(default_factory=dict)


Handler = Callable[[Request], Response]


def redirect(to: str, status: int = 301) -> Response:
    return Response(status, f"Moved to {to}\n", {"Location": to})


def forwarded_path(path: str, keeps: str) -> str:
    """What of path and query a redirect hands on: `all`, `path` or `nothing`."""
    return {"all": path, "path": path.partition("?")[0]}.get(keeps, "/")


def page(title: str, text: str, status: int = 200) -> Response:
    body = (
        f"<!doctype html><html lang=en><meta charset=utf-8><title>{title}</title><h1>{title}</h1><p>{text}</p></html>"
    )
    return Response(status, body, {"Content-Type": "text/html; charset=utf-8"})


class WebServer:
    """Bound on a free port of 127.0.0.1 when made; serves from `start` on."""

    def __init__(self, handler: Handler, certificates: Certificates | None = None, delay: float = 0.0) -> None:
        self._handler, self._certificates, self._delay = handler, certificates, delay
        self._socket = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        self._socket.bind(("127.0.0.1", 0))
        self.port: int = self._socket.getsockname()[1]
        self._server: asyncio.Server | None = None

    async def start(self) -> None:
        context = self._certificates.context if self._certificates else None
        self._server = await asyncio.start_server(self._serve, sock=self._socket, ssl=context, limit=BIGGEST_HEAD)

    async def stop(self) -> None:
        if self._server:
            self._server.close()
        self._socket.close()

    async def _serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        with contextlib.suppress(
            OSError, asyncio.IncompleteReadError, asyncio.LimitOverrunError, TimeoutError, ValueError
        ):
            async with asyncio.timeout(PATIENCE):
                request = await self._read(reader)
                await asyncio.sleep(self._delay)
                writer.write(_octets(self._handler(request)))
                await writer.drain()
        with contextlib.suppress(OSError):
            writer.close()

    async def _read(self, reader: asyncio.StreamReader) -> Request:
        head = (await reader.readuntil(b"\r\n\r\n")).decode("latin-1")
        first, *lines = head.split("\r\n")
        method, path, _ = first.split(" ", 2)
        fields = {
            name.strip().lower(): value.strip() for name, _, value in (line.partition(":") for line in lines if line)
        }
        length = min(int(fields.get("content-length", "0")), BIGGEST_BODY)
        body = await reader.readexactly(length) if length else b""
        host = fields.get("host", "").rsplit(":", 1)[0].lower()
        return Request(method, host, path, self._certificates is not None, body)


def _octets(response: Response) -> bytes:
    body = response.body.encode()
    lines = [f"HTTP/1.1 {response.status} {HTTPStatus(response.status).phrase}"]
    lines += [f"{name}: {value}" for name, value in response.headers.items()]
    lines += [f"Content-Length: {len(body)}", "Connection: close", "", ""]
    return "\r\n".join(lines).encode() + body


class Certificates:
    """The certificate shown for each name; names without one of their own get the default."""

    def __init__(self, default: Issued) -> None:
        self._by_name: dict[str, ssl.SSLContext] = {}
        self.context = _context(default)
        self.context.sni_callback = self._choose

    def put(self, name: str, issued: Issued) -> None:
        self._by_name[name] = _context(issued)

    def drop(self, name: str) -> None:
        self._by_name.pop(name, None)

    def _choose(self, connection: ssl.SSLObject | ssl.SSLSocket, name: str | None, context: ssl.SSLContext) -> None:
        chosen = self._by_name.get((name or "").lower())
        if chosen is not None:
            connection.context = chosen


def _context(issued: Issued) -> ssl.SSLContext:
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    with tempfile.TemporaryDirectory() as folder:  # the ssl module reads certificates only from files
        chain, key = Path(folder) / "chain.pem", Path(folder) / "key.pem"
        chain.write_bytes(issued.chain)
        key.touch(0o600)
        key.write_bytes(issued.key)
        context.load_cert_chain(chain, key)
    return context


def closed_port() -> socket.socket:
    """A bound socket on which no one listens: connections to it are refused."""
    taken = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    taken.bind(("127.0.0.1", 0))
    return taken
