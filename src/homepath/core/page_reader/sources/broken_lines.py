"""Sentences that mail, print or a telephone broke into lines."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from homepath.core.page_reader.kinds import SERVICE_PARAMS, addresses, field_roles, is_fqdn, is_usual_label, type_of
from homepath.core.page_reader.moods import events, half_of_replacing
from homepath.core.page_reader.prose.atoms import VALUES, atoms_of
from homepath.core.page_reader.prose.back_references import IT
from homepath.core.page_reader.rows import ARROW, Cell, Row, cells_of
from homepath.core.page_reader.titles import title_of
from homepath.core.page_reader.words import UNSPACED, bare, fold, phrases_of, stems

_NARROWEST, _WIDEST = 24, 110
"""Characters of the lines that a text is broken into."""
_LONGEST = 1000
"""Characters of a sentence."""
_LEADING = ("VALUE_BEFORE", "HOST_BEFORE", "JOINTS")
"""Words that no sentence ends with."""
_ENDS_WITH_ARROW = re.compile(rf"(?:{ARROW.pattern})$")
ENDED = re.compile(r"[.!?:;。！？：；।][\"”)]?$")
CUT_AT_DOT = re.compile(r"(?:^|[\s:])([A-Za-z0-9_.-]+\.)$")
_ENDS_WITH_TYPE = re.compile(r"\b(?:MX|CNAME)(?: @| www)?(?: [0-9]+)?$")
"""`MX @ 10` over `mx1.post.example`"""


def width_of(rows: Sequence[Row], lengths: Sequence[int]) -> int:
    """The length of the longest line of words. `lengths`: of all lines of the text, in characters."""
    prose = [row for row in rows if row.kind == "text" and len(row.cells) == 1 and " " in row.text]
    found = (lengths[row.line - 1] for row in prose if row.line <= len(lengths))
    return max((each for each in found if each <= _WIDEST), default=0)


def is_filled(last: Row, row: Row, lengths: Sequence[int], width: int) -> bool:
    """Whether the first word of a row had no room in the line before."""
    end = (last.line, *last.more)[-1]
    length = lengths[end - 1] if end <= len(lengths) else 0
    first = (row.text.split() or [""])[0]
    return max(_NARROWEST, length) <= width < length + 1 + len(first)


def flowing(last: Row, row: Row, filled: bool) -> Row | None:
    """Two lines of one sentence as one; None for any others. `filled`: the first word of the second had no room in the
    first."""
    if row.kind != "text" or row.mark or len(row.cells) != 1 or last.kind != "text" or len(last.text) > _LONGEST:
        return None
    if _torn_at_arrow(last, row) or (re.search(r"\([^()]*$", last.text) and re.match(r"[^()]*\)", row.text)):
        text = f"{last.text} {row.text}"
        return replace(last, text=text, cells=cells_of(text), more=(*last.more, row.line))
    least = 12 if filled else 25
    if len(last.cells) != 1 or row.line != (last.line, *last.more)[-1] + 1 or len(last.text) < least:
        return None
    if ":" not in last.text + row.text and _asks_for_another(last.text, row.text):
        return _as_one(last, row, " " if ENDED.search(last.text) else ". ")
    cut = CUT_AT_DOT.search(last.text)
    torn = bool(cut and "." in cut[1][:-1] and is_fqdn(row.text.split()[0]))
    again = IT.match(fold(row.text)) is not None and any(atom.kind in VALUES for atom in atoms_of(last.text))
    filled = filled and not half_of_replacing(row.text)
    if _is_named(row) or not (torn or again or not ENDED.search(last.text) or (filled and _waits(last, row))):
        return None
    title = None if any(atom.kind in VALUES for atom in atoms_of(row.text)) else title_of(row.text)
    if title is not None and not (title.guessed and row.text[:1].islower()):
        return None
    if not _goes_on(last, row, filled and not again, again, torn):
        return None
    return _as_one(replace(last, mark="torn") if torn else last, row, "" if torn else " ")


def _as_one(last: Row, row: Row, between: str) -> Row:
    text = last.text + between + row.text
    return replace(last, text=text, cells=(Cell(text, last.cells[0].at),), more=(*last.more, row.line))


def _first(row: Row) -> str:
    return row.text.split()[0].strip(".,;()")


def _torn_at_arrow(last: Row, row: Row) -> bool:
    arrow = _ENDS_WITH_ARROW.search(last.text)
    ended = bool(_last_events(last)) and len(last.text) > 45  # `expected`
    return " " not in row.text and (ended or (arrow is not None and arrow.start() > 0))


def _last_events(row: Row) -> set[str]:
    return {event.kind for event in events(row.text) if event.end == len(fold(row.text))}


def _is_named(row: Row) -> bool:
    """`Name: www`; not `de www: ...`, which goes on."""
    led = any(bare(row.text.split()[0]) in phrases_of(table) for table in _LEADING[:2])
    return ":" in row.text.rstrip(":")[:25] and not (row.text[:1].islower() and led)


def _waits(last: Row, row: Row) -> bool:
    """`..., found 198.51.100.7. Wanted:` over `192.0.2.10`"""
    *before, end = last.text.split()
    valued = bool(addresses(_first(row)) or is_fqdn(_first(row)))
    return end.endswith(":") and len(before) > 2 and valued and title_of(end) is not None


def _goes_on(last: Row, row: Row, filled: bool, again: bool, torn: bool) -> bool:
    """Whether the second line finishes the sentence of the first: the first breaks off (`... points to`), or is long
    and the second starts in the middle. A line that starts like a record is joined only where the first breaks off."""
    first, alone = _first(row), " " not in row.text
    words = [bare(word) for word in last.text.split()[-2:]]
    end = words[0] if words[-1] in phrases_of("RECORD") else words[-1]  # `and a record / CNAME for www`
    typed = first.isupper() and type_of(first) is not None
    boxed = end in phrases_of("BESIDE_FIELD") and bool(field_roles(first.strip("«»„“”\"'")))
    joins = any(end in phrases_of(table) for table in _LEADING)
    leads = joins or boxed or _leads_on(last, end, typed) or _waits_for(last.text, first)
    whole = any(atom.kind in VALUES and atom.end == len(last.text) for atom in atoms_of(last.text))
    open_ended = leads or again or torn or not whole or _is_joint(row)
    filled = filled and (leads or (not alone and open_ended))
    own = is_usual_label(first) and not (filled and not alone and is_fqdn(first))
    begins = (first[:1].isdecimal() or own or typed or boxed) and first.partition("=")[0] not in SERVICE_PARAMS
    count, size = (3, 12) if filled else (5, 25) if leads else (7, 45)
    if not open_ended or len(last.text) < size or (not UNSPACED.search(last.text) and len(last.text.split()) < count):
        return False
    if begins:
        return leads or torn
    return first[:1].islower() or again or (filled and joins)  # `der / Domain` in German


def _leads_on(last: Row, end: str, typed: bool) -> bool:
    """Whether the last word of a line asks for what is in the next one. `typed`: that begins with a record's type."""
    kinds = _last_events(last)
    ordered = not typed and ("ADD" in kinds or bool(stems("CHOOSE").find(end)))
    asks = ordered or "REQUIRED" in kinds or bool({*field_roles(end)} - {"nameserver"})
    return asks or last.text.endswith((",", "(", *"为為成到是向")) or _ENDS_WITH_TYPE.search(last.text) is not None


