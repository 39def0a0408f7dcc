"""Tables whose columns have names: which row names them, and how a row below is read."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace

from homepath.core.message import Text, msg
from homepath.core.page_reader.kinds import SPECIAL, clean, is_fqdn, is_sure_host, type_by_value, type_of
from homepath.core.page_reader.loose import loose_words
from homepath.core.page_reader.moods import NOT_WANTED, Mood, mood_of_words
from homepath.core.page_reader.pieces import (
    Piece,
    Reading,
    evidence,
    fits,
    mood_of_action,
    mood_of_answer,
    mood_of_condition,
    mood_of_note,
    role_of,
    says_nothing,
    tokens,
    value_text,
)
from homepath.core.page_reader.prose.atoms import VALUES, atoms_of
from homepath.core.page_reader.prose.clauses import value_told
from homepath.core.page_reader.rows import Cell, Row
from homepath.core.page_reader.titles import Title, title_of
from homepath.core.page_reader.words import bare, fold, is_phrase, is_ttl, phrases_of

Column = tuple[Title, int]
"""What a column is called, and where it begins in its line."""


def columns_of(row: Row) -> tuple[Column, ...] | None:
    """A row that names the columns below it: two fields or more, and no value among them."""
    texts = [cell.text for cell in row.cells]
    if len(texts) < 2 or any(atom.kind in VALUES for text in texts for atom in atoms_of(text)):
        return None
    titles = [title_of(text) for text in texts]
    firsts = [title.roles[0] if title else "" for title in titles]
    if firsts.count("type") == 2 and "host" not in firsts:  # `Record`, beside `Type`, is its name
        titles = [
            Title(("host",)) if bare(text) in phrases_of("RECORD") else t for t, text in zip(titles, texts, strict=True)
        ]
        firsts = [title.roles[0] if title else "" for title in titles]
    if "host" in firsts and "type" not in firsts:  # a column that is called by a type holds the values of that type
        types = [type_of(text) for text in texts]
        titles = [t or (Title(("value",), "", of) if of else None) for t, of in zip(titles, types, strict=True)]
    if "priority" in firsts and not {"type", "weight", "port"} & set(firsts):  # of mail servers
        titles = [replace(t, rrtype=t.rrtype or "MX") if t and t.roles[0] == "value" else t for t in titles]
    zones = [is_phrase("ZONE", text) for text in texts]
    if "host" not in firsts and zones.count(True) == 1:
        titles = [Title(("host",)) if zone else title for title, zone in zip(titles, zones, strict=True)]
    elif any(first == "host" and not zone for first, zone in zip(firsts, zones, strict=True)):
        # of a column for the name and one for the domain, the latter says for which domain a row is
        titles = [Title(("zone",)) if zone else title for title, zone in zip(titles, zones, strict=True)]
    turns = [_turn_of(text, bool({"host", "type"} & set(firsts))) for text in texts]
    if {"current", "want"} <= {turn.mood for turn in turns if turn}:
        titles = [turn or title for turn, title in zip(turns, titles, strict=True)]
    named = [title for title in titles if title is not None]
    parts = [title for title in named if title.roles[0] != "other" or title.mood]
    roles = {role for title in parts for role in title.roles}
    if len(parts) < 2 or len(named) * 2 < len([text for text in texts if text]) or not roles & {"value", "nameserver"}:
        return None
    plain = Title(("other",))
    found = tuple((title or plain, cell.at) for title, cell in zip(titles, row.cells, strict=True))
    first, *others = found
    if not texts[0] and all(title.roles == ("value",) for title, _ in others):
        return ((Title(("type",)), first[1]), *others)  # `A record @` is in the column without a name
    unnamed = row.cells[0].at > 3 and all(title.roles == ("value",) for title, _ in found)
    return ((Title(("type",)), 0), *found) if unnamed else found  # or before all of them


def _turn_of(text: str, named: bool) -> Title | None:
    """`Before you change` and `After you change`; `From` and `To`, where other columns name the record."""
    first = [*bare(text).split(), ""][0]
    old = first in phrases_of("BEFORE") or (named and fold(text) == "from")
    new = first in phrases_of("AFTER") or (named and fold(text) == "to")
    return Title(("value",), "current" if old else "want") if old or new else None


def by_columns(row: Row, columns: Sequence[Column]) -> Reading | None:
    """A row of a table whose columns have names."""
    if columns_of(row):
        return None
    aligned = row.kind != "table" and "\t" not in row.text and "|" not in row.text
    if aligned and len(row.cells) < len(columns) and (len(row.cells) > 1 or type_of(row.text.split()[0])):
        starts = [at for _, at in columns]
        cells = [part for cell in row.cells for part in _cut_at(cell, starts)]
        row = replace(row, cells=tuple(part for cell in cells for part in _values_in(cell, len(columns) - len(cells))))
    if row.kind != "table" and not any(
        evidence(cell.text) or (len(row.cells) > 1 and _type_and_host(cell.text, row.line)) for cell in row.cells
    ):
        return None
    readings = [found for order in _orders(row, columns) if (found := _in_order(row, order))]
    return max(readings, key=lambda reading: len(reading.pieces) - reading.lost, default=None)


def _orders(row: Row, columns: Sequence[Column]) -> list[list[tuple[Title, Cell]]]:
    """How cells can be assigned to columns: one by one, else by where they begin, else without the columns that
    hold no part of a record."""
    cells, titles = row.cells, [title for title, _ in columns]
    while len(cells) > len(columns) and not any(map(str.isalnum, cells[-1].text)):
        cells = cells[:-1]  # a sign for a state, behind the table
    if row.kind == "table" or len(cells) == len(columns) or "\t" in row.text or "|" in row.text:
        one_by_one = [list(zip(titles, cells, strict=False))]
        if len(cells) == len(columns) + 1 and row.kind != "table":
            one_by_one.append(list(zip(titles, cells[1:], strict=False)))
        return one_by_one
    orders = [[(min(columns, key=lambda column: abs(column[1] - cell.at))[0], cell) for cell in cells]]
    parts = [title for title in titles if title.roles[0] != "other"]
    words = [Cell(word) for word in tokens(row.text)] if len(cells) < len(parts) else []
    if len(words) == len(parts):
        by_word = list(zip(parts, words, strict=True))
        if all(fits(role_of(title, cell.text), cell.text) for title, cell in by_word) and evidence(words[-1].text):
            orders.append(by_word)
    if len(cells) <= len(parts):
        orders.append(list(zip(parts, cells, strict=False)))
    return orders


def _values_in(cell: Cell, missing: int) -> list[Cell]:
    """A cell with a full name or an address for each of the columns that are missing, and one more: they fill their
    columns."""
    if missing and (text := SPECIAL["TXT"].match(cell.text)) and is_ttl(cell.text[text.end() :]):
        return [
            replace(cell, text=text[0]),
            replace(cell, text=cell.text[text.end() :].strip(), at=cell.at + text.end()),
        ]
    words = cell.text.split() if missing else []
    values = len(words) == missing + 1 and all(is_fqdn(word) or type_by_value(word) for word in words)
    return [replace(cell, text=word) for word in words] if values else [cell]


def _cut_at(cell: Cell, starts: Sequence[int]) -> Iterator[Cell]:
    """A cell at the columns that begin in it: a value that fills its column is one space from the next one."""
    begin = 0
    for at in (start - cell.at for start in starts):
        if begin < at < len(cell.text) and cell.text[at - 1] == " " and cell.text[at] != " ":
            yield replace(cell, text=cell.text[begin:at].rstrip(), at=cell.at + begin)
            begin = at
    yield replace(cell, text=cell.text[begin:], at=cell.at + begin)


def _in_order(row: Row, order: Sequence[tuple[Title, Cell]]) -> Reading | None:
    pieces: list[Piece] = []
    lost = 0.0
    unsaid: Text = ""
    mood: Mood = ""
    used: set[tuple[str, str]] = set()
    for title, cell in sorted(order, key=lambda each: "other" in each[0].roles):  # a note may be about the value
        text = cell.text
        if answer := mood_of_answer(title, text):
            mood = mood if answer == "want" else answer
            continue
        role = _role_for(title, text, used)
        if role == "type" and type_of(text.replace(" ", "")):
            text = text.replace(" ", "")  # torn by a scanner
        if role == "other":
            if other := _other_value(text, pieces):
                if other.mood == "want":
                    pieces = [replace(each, mood="current" if each.role == "value" else each.mood) for each in pieces]
                pieces.append(other)
                continue
            note, read = mood_of_note(text)
            note = mood_of_condition(text) or note
            mood, unsaid = note or mood, read or unsaid
            strong = evidence(value_text(text)) if not note else 0.0
            lost += strong * 0.5
            elsewhere = any(other.text == text for of, other in order if of is not title)
            if strong >= 2 and not type_of(clean(text)) and not elsewhere:
                unsaid = msg("page.part.column", what=text)
        elif (
            role == "type"
            and (aside := _ASIDE.search(text))
            and (said := mood_of_words(aside[1])) in (*NOT_WANTED, "optional")
        ):
            mood = said  # `(example) A`
            pieces.append(Piece("type", text.replace(aside[0], "").strip(), row.line, "", True))
        elif role in ("type", "host") and not type_of(text) and (both := _type_and_host(text, row.line)):
            pieces += [Piece(each.role, each.text, row.line, title.mood) for each in both.pieces]
        elif (not text and role != "host") or (role == "value" and says_nothing(text)):
            continue
        elif not fits(role, text):
            lost += 1.5
        else:
            used.add((role, title.mood))
            if title.rrtype and role == "value":
                pieces.append(Piece("type", title.rrtype, row.line, "", True))
            lost += 0.4 if role == "value" and not evidence(value_text(text)) else 0.0
            pieces.append(Piece(role, value_text(text) if role == "value" else text, row.line, title.mood, True))
    if not any(piece.role in ("value", "nameserver") for piece in pieces):
        return None
    if len(row.cells) == 1 and row.kind != "table" and len(pieces) < 2:
        return None
    pieces.sort(key=lambda piece: piece.role not in ("type", "host", "value"))  # a priority belongs to its record
    if not mood:
        over = row.cells[len(order) :]
        mood = next((found for cell in over if (found := mood_of_action(cell.text))), "")
        mood = "delete" if row.mark == "struck" else mood
    return Reading("table", tuple(pieces), True, lost, mood, unsaid)


_ASIDE = re.compile(r"[(（\[]([^()（）\[\]]+)[)）\]]")


def _type_and_host(text: str, line: int) -> Reading | None:
    """`A @` or `A record @` in a column for the record."""
    both = loose_words(" ".join(word for word in text.split() if bare(word) not in phrases_of("RECORD")), line)
    return both if both and "type" in {piece.role for piece in both.pieces} else None


def _other_value(note: str, pieces: Sequence[Piece]) -> Piece | None:
    """A second value in a note: `Change to 192.0.2.10` is the new one, `replaces 198.51.100.7` or `was 198.51.100.7`
    the one that is there now."""
    value, mood = value_told(note)
    own = [piece for piece in pieces if piece.role == "value"]
    if not value or len(own) != 1 or type_by_value(value) != type_by_value(own[0].text):
        return None
    if is_fqdn(value) != is_fqdn(own[0].text):
        return None
    return replace(own[0], text=value, mood=mood)


def _role_for(title: Title, text: str, used: set[tuple[str, str]]) -> str:
    if "other" in title.roles:
        return role_of(title, text)
    free = [role for role in title.roles if (role, title.mood) not in used or role == "value"]
    if len(free) == 1 and free[0] == "host" and text.isupper() and len(text) > 1 and type_of(text):
        return free[0] if is_sure_host(text) else "type"
    return next((role for role in free if text and fits(role, text)), free[0] if free else "other")
