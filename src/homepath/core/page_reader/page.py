"""A page of a builder, or of a DNS host's form: what it asks for, what it says of other records, what is doubtful."""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass
from typing import Literal

from homepath.core.model.problems import BadInput, Problem
from homepath.core.page_reader.hosts import Registrable, last_two
from homepath.core.page_reader.moods import Mood
from homepath.core.page_reader.rows import MOST_LINES, MOST_TEXT, Hidden, too_long
from homepath.core.page_reader.search import search
from homepath.core.page_reader.sources import rows_in

BIGGEST = 4_000_000
"""Characters; more is no page."""
LineUse = Literal["record", "heading", "name of a field", "words", "not understood"]


@dataclass(frozen=True, slots=True)
class PastedRecord:
    """One record as the page gives it: `host` relative to the reader's own domain, `value` in the page's spelling.

    TTL in seconds. `mood`: `delete`, `current` or `keep` for a record that is not to be entered. `option`: the mark of
    the alternative that it belongs to.
    """

    type: str
    host: str
    value: str
    ttl: int | None
    lines: tuple[int, ...]
    mood: Mood = ""
    option: str = ""


@dataclass(frozen=True, slots=True)
class Line:
    """A line that was looked at: its number, its words, and what it was read as."""

    number: int
    text: str
    use: LineUse


@dataclass(frozen=True, slots=True)
class Server:
    """A name server that the page names."""

    name: str
    line: int
    mood: Mood = ""
    option: str = ""


@dataclass(frozen=True, slots=True)
class Page:
    """All that was read. `records`: those to be entered; `away`: those that the page wants deleted, calls the present
    ones or leaves alone. `own`: domains that stand for the reader's. `doubts`: what could be meant otherwise."""

    records: tuple[PastedRecord, ...]
    away: tuple[PastedRecord, ...]
    nameservers: tuple[Server, ...]
    lines: tuple[Line, ...]
    doubts: tuple[str, ...]
    notes: tuple[str, ...] = ()
    own: tuple[str, ...] = ()

    @property
    def unread(self) -> tuple[Line, ...]:
        return tuple(line for line in self.lines if line.use in ("words", "not understood"))


def read_page(text: str, domain: str | None = None, registrable: Registrable = last_two) -> Page:
    """Read a text. `domain`: the reader's own, where it is known. Raises BadInput for what is no page at all."""
    text = text.removeprefix("\ufeff")
    _check(text)
    hidden = Hidden()
    rows = rows_in(text, hidden)
    filled = [row for row in rows if row.kind not in ("blank", "rule")]
    if len(filled) > MOST_LINES or sum(len(row.text) for row in filled) > MOST_TEXT:
        raise too_long()
    own = (domain.lower().strip("."),) if domain else ()
    from homepath.core.page_reader.judge import Judge

    return Judge(search(rows, own), rows, hidden, domain, registrable).page()


def _check(text: str) -> None:
    if len(text) > BIGGEST:
        hint = "copy only the part with the records"
        raise BadInput(Problem(f"this text has {len(text)} characters, which is no page", hint=hint))
    if "\0" in text:
        raise BadInput(Problem("this is not text: it holds NUL characters", hint="copy the words of the page"))
    if not any(char.isalnum() for char in text):
        raise BadInput(Problem("there is nothing to read: the text is empty", hint="copy the page's list of records"))
    odd = sum(
        1 for char in text[:20000] if unicodedata.category(char) in ("Cc", "Co", "Cn") and char not in "\t\n\r\f\v"
    )
    if odd * 10 > min(len(text), 20000):
        raise BadInput(Problem("this is not text: most of it cannot be shown", hint="copy the words of the page"))
