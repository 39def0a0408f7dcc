"""A sentence as atoms: the words in it that can be a part of a record, in their order, and what stands before each."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache, lru_cache
from typing import Literal

from homepath.core.page_reader.kinds import (
    _CAA,
    _KEY_VALUE,
    _LOOKALIKE,
    _SRV,
    _SVCB,
    _VERSIONED,
    FQDN,
    RECORD_TYPES,
    address_of,
    field_roles,
    is_fqdn,
    is_sure_host,
    is_textlike,
    special_type,
)
from homepath.core.page_reader.words import bare, field_words, fold, phrases_of, stems, ttl_seconds

AtomKind = Literal[
    "type",
    "address",
    "fqdn",
    "text",
    "token",
    "part",
    "special",
    "host",
    "apex",
    "ttl",
    "number",
    "field",
    "quoted",
    "stop",
    "and",
]


@dataclass(frozen=True, slots=True)
class Atom:
    """A part of a sentence; a `token` is a code that may be a text for TXT, or the number of a ticket;
    a `part` is one of a longer text.

    `value`: the type, the address, the role of a field; `at` and `end`: where it stands.
    """

    kind: AtomKind
    value: str
    at: int
    end: int
    quoted: bool = False


_TYPE = (
    r"(?<![A-Za-z0-9_.@/{])(?:[Cc][Nn][Aa][Mm][Ee]s?|AAAA|TXT|txt|Txt|MX|CAA|SRV|NS|HTTPS|ALIAS|ANAME|A"
    r"|[АМСТХ][Xx]?(?:NAME|ХТ|XT|Х)?)(?![A-Za-z0-9_.@/}]*[A-Za-z0-9_@/}])"
)
_SCAN = re.compile(
    r"(?P<url>[a-z][a-z0-9+.-]{1,10}://[^\s<>\"“”「」、。]+)"
    r"|(?P<mail>[\w.+-]+@[\w-]+(?:\.[\w-]+)+)"
    rf"|(?P<special>{_CAA}|{_SRV}|{_SVCB}|{_VERSIONED})"
    r"|(?P<quoted>\"[^\"\n]{1,600}\"|“[^”\n]{1,600}”|„[^“”\n]{1,600}[“”]|«[^»\n]{1,600}»|「[^」\n]{1,600}」|『[^』\n]{1,600}』"
    r"|(?<![\w])['‘‚][^'’‘\n]{1,300}['’‘](?![\w])|»[^«\n]{1,300}«)"
    r"|(?P<ip6>(?<![A-Za-z0-9_:.])(?:[0-9A-Fa-f]{0,4}:){2,7}[0-9A-Fa-f]{0,4}(?:[0-9.]*[0-9])?(?![A-Za-z0-9_:]))"
    r"|(?P<ip4>(?<![A-Za-z0-9_.-])[0-9]{1,3}(?:\.[0-9]{1,3}){3}(?![A-Za-z0-9_-]|\.[0-9]))"
    rf"|(?P<text>(?<![A-Za-z0-9_./{{])(?:{_KEY_VALUE}))"
    rf"|(?P<fqdn>(?<![A-Za-z0-9_./@{{\u00c0-\u052f-]){FQDN}(?![A-Za-z0-9_@/{{\u00c0-\u052f-]|\.[A-Za-z0-9]))"
    r"|(?P<under>(?<![A-Za-z0-9_./@-])(?:\*\.[a-z0-9._-]+|_[A-Za-z0-9-]+(?:\._?[A-Za-z0-9-]+)*|[A-Za-z0-9-]+\._[A-Za-z0-9._-]+[A-Za-z0-9])(?![A-Za-z0-9_@/]))"
    r"|(?P<www>(?<![A-Za-z0-9_./@-])[Ww][Ww][Ww](?![A-Za-z0-9_/@-]|\.[A-Za-z0-9_]))"
    r"|(?P<sign>(?<![A-Za-z0-9_.\"'/*-])[@*](?![A-Za-z0-9_*]|\.[A-Za-z0-9_]))"
    rf"|(?P<type>{_TYPE})"
    r"|(?P<long>(?<![A-Za-z0-9_./@-])(?=[A-Za-z0-9_+/=~-]*[0-9])(?=[A-Za-z0-9_+/=~-]*[A-Za-z])[A-Za-z0-9_+/=~-]{12,}(?![A-Za-z0-9_]))"
    r"|(?P<time>(?<![\w.-])[0-9]{1,7}\s?[^\W\d_A-Z]{1,12}\.?)"
    r"|(?P<number>(?<![\w.])[0-9]{1,7}(?![\w.]))"
    r"|(?P<stop>[.!?](?=\s|$)|[。！？])"
    r"|(?P<comma>[,;、，]|\s&\s)"
)
_UNICODE_HOST = re.compile(r"(?<![\w.@-])[\w-]*[^\x00-\x7f\W][\w-]*(?:\.[\w-]+)+(?![\w@])")


@cache
def _field_pattern() -> re.Pattern[str]:
    """The fields' names that are safe inside a sentence, longest first."""
    words = [
        word
        for word, roles in field_words().items()
        if roles[0] in ("type", "host", "value", "ttl", "priority", "weight", "port", "flag", "tag")
        and word not in phrases_of("LOOSE_FIELDS")
        and len(word) > (2 if word.isascii() else 0)
    ]
    words.sort(key=len, reverse=True)
    spaced = "|".join(re.escape(word) for word in words if word.isascii() or not _no_spaces(word))
    free = "|".join(re.escape(word) for word in words if not word.isascii() and _no_spaces(word))
    return re.compile(rf"(?<!\w)(?:{spaced})(?!\w)|{free}")


