"""A sentence as atoms: the words in it that can be a part of a record, in their order, and what is before each."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import lru_cache
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
    SERVICE_PARAMS,
    address_of,
    field_roles,
    is_fqdn,
    is_sure_host,
    is_textlike,
    special_type,
)
from homepath.core.page_reader.prose.domain_words import apex_pattern, of_domain
from homepath.core.page_reader.prose.type_words import field_pattern, type_in_sentence
from homepath.core.page_reader.words import bare, bare_places, field_words, fold, phrases_of, stems, ttl_seconds

AtomKind = Literal[
    "type", "address", "fqdn", "text", "token", "part", "special", "host", "apex", "ttl", "number", "field", "quoted",
    "stop", "and", "params",
]  # fmt: skip


VALUES = ("address", "special", "text", "fqdn")
"""Kinds of atoms that are values of records."""


@dataclass(frozen=True, slots=True)
class Atom:
    """A part of a sentence; a `token` is a code that may be a text for TXT, or the number of a ticket;
    a `part` is one of a longer text; `params` are those of an HTTPS record (RFC 9460 section 7).

    `value`: the type, the address, the role of a field; `at` and `end`: where it stands.
    """

    kind: AtomKind
    value: str
    at: int
    end: int


_TYPE = (
    r"(?<![A-Za-z0-9_.@/{])(?:[Cc][ -]?[Nn][Aa][Mm][Ee]s?|AAAA|TXT|txt|Txt|MX|CAA|SRV|NS|HTTPS|ALIAS|ANAME|A"
    r"|[АМСТХ][Xx]?(?:NAME|ХТ|XT|Х)?)(?![A-Za-z0-9_.@/}]*[A-Za-z0-9_@/}])"
)
_SCAN = re.compile(
    r"(?P<url>[a-z][a-z0-9+.-]{1,10}://[^\s<>\"“”「」、。]+)"
    r"|(?P<mail>[A-Za-z0-9_.+-]+@[A-Za-z0-9\u00c0-\u052f-]+(?:\.[A-Za-z0-9\u00c0-\u052f-]+)+)"
    rf"|(?P<params>\b(?:{'|'.join(SERVICE_PARAMS)})=(?:\"[^\"\n]{{0,300}}\"|[^\s\"]{{0,300}}[^\s\",.;)]))"
    rf"|(?P<special>{_CAA}|{_SRV}|{_SVCB}|{_VERSIONED})"
    r"|(?P<quoted>\"[^\"\n]{1,600}\"|“[^”\n]{1,600}”|„[^“”\n]{1,600}[“”]|«[^»\n]{1,600}»|「[^」\n]{1,600}」|『[^』\n]{1,600}』"
    r"|(?<![\w])['‘‚][^'’‘\n]{1,300}['’‘](?![\w])|»[^«\n]{1,300}«)"
    r"|(?P<ip6>(?<![A-Za-z0-9_:.])(?:[0-9A-Fa-f]{0,4}:){2,7}[0-9A-Fa-f]{0,4}(?:[0-9.]*[0-9])?(?![A-Za-z0-9_:]))"
    r"|(?P<ip4>(?<![A-Za-z0-9_.-])[0-9]{1,3}(?:\.[0-9]{1,3}){3}(?![A-Za-z0-9_]|-[0-9]|-[a-z0-9-]*\.\w|\.[0-9]))"
    rf"|(?P<text>(?<![A-Za-z0-9_./{{])(?:{_KEY_VALUE}))"
    rf"|(?P<fqdn>(?<![A-Za-z0-9_./@{{\u00c0-\u052f-]){FQDN}(?![A-Za-z0-9_@/{{\u00c0-\u052f-]|\.[A-Za-z0-9]))"
    r"|(?P<under>(?<![A-Za-z0-9_./@-])(?:\*\.[a-z0-9._-]+|_[A-Za-z0-9-]+(?:\._?[A-Za-z0-9-]+)*|[A-Za-z0-9-]+\._[A-Za-z0-9._-]+[A-Za-z0-9])(?![A-Za-z0-9_@/]))"
    r"|(?P<www>(?<![A-Za-z0-9_./@-])[Ww][Ww][Ww](?![A-Za-z0-9_/@-]|\.[A-Za-z0-9_]))"
    r"|(?P<sign>(?<![A-Za-z0-9_.\"'/*-])[@*](?![A-Za-z0-9_*]|\.[A-Za-z0-9_]))"
    r"|(?P<own>(?<![\w.])\{[a-z_]*domain[a-z_]*\}(?![\w.]))"
    rf"|(?P<type>{_TYPE})"
    r"|(?P<long>(?<![A-Za-z0-9_./@-])(?=[A-Za-z0-9_+/=~-]*[0-9])(?=[A-Za-z0-9_+/=~-]*[A-Za-z])[A-Za-z0-9_+/=~-]{12,}(?![A-Za-z0-9_]))"
    r"|(?P<time>(?<![\w.-])[0-9]{1,7}\s?[^\W\d_A-Z]{1,12}(?![\w-]|\.\w)\.?)"
    r"|(?P<number>(?<![\w.])[0-9]{1,7}(?!\w|\.\w))"
    r"|(?P<stop>[.!?](?=\s|$)|[。！？।])"
    r"|(?P<comma>[,;、，]|\s&\s)"
)
_UNICODE_HOST = re.compile(r"(?<![\w.@-])[\w-]*[^\x00-\x7f\W][\w-]*(?:\.[\w-]+)+(?![\w@])")


_BEGINS = re.compile(r"\s+(?:www|@)\s|\s+[\u0590-\u08ff]")
"""What a sentence begins with, beside a capital letter: the name of a record; Hebrew and Arabic have no capitals."""


@lru_cache(maxsize=4096)
def atoms_of(text: str) -> tuple[Atom, ...]:
    """The atoms of one line."""
    found: list[Atom] = []
    for match in _SCAN.finditer(text):
        atom = _atom(match, text)
        if atom is not None:
            found += _inside(atom, text) or [atom]
    if not text.isascii():
        taken = [(atom.at, atom.end) for atom in found]
        found += [
            Atom("fqdn", match[0], match.start(), match.end())
            for match in _UNICODE_HOST.finditer(text)
            if is_fqdn(match[0]) and _free(match.start(), match.end(), taken)
        ]
    taken = [(atom.at, atom.end) for atom in found if atom.kind not in ("type", "number", "stop", "and")]
    types = [(atom.at, atom.end) for atom in found if atom.kind == "type"]
    words = [*_words(text), *(Atom("apex", "@", *span) for each in types for span in of_domain(text, *each))]
    found += [atom for atom in words if _free(atom.at, atom.end, taken)]
    found += [
        Atom("stop", ".", atom.end, atom.end)
        for atom in found
        if atom.kind == "fqdn"
        and atom.value.endswith(".")
        and (text[atom.end :].lstrip()[:1].isupper() or _BEGINS.match(text, atom.end))
    ]
    found.sort(key=lambda atom: (atom.at, -atom.end))
    return _apart(found)


def _inside(atom: Atom, text: str) -> list[Atom]:
    """The atoms of a whole record in quotes: `change it to "www CNAME x.example"`."""
    if atom.kind != "quoted" or " " not in atom.value:
        return []
    begin, inner = text.index(atom.value, atom.at), atoms_of(atom.value)
    whole = {each.kind for each in inner} & {"address", "fqdn", "text", "special"}
    typed = any(each.kind == "type" for each in inner)
    return [replace(each, at=each.at + begin, end=each.end + begin) for each in inner] if whole and typed else []


def _free(at: int, end: int, taken: list[tuple[int, int]]) -> bool:
    return not any(begin < end and at < stop for begin, stop in taken)


def _words(text: str) -> list[Atom]:
    plain, places = bare_places(text)
    kinds: tuple[tuple[re.Pattern[str], AtomKind, str], ...] = (
        (field_pattern(), "field", ""),
        (apex_pattern(), "apex", "@"),
    )
    found = [
        Atom(kind, value or field_words()[match[0]][0], places[match.start()], places[match.end()])
        for pattern, kind, value in kinds
        for match in pattern.finditer(plain)
    ]
    folded = fold(text)
    ands = stems("AND").find(folded) if len(folded) == len(text) else ()
    return found + [Atom("and", "and", at, end) for at, end in ands]


def _apart(found: list[Atom]) -> tuple[Atom, ...]:
    """Of atoms that overlap the first and longest, except that an apex phrase beats a field's name inside it."""
    kept: list[Atom] = []
    for atom in found:
        if kept and atom.at < kept[-1].end:
            if atom.kind == "apex" and kept[-1].kind == "field":
                kept[-1] = atom
            elif atom.value == "ALIAS" and atom.at == kept[-1].at:
                kept[-1] = atom  # `an ALIAS for @`
            continue
        kept.append(atom)
    return tuple(kept)


