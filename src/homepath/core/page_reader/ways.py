"""The ways in which one row can be read, whatever stands before it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from homepath.core.page_reader.atoms import atoms_of
from homepath.core.page_reader.columns import Column, columns_of
from homepath.core.page_reader.hosts import stands_for_own
from homepath.core.page_reader.kinds import is_button, is_fqdn, is_status, is_sure_host
from homepath.core.page_reader.labels import Labelled, labelled, named_rest
from homepath.core.page_reader.leads import Lead, lead_of
from homepath.core.page_reader.loose import loose, loose_words
from homepath.core.page_reader.moods import Title, events, title_of
from homepath.core.page_reader.pieces import Reading, mood_of_note
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.sentences import sentence
from homepath.core.page_reader.words import is_phrase


@dataclass(frozen=True, slots=True)
class Ways:
    """Everything that a row can be on its own."""

    columns: tuple[Column, ...] | None
    label: Title | None
    labelled: Labelled | None
    readings: tuple[Reading, ...]
    lead: Lead | None
    weight: float
    """What is lost if the row is passed over."""


def ways_of(row: Row, own: Sequence[str], below: Row | None = None) -> Ways:
    """The readings of a row that do not depend on the rows before."""
    if row.mark == "long":
        return Ways(None, None, None, (), None, 3.0)
    row = _without_aside(row)
    single = len([cell for cell in row.cells if cell.text]) <= 1
    label = title_of(row.text.rstrip(":： ")) if single and len(row.text) < 60 and not _has_verb(row.text) else None
    named = labelled(row)
    if row.kind == "card" or (named and named.pieces and not named.lost):
        return Ways(columns_of(row), label, named, (), None, _weight(row))
    lead = lead_of(row, below is not None and _weight(below) >= 1.0)
    if row.kind == "heading" and lead and (lead.types or lead.hosts or lead.mood or lead.servers or lead.option):
        return Ways(None, None, None, (), lead, _weight(row) + said_by(lead))
    if lead and lead.hosts and is_fqdn(row.text.rstrip(" :")) and stands_for_own(row.text.rstrip(" :"), own):
        return Ways(None, None, None, (), lead, 1.5)  # the reader's own name alone on a line: what follows is for it
    readings: list[Reading] = []
    cells = [cell.text for cell in row.cells if cell.text]
    about = _weight(row) == 0.0 and ":" in row.text
    options = () if about else (cells, named_rest(row))
    readings += [found for option in options if option and (found := loose(option, row.line))]
    if single and not about and (words := loose_words(row.text, row.line)):
        readings.append(words)
    comma = _by_commas(row)
    if comma:
        readings.append(comma)
    text = row.text if (single or row.kind != "table") and not about else ""
    if text and (told := sentence(text, row.line, own=own)):
        readings.append(replace(told, lost=told.lost + (1.5 if len(cells) > 2 else 0.0)))
        wordy = len(text.split()) > len(told.pieces) + 2
        if wordy and (other := sentence(text, row.line, True, own=own)) and other.pieces != told.pieces:
            readings.append(replace(other, lost=other.lost + 0.6))
    columns = columns_of(row)
    lead = lead if columns is None else None
    return Ways(columns, label, named, tuple(readings), lead, _weight(row) + said_by(lead))


_ASIDE = re.compile(r"\s*[(（]([^()（）]{8,})[)）]\s*\.?$")


def _without_aside(row: Row) -> Row:
    """A row without a remark in brackets at its end that is about other records: `(delete any other www record)`."""
    match = _ASIDE.search(row.text)
    if match is None or not match.start() or not events(match[1]) or mood_of_note(match[1])[0]:
        return row
    if not row.cells or not (aside := _ASIDE.search(row.cells[-1].text)) or not aside.start():
        return row
    cells = (*row.cells[:-1], replace(row.cells[-1], text=row.cells[-1].text[: aside.start()]))
    return replace(row, text=row.text[: match.start()], cells=cells)


def _has_verb(text: str) -> bool:
    """`Add this record:` is no name of a field, although it speaks of a record."""
    return any(event.kind in ("DELETE", "ADD", "REPLACE", "KEEP") for event in events(text))


def said_by(lead: Lead | None) -> float:
    """What is lost if the words of a lead-in are passed over."""
    if lead is None:
        return 0.0
    if lead.firm and lead.mood:
        return 5.0
    return 2.0 if lead.firm and (lead.types or lead.hosts or lead.servers or lead.option) else 0.0


def _by_commas(row: Row) -> Reading | None:
    for mark in (",", ";", " - ", " – ", " / "):
        parts = [part.strip() for part in row.text.split(mark)]
        if 3 <= len(parts) <= 9 and all(len(part.split()) <= 3 for part in parts):
            found = loose(parts, row.line, 0.97)
            if found and found.lost == 0 and found.closes:
                return found
    return None


_WEIGHTS = {
    "address": 3.0,
    "special": 3.0,
    "text": 2.0,
    "token": 0.4,
    "part": 1.0,
    "type": 0.8,
    "fqdn": 0.4,
    "host": 0.3,
}


def _weight(row: Row) -> float:
    if not row.text or is_button(row.text) or is_status(row.text):
        return 0.0
    head, mark, rest = row.text.partition(":")
    if mark and is_phrase("OWN_LABEL", head) and is_fqdn(rest.strip()):
        return 0.0  # the domain that the page is about
    atoms = atoms_of(row.text)
    total = sum(_WEIGHTS.get(atom.kind, 0.0) for atom in atoms)
    if len(row.text.split()) == 1 and (is_fqdn(row.text) or is_sure_host(row.text)):
        total += 1.5
    return total
