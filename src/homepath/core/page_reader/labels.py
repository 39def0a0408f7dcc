"""Rows that say what their parts are: `Type: CNAME`, several on a line, or the name alone with its value below."""

from __future__ import annotations

import re

from homepath.core.page_reader.atoms import atoms_of
from homepath.core.page_reader.kinds import (
    addresses,
    clean,
    is_fqdn,
    is_host_label,
    is_sure_host,
    is_tags,
    is_textlike,
    misread_field,
    special_type,
    type_of,
)
from homepath.core.page_reader.loose import loose
from homepath.core.page_reader.moods import Mood, Title, mood_of_lead, mood_of_title, title_of
from homepath.core.page_reader.pieces import Piece, Reading, fits, mood_of_action, role_of, value_text
from homepath.core.page_reader.rows import Cell, Row
from homepath.core.page_reader.words import bare, is_phrase, is_ttl

_MARK = re.compile(r"[:=](?!//)(?!\S*::)\s*|\t+")
_TRIM = " \t,;|·•–—-("


def labelled(row: Row) -> Reading | None:
    """The row's parts, where at least one has a name in front."""
    if any(cell.label for cell in row.cells):
        return _from_source(row)
    text = "\t".join(cell.text for cell in row.cells if cell.text)
    spans = _spans(text)
    if not spans:
        return _spaced(row) if len(row.cells) == 1 else None
    pieces: list[Piece] = []
    lost = 0.0
    mood: Mood = ""
    lead = text[: spans[0][0]].strip(_TRIM)
    if lead:
        atoms = atoms_of(lead)
        if any(atom.kind in ("address", "fqdn", "text", "special") for atom in atoms):
            return None
        front = [
            (atom, "type" if atom.kind == "type" else "host") for atom in atoms if atom.kind in ("type", "host", "apex")
        ]
        if whole := type_of(lead):
            pieces.append(Piece("type", whole, row.line))
        else:
            pieces += [Piece(role, atom.value, row.line) for atom, role in front]
        if not pieces:
            lost += 0.7 if len(lead.split()) <= 6 else 2.0
        mood = mood_of_lead(lead)
    waiting = None
    for number, (_, after, title) in enumerate(spans):
        end = spans[number + 1][0] if number + 1 < len(spans) else len(text)
        value = text[after:end].strip()
        value = value if is_tags(value) else value.rstrip(" \t,;|·•–—(")
        if value.endswith(")") and "(" not in value:
            value = value[:-1]
        if not value and number + 1 == len(spans):
            waiting = title
            continue
        found, trouble = _filled(title, value, row.line)
        pieces += found
        lost += trouble
    return Reading("labels", tuple(pieces), False, lost, mood, waiting=waiting)


def _from_source(row: Row) -> Reading | None:
    """A card from JSON or a list of definitions: every cell brings its name along."""
    pieces: list[Piece] = []
    lost = 0.0
    mood: Mood = ""
    for cell in row.cells:
        title = title_of(cell.label) if cell.label else None
        said = _said(cell, title)
        if said:
            mood = said
            continue
        if title is None:
            lost += 0.1 if cell.text else 0
            continue
        found, trouble = _filled(title, cell.text, row.line, whole=True)
        pieces += found
        lost += trouble
    return Reading("labels", tuple(pieces), False, lost, mood) if pieces else None


def _spaced(row: Row) -> Reading | None:
    """`Host www`: the name of a field, a space, and one word that fits."""
    words = row.text.split()
    for size in (3, 2, 1):
        rest = " ".join(words[size:])
        if len(words) <= size or (len(words) > size + 1 and not special_type(rest) and not is_ttl(rest)):
            continue
        title = title_of(" ".join(words[:size]))
        if title and title.roles[0] != "other" and not type_of(" ".join(words[:size])):
            role = next((each for each in title.roles if _fits_well(each, rest)), None)
            if role:
                return Reading("labels", (Piece(role, value_text(rest), row.line, title.mood, True),), False)
    return None


def _fits_well(role: str, text: str) -> bool:
    if role == "host":
        return is_host_label(text) or is_fqdn(text)
    if role == "value":
        return bool(addresses(text)) or is_fqdn(text) or is_textlike(text)
    return fits(role, text)


def _said(cell: Cell, title: Title | None) -> Mood:
    """What a field for actions, or one such as `"delete": true`, says of its record."""
    if title is None or (title.roles[0] == "other" and role_of(title, cell.text) == "other"):
        if cell.text in ("yes", "no"):
            mood = mood_of_title(cell.label)
            if bare(cell.label) in ("required", "mandatory"):
                return "optional" if cell.text == "no" else ""
            return mood if cell.text == "yes" and mood in ("delete", "keep", "optional") else ""
        return mood_of_action(cell.text)
    return ""


