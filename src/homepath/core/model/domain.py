"""What people type as their domain, read as a registered domain and an address."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass

from homepath.core.dns.names import BadName, Name, absolute, is_host, labels
from homepath.core.message import msg, reason

SuffixOf = Callable[[str], str | None]
"""Returns the registrable domain of a name without final dot, by the public suffix list, or None."""


class BadDomain(ValueError):
    """The text is not a domain that someone can have registered; the message says why."""


@dataclass(frozen=True, slots=True)
class TypedDomain:
    """`domain` is the registered domain; `label` what was in front of it (`www`, `shop`), or empty."""

    domain: Name
    label: str


def read_domain(text: str, registrable: SuffixOf) -> TypedDomain:
    """Read capitals, pasted addresses, a leading `www.`, trailing dots or slashes, spaces, non-ASCII names.

    Raises BadDomain.
    """
    host = _host_part(text)
    if not host:
        raise BadDomain(msg("domain.read-domain"))
    if re.fullmatch(r"[0-9.]+", host) or ":" in host or host.startswith("["):
        raise BadDomain(msg("domain.read-domain-2", host=host))
    try:
        name = absolute(host)
    except BadName as error:
        raise BadDomain(reason(error)) from error
    if not is_host(name):
        raise BadDomain(msg("domain.read-domain-3", host=host))
    if len(labels(name)) < 2:
        raise BadDomain(msg("domain.read-domain-4", host=host))
    registered = registrable(name.removesuffix("."))
    if registered is None:
        raise BadDomain(msg("domain.read-domain-5", host=host))
    domain = absolute(registered)
    return TypedDomain(domain, name.removesuffix("." + domain) if name != domain else "")


def _host_part(text: str) -> str:
    host = "".join(text.split()).strip("\u201c\u201d\"'<>\u200b\ufeff")
    host = re.sub(r"^[A-Za-z][A-Za-z0-9+.-]*://", "", host)
    host = re.split(r"[/?#\\]", host, maxsplit=1)[0].rpartition("@")[2]
    host = re.sub(r":[0-9]+$", "", host)
    return host.replace("\u3002", ".").strip(".").lower()


def shown_unicode(name: Name) -> str:
    """The name as its owner reads it; A-labels become U-labels where that is possible (RFC 5891)."""
    plain = name.removesuffix(".")
    if "xn--" not in plain:
        return plain
    import idna

    try:
        return idna.decode(plain)
    except (idna.IDNAError, UnicodeError):
        return plain
