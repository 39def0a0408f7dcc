"""Domain names as text: lower-case, absolute, with the final dot, escapes as in RFC 1035 section 5.1."""

from __future__ import annotations

import re
from typing import TypeAlias

from homepath.core.message import msg, reason

Name: TypeAlias = str
"""An absolute domain name in lower case with its final dot, such as `www.tidewick-kiln.example.`"""

ROOT: Name = "."

_PLAIN = re.compile(r"(?:[a-z0-9_*](?:[a-z0-9_-]{0,62})\.)+")
_DOT = re.compile(r"((?:[^\\.]|\\[0-9]{3}|\\[^0-9])*)(?:\.|$)", re.S)


class BadName(ValueError):
    """A text that is no domain name; the message says why (RFC 1035 section 2.3.4)."""


def labels(name: Name) -> list[str]:
    """The labels of `name`, leftmost first, without the root; `\\.` inside a label does not split it."""
    if name == ROOT:
        return []
    if "\\" not in name:
        return name.removesuffix(".").split(".")
    found, at = [], 0
    while at < len(name):
        match = _DOT.match(name, at)
        if match is None or match.end() == at:
            raise BadName(msg("names.labels", name=name))
        found.append(match[1])
        at = match.end()
    return found


def _octets(label: str) -> int:
    return len(re.sub(r"\\(?:[0-9]{3}|.)", "x", label, flags=re.S).encode())


def absolute(text: str, origin: Name | None = None) -> Name:
    """Read `text` as a name; without a final dot it is completed with `origin` (RFC 1035 section 5.1).

    Non-ASCII labels become A-labels (RFC 5891). Without an origin a missing final dot is supplied.
    Raises BadName.
    """
    name = text.strip().lower()
    if name == "@" and origin is not None:
        return origin
    if not name.isascii():
        name = _to_ascii(name)
    if not name.endswith(".") or name.endswith("\\."):
        name = f"{name}." if origin is None or origin == ROOT else f"{name}.{origin}"
    if len(name) <= 254 and _PLAIN.fullmatch(name):
        return name
    if name == ROOT:
        return name
    if re.search(r"\s", name.replace("\\ ", "")):
        raise BadName(msg("names.absolute", text=text))
    parts = labels(name)
    for label in parts:
        if not label:
            raise BadName(msg("names.absolute-2", text=text))
        if _octets(label) > 63:
            raise BadName(msg("names.absolute-3", text=text))
    if sum(_octets(label) + 1 for label in parts) + 1 > 255:
        raise BadName(msg("names.absolute-4", text=text))
    return name


def _to_ascii(name: str) -> str:
    import idna

    dot = "." if name.endswith(".") else ""
    try:
        return idna.encode(name.removesuffix("."), uts46=True).decode() + dot
    except (idna.IDNAError, UnicodeError) as error:
        raise BadName(msg("names.to-ascii", name=name, error=reason(error))) from error


def is_within(name: Name, zone: Name) -> bool:
    """Whether `name` is `zone` itself or below it."""
    return zone == ROOT or name == zone or name.endswith("." + zone)


def parent(name: Name) -> Name:
    """The name one label up; the root is its own parent."""
    return ".".join(labels(name)[1:]) + "." if name != ROOT else ROOT


def ancestors(name: Name) -> list[Name]:
    """`name` and everything above it, nearest first, the root last."""
    chain = [name]
    while chain[-1] != ROOT:
        chain.append(parent(chain[-1]))
    return chain


def child(label: str, zone: Name) -> Name:
    """`label` (one or more labels, or `@`) below `zone`."""
    return absolute(label, zone)


def relative(name: Name, zone: Name) -> str:
    """`name` as a form that leaves out the zone would show it: `@`, `www`, or the full name when outside."""
    if name == zone:
        return "@"
    return name[: -len(zone) - 1] if is_within(name, zone) else name


def shown(name: Name) -> str:
    """`name` for people: no final dot."""
    return name.removesuffix(".") or "."


def is_host(name: Name) -> bool:
    """True when every label is letters, digits and inner hyphens (RFC 1123 section 2.1)."""
    return all(re.fullmatch(r"[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?", label) for label in labels(name))
