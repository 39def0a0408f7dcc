"""A page of a builder, or of a DNS host's form: what it asks for, what it says of other records, what is doubtful."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from homepath.core.message import Text, msg
from homepath.core.page_reader.moods import Mood

LineUse = Literal["record", "heading", "name of a field", "words", "not understood"]


Why = Literal[
    "no-name", "no-type", "unsure", "other-domain", "bad-name", "bad-value", "no-value", "button", "lookalike",
    "hidden", "condition", "misread", "bad-key", "handed-over", "alias", "unplannable", "two-readings", "two-targets",
    "beside-alias",
    "part", "stray",
]  # fmt: skip
"""Why something that looks like a record, or a part of one, is not taken without a person's word."""


@dataclass(frozen=True, slots=True)
class PastedRecord:
    """One record as the page gives it: `host` relative to the reader's own domain, `value` in the page's spelling.

    TTL in seconds. `mood`: `delete`, `current`, `keep` or `example` for a record that is not to be entered. `option`:
    the mark of the alternative that it belongs to. `why`: what keeps it from being taken, with the page's words or the
    trouble in `detail`; a type, host or value that nothing says is empty then.
    """

    type: str
    host: str
    value: str
    ttl: int | None
    lines: tuple[int, ...]
    mood: Mood = ""
    option: str = ""
    why: Why | None = None
    detail: Text = ""


def reason_of(record: PastedRecord) -> Text:
    """Why it is not taken without a person's word."""
    return msg(f"page.why.{record.why}", detail=record.detail)


def where(record: PastedRecord) -> Text:
    """The lines that it is on."""
    first, last = min(record.lines), max(record.lines)
    return msg("page.line", line=first) if first == last else msg("page.line-range", first=first, last=last)


@dataclass(frozen=True, slots=True)
class Line:
    """A line that was checked: its number, its words, and what it was read as."""

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


Bin = Literal["enter", "not", "other"]


@dataclass(frozen=True, slots=True)
class Item:
    """A line of the table that is shown before anything is written. `number` stays, whatever is ticked."""

    number: int
    bin: Bin
    record: PastedRecord


@dataclass(frozen=True)
class Page:
    """All that was read. `records`: those to be entered; `away`: those that the page wants deleted, calls the present
    ones, leaves alone or shows as an example; `others`: whatever else looks like a value. `own`: domains that are
    the reader's."""

    records: tuple[PastedRecord, ...]
    away: tuple[PastedRecord, ...]
    nameservers: tuple[Server, ...]
    lines: tuple[Line, ...]
    others: tuple[PastedRecord, ...] = ()
    notes: tuple[Text, ...] = ()
    own: tuple[str, ...] = ()
    primary: str = ""
    """The primary address that the page names: `@` or a label; empty where it names none."""
    picked: tuple[Item, ...] = ()
    """The table once a person has ticked it; empty before."""

    @property
    def wanted_servers(self) -> tuple[Server, ...]:
        return tuple(each for each in self.nameservers if each.mood in ("", "want", "optional"))

    @cached_property
    def items(self) -> tuple[Item, ...]:
        """Everything in its bin, in the order of the page."""
        if self.picked:
            return self.picked
        wanted = self.wanted_servers
        bins: list[tuple[Bin, PastedRecord]] = [("enter", each) for each in self.records]
        bins += [("enter" if each in wanted else "not", _as_record(each)) for each in self.nameservers]
        bins += [("not", each) for each in self.away] + [("other", each) for each in self.others]
        bins.sort(key=lambda each: min(each[1].lines, default=0))
        return tuple(Item(number, *each) for number, each in enumerate(bins, 1))


def _as_record(server: Server) -> PastedRecord:
    return PastedRecord("NS", "@", f"{server.name}.", None, (server.line,), server.mood, server.option)