def _is_joint(row: Row) -> bool:
    """Whether a row begins with a word that begins no sentence, or says of what is before that it is there, or due."""
    first = _first(row)
    told = first.islower() and any(event.kind in ("CURRENT", "REQUIRED") for event in events(first))
    joint = any(bare(first) in phrases_of(table) for table in (*_LEADING, "PARTICLES"))
    return told or joint or row.text.startswith("(")


def _asks_for_another(before: str, text: str) -> bool:
    """`Your A record points to 198.51.100.7` over `It should point to 192.0.2.10`."""
    above, here = atoms_of(before), atoms_of(text)
    now, new = ([atom.kind for atom in atoms if atom.kind in VALUES] for atoms in (above, here))
    named = any(atom.kind in ("type", "host", "apex") for atom in here)
    told, asked = ({event.kind for event in events(each)} for each in (before, text))
    typed = any(atom.kind == "type" for atom in above)
    return (
        len(now) == 1 and now == new and typed and not named and "REQUIRED" in asked and not told & {"ADD", "REQUIRED"}
    )


def _waits_for(text: str, first: str) -> bool:
    """Whether a line names a type whose value it has not, and this may be it."""
    atoms = atoms_of(text)
    types = {atom.value for atom in atoms if atom.kind == "type"}
    if addresses(first):
        return bool(types & {"A", "AAAA"}) and all(atom.kind != "address" for atom in atoms)
    return "CNAME" in types and is_fqdn(first) and all(atom.kind != "fqdn" for atom in atoms)
