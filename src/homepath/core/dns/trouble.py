"""Why something could not be had: a cause, and who was asked. Words are made of it only where a person reads them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import Name, shown
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
    "unknown",
]
"""`silent`: nothing came in time. `refused`: it said that it will not. `no-connection`: nobody listens there.
`connection-lost`: it broke off. `off-limits`: an address that is never contacted. `not-dns`, `not-http`: something
came that is none. `failed`: the server itself failed (SERVFAIL). `bogus`: its check of signatures failed. `lame`: it
does not hold the zone. `no-server`: none of a zone's servers answers. `too-long`: it leads on and on. `tls`: no secure
connection could be made. `untrusted`: its certificate is not trusted.
`not-allowed`: a zone is not given to us. `no-time`: the whole look had to end before it was its turn."""


@dataclass(frozen=True, slots=True)
class Trouble:
    """`server`: who was asked, by name; `address`: where; `said`: the code or text that came, as it came.
    `because`: what each server did, where several were asked."""

    cause: TroubleCause
    server: Name = ""
    address: str = ""
    said: Text = ""
    because: tuple[Trouble, ...] = ()


def server_state(cause: TroubleCause) -> Literal["silent", "refusing", "lame", "broken"]:
    """What a nameserver does that gives no answer for a reason like this."""
    if cause in ("silent", "no-connection", "off-limits"):
        return "silent"
    return "refusing" if cause == "refused" else "lame" if cause == "lame" else "broken"


def of_trouble(trouble: Trouble) -> Message:
    """Why something could not be had: who was asked, what came instead, and what each server did."""
    name = msg("who.root") if trouble.server == "." else shown(trouble.server) if trouble.server else ""
    address = trouble.address if trouble.address != name else ""
    who = msg("who", server=name, address=address) if name and address else name or address or msg("who.it")
    what = msg(f"trouble.{trouble.cause}", who=who)
    if not trouble.said and not trouble.because:
        return what
    because = messages((of_trouble(each) for each in trouble.because), "clauses")
    return msg("trouble", what=what, said=trouble.said, because=because)