def _no_spaces(word: str) -> bool:
    return bool(re.search(r"[\u0900-\u097f\u0e00-\u0e7f\u3040-\u30ff\u3400-\u9fff\uac00-\ud7af\u0590-\u07ff]", word))


@cache
def _apex_pattern() -> re.Pattern[str]:
    words = [
        word
        for word in phrases_of("APEX")
        if (len(word) > (3 if word.isascii() else 1) and " " in word) or word in phrases_of("APEX_WORDS")
    ]
    words = [word for word in words if word not in ("your domain", "the domain", "your domain name")]
    free = [word for word in phrases_of("APEX") if not word.isascii() and _no_spaces(word) and len(word) > 2]
    spaced = "|".join(re.escape(word) for word in sorted(words, key=len, reverse=True))
    return re.compile(
        rf"(?<!\w)(?:{spaced})(?!\w)" + "".join(f"|{re.escape(w)}" for w in sorted(free, key=len, reverse=True))
    )


@lru_cache(maxsize=4096)
def atoms_of(text: str) -> tuple[Atom, ...]:
    """The atoms of one line."""
    found: list[Atom] = []
    for match in _SCAN.finditer(text):
        atom = _atom(match, text)
        if atom is not None:
            found.append(atom)
    if not text.isascii():
        taken = [(atom.at, atom.end) for atom in found]
        found += [
            Atom("fqdn", match[0], match.start(), match.end())
            for match in _UNICODE_HOST.finditer(text)
            if is_fqdn(match[0]) and _free(match, taken)
        ]
    taken = [(atom.at, atom.end) for atom in found if atom.kind not in ("type", "number", "stop", "and")]
    same = bare(text)
    plain = same if len(same) == len(text) else fold(text)
    if len(plain) == len(text):
        found += _words(plain, taken)
    found += [
        Atom("stop", ".", atom.end, atom.end)
        for atom in found
        if atom.kind == "fqdn" and atom.value.endswith(".") and re.match(r"\s+[A-ZÀ-ÖØ-Þ]", text[atom.end :])
    ]
    found.sort(key=lambda atom: (atom.at, -atom.end))
    return _apart(found)


def _free(match: re.Match[str], taken: list[tuple[int, int]]) -> bool:
    return not any(at < match.end() and match.start() < end for at, end in taken)


def _words(plain: str, taken: list[tuple[int, int]]) -> list[Atom]:
    found = [
        Atom("field", field_words()[match[0]][0], match.start(), match.end())
        for match in _field_pattern().finditer(plain)
        if _free(match, taken)
    ]
    found += [
        Atom("apex", "@", match.start(), match.end())
        for match in _apex_pattern().finditer(plain)
        if _free(match, taken)
    ]
    found += [Atom("and", "and", at, end) for at, end in stems("AND").find(plain)]
    return found


def _apart(found: list[Atom]) -> tuple[Atom, ...]:
    """Of atoms that overlap the first and longest, except that an apex phrase beats a field's name inside it."""
    kept: list[Atom] = []
    for atom in found:
        if kept and atom.at < kept[-1].end:
            if atom.kind == "apex" and kept[-1].kind == "field":
                kept[-1] = atom
            continue
        kept.append(atom)
    return tuple(kept)


def _atom(match: re.Match[str], text: str) -> Atom | None:
    at, end, words = match.start(), match.end(), match[0]
    kind = match.lastgroup
    if kind in ("url", "mail"):
        return None
    if kind == "special":
        return Atom("special", words, at, end)
    if kind == "quoted":
        inner = words[1:-1].strip()
        return _quoted(inner, at, end)
    if kind in ("ip4", "ip6"):
        address = address_of(words)
        return Atom("address", address, at, end) if address and not _is_version(text[:at]) else None
    if kind == "text":
        return _key_value(words, at, end, text)
    if kind == "fqdn":
        return Atom("fqdn", words, at, end) if is_fqdn(words) else None
    if kind in ("under", "www", "sign"):
        return Atom("host", words.lower(), at, end)
    if kind == "type":
        return _typed(words, text, at, end)
    if kind == "long":
        return Atom("token", words, at, end) if is_textlike(words) else None
    if kind == "time":
        seconds = ttl_seconds(words)
        return Atom("ttl", words, at, end) if seconds is not None else _number(words, at)
    if kind == "number":
        return Atom("number", words, at, end)
    return Atom("stop" if kind == "stop" else "and", words, at, end)