def _atom(match: re.Match[str], text: str) -> Atom | None:
    at, end, words, kind = match.start(), match.end(), match[0], match.lastgroup
    if kind in ("url", "mail"):
        return None
    if kind == "quoted":
        return _quoted(words[1:-1].strip(), at, end)
    if kind in ("ip4", "ip6"):
        address = address_of(words)
        version = _VERSION.search(text[:at]) or _VERSION_BEHIND.match(text, end)
        return Atom("address", address, at, end) if address and not version else None
    if kind == "text":
        return _key_value(words, at, end)
    if (
        words[:3].lower() == "www"
        and (word := _WORD_BEFORE.search(text[:at]))
        and bare(word[1]) in phrases_of("WITHOUT")
    ):
        return Atom("apex", "@", at, end)  # `quillfern.example (no www)`
    if kind == "fqdn":
        return Atom("fqdn", words, at, end) if is_fqdn(words) else None
    if kind == "own":
        return Atom("apex", "@", at, end)
    if kind in ("under", "www", "sign"):
        return Atom("host", words.lower(), at, end)
    if kind == "type":
        rrtype = type_in_sentence(words, text, at, end)
        return Atom("type", rrtype, at, end) if rrtype else None
    if kind == "long":
        return Atom("token", words, at, end) if is_textlike(words) else None
    if kind == "time" and ttl_seconds(words) is None:
        digits = re.split(r"[^0-9]", words)[0]
        return Atom("number", digits, at, at + len(digits))
    known: dict[str | None, AtomKind] = {
        "special": "special", "time": "ttl", "number": "number", "stop": "stop", "comma": "and",
        "params": "params",
    }  # fmt: skip
    return Atom(known[kind], words, at, end)


