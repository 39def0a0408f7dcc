"""A sentence as atoms: the words in it that can be a part of a record, in their order, and what is before each."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
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
    SERVICE_PARAMS,
    address_of,
    field_roles,
    is_fqdn,
    is_sure_host,
    is_textlike,
    special_type,
)
from homepath.core.page_reader.words import (
    PARTICLES,
    any_word,
    bare,
    bare_places,
    field_words,
    fold,
    phrases_of,
    stems,
    ttl_seconds,
)

AtomKind = Literal[
    "type", "address", "fqdn", "text", "token", "part", "special", "host", "apex", "ttl", "number", "field", "quoted",
    "stop", "and", "params",
]  # fmt: skip


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


@cache
def _field_pattern() -> re.Pattern[str]:
    """The fields' names that are safe inside a sentence."""
    known = ("type", "host", "value", "ttl", "priority", "weight", "port", "flag", "tag", "service", "protocol")
    return any_word(
        word
        for word, roles in field_words().items()
        if roles[0] in known and word not in phrases_of("LOOSE_FIELDS") and len(word) > (2 if word.isascii() else 0)
    )


@cache
def _apex_pattern() -> re.Pattern[str]:
    pattern = any_word(
        word
        for word in phrases_of("APEX") - {"your domain", "the domain", "your domain name"}
        if word in phrases_of("APEX_WORDS")
        or (" " in word and len(word) > (3 if word.isascii() else 1))
        or (PARTICLES.search(word) and len(word) > 2)
    )
    alone = "|".join(re.escape(word) for word in phrases_of("APEX") if any(char.isalpha() for char in word))
    return re.compile("|".join((pattern.pattern, _YOUR_DOMAIN, rf"(?<=\()(?:{alone})(?=\))", *_main_domain())))


def _words_of(table: str, free: bool) -> str:
    """The words of a table of which scripts without spaces have some (`free`), or the others have."""
    words = (word for word in phrases_of(table) if bool(PARTICLES.search(word)) is free)
    return f"(?:{'|'.join(sorted(words, key=len, reverse=True))})"


def _main_domain() -> Iterator[str]:
    """`Hauptdomain`, `domeny głównej`, `根域名`: a word for what is main and one for a domain, in either order. Words
    in spaced scripts have endings."""
    main, domain = _words_of("MAIN", True), _words_of("DOMAIN", True)
    yield f"{main} ?{domain}|{domain}[^\\W\\d_]{{0,2}} ?(?:ال|ה)?{main}"
    main, domain = rf"{_words_of('MAIN', False)}[^\W\d_]{{0,4}}", rf"{_words_of('DOMAIN', False)}[^\W\d_]{{0,8}}"
    yield rf"(?<!\w)(?:{main}[ -]?{domain}|{domain} {main})(?!\w)"


_YOUR_DOMAIN = r"your domain(?=:)|(?:your|the) domain(?= (?:must|should|needs to|has to) have )"


@cache
def _domain_of_type() -> tuple[re.Pattern[str], re.Pattern[str]]:
    """What is before and behind a type: `your domain's A`, `ドメインのA`; `A record of your domain`, `A domeny`."""
    spaced, free = rf"(?<![\w-])({_words_of('DOMAIN', False)}[^\W\d_]{{0,8}})", _words_of("DOMAIN", True)
    before = rf"(?:{spaced}(?:['’]s)?[ -]?|(?<!サブ)(?<!子)(?<!하위 )(?<!서브)({free}) ?(?:의|の|的|का|क)? ?)$"
    behind = rf"[ -]?(?:{_words_of('RECORD', False)} )?(?:[^\W\d_]{{1,6}} ){{0,2}}{spaced}(?![\w-])(.{{0,30}})"
    return re.compile(before), re.compile(behind)


def _of_domain(atom: Atom, text: str) -> Iterator[Atom]:
    """The domain itself as that whose record of a type it is; not where its word goes on: `your domain provider`."""
    before, behind = _domain_of_type()
    begin = max(0, atom.at - 30)
    plain, places = bare_places(text[begin : atom.at])
    if match := before.search(plain):
        at, end = match.span(1 if match[1] else 2)
        yield Atom("apex", "@", begin + places[at], begin + places[end])
    plain, places = bare_places(text[atom.end : atom.end + 80])
    if match := behind.match(plain):
        ahead = re.findall(r"[^\W\d_]+", re.split(r"[^\w\s\"'“”»]", match[2], maxsplit=1)[0])[:2]
        leading = phrases_of("VALUE_BEFORE") | phrases_of("FROM") | phrases_of("POINTS_NOW")
        leads = any(word in leading for word in ahead) or (bool(ahead) and bool(stems("REQUIRED").find(ahead[0])))
        if not ahead or leads or (len(ahead[0]) < 4 and ahead[0] not in phrases_of("NAMED")):
            yield Atom("apex", "@", atom.end + places[match.start(1)], atom.end + places[match.end(1)])


