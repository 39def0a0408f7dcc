"""A page of a builder, or of a DNS host's form: what it asks for, what it says of other records, what is doubtful."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.page_reader.moods import Mood

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
    """A nameserver that the page names."""

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
