"""Records told in sentences: "create a CNAME record for www that points to shops.bricklark.example"."""

from __future__ import annotations

import re
from dataclasses import dataclass

from homepath.core.formats.pasted.words import is_address, is_host, unquoted

_TYPE = re.compile(r"\b(AAAA|CNAME|TXT|MX|A)\b[- ]*(?:\(.*?\)[- ]*)?(?:-?records?|entry|entries)?", re.S)
_APEX = re.compile(
    r"(?:\bhost(?:name)?\s*)?[\"'\u201c\u2018(]?@[\"'\u201d\u2019)]?(?=[\s,.;:)]|$)"
    r"|\b(?:root|apex|bare|naked)\s+(?:domain|of your domain)\b|\bdomain itself\b|\bthe (?:root|apex)\b",
    re.I,
)
_HOST = re.compile(
    r"\b(?:for|named|called|at|host(?:name)?|name|subdomain|set|label)\s*(?:of|is|as|to|=|:)?\s*"
    r"(?:the\s+)?(?:host|name|subdomain|label)?\s*[\"'\u201c\u2018\u00ab]?"
    r"(?P<host>www|_[A-Za-z0-9_-]+|[a-z0-9_-]{1,30}(?:\.[a-z0-9_.-]+)?)[\"'\u201d\u2019\u00bb]?(?=[\s,.;:)]|$)"
)
_TOKEN = re.compile(r"[\"\u201c\u201e\u00ab'\u2018]([^\"\u201c\u201d\u00bb\u2019]+)[\"\u201d\u201c\u00bb'\u2019]|(\S+)")
_COMMON = frozenset(
    [
        "the",
        "your",
        "a",
        "an",
        "it",
        "this",
        "that",
        "our",
        "each",
        "all",
        "host",
        "name",
        "value",
        "type",
        "example",
        "domain",
        "record",
        "root",
    ]
)


@dataclass(frozen=True, slots=True)
class Told:
    type: str
    host: str
    value: str


def read_sentence(text: str) -> list[Told]:
    """The records that a sentence tells; none where it names a type without a value, or the reverse."""
    types = [match for match in _TYPE.finditer(text) if match[1] != "A" or _is_type_a(text, match)]
    if not types:
        return []
    rrtype = types[0][1]
    values = _values(rrtype, text[types[0].end() :]) or _values(rrtype, text[: types[0].start()])
    if not values:
        return []
    host = _host(text, values)
    return [Told(rrtype, host, value) for value in values] if host else []


def _is_type_a(text: str, match: re.Match[str]) -> bool:
    """`A` is a type in `an A record`, `A-record`, `(A)`, `type A`, not at the begin of `A record of ...`."""
    return bool(re.search(r"record|entr", match[0], re.I)) or bool(
        re.search(r"(?:type|an|\()\s*$", text[: match.start()])
    )


def _values(rrtype: str, text: str) -> list[str]:
    tokens = [unquoted((quoted or bare).rstrip(",;:)!").lstrip("(")) for quoted, bare in _TOKEN.findall(text)]
    tokens = [token.rstrip(".") if is_address(token.rstrip(".")) else token for token in tokens]
    if rrtype in ("A", "AAAA"):
        return [token for token in tokens if is_address(token) and (":" in token) == (rrtype == "AAAA")]
    if rrtype == "TXT":
        marked = re.search(r"(?:value|content|text|containing|contains|with)\s*(?:of|is|:|=)?\s*(.+)$", text, re.I)
        near = [unquoted((q or b).rstrip(",;:)!")) for q, b in _TOKEN.findall(marked[1])] if marked else []
        quoted = [q for q, _ in _TOKEN.findall(text) if q and len(q) > 3]
        with_mark = [token.rstrip(".") for token in (*near, *tokens) if re.search(r"[=:]\S", token) or len(token) > 15]
        return (quoted[-1:] or with_mark[:1])[:1]
    hosts = [
        token.rstrip(".") + ("." if token.endswith("..") else "") for token in tokens if is_host(token.rstrip("."))
    ]
    after = re.search(r"(?:point\w*|alias\w*|direct\w*|map\w*|to|target|value|destination)\s+(.*)$", text, re.I | re.S)
    late = [host for host in hosts if after and host in after[1]] or hosts
    return late[-1:]


def _host(text: str, values: list[str]) -> str | None:
    if _APEX.search(text):
        return "@"
    for match in _HOST.finditer(text):
        word = match["host"].rstrip(".")
        if word.lower() not in _COMMON and word not in values and not is_address(word):
            return word
    found = re.search(r"\b(www(?:\.[a-z0-9.-]+)?|\*)(?=[\s,.;:)\"'\u201d]|$)", text)
    return found[1].rstrip(".") if found else None
