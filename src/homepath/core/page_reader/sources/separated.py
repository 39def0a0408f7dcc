"""Tables with commas, semicolons or other separators between their cells, quoted or not, alone or among other words."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator, Sequence

from homepath.core.page_reader.columns import columns_of
from homepath.core.page_reader.loose import loose
from homepath.core.page_reader.rows import LONGEST_LINE, Cell, Hidden, Row, plain

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
        if head and columns_of(head):
            return _below(lines, at, mark, hidden)
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
