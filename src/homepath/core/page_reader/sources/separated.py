"""Tables with separators between their cells, quoted or not, alone or among words; and transposed ones, a record in
each column."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator, Sequence
from dataclasses import replace

from homepath.core.page_reader.columns import columns_of
from homepath.core.page_reader.kinds import type_of
from homepath.core.page_reader.loose import loose
from homepath.core.page_reader.rows import LONGEST_LINE, Cell, Hidden, Row, plain
from homepath.core.page_reader.titles import Title, title_of

_MARKS = (",", ";", "\t", "|", "^")
_ENDS = 4000
"""Lines after which no further table is searched for among words."""


def separated_rows(lines: Sequence[str], hidden: Hidden) -> Iterator[tuple[int, int, list[Row]]]:
    """Each table: its first line, the line after its last, and its rows. Lines count from 0."""
    at = 0
    while at < min(len(lines), _ENDS):
        line = lines[at]
        if len(line) <= LONGEST_LINE and (found := _table_at(lines, at, hidden)):
            yield at, found[0], found[1]
            at = found[0]
        else:
            at += 1


def _table_at(lines: Sequence[str], at: int, hidden: Hidden) -> tuple[int, list[Row]] | None:
    for mark in _MARKS:
        if mark not in lines[at]:
            continue
        quoted = '"' in "".join(lines[at : at + 2])
        if mark in "\t|" and not quoted:
            continue  # cells between tabs and pipes are found line by line
        head = _row(lines[at], at, mark, hidden)
        if head and columns_of(head) and len((found := _below(lines, at, mark, hidden))[1]) > 1:
            return found
        cut = any(re.search(r"\bv=\w+$", cell.text) for cell in head.cells) if head else False  # `v=DMARC1; p=none`
        if mark in ",;" and head and len(head.cells) >= 3 and not cut and _reads(head) and at + 1 < len(lines):
            second = _row(lines[at + 1], at + 1, mark, hidden)
            if second and len(second.cells) == len(head.cells) and _reads(second):
                return _below(lines, at, mark, hidden)
    return None


def _reads(row: Row) -> bool:
    found = loose([cell.text for cell in row.cells], row.line)
    return found is not None and found.lost == 0 and found.closes


def _row(line: str, at: int, mark: str, hidden: Hidden) -> Row | None:
    try:
        cells = next(csv.reader([line], delimiter=mark, skipinitialspace=True), [])
    except csv.Error:
        return None
    return _made(cells, at + 1, hidden) if len(cells) > 1 else None


def _made(cells: Sequence[str], line: int, hidden: Hidden) -> Row:
    texts = [plain(cell.replace("\n", " "), line, hidden).strip() for cell in cells]
    mark = "comment" if texts and texts[0].startswith(("#", "//")) else ""
    cut = tuple(Cell(text, number) for number, text in enumerate(texts))
    return Row(line, "\t".join(texts), cut, "table", mark, line)


def _whole(cells: list[str], mark: str, head: Row) -> list[str]:
    """The cells of a row whose value holds the separator itself, without quotes: `v=DMARC1; p=none` between `;`."""
    more, columns = len(cells) - len(head.cells), columns_of(head)
    at = next((at for at, (title, _) in enumerate(columns or ()) if title.roles[0] == "value"), None)
    if more <= 0 or at is None or not cells[at].startswith("v="):
        return cells
    return [*cells[:at], f"{mark} ".join(cells[at : at + more + 1]), *cells[at + more + 1 :]]


def _below(lines: Sequence[str], at: int, mark: str, hidden: Hidden) -> tuple[int, list[Row]]:
    """The rows of the table that begins at a line, by the CSV reader, so that quoted cells may hold line ends."""
    block: list[str] = []
    end = at
    open_quote = False
    while end < len(lines) and (open_quote or (mark in lines[end] and lines[end].strip())):
        block.append(lines[end])
        open_quote = open_quote ^ (lines[end].count('"') % 2 == 1)
        end += 1
        if open_quote and len(block) > 50 and mark not in lines[end - 1]:
            break
    rows: list[Row] = []
    reader = csv.reader([f"{line}\n" for line in block], delimiter=mark, skipinitialspace=True)
    begun = 0
    try:
        for cells in reader:
            cells = [cell.strip() for cell in cells]
            rows.append(_made(_whole(cells, mark, rows[0]) if rows else cells, at + begun + 1, hidden))
            begun = reader.line_num
    except csv.Error:
        pass
    return at + max(begun, 1), rows


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
    """`Type: A    Type: CNAME`, or `Type   A   Type   CNAME`, two cards side by side: the field once, then its
    values."""
    names, values = row.cells[::2], row.cells[1::2]
    if 4 <= len(row.cells) <= 40 and len(names) == len(values) and len({each.text for each in names}) == 1:
        values = () if any(title_of(each.text) for each in values) else values
        return replace(row, cells=(names[0], *values)) if values and title_of(names[0].text) else row
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
