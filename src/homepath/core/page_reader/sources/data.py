"""JSON, JSON Lines and TOML in any nesting: each object with fields becomes a card, each key above it a heading."""

from __future__ import annotations

import json
import re
import tomllib
from collections.abc import Iterator, Sequence
from typing import Any

from homepath.core.page_reader.rows import Cell, Hidden, Row, plain, row_of
from homepath.core.page_reader.titles import title_of

_DEEPEST = 60
_MOST = 60_000
_SECTION = re.compile(r"^\s*\[+[\w.\"-]+\]+\s*$", re.M)
_KEY = re.compile(r"^\s*[\w.\"-]+\s*=\s*\S", re.M)
_BEGIN = re.compile(r"^[ \t]*(?=\{|\[(?!\s*[^\]\"{]*\]))", re.M)
"""Where a value may begin among words: an object, or a list that is more than a word in brackets."""


def data_rows(text: str, hidden: Hidden) -> list[Row] | None:
    """The rows of a text that is JSON or TOML, or holds a JSON value among its words; None where it is neither."""
    return whole_data(text, hidden) or _embedded(text, hidden)


def whole_data(text: str, hidden: Hidden) -> list[Row] | None:
    """The rows of a text that is JSON or TOML as a whole."""
    try:
        if text.lstrip()[:1] in ("{", "["):
            return list(_Walk(text, hidden).rows(json.loads(text)))
    except (ValueError, RecursionError):
        pass
    try:
        if _SECTION.search(text) and _KEY.search(text):
            return list(_Walk(text, hidden).rows(tomllib.loads(text)))
    except (ValueError, RecursionError):
        pass
    return None


def _embedded(text: str, hidden: Hidden) -> list[Row] | None:
    """JSON values that begin on lines of their own, among words; one a line is JSON Lines."""
    decoder = json.JSONDecoder()
    found: list[Row] = []
    at, line = 0, 1
    for match in _BEGIN.finditer(text) if '"' in text else ():
        if match.start() < at:
            continue
        try:
            value, stop = decoder.raw_decode(text, match.end())
        except (ValueError, RecursionError):
            continue
        found += _plain_rows(text[at : match.start()], line, hidden)
        line += text.count("\n", at, match.start())
        found += _Walk(text, hidden, line, match.start()).rows(value)
        at = text.find("\n", stop) + 1 or len(text)
        line += text.count("\n", match.start(), at)
    return [*found, *_plain_rows(text[at:], line, hidden)] if found else None


def _plain_rows(text: str, first: int, hidden: Hidden) -> list[Row]:
    return [row_of(line, number, hidden) for number, line in enumerate(text.split("\n"), first)]


class _Walk:
    """Goes through a value in its order; finds the lines of its texts again by looking for them."""

    def __init__(self, text: str, hidden: Hidden, line: int = 1, at: int = 0) -> None:
        self.text, self.hidden, self.line, self.at, self.count = text, hidden, line, at, 0

    def rows(self, value: Any, path: Sequence[str] = (), depth: int = 0) -> Iterator[Row]:
        """The rows of a value. `path`: the keys above it that no row has named yet."""
        self.count += 1
        if depth > _DEEPEST or self.count > _MOST:
            yield Row(self.line, "nested too deeply", (), "text", "long")
        elif isinstance(value, dict):
            yield from self._object(value, path, depth)
        elif isinstance(value, list):
            yield from self._list(value, path, depth)
        elif value is not None:
            yield self._entry("", value)

    def _find(self, text: str) -> int:
        """The line of a text, at or after the last one found."""
        probe = json.dumps(text, ensure_ascii=False)[1:-1][:80]
        found = self.text.find(probe, self.at) if probe else -1
        if found >= 0:
            self.line += self.text.count("\n", self.at, found)
            self.at = found
        return self.line

    def _heading(self, path: Sequence[str]) -> Row:
        if not path:
            return Row(self.line, "", (), "blank")
        words = " ".join(_spaced(key) for key in path)
        return Row(self._find(path[-1]), f"{words}:", (Cell(f"{words}:"),), "heading")

    def _entry(self, key: str, value: Any) -> Row:
        text = _words(value)
        return row_of(f"{_spaced(key)}: {text}" if key else text, self._find(text), self.hidden)

    def _list(self, values: list[Any], path: Sequence[str], depth: int) -> Iterator[Row]:
        if values and not isinstance(values[0], dict):
            yield self._heading(path)
        for each in values:
            if isinstance(each, list) and not any(isinstance(one, dict | list) for one in each):
                cells = tuple(Cell(_words(one)) for one in each)
                line = self._find(cells[0].text) if cells else self.line
                yield Row(line, "\t".join(cell.text for cell in cells), cells, "table")
            else:
                yield from self.rows(each, path if isinstance(each, dict | list) else (), depth + 1)

    def _object(self, value: dict[str, Any], path: Sequence[str], depth: int) -> Iterator[Row]:
        cells = list(_cells(value, ""))
        named = [cell for cell in cells if (title := title_of(cell.label)) and title.roles[0] != "other"]
        if len(named) >= 2 or (len(named) == 1 and len(cells) == 1 and not path):
            yield self._heading(path)
            line = self._find(named[0].text)
            text = "; ".join(f"{cell.label}: {cell.text}" for cell in cells)
            yield Row(line, plain(text, line, self.hidden)[:2000], tuple(cells), "card", "item")
            value = {key: each for key, each in value.items() if _holds_records(each)}
        for key, each in value.items():
            if isinstance(each, dict | list):
                yield from self.rows(each, (*path, key), depth + 1)
            elif each is not None:
                if path:
                    yield self._heading(path)
                yield self._entry(key, each)


def _cells(value: dict[str, Any], above: str) -> Iterator[Cell]:
    """The fields of an object, those of a flat object inside it and the elements of its lists."""
    for key, each in value.items():
        label = f"{above} {_spaced(key)}".strip()
        if isinstance(each, dict):
            flat = not any(isinstance(one, dict | list) for one in each.values())
            if flat and not above and not _holds_records(each):
                yield from _cells(each, label)
            continue
        for one in each if isinstance(each, list) else [each]:
            if isinstance(one, dict) and not _holds_records(one):
                texts = [_words(inner) for inner in one.values() if isinstance(inner, str)]
                if len(texts) == 1:
                    yield Cell(texts[0], 0, label)
            elif one is not None and not isinstance(one, dict | list):
                yield Cell(_words(one), 0, label)


def _holds_records(value: Any) -> bool:
    """Whether an object, or a list of such, has records of its own."""
    if isinstance(value, list):
        return any(_holds_records(each) for each in value if isinstance(each, dict))
    if not isinstance(value, dict):
        return False
    roles = {title.roles[0] for key in value if (title := title_of(_spaced(key)))}
    return len(roles & {"type", "host", "value"}) >= 2 or any(
        isinstance(each, list) and _holds_records(each) for each in value.values()
    )


def _spaced(key: str) -> str:
    """A key as words: `recordType`, `record_type`."""
    words = re.sub(r"(?<=[a-z0-9])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z])", " ", key) if not key.isupper() else key
    return words.replace("_", " ").strip() if not words.startswith("_") else words


def _words(value: Any) -> str:
    return ("yes" if value else "no") if isinstance(value, bool) else str(value).strip().replace("\n", " ")
