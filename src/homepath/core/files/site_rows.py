"""Many sites in one table: CSV whose columns are the keys of a site file, or TOML, `homepath.list/1`.

CSV is read line by line, so that a million rows need no memory and one bad row spoils no other: a cell never holds a
line break, because no key of a site file does.
"""

from __future__ import annotations

import csv
import difflib
from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from homepath.core.files.site_file import SITE_KEYS, site_from
from homepath.core.files.strict import Field, Report, list_of, read_file, table, text
from homepath.core.message import msg, reason
from homepath.core.model.brief import Site
from homepath.core.model.problems import BadInput, Problem

LIST_FORMAT = "homepath.list/1"
LONGEST_ROW = 20_000
"""Characters of one row; a site file of one row has a few hundred."""
MOST_COLUMNS = 200
OWN = "x-"
"""The beginning of a column's name that is the list owner's own."""
_LISTS = ("also", "own_server", "leave_behind", "trusted", "keep.records", "move.servers")
_YES, _NO = ("yes", "true", "1"), ("no", "false", "0")
_TABLES = ("values", "keep", "move", "undo", "purposes", "accepted", "values_of", "form")


@dataclass(frozen=True, slots=True)
class Row:
    """One site of a list. `line`: where it is in its file; `data`: as a site file would have it; `carried`: columns of
    the list's owner, which Home Path passes on as they are."""

    line: int
    data: Mapping[str, Any]
    carried: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class ListFile:
    """What a TOML list says: defaults for all, and the sites, or the CSV file that has them."""

    defaults: Mapping[str, Any]
    rows: tuple[Row, ...] = ()
    csv_file: str | None = None
    carry: tuple[str, ...] = ()


def read_table(
    lines: Iterable[str], file: str, defaults: Mapping[str, Any] | None = None, carry: Collection[str] = ()
) -> Iterator[Row | list[Problem]]:
    """The rows of a CSV text, and in the place of a bad one its problems. Raises BadInput for a bad header.

    `carry`: columns that are not Home Path's, besides those whose names begin with `x-`.
    """
    numbered = enumerate(lines, 1)
    header = next(((at, line) for at, line in numbered if line.strip()), None)
    if header is None:
        raise BadInput(Problem(msg("site-rows.read-table"), file, hint=msg("site-rows.read-table.hint")))
    columns = _columns(header[1], file, header[0], carry)
    for at, line in numbered:
        if line.strip():
            yield _row(line, at, columns, file, defaults or {})


def is_carried(name: str, carry: Collection[str]) -> bool:
    """Whether a column belongs to the owner of the list."""
    return name.startswith(OWN) or name in carry


@dataclass(frozen=True, slots=True)
class _Columns:
    names: tuple[str, ...]
    separator: str
    carried: frozenset[str]


def _columns(line: str, file: str, at: int, carry: Collection[str]) -> _Columns:
    separator = max(",;\t", key=lambda mark: (line.count(mark), mark == ","))
    try:
        names = tuple(name.strip() for name in _cells(line.lstrip("\ufeff"), separator))
    except ValueError as error:
        raise BadInput(Problem(msg("site-rows.columns", error=reason(error)), file, at)) from error
    problems: list[Problem] = []
    if len(names) > MOST_COLUMNS:
        raise BadInput(Problem(msg("site-rows.columns-2", MOST_COLUMNS=MOST_COLUMNS), file, at))
    for name in names:
        if names.count(name) > 1 and name not in {each.key for each in problems}:
            problems.append(Problem(msg("site-rows.columns-3"), file, at, name))
        elif name.split(".")[0] in _TABLES and "." not in name and not is_carried(name, carry):
            problems.append(
                Problem(msg("site-rows.columns-4"), file, at, name, hint=msg("site-rows.columns.hint", name=name))
            )
    if "domain" not in names:
        near = difflib.get_close_matches("domain", names, 1, 0.6)
        hint = msg("site-rows.columns.hint-2", near=near[0]) if near else msg("site-rows.columns.hint-3")
        problems.append(Problem(msg("site-rows.columns-5"), file, at, seen=line.strip()[:80], hint=hint))
    problems += [
        Problem(msg("site-rows.no-carried"), file, at, name, hint=msg("site-rows.no-carried.hint", columns=names[:20]))
        for name in sorted(set(carry) - set(names))
    ]
    problems += [Problem(msg("site-rows.own-carried"), file, at, name) for name in carry if name in SITE_KEYS]
    if problems:
        raise BadInput(*problems)
    return _Columns(names, separator, frozenset(name for name in names if is_carried(name, carry)))