def _spans(text: str) -> list[tuple[int, int, Title]]:
    """Where each name begins, where its value begins, and what it names."""
    found: list[tuple[int, int, Title]] = []
    begin = 0
    for mark in _MARK.finditer(text):
        if mark.start() < begin:
            continue
        begin = max(begin, mark.start() - 100)
        before = text[begin : mark.start()]
        hit = _name_at_end(before, exact=not found and mark[0].startswith("\t"))
        if hit is None:
            continue
        at, title = hit
        if mark[0][0] in "\t" and _is_part(before[at:]):
            continue
        found.append((begin + at, mark.end(), title))
        begin = mark.end()
    return found


def _is_part(text: str) -> bool:
    """Something that is a value itself and only looks like a name, such as the host `data`."""
    return type_of(text) is not None


def _name_at_end(text: str, exact: bool) -> tuple[int, Title] | None:
    """The longest name of a field that the text ends with."""
    stripped = text.rstrip(" *")
    whole = stripped.strip(_TRIM)
    if type_of(whole) and not (_begins_with_value(whole) and title_of(whole.partition(" ")[2])):
        return None
    starts = [match.start() for match in re.finditer(r"(?:(?<=^)|(?<=[\s,;|(\[•·]))[^\W\d_]", stripped)]
    for at in starts[-6:]:
        words = stripped[at:]
        if at > 0 and exact and stripped[:at].strip(_TRIM):
            continue
        if ("(" in words and ")" not in words) or (" " in words and _begins_with_value(words)):
            continue
        title = title_of(words.strip(_TRIM))
        if title is None and not stripped[:at].strip(_TRIM) and (roles := misread_field(words)):
            title = Title(roles)
        if title is not None and (title.roles[0] != "other" or not stripped[:at].strip(_TRIM)):
            return at, title
    return None


def _begins_with_value(words: str) -> bool:
    """`A host=@`: what stands before the name is the value of the one before."""
    first = words.partition(" ")[0]
    return first.isupper() and type_of(first) is not None


def _filled(title: Title, value: str, line: int, whole: bool = False) -> tuple[list[Piece], float]:
    """The pieces that a named value is: one, or several where a record stands behind the one name."""
    role = role_of(title, value)
    if role == "other":
        return [], 0.0
    if role == "type" and not type_of(value):
        if is_fqdn(value) or addresses(value) or is_textlike(value):
            return [Piece("value", value_text(value), line, title.mood)], 0.5
        return _inner(value, line, title)
    if role in ("value", "host") and re.search(r"\s", value.strip()) and not special_type(value) and not whole:
        inner, trouble = _inner(value, line, title)
        if trouble == 0 and len(inner) > 1 and len({p.role for p in inner}) > 1:
            return inner, 0.0
    if not fits(role, value) and not (role == "host" and not value):
        return [], 1.5 if value else 0.0
    text = value_text(value) if role == "value" else clean(value) if role != "host" else value
    return [Piece(role, text, line, title.mood, True)], 0.0


def _inner(value: str, line: int, title: Title) -> tuple[list[Piece], float]:
    from homepath.core.page_reader.pieces import tokens

    reading = loose([word for word in tokens(value) if word.upper() != "IN"], line)
    if reading is None or reading.lost:
        return [], 1.5
    return [Piece(p.role, p.text, p.line, title.mood) for p in reading.pieces], 0.0


def named_rest(row: Row) -> list[str] | None:
    """`CNAME: www → x.example`, `@: 192.0.2.10`: a type or a host before a colon, then the rest, as cells."""
    cells: list[str] = []
    hit = False
    for cell in row.cells:
        head, mark, rest = cell.text.partition(":")
        if mark and (rest[:1] in (" ", "")) and _is_head(head):
            cells += [head.strip(), *([rest.strip()] if rest.strip() else [])]
            hit = True
        elif (dash := re.match(r"^(\S+(?:\s\S+)?)\s[–—-]\s(.+)$", cell.text)) and _is_head(dash[1]):
            cells += [dash[1], dash[2]]
            hit = True
        elif cell.text:
            cells.append(cell.text)
    return cells if hit else None


def _is_head(text: str) -> bool:
    text = text.strip()
    return (
        type_of(text) is not None or is_sure_host(text) or is_phrase("APEX", text) or (is_fqdn(text) and len(text) < 80)
    )
