"""Ways in, hops and certificates."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.model.findings import Finding
from homepath.core.model.names import Name

CertificateState = Literal["good", "ending", "expired", "not-yet-valid", "name-missing", "untrusted", "none"]
WayState = Literal["arrived", "waiting", "wrong-destination", "unsafe", "loop", "broken-page", "no-answer"]
VisitVerdict = Literal["arrived", "waiting", "broken"]


@dataclass(frozen=True, slots=True)
class Certificate:
    """What a server showed for one name. `covers`: the certificate names it (RFC 9525); times in Unix seconds."""

    state: CertificateState
    covers: bool
    names: tuple[str, ...]
    issuer: str
    not_after: float | None
    detail: str = ""


@dataclass(frozen=True, slots=True)
class Hop:
    """One request. `status` is None when no answer came; `address` is where the connection was meant to go.

    `promise`: the Strict-Transport-Security field as it came over https (RFC 6797), empty without one.
    """

    url: str
    status: int | None
    location: str | None
    address: str | None
    detail: str = ""
    certificate: Certificate | None = None
    promise: str = ""


@dataclass(frozen=True, slots=True)
class Way:
    """One way in: from the typed address to the final one. `certificate` is that of the typed name."""

    url: str
    final_url: str | None
    state: WayState
    hops: tuple[Hop, ...]
    certificate: Certificate | None
    words: str = ""


@dataclass(frozen=True, slots=True)
class Possibility:
    """Something a builder may be waiting for, what to do about it, and until when to wait at most."""

    what: str
    do: str
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
