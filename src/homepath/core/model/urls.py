"""Addresses of pages as they are written in fields and pages, brought to the one spelling that can be asked for."""

from __future__ import annotations

from urllib.parse import quote, urljoin, urlsplit, urlunsplit

from homepath.core.dns.names import BadName, absolute

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
