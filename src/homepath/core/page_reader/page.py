"""A page of a builder as it was read, and what a person says of the table of it that is shown."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

from homepath.core.message import Text, msg
from homepath.core.model.problems import BadInput, Problem
from homepath.core.page_reader.hosts import plain_host, relative_host
from homepath.core.page_reader.kinds import OTHER_TYPES, RECORD_TYPES, is_host_label
from homepath.core.page_reader.moods import Mood
from homepath.core.page_reader.record_values import trouble_of, value_of

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


@dataclass(frozen=True, slots=True)
class Picks:
    """What a person says of the table, by its numbers: to enter, to leave, the right host or type of one."""

    enter: frozenset[int] = frozenset()
    leave: frozenset[int] = frozenset()
    hosts: Mapping[int, str] = field(default_factory=dict)
    types: Mapping[int, str] = field(default_factory=dict)


def picked(page: Page, picks: Picks) -> Page:
    """The page with these picks: what is ticked is entered, what is left is settled. Raises BadInput for a number that
    the table has not, and for a record that still lacks its type, its host or its value."""
    hosts, types = picks.hosts, picks.types
    known = {item.number for item in page.items}
    problems = [
        Problem(
            msg("page.no-number"), key="--enter", seen=str(number), hint=msg("page.no-number.hint", last=len(known))
        )
        for number in sorted({*picks.enter, *picks.leave, *hosts, *types} - known)
    ]
    enter: list[Item] = []
    rest: list[Item] = []
    for item in page.items:
        record, number = item.record, item.number
        if number in hosts or number in types:
            rrtype = types.get(number, record.type).strip().upper()
            host = relative_host(plain_host(hosts[number]) or "", page.own) if number in hosts else record.host
            record = replace(record, host=host, type=rrtype, value=value_of(rrtype, record.value, page.own))
        ticked = (item.bin == "enter" or number in {*picks.enter, *hosts, *types}) and number not in picks.leave
        if not ticked:
            settled = item.bin != "other" or number in picks.leave
            rest.append(Item(number, "not" if settled else "other", record))
            continue
        if item.record.why or record is not item.record:
            problems += _lacks(number, record)
        enter.append(Item(number, "enter", replace(record, mood="" if record.mood != "optional" else "optional")))
    if problems:
        raise BadInput(*problems)
    records = tuple(replace(item.record, why=None, detail="") for item in enter if not _is_server(item.record))
    servers = tuple(
        Server(item.record.value.rstrip("."), item.record.lines[0], "", item.record.option)
        for item in enter
        if _is_server(item.record)
    )
    away = tuple(item.record for item in rest if item.bin == "not" and item.record.mood and not _is_server(item.record))
    others = tuple(item.record for item in rest if item.bin == "other")
    items = tuple(sorted([*enter, *rest], key=lambda item: item.number))
    return replace(page, records=records, nameservers=servers, away=away, others=others, picked=items)


def _is_server(record: PastedRecord) -> bool:
    return record.type == "NS" and record.host == "@"


def _lacks(number: int, record: PastedRecord) -> list[Problem]:
    """What a row of the table needs before it can be entered."""
    seen = f"{number}"
    if not record.value:
        return [Problem(msg("page.lacks-value"), key="--enter", seen=seen, hint=msg("page.lacks-value.hint"))]
    found = []
    if record.type not in RECORD_TYPES:
        known = record.type in OTHER_TYPES
        message = msg("page.cannot-plan", type=record.type) if known else msg("page.lacks-type")
        found.append(Problem(message, key="--type", seen=seen, hint=msg("page.lacks-type.hint", number=number)))
    if not is_host_label(record.host):
        hint = msg("page.lacks-host.hint", number=number)
        found.append(Problem(msg("page.lacks-host"), key="--host", seen=seen, hint=hint))
    if not found and (trouble := trouble_of(record.type, record.value)):
        found.append(Problem(trouble, key="--enter", seen=record.value[:80]))
    return found
