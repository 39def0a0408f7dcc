"""Ways in, hops and certificates."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from homepath.core.dns.names import Name
from homepath.core.message import Text
from homepath.core.model.findings import Finding

CertificateState = Literal[
    "good", "ending", "expired", "not-yet-valid", "default", "name-missing", "incomplete", "untrusted", "none"
]
"""`default`: the builder's own, until the one for the site comes. `incomplete`: the issuer's is not sent along."""
WayState = Literal[
    "arrived", "waiting", "wrong-destination", "unsafe", "loop", "broken-page", "no-answer", "drops-path"
]
"""`unsafe`: without a good certificate, or back over plain http. `drops-path`: every link ends on the home page."""
VisitVerdict = Literal["arrived", "waiting", "broken"]


@dataclass(frozen=True, slots=True)
class Certificate:
    """What a server showed for one name. `covers`: the certificate names it (RFC 9525); times in Unix seconds."""

    state: CertificateState
    covers: bool
    names: tuple[str, ...]
    issuer: str
    not_after: float | None
    detail: Text = ""


@dataclass(frozen=True, slots=True)
class Hop:
    """One request. `status` is None when no answer came; `address` is where the connection was meant to go.

    `hsts`: the Strict-Transport-Security field as it came over https (RFC 6797), empty without one. `protocol`:
    `http/1.1` or `h2`. `by_page`: the page itself sent the browser on (meta refresh), to `location`. `page`: the text
    of a page that was read.
    """

    url: str
    status: int | None
    location: str | None
    address: str | None
    detail: Text = ""
    certificate: Certificate | None = None
    hsts: str = ""
    protocol: str = ""
    by_page: bool = False
    page: str = field(default="", repr=False)


@dataclass(frozen=True, slots=True)
class AddressTried:
    """One address behind a name, asked on its own: a site may work over one and not over another."""

    address: str
    status: int | None
    detail: Text = ""
    certificate: Certificate | None = None

    @property
    def opens(self) -> bool:
        return self.status is not None and (self.certificate is None or self.certificate.state in ("good", "ending"))


@dataclass(frozen=True, slots=True)
class Way:
    """One way in: from the typed address to the final one. `certificate` is that of the typed name; `addresses`: every
    address of the typed name."""

    url: str
    final_url: str | None
    state: WayState
    hops: tuple[Hop, ...]
    certificate: Certificate | None
    words: Text = ""
    addresses: tuple[AddressTried, ...] = ()


FreeAddress = Literal["serving", "redirecting", "gone", "unknown"]


@dataclass(frozen=True, slots=True)
class Possibility:
    """Something a builder may be waiting for, what to do about it, and until when to wait at most."""

    what: Text
    do: Text
    until: float | None


@dataclass(frozen=True, slots=True)
class Visit:
    domain: Name
    at: float
    primary_url: str
    verdict: VisitVerdict
    ways: tuple[Way, ...]
    findings: tuple[Finding, ...]
    wait_until: float | None = None
    may_wait_for: tuple[Possibility, ...] = ()
    ahead: bool = False
    """The builder's edge was asked, wherever DNS leads."""
    free_address: FreeAddress | None = None
    expected: str = ""
    """Why it is as it should be that no way arrives yet: the change has not been made."""
    led: tuple[Name, ...] = ()
    """Names that DNS led where they belong."""
    certified: tuple[Name, ...] = ()
    """Names for which a good certificate was seen since DNS is right, at this visit or an earlier one."""

    @property
    def certificate_end(self) -> float | None:
        """When the first of the good certificates ends, Unix seconds; None where none was seen."""
        seen = (hop.certificate for way in self.ways for hop in way.hops)
        good = (each for each in seen if each is not None and each.state in ("good", "ending"))
        return min((each.not_after for each in good if each.not_after is not None), default=None)
