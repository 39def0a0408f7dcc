"""Addresses a visitor may type (URLs), hops, certificates, HSTS, and a whole visit."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Literal
from urllib.parse import quote, urljoin, urlsplit, urlunsplit

from homepath.core.dns.names import BadName, Name, absolute
from homepath.core.message import Text, msg
from homepath.core.model.findings import Finding

LONGEST = 8000
"""Characters; what is longer is no address that a browser follows."""
_KEPT = "%/:@!$&'()*+,;=-._~?[]"
"""What stays as it is in a path or query: what RFC 3986 section 3.3 allows, and what is encoded already."""


def joined(base: str, text: str) -> str | None:
    """`text`, found at `base`, as a whole http or https address without fragment; None for anything else.

    Letters outside ASCII become UTF-8 in percent signs, in host names their A-label (RFC 3987 section 3.1); control
    characters make it no address.
    """
    text = text.strip(" \t\r\n\f")
    if len(text) > LONGEST or any(ord(char) < 32 or ord(char) == 127 for char in text):
        return None
    try:
        parts = urlsplit(urljoin(base, text))
        host, port = parts.hostname, parts.port
        if parts.scheme not in ("http", "https") or not host:
            return None
        name = host if ":" in host else absolute(host).removesuffix(".")
        place = f"[{name}]" if ":" in name else name
        netloc = place if port is None else f"{place}:{port}"
        return urlunsplit((parts.scheme, netloc, quote(parts.path, safe=_KEPT), quote(parts.query, safe=_KEPT), ""))
    except (ValueError, BadName):
        return None


def field_text(octets: bytes) -> str:
    """The text of a field such as Location: UTF-8 where it is that, else Latin-1 (RFC 9110 section 5.5)."""
    octets = octets[: LONGEST + 1]
    try:
        return octets.decode()
    except UnicodeDecodeError:
        return octets.decode("latin-1")


def same_url(one: str, other: str) -> bool:
    """True when two URLs are the same place: host without case, empty path as `/` (RFC 3986 section 6.2.3)."""

    def parts(url: str) -> tuple[str, str, str, str]:
        split = urlsplit(url)
        return split.scheme, (split.hostname or ""), split.path or "/", split.query

    return parts(one) == parts(other)


@dataclass(frozen=True, slots=True)
class Hsts:
    """For `max_age` seconds after each visit over https, browsers refuse plain http and bad certificates there.

    `below`: for every name below it too. `preload`: the site asks to be put on lists that ship with browsers.
    """

    max_age: int
    below: bool = False
    preload: bool = False

    @property
    def binds(self) -> bool:
        """False for one of no length, which takes back an earlier one (RFC 6797 section 6.1.1)."""
        return self.max_age > 0

    @property
    def words(self) -> Text:
        more = msg("hsts.words.more") if self.below else ""
        listed = msg("hsts.words.listed") if self.preload else ""
        return msg("hsts.words", max_age=self.max_age, more=more, listed=listed)


def read_hsts(field: str) -> Hsts | None:
    """What a header field says; None where it is empty or breaks the grammar, as a browser would ignore it."""
    ages: list[int] = []
    seen: set[str] = set()
    for part in field.split(";"):
        name, _, value = part.strip().partition("=")
        name, value = name.strip().lower(), value.strip().strip('"')
        if not name:
            continue
        if name in seen:  # a directive given twice makes the whole field void (RFC 6797 section 6.1)
            return None
        seen.add(name)
        if name == "max-age":
            if not re.fullmatch(r"[0-9]{1,18}", value):
                return None
            ages.append(int(value))
    if not ages:
        return None
    return Hsts(ages[0], "includesubdomains" in seen, "preload" in seen)


CertificateState = Literal[
    "good", "ending", "expired", "not-yet-valid", "default", "name-missing", "incomplete", "untrusted", "none"
]
"""`default`: the builder's own, until the one for the site comes. `incomplete`: the issuer's is not sent along."""
WayState = Literal[
    "arrived", "waiting", "wrong-destination", "unsafe", "loop", "broken-page", "no-answer", "drops-path", "unknown"
]
"""`unsafe`: without a good certificate, or back over plain http. `drops-path`: every link ends on the home page.
`unknown`: it is not known where DNS points."""
VisitVerdict = Literal["arrived", "waiting", "unknown", "broken"]
"""From best to worst."""


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
    def answers(self) -> bool:
        return self.status is not None

    @property
    def opens(self) -> bool:
        return self.answers and (self.certificate is None or self.certificate.state in ("good", "ending"))


@dataclass(frozen=True, slots=True)
class Way:
    """One entry point: from the typed address to the final one. `certificate` is that of the typed name; `addresses`:
    every address of the typed name."""

    url: str
    final_url: str | None
    state: WayState
    hops: tuple[Hop, ...]
    certificate: Certificate | None
    words: Text = ""
    addresses: tuple[AddressTried, ...] = ()
    probe: tuple[Hop, ...] = ()
    """The same way with a path and a query, without the text of its pages; empty where it was not tried."""


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
    """The builder's servers were queried directly, regardless of DNS."""
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