_BEGINS = re.compile(r"\s+(?:www|@)\s")
"""A name that a sentence begins with."""


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
    words = [*_words(text), *(apex for atom in found if atom.kind == "type" for apex in _of_domain(atom, text))]
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
        (_field_pattern(), "field", ""),
        (_apex_pattern(), "apex", "@"),
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
        return _typed(words, text, at, end)
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
_MARK_BEHIND = re.compile(r"\s*[,;|/(–-]\s*")
_VERSION_BEHIND = re.compile(r"\s*[(\[]?(?:build|beta|release|rev\b|patch)", re.I)
_WORD_BEFORE = re.compile(r"([^\W\d_]+)[\s\"'„“«]*$")
_SIGNS = r"\u0900-\u0903\u093a-\u094f\u0e31-\u0e3a\u0e47-\u0e4e"
"""Vowels and marks of Indian and Thai words, which are no letters."""
_BEHIND = re.compile(rf"[\s-]*((?:[^\W\d_]|[{_SIGNS}])+)")
_BEFORE = re.compile(rf"((?:[^\W\d_]|[{_SIGNS}])+)" r"[\s:：=-]*(?:DNS\s)?[(（\"“„«「]?\s*$")
_ROW = re.compile(
    r"\s+(?:(?:for|at|für|pour|para|per|di|voor|för|dla|pro)\s+)?(?:@|\*|www|_?[a-z0-9.-]+)\s+(?:(?:to|with|is|auf|mit|vers|avec|a|con|com|na|met|med|=|:)\s+)?[0-9]{1,3}(?:\.[0-9]{1,3}){3}(?![0-9.])"
)
"""`A @ 192.0.2.10` in a sentence."""
_ADDRESS = re.compile(r"\s+[0-9]{1,3}(?:\.[0-9]{1,3}){3}(?![0-9.])")
_NAME_AND_ADDRESS = re.compile(rf"\s+{FQDN}\W+(?:([^\W\d_]+)\W+)?[0-9]{{1,3}}(?:\.[0-9]{{1,3}}){{3}}")
"""`A own.test expected 192.0.2.10`"""
_AND_TYPE = re.compile(r"\s*(?:[,/+&(]|and|und|et|y|e|och|og|ja|oraz|a|и|і|و)\s*(?:AAAA|CNAME|TXT|MX)\b")
_OF_HOST = re.compile(
    r"\s?\([^()]{1,30}\):?\s+(?:[0-9]{1,3}\.){3}|\s?\((?:@|\*|www|_?[a-z0-9][a-z0-9._-]*)\)\s*(?:[=:]|->|→)"
)
"""`A(@) = 192.0.2.10`"""
_WITH_HOST = re.compile(r",\s*[^()]{1,30}\)")
"""`192.0.2.10 (A, root)`"""
_TYPE_WORD = re.compile(r"typ(?:e|en|et|u|em|om)?|tip(?:o|a|u|om|ul|us)?|тип(?:а|у|ом)?|τυπο[υς]?|tur|tyyppi")
_TYPE_BEHIND = ("tipus", "turu", "tipinde", "tyyppi")
"""How words for a type begin where they follow it."""
_GLUED = tuple(
    bare(word)
    for word in (
        "レコード", "记录", "記錄", "레코드", "record", "eintrag", "post", "запис", "رکورد", "سجل", "רשומ", "tietue",
        "rekord", "zaznam", "kayd", "ghi", "ระเบียน", "เรคคอร์ด", "เรคอร์ด", "रिकॉर्ड",
    )
)  # fmt: skip
"""How words for a record begin or end that stick to a type."""


def _typed(words: str, text: str, at: int, end: int) -> Atom | None:
    """A type's name in a sentence; `A` and `HTTPS` only beside a word for a record or another type."""
    rrtype = words.translate(_LOOKALIKE).upper()
    rrtype = "CNAME" if rrtype.startswith("C") and "NAME" in rrtype else {"ANAME": "ALIAS"}.get(rrtype, rrtype)
    alone = rrtype in ("A", "HTTPS") and not _beside_record(text, at, end)
    return Atom("type", rrtype, at, end) if rrtype in RECORD_TYPES and not alone else None


_CLAUSE = re.compile(r"[,;.:、。，]")


def _in_field_for_type(text: str, at: int, end: int) -> bool:
    """`choose A as the type`, `the type is A`"""
    before = re.findall(r"[^\W\d_]+", bare(_CLAUSE.split(text[max(0, at - 50) : at])[-1]))[-4:]
    after = re.findall(r"[^\W\d_]+", bare(_CLAUSE.split(text[end : end + 40])[0]))[:4]
    return any(_TYPE_WORD.fullmatch(word) for word in (*before, *after))


def _beside_record(text: str, at: int, end: int) -> bool:
    records = phrases_of("RECORD")
    behind, before = _BEHIND.match(text, end), _BEFORE.search(text[:at])
    after, word = bare(behind[1]) if behind else "", bare(before[1]) if before else ""
    if after in records or after.startswith((*_GLUED, *_TYPE_BEHIND)) or word in records or word.endswith(_GLUED):
        return True
    if _TYPE_WORD.fullmatch(word) or _in_field_for_type(text, at, end):
        return True
    if at == 0 and text[at] == "A" and (named := _NAME_AND_ADDRESS.match(text, end)):
        return not named[1] or bool(stems("REQUIRED").find(fold(named[1])))
    if _ADDRESS.match(text, end) or _ROW.match(text, end) or _AND_TYPE.match(text, end) or _OF_HOST.match(text, end):
        return True
    if at > 0 and text[at - 1] == "(" and _WITH_HOST.match(text, end):
        return True
    if (mark := _MARK_BEHIND.match(text, end)) and _field_pattern().match(bare(text[mark.end() : mark.end() + 20])):
        return True  # `A, name @, value 192.0.2.10`
    return at > 0 and text[at - 1] in '(（「“"' and text[end : end + 1] in tuple(')）」”"')
