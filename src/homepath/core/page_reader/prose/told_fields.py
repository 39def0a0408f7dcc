"""Fields that a sentence names: what is put into them, before or behind their names."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import cache

from homepath.core.page_reader.kinds import field_roles, type_of
from homepath.core.page_reader.moods import events
from homepath.core.page_reader.pieces import NUMBERS
from homepath.core.page_reader.prose.atoms import VALUES, Atom
from homepath.core.page_reader.words import bare, fold, is_phrase, phrases_of, stems

_LABEL = re.compile(r"\s*[:=]?\s*[\"“„«‘']?([A-Za-z0-9][A-Za-z0-9-]{0,40})[\"”“»’']?(?=\s*(?:[,;)]|\.(?!\w)|$)|\s+\S)")
BY_FIELD = {
    "value": (*VALUES, "token", "quoted"),
    "host": ("host", "apex", "fqdn", "quoted"),
    "ttl": ("ttl", "number"),
    **dict.fromkeys(NUMBERS, ("number",)),
    **dict.fromkeys(("service", "protocol"), ("host", "token", "quoted")),
}
"""What can follow the name of a field."""


def is_behind(text: str, atoms: Sequence[Atom], number: int) -> bool:
    """Whether the name of a field follows its value: a few words lead from the value to it, and it is the last thing
    that its clause names."""
    field, before = atoms[number], atoms[number - 1] if number else None
    if before is None or before.kind not in BY_FIELD.get(field.value, ()):
        return False
    joint = text[before.end : field.at].strip("\"'“”„«»‘’ ")
    after = next((atom for atom in atoms[number + 1 :] if atom.kind not in ("field", "and")), None)
    gap = text[field.end : after.at] if after else text[field.end :]
    led = 0 < len(joint.split()) <= 4 and not re.search(r"[,;:.=]", joint)
    return led and (after is None or bool(re.search(r"[,;.]|(?<!\w)(?:and|und|et|y|e|en|och|og|ja|i|a|и|ve)\s", gap)))


def no_host(text: str, field: Atom, following: Sequence[Atom]) -> str | None:
    """`host left empty`, `leave the host field blank`: the domain itself."""
    ahead = re.split(r"[,;.]", text[max(0, field.at - 30) : field.at])[-1]
    rest = text[field.end : following[0].at if following else field.end + 40].lstrip(" \"'”»“,")
    after = re.split(r"[,;.]", rest)[0]
    nots = stems("NOT").find(fold(ahead))
    if field.value == "host" and nots and not fold(ahead)[nots[-1][1] :].strip():
        return "@"  # `no host`
    behind = bare(ahead + after)
    words = {word.strip(".,;:)") for word in behind.split()}
    blank = words & {each for each in phrases_of("BLANK") if len(each) > 2} and not stems("NOT").find(behind)
    return "@" if field.value == "host" and blank else None


_CODE = re.compile(r"\s*[:=]?\s*[\"“„«‘']?((?=[A-Za-z_-]*[0-9])[A-Za-z0-9_=-]{4,80})[\"”“»’']?(?=[\s,;.)]|$)")


def bare_value(text: str, field: Atom, following: Sequence[Atom], types: set[str]) -> str | None:
    """A code right behind the word for a value of a TXT record: `value 4f2a9c11`."""
    match = _CODE.match(text, field.end) if field.value == "value" and types == {"TXT"} else None
    taken = match and any(atom.at < match.end(1) and atom.kind in (*VALUES, "token", "quoted") for atom in following)
    return match[1] if match and not taken else None


@cache
def _no_names() -> frozenset[str]:
    return phrases_of("STOP_WORDS") | phrases_of("PARTICLES") | phrases_of("VALUE_BEFORE") | phrases_of("BESIDE_FIELD")


def bare_host(text: str, field: Atom, following: Sequence[Atom]) -> str | None:
    """A plain word right behind the word for a host: `host shop`, `Name: blog`."""
    near = any(a.at - field.end <= 6 and a.kind in ("host", "fqdn", "apex", "quoted") for a in following)
    match = _LABEL.match(text, field.end)
    if field.value != "host" or near or match is None or match[1].lower() in _no_names():
        return None
    before = re.search(r"([^\W\d_]+)\s*$", bare(text[: field.at]))
    if stems("OR").find(fold(match[1])) or (before and before[1] in phrases_of("WHOSE")):
        return None  # `no host either`, `your host made`
    rest = text[match.end(1) :].strip(" \t\"”“»’'")
    joints = phrases_of("VALUE_BEFORE") | phrases_of("PARTICLES") | {"with"}
    return match[1].lower() if not rest or rest[0] in ",;.)" or bare(rest.split()[0]) in joints else None


_CLAUSE_ENDS = re.compile(r"[,;:、。，]|\.(?!\w)")
_LOWER = re.compile(r"[a-z0-9][a-z0-9-]{1,40}")
_CJK = r"\u3040-\u30ff\u3400-\u9fff\uac00-\ud7af"
_IN_CJK = re.compile(rf"\s*[{_CJK}]{{1,8}}\s*([a-z0-9][a-z0-9-]{{1,40}})(?=\s*(?:[{_CJK}，。,]|\.(?!\w)|$))")


def told_host(text: str, atoms: Sequence[Atom], number: int) -> str | None:
    """The plain word that is put into the field for the name: `in the Name field enter shop`, `enter shop in the Name
    box`, `shop as the name`."""
    field = atoms[number]
    near = atoms[number + 1].kind in BY_FIELD["host"] if number + 1 < len(atoms) else False
    if field.value != "host" or (near and not _CLAUSE_ENDS.search(text[field.end : atoms[number + 1].at])):
        return None
    if (match := _IN_CJK.match(text, field.end)) and _plain_label(match[1]):
        return match[1]
    end = next((atom.at for atom in atoms[number + 1 :] if atom.kind != "field"), len(text))
    behind = _CLAUSE_ENDS.split(text[field.end : end].lstrip(" ,\"'”“»«")[:60])[0].split()
    for at, word in enumerate(behind):
        if (label := _plain_label(word)) and at:
            last = len(behind) == at + 1 or bare(behind[at + 1]) in phrases_of("PARTICLES")
            return label if last else None
        if not _is_joint(word):
            break
    begin = max((atom.end for atom in atoms[:number]), default=0)
    begin = max(begin, field.at - 60)
    ahead = _CLAUSE_ENDS.split(text[begin : field.at].rstrip(" \"'“„»«"))[-1].split()
    for at, word in enumerate(ahead):
        after = ahead[at + 1 :]
        label = _plain_label(word)
        if label and 0 < len(after) <= 3 and all(bare(each) in phrases_of("BESIDE_FIELD") for each in after):
            put = at > 0 and _is_verb(ahead[at - 1])
            return label if put or bare(after[0]) in phrases_of("AS") else None
    return None


def _plain_label(word: str) -> str | None:
    label = word.strip("\"'“”„«»‘’").rstrip(".")
    if not _LOWER.fullmatch(label) or _is_joint(label) or field_roles(label) or type_of(label):
        return None
    known = is_phrase("BLANK", label) or is_phrase("APEX", label) or label in phrases_of("STOP_WORDS")
    return (
        None if known or label in phrases_of("RECORD") or label in phrases_of("PARTICLES") or events(label) else label
    )


def _is_verb(word: str) -> bool:
    return bool(stems("CHOOSE").find(fold(word))) or any(event.kind == "ADD" for event in events(word))


def _is_joint(word: str) -> bool:
    plain = bare(word).strip("\"'“”„«»()")
    required = any(event.kind == "REQUIRED" for event in events(word))
    return plain in phrases_of("BESIDE_FIELD") or required or _is_verb(plain)