def _number(words: str, at: int) -> Atom:
    digits = re.match(r"[0-9]+", words)
    assert digits is not None
    return Atom("number", digits[0], at, at + digits.end())


def _key_value(words: str, at: int, end: int, text: str) -> Atom | None:
    """`mark=code` is a text; `Type:CNAME` is a field's name and something after it."""
    name, _, rest = words.partition(":") if ":" in words and "=" not in words.split(":")[0] else words.partition("=")
    roles = field_roles(name)
    if roles or name.upper() in RECORD_TYPES:
        return Atom("field", roles[0], at, at + len(name)) if roles else Atom("type", name.upper(), at, at + len(name))
    if name.lower() in ("include", "ip4", "ip6") and words[len(name)] == ":":
        return Atom("part", words, at, end)
    if ":" in words and "=" not in words and (len(words) < 12 or not re.search(r"[0-9]", words)):
        return None
    if re.fullmatch(r"[0-9:.,-]+", words):
        return None
    return Atom("text", words, at, end) if rest else None


def _quoted(inner: str, at: int, end: int) -> Atom | None:
    if (address := address_of(inner)) is not None:
        return Atom("address", address, at, end, True)
    if special_type(inner):
        return Atom("special", inner, at, end, True)
    if is_sure_host(inner):
        return Atom("host", inner.lower(), at, end, True)
    if is_fqdn(inner):
        return Atom("fqdn", inner, at, end, True)
    if (inner.translate(_LOOKALIKE).upper() in RECORD_TYPES and len(inner) > 1) or inner == "A":
        return Atom("type", inner.upper(), at, end, True)
    if is_textlike(inner):
        return Atom("text", inner, at, end, True)
    if (roles := field_roles(inner)) and roles[0] != "other":
        return Atom("field", roles[0], at, end, True)
    return Atom("quoted", inner, at, end, True)


_RECORD_BEHIND = re.compile(r"[\s-]*([^\W\d_]+)")
_BEFORE = re.compile(r"([^\W\d_]+)[\s:：=-]*(?:DNS\s)?[(（\"“„«「]?\s*$")


def _typed(words: str, text: str, at: int, end: int) -> Atom | None:
    """A type's name in a sentence; `A` and `HTTPS` only beside a word for a record or another type."""
    rrtype = words.translate(_LOOKALIKE).upper()
    rrtype = "CNAME" if rrtype.startswith("CNAME") else {"ANAME": "ALIAS"}.get(rrtype, rrtype)
    if rrtype not in RECORD_TYPES:
        return None
    if rrtype in ("A", "HTTPS") and not _beside_record(text, at, end):
        return None
    return Atom("type", rrtype, at, end)


def _beside_record(text: str, at: int, end: int) -> bool:
    records = phrases_of("RECORD")
    if re.match(r"\s+(?:@|\*|www|_?[a-z0-9-]+)\s+[0-9]{1,3}(?:\.[0-9]{1,3}){3}(?![0-9.])", text[end:]):
        return True  # `A @ 192.0.2.10` in a sentence
    behind = _RECORD_BEHIND.match(text, end)
    if behind and (bare(behind[1]) in records or any(bare(behind[1]).startswith(w) for w in _GLUED_RECORDS)):
        return True
    if re.match(r"\s*(?:[,/+&(]|and|und|et|y|e|och|og|ja|oraz|a|и|і|و)\s*(?:AAAA|CNAME|TXT|MX)\b", text[end:]):
        return True
    before = _BEFORE.search(text[:at])
    word = bare(before[1]) if before else ""
    if (
        word in records
        or word in ("type", "typ", "tipo", "тип", "tur", "тип", "tipus", "tyyppi")
        or any(word.endswith(w) for w in _GLUED_RECORDS)
    ):
        return True
    return text[max(0, at - 1) : at] in '(（「“"' and text[end : end + 1] in ')）」”"' and end - at <= 5 and at > 0


_GLUED_RECORDS = tuple(
    bare(word)
    for word in (
        "レコード",
        "记录",
        "記錄",
        "레코드",
        "record",
        "eintrag",
        "post",
        "запис",
        "رکورد",
        "سجل",
        "רשומ",
        "tietue",
        "rekord",
        "zaznam",
        "kayd",
    )
)


def _is_version(before: str) -> bool:
    return bool(re.search(r"(?:\bv|version|versión|версия|build|release|rev|firmware)[\s.:]*$", before, re.I))
