"""Transposed tables: the names of the fields in the first column, a record in each of the others."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from homepath.core.page_reader.kinds import type_of
from homepath.core.page_reader.moods import Title, title_of
from homepath.core.page_reader.rows import Cell, Row


def turned(rows: Sequence[Row]) -> list[Row]:
    """The rows, with every such table turned upright."""
    found: list[Row] = []
    cut = [_beside(row) for row in rows]
    at = 0
    while at < len(rows):
        if (stacked := _stacked(rows, at)) is not None:
            made, at = stacked
            found += made
            continue
        end = at
        while end < len(rows) and _answers_falsely(cut[end], cut[at]):
            end += 1
        names = [title_of(row.cells[0].text) for row in cut[at:end]]
        if end - at >= 2 and _enough(names):
            found += _upright(cut[at:end])
            at = end
        else:
            found.append(rows[at])
            at += 1
    return found


_NAMED = re.compile(r"([^:]{1,40}?)\s*:\s*(\S.*)")


def _beside(row: Row) -> Row:
    """`Type: A    Type: CNAME`, two cards side by side: the field once, then its values."""
    parts = [_NAMED.fullmatch(cell.text) for cell in row.cells] if 2 <= len(row.cells) <= 40 else [None]
    named = [part for part in parts if part]
    if len(named) < len(parts) or len({part[1] for part in named}) > 1:
        return row
    return replace(row, cells=(Cell(named[0][1]), *(Cell(part[2]) for part in named)))


def _stacked(rows: Sequence[Row], begin: int) -> tuple[list[Row], int] | None:
    """A table copied column by column, a cell a line: `Type`, all types, `Host`, all names, ...; and the row after
    it."""
    columns: list[list[Row]] = []
    at = begin
    while at < len(rows) and len(rows[at].cells) <= 1 and rows[at].kind != "card" and not rows[at].mark:
        if title_of(rows[at].text) is not None:
            columns.append([rows[at]])
        elif rows[at].kind == "blank" and columns:
            pass
        elif not columns or (len(columns) > 1 and len(columns[-1]) == len(columns[0])):
            break
        else:
            columns[-1].append(rows[at])
        if max(len(columns), *map(len, columns), 0) > 40:
            return None
        at += 1
    count = len(columns[0]) if columns else 0
    whole = [column for column in columns if len(column) == count]
    if count < 3 or len(whole) < 2 or whole != columns[: len(whole)]:
        return None
    titles = [title_of(column[0].text) for column in whole]
    types = next((column for title, column in zip(titles, whole, strict=True) if title and "type" in title.roles), None)
    if not _enough(titles) or types is None or not all(type_of(row.text) for row in types[1:]):
        return None
    made = [
        Row(
            parts[0].line, "\t".join(row.text for row in parts),
            tuple(Cell(row.text, at) for at, row in enumerate(parts)),
            "table", "", whole[0][0].line, tuple(row.line for row in parts[1:]),
        )
        for parts in zip(*whole, strict=True)
    ]  # fmt: skip
    return made, rows.index(whole[-1][-1], begin) + 1


def _answers_falsely(row: Row, first: Row) -> bool:
    cells = row.cells
    if len(cells) < 3 or len(cells) > 40 or len(cells) != len(first.cells) or row.kind == "card":
        return False
    return title_of(cells[0].text) is not None and all(title_of(cell.text) is None for cell in cells[1:])


def _enough(names: Sequence[Title | None]) -> bool:
    roles = {name.roles[0] for name in names if name}
    return "value" in roles and bool(roles & {"type", "host"})


def _upright(rows: Sequence[Row]) -> list[Row]:
    columns = list(zip(*(tuple(cell.text for cell in row.cells) for row in rows), strict=True))
    lines = [rows[0].line, *(row.line for row in rows)]
    made = []
    for number, texts in enumerate(columns):
        cells = tuple(Cell(text, at) for at, text in enumerate(texts))
        line = lines[min(number, len(lines) - 1)]
        made.append(Row(line, "\t".join(texts), cells, "table", "", rows[0].line))
    return made