def _key_value(words: str, at: int, end: int) -> Atom | None:
    """`mark=code` is a text; `Type:CNAME` is a field's name and something after it."""
    name = re.split(r"[:=]", words, maxsplit=1)[0]
    if roles := field_roles(name):
        return Atom("field", roles[0], at, at + len(name))
    if name.upper() in RECORD_TYPES and not is_textlike(words):
        return Atom("type", name.upper(), at, at + len(name))
    if name.lower() in ("include", "ip4", "ip6") and words[len(name)] == ":":
        return Atom("part", words, at, end)
    if "=" not in words and (len(words) < 12 or not re.search(r"[0-9]", words)):
        return None
    return None if re.fullmatch(r"[0-9:.,-]+", words) or len(words) == len(name) + 1 else Atom("text", words, at, end)


def _quoted(inner: str, at: int, end: int) -> Atom | None:
    roles = field_roles(inner)
    upper = inner.translate(_LOOKALIKE).upper()
    address = address_of(inner)
    kind: AtomKind = (
        "address" if address
        else "special" if special_type(inner)
        else "host" if is_sure_host(inner)
        else "fqdn" if is_fqdn(inner)
        else "type" if inner == "A" or (upper in RECORD_TYPES and len(inner) > 1)
        else "text" if is_textlike(inner)
        else "field" if roles and roles[0] != "other"
        else "quoted"
    )  # fmt: skip
    shown = {"address": address or "", "host": inner.lower(), "type": inner.upper(), "field": roles[0] if roles else ""}
    return Atom(kind, shown.get(kind, inner), at, end)


_VERSION = re.compile(r"(?:\bv|version|versión|версия|build|release|rev|firmware)[\s.:]*$", re.I)
_VERSION_BEHIND = re.compile(r"\s*[(\[]?(?:build|beta|release|rev\b|patch)", re.I)
_WORD_BEFORE = re.compile(r"([^\W\d_]+)[\s\"'„“«]*$")
