"""The name of a type in a sentence: `A` is one beside a word for a record."""

from __future__ import annotations

import re
from functools import cache

from homepath.core.page_reader.kinds import _LOOKALIKE, FQDN, RECORD_TYPES
from homepath.core.page_reader.words import any_word, bare, field_words, fold, phrases_of, stems


@cache
def field_pattern() -> re.Pattern[str]:
    """The fields' names that are safe inside a sentence."""
    known = ("type", "host", "value", "ttl", "priority", "weight", "port", "flag", "tag", "service", "protocol")
    return any_word(
        word
        for word, roles in field_words().items()
        if roles[0] in known and word not in phrases_of("LOOSE_FIELDS") and len(word) > (2 if word.isascii() else 0)
    )


_MARK_BEHIND = re.compile(r"\s*[,;|/(–-]\s*")
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


def type_in_sentence(words: str, text: str, at: int, end: int) -> str | None:
    """A type's name in a sentence; `A` and `HTTPS` only beside a word for a record or another type."""
    rrtype = words.translate(_LOOKALIKE).upper()
    rrtype = "CNAME" if rrtype.startswith("C") and "NAME" in rrtype else {"ANAME": "ALIAS"}.get(rrtype, rrtype)
    alone = rrtype in ("A", "HTTPS") and not _beside_record(text, at, end)
    return rrtype if rrtype in RECORD_TYPES and not alone else None


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
    if (mark := _MARK_BEHIND.match(text, end)) and field_pattern().match(bare(text[mark.end() : mark.end() + 20])):
        return True  # `A, name @, value 192.0.2.10`
    return at > 0 and text[at - 1] in '(（「“"' and text[end : end + 1] in tuple(')）」”"')