def _cells(line: str, separator: str) -> list[str]:
    """Raises ValueError for what is no row."""
    if len(line) > LONGEST_ROW:
        raise ValueError(msg("site-rows.cells", count_line=len(line), LONGEST_ROW=LONGEST_ROW))
    try:
        rows = list(csv.reader([line.rstrip("\r\n")], delimiter=separator, strict=True))
    except csv.Error as error:
        raise ValueError(msg("site-rows.cells-2")) from error
    return rows[0] if rows else []


def _row(line: str, at: int, columns: _Columns, file: str, defaults: Mapping[str, Any]) -> Row | list[Problem]:
    try:
        cells = [cell.strip() for cell in _cells(line, columns.separator)]
    except ValueError as error:
        return [Problem(msg("site-rows.row", error=reason(error)), file, at)]
    if len(cells) != len(columns.names):
        message = msg("site-rows.row.said", count_cells=len(cells), count_names=len(columns.names))
        return [Problem(message, file, at, hint=msg("site-rows.row.hint"))]
    data: dict[str, Any] = {}
    carried: dict[str, str] = {}
    problems = []
    for name, cell in zip(columns.names, cells, strict=True):
        if name in columns.carried:
            carried[name] = cell
        if not cell or not name or name in columns.carried:
            continue
        try:
            _put(data, name, cell)
        except ValueError as error:
            problems.append(Problem(reason(error), file, at, name, cell[:80]))
    return problems or Row(at, merged(defaults, data), carried)


def _put(data: dict[str, Any], name: str, cell: str) -> None:
    """A cell at its key. Raises ValueError."""
    path = name.split(".") if name.split(".")[0] in (*_TABLES, *SITE_KEYS) else ["values", name]
    value: Any = cell
    if name in _LISTS or path[0] == "accepted":
        value = [part for part in (each.strip() for each in cell.replace(",", ";").split(";")) if part]
    elif name == "sign":
        if cell.lower() not in (*_YES, *_NO):
            raise ValueError(msg("site-rows.put"))
        value = cell.lower() in _YES
    for part in path[:-1]:
        data = data.setdefault(part, {})
        if not isinstance(data, dict):
            raise ValueError(msg("site-rows.put-2"))
    data[path[-1]] = value


def merged(defaults: Mapping[str, Any], data: Mapping[str, Any]) -> dict[str, Any]:
    """The row with what all rows have, where it says nothing itself; tables are merged key by key."""
    found = dict(defaults)
    for key, value in data.items():
        before = found.get(key)
        found[key] = merged(before, value) if isinstance(before, Mapping) and isinstance(value, Mapping) else value
    return found


_LIST = table(
    dict,
    {
        "defaults": Field(lambda value, path, report: value, {}),
        "domains": Field(list_of(lambda value, path, report: value), ()),
        "table": Field(text(), None),
        "columns": Field(table(dict, {"carry": Field(list_of(text()), ())}), {"carry": ()}),
    },
)


def read_list(words: str, file: str) -> ListFile:
    """A TOML list. Its rows are judged one by one later. Raises BadInput."""
    lines: dict[tuple[str | int, ...], int] = {}

    def form(value: Any, path: Any, report: Report) -> Any:
        lines.update(report.lines)
        found = _LIST(value, path, report)
        if found is not None:
            for name in ("defaults",):
                if not isinstance(found[name], dict):
                    report.add((name,), msg("site-rows.read-list"), found[name])
            if not found["domains"] and not found["table"]:
                report.add((), msg("site-rows.read-list-2"), hint=msg("site-rows.read-list.hint"))
            for at, each in enumerate(found["domains"]):
                if not isinstance(each, dict):
                    report.add(("domains", at), msg("site-rows.read-list"), each)
        return found

    data = read_file(words, file, form, LIST_FORMAT, most=MOST_TOML)
    defaults, carry = data["defaults"], tuple(data["columns"]["carry"])
    rows = tuple(
        _toml_row(lines.get(("domains", at), 1), merged(defaults, each), carry)
        for at, each in enumerate(data["domains"])
    )
    return ListFile(defaults, rows, data["table"], carry)


def _toml_row(line: int, data: dict[str, Any], carry: Collection[str]) -> Row:
    carried = {name: str(value) for name, value in data.items() if is_carried(name, carry)}
    return Row(line, {name: value for name, value in data.items() if name not in carried}, carried)


MOST_TOML = 50_000_000
"""Octets of a TOML list; a longer one is better a table in CSV, which is read as a stream."""


def site_of(data: Mapping[str, Any]) -> Site:
    """The site of a row. Raises BadInput with the column of every problem."""
    report = Report("", {})
    site = site_from(dict(data), report)
    if report.problems or site is None:
        raise BadInput(*report.problems)
    return site
