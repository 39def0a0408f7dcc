"""The words of such pages: types, field names, stand-ins, and what may be stripped from around a value."""

from __future__ import annotations

import re
import unicodedata
from ipaddress import ip_address

TYPES = ("A", "AAAA", "CNAME", "TXT", "MX", "CAA", "SRV", "NS")
FIELDS = {
    "type": ("type", "record type", "typ", "tipo", "record"),
    "host": (
        "host",
        "name",
        "hostname",
        "host name",
        "record name",
        "host record",
        "subdomain",
        "nombre",
        "nom",
        "label",
    ),
    "value": (
        *("value", "points to", "data", "content", "target", "destination", "address", "ip address", "answer", "ip"),
        *("wert", "valor", "valeur", "record value", "required value", "host value", "point to", "values"),
    ),
    "ttl": ("ttl", "time to live"),
    "priority": ("priority", "prio", "preference", "mx priority"),
}
IGNORED_CELLS = ("status", "state", "action", "actions", "current value", "current data", "notes", "copy")

_BULLET = re.compile(r"^\s*(?:[-*\u2022\u2023\u25e6\u2043\u2219\u25aa\u25cf\u2713\u2714]|\(?[0-9]{1,2}[.)])\s+")
_QUOTES = "\"'\u201c\u201d\u201e\u201f\u2018\u2019\u201a\u00ab\u00bb\u2039\u203a`"
_STAND_IN = re.compile(r"[<\[{(\u2039\u00ab]\s*(?:your|the|my)?[ _-]*([A-Za-z][A-Za-z0-9 _-]*?)\s*[>\]})\u203a\u00bb]")


def plain(line: str) -> str:
    """A line without invisible characters, bullets and typographic variants of spaces, colons and arrows."""
    line = unicodedata.normalize("NFC", line)
    line = "".join(c for c in line if c == "\t" or unicodedata.category(c) not in ("Cf", "Cc"))
    line = re.sub(r"[\u00a0\u2000-\u200a\u202f\u205f\u3000]", " ", line)
    line = line.replace("\uff1a", ":").replace("\ufe55", ":").replace("\uff1d", "=").replace("\u3002", ".")
    line = re.sub(r"[ \t]{0,20}(?:\u2192|\u21d2|\u27a1|\u2794|->|=>|-->)[ \t]{0,20}", "\t", line)
    return _BULLET.sub("", line).rstrip()


def unquoted(text: str) -> str:
    """A value without quotes of any language and without the punctuation of the sentence it stood in."""
    text = text.strip()
    if text[-1:] in ",;" or (text[-1:] == "." and text[:1] in _QUOTES):
        text = text[:-1]
    while len(text) > 1 and text[0] in _QUOTES and text[-1] in _QUOTES:
        text = text[1:-1].strip()
    return text.strip(_QUOTES) if text[:1] in _QUOTES or text[-1:] in _QUOTES else text


def field_of(text: str) -> str | None:
    """Which field a column title or a form's word names; `-` for one that says nothing about the record."""
    word = re.sub(r"\s+", " ", re.sub(r"[^a-z ]", " ", text.lower())).strip()
    if word in IGNORED_CELLS:
        return "-"
    return next((field for field, words in FIELDS.items() if word in words), None)


def type_of(text: str) -> str | None:
    """The record type that a cell names, such as `CNAME`, `A record` or `TXT (text)`."""
    word = re.sub(r"\(.*?\)|record|alias", "", text, flags=re.I).strip(" :.,").upper()
    return word if word in TYPES else None


def is_address(text: str) -> bool:
    try:
        ip_address(text.strip(_QUOTES + ".,;"))
    except ValueError:
        return False
    return True


def is_host(text: str) -> bool:
    """Something that looks like a host name of at least two labels, stand-ins allowed."""
    return bool(re.fullmatch(r"(?:[A-Za-z0-9_*{}-]+\.)+[A-Za-z{}][A-Za-z0-9{}-]*\.?", text)) and not is_address(text)


def ttl_seconds(text: str) -> int | None:
    """The TTL a cell names; None for `auto`, `default` and the like."""
    from homepath.core.model.times import seconds_in

    try:
        return seconds_in(re.sub(r"\(.*?\)", "", text))
    except ValueError:
        return None


def looks_like_ttl(text: str) -> bool:
    word = text.strip().lower()
    return bool(
        re.fullmatch(r"(?:auto(?:matic)?|default|[0-9]+\s*(?:s|sec|seconds?|m|min|minutes?|h|hours?|d|days?)?)", word)
    )


def places_in(text: str) -> tuple[str, list[str]]:
    """The text with its stand-ins as `{name}`, and the names: `<your code>` becomes `{code}`."""
    names: list[str] = []

    def name(match: re.Match[str]) -> str:
        word = re.sub(r"[^a-z0-9]+", "_", match[1].lower()).strip("_") or "value"
        names.append(word)
        return "{" + word + "}"

    return _STAND_IN.sub(name, text), names
