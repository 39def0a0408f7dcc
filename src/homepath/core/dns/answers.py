"""Questions to nameservers and what came of them, as values (RFC 1035 section 4), and why an answer could not
be had."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import Name, shown
from homepath.core.dns.records import Key, RecordSet
from homepath.core.message import Message, Text, messages, msg

TroubleCause = Literal[
    "silent",
    "refused",
    "no-connection",
    "connection-lost",
    "off-limits",
    "not-dns",
    "failed",
    "bogus",
    "lame",
    "no-server",
    "no-address",
    "no-such-name",
    "too-long",
    "goes-round",
    "not-http",
    "tls",
    "untrusted",
    "too-large",
    "unreadable",
    "not-allowed",
    "unsigned",
    "no-time",
    "not-asked",
    "intercepted",
    "unknown",
]
"""`silent`: nothing came in time. `refused`: it said that it will not. `no-connection`: no one listens there.
`connection-lost`: it broke off. `off-limits`: an address that is never contacted. `not-dns`, `not-http`: something came
that is none. `failed`: the server itself failed (SERVFAIL). `bogus`: its check of signatures failed. `lame`: it does
not hold the zone. `no-server`: none of a zone's servers answers. `too-long`: more aliases than are followed. `tls`: no
secure connection could be made. `untrusted`: its certificate is not trusted. `not-allowed`: a zone is not given to us.
`no-time`: the full check had to end before it was its turn. `not-asked`: too many questions before it were not
answered, so it was not sent. `intercepted`: what answers in its place is a resolver, so the network sends questions
elsewhere."""


UNSENT: tuple[TroubleCause, ...] = ("no-time", "off-limits", "not-asked")
"""Causes by which a question never left: they say nothing about the server."""


@dataclass(frozen=True, slots=True)
class Trouble:
    """`server`: who was asked, by name; `address`: where; `detail`: the code or text that came, as it came.
    `because`: what each server did, where several were asked."""

    cause: TroubleCause
    server: Name = ""
    address: str = ""
    detail: Text = ""
    because: tuple[Trouble, ...] = ()


def server_state(cause: TroubleCause) -> Literal["silent", "refusing", "lame", "broken"]:
    """What a nameserver does that fails to answer for a reason like this."""
    if cause in ("silent", "no-connection", "off-limits", "not-asked"):
        return "silent"
    return "refusing" if cause == "refused" else "lame" if cause == "lame" else "broken"


def of_trouble(trouble: Trouble) -> Message:
    """Why something could not be had: who was asked, what came instead, and what each server did."""
    name = msg("who.root") if trouble.server == "." else shown(trouble.server) if trouble.server else ""
    address = trouble.address if trouble.address != name else ""
    who = msg("who", server=name, address=address) if name and address else name or address or msg("who.it")
    what = msg(f"trouble.{trouble.cause}", who=who)
    if not trouble.detail and not trouble.because:
        return what
    because = messages((of_trouble(each) for each in trouble.because), "clauses")
    return msg("trouble", what=what, said=trouble.detail, because=because)


def cure_of(trouble: Trouble | None) -> Message:
    """What to do where none of the servers that a check needs could be asked."""
    return msg("check-connection-2" if trouble and trouble.cause == "intercepted" else "check-connection")


Transport = Literal["udp", "tls", "https"]
"""How a server is asked: plain DNS, DNS over TLS (RFC 7858), DNS over HTTPS (RFC 8484)."""


@dataclass(frozen=True, slots=True, order=True)
class Server:
    """Where to ask: an address (IPv4 or IPv6 text) and a port, and the name it goes by.

    `path`: the path of the DNS service of a server that is asked over HTTPS.
    """

    address: str
    port: int = 53
    name: Name = ""
    transport: Transport = "udp"
    path: str = ""

    @property
    def place(self) -> str:
        where = f"[{self.address}]" if ":" in self.address else self.address
        return where if self.port == 53 else f"{where}:{self.port}"


@dataclass(frozen=True, slots=True)
class Question:
    name: Name
    type: str

    @property
    def key(self) -> Key:
        return self.name, self.type


Outcome = Literal["answered", "silent", "broken"]
"""`silent`: nothing came in time. `broken`: something came that is no usable answer."""


@dataclass(frozen=True, slots=True)
class Answer:
    """What one server said to one question; `at` is when, in seconds of Unix time.

    `late`: it came only after the first try had run out. `uneven`: records of one set came with different TTLs.
    `fingerprint`: of its code and first set, for anyone who asks the same again later; "" where no one will.
    """

    question: Question
    server: Server
    outcome: Outcome
    at: float
    rcode: str = ""
    authoritative: bool = False
    answer: tuple[RecordSet, ...] = ()
    authority: tuple[RecordSet, ...] = ()
    additional: tuple[RecordSet, ...] = ()
    trouble: Trouble | None = None
    late: bool = False
    uneven: bool = False
    fingerprint: str = ""

    @property
    def usable(self) -> bool:
        return self.outcome == "answered" and self.rcode in ("NOERROR", "NXDOMAIN")

    def found(self, name: Name, rrtype: str) -> RecordSet | None:
        """The set in the answer section at exactly this name and type."""
        return next((each for each in self.answer if each.key == (name, rrtype)), None)

    @property
    def soa(self) -> RecordSet | None:
        """The SOA that comes with a negative answer (RFC 2308 section 3)."""
        return next((each for each in self.authority if each.type == "SOA"), None)


@dataclass(frozen=True, slots=True)
class Unanswered:
    """A question that no server of the zone answered: whether anything is there is not known."""

    name: Name
    type: str
    trouble: Trouble

    @property
    def key(self) -> Key:
        return self.name, self.type
