"""What a person says of the table that is shown before a brief is written."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem
from homepath.core.page_reader.hosts import plain_host, relative_host
from homepath.core.page_reader.kinds import OTHER_TYPES, RECORD_TYPES, is_host_label
from homepath.core.page_reader.page import Item, Page, PastedRecord, Server
from homepath.core.page_reader.record_values import trouble_of, value_of


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
