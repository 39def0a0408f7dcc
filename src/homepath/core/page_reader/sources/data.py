"""JSON, JSON Lines and TOML in any nesting: each object with fields becomes a card, each key above it a heading."""

from __future__ import annotations

import json
import re
import tomllib
from collections.abc import Iterator
from typing import Any

from homepath.core.page_reader.moods import title_of
from homepath.core.page_reader.rows import Cell, Hidden, Row, plain, row_of

_DEEPEST = 60
_MOST = 60_000


def data_rows(text: str, hidden: Hidden) -> list[Row] | None:
    """The rows of a text that is JSON or TOML, or holds a JSON value among its words; None where it is neither."""
    if (found := whole_data(text, hidden)) is not None:
        return found
    return _embedded(text, hidden)


def whole_data(text: str, hidden: Hidden) -> list[Row] | None:
    """The rows of a text that is JSON or TOML as a whole."""
    stripped = text.strip()
    if stripped[:1] in "{[":
        try:
            return list(_Walk(text, hidden).rows(json.loads(stripped)))
        except (ValueError, RecursionError):
            pass
    if re.search(r"^\s*\[+[\w.\"-]+\]+\s*$", text, re.M) and re.search(r"^\s*[\w.\"-]+\s*=\s*\S", text, re.M):
        try:
            return list(_Walk(text, hidden).rows(tomllib.loads(text)))
        except (ValueError, RecursionError):
            pass
    return None


def _embedded(text: str, hidden: Hidden) -> list[Row] | None:
    """JSON values that begin on lines of their own, among words; one a line is JSON Lines."""
    if not re.search(r"^\s*[{\[]", text, re.M) or '"' not in text:
        return None
    decoder = json.JSONDecoder()
    found: list[Row] = []
    hit = False
    at, line = 0, 1
    while at < len(text):
        end = text.find("\n", at)
        end = len(text) if end < 0 else end
        piece = text[at:end]
        begin = at + len(piece) - len(piece.lstrip())
        if piece.lstrip()[:1] in ("{", "[") and not re.match(r"\s*\[[^\]\"{]*\]", piece):
            try:
                value, stop = decoder.raw_decode(text, begin)
            except (ValueError, RecursionError):
                value, stop = None, begin
            if isinstance(value, dict | list) and stop > begin:
                hit = True
                found += _Walk(text, hidden, line, at).rows(value)
                rest = text.find("\n", stop)
                rest = len(text) if rest < 0 else rest
                line += text.count("\n", at, rest) + 1
                at = rest + 1
                continue
        found.append(row_of(piece, line, hidden))
        at, line = end + 1, line + 1
    return found if hit else None


class _Walk:
    """Goes through a value in its order; finds the lines of its texts again by looking for them."""

    def __init__(self, text: str, hidden: Hidden, line: int = 1, at: int = 0) -> None:
        self.text, self.hidden, self.line, self.at, self.count = text, hidden, line, at, 0

    def rows(self, value: Any) -> Iterator[Row]:
        yield from self._any(value, (), 0)

    def _find(self, text: str) -> int:
        """The line on which a text stands, at or after the last one found."""
        probe = json.dumps(text, ensure_ascii=False)[1:-1][:80]
        found = self.text.find(probe, self.at) if probe else -1
        if found >= 0:
            self.line += self.text.count("\n", self.at, found)
            self.at = found
        return self.line

    def _any(self, value: Any, path: tuple[str, ...], depth: int) -> Iterator[Row]:
        self.count += 1
        if depth > _DEEPEST or self.count > _MOST:
            yield Row(self.line, "nested too deeply", (), "text", "long")
            return
        if isinstance(value, dict):
            yield from self._object(value, path, depth)
        elif isinstance(value, list):
            yield from self._list(value, path, depth)
        elif value is not None:
            yield from self._scalar(str(value), path)

    def _list(self, values: list[Any], path: tuple[str, ...], depth: int) -> Iterator[Row]:
        if values and all(isinstance(each, list) for each in values):
            yield from self._heading(path)
            for each in values:
                cells = tuple(Cell(_words(one)) for one in each)
                line = self._find(cells[0].text) if cells else self.line
                yield Row(line, "\t".join(cell.text for cell in cells), cells, "table")
            return
        for number, each in enumerate(values):
            if isinstance(each, dict | list):
                yield from self._any(each, path, depth + 1)
            else:
                if number == 0:
                    yield from self._heading(path)
                yield from self._scalar(_words(each), ())

    def _heading(self, path: tuple[str, ...]) -> Iterator[Row]:
        if not path:
            yield Row(self.line, "", (), "blank")
            return
        line = self._find(path[-1])
        words = " ".join(_spaced(key) for key in path)
        yield Row(line, f"{words}:", (Cell(f"{words}:"),), "heading")

    def _scalar(self, text: str, path: tuple[str, ...]) -> Iterator[Row]:
        line = self._find(text)
        words = f"{_spaced(path[-1])}: {text}" if path else text
        yield row_of(words.replace("\n", " "), line, self.hidden)

    def _object(self, value: dict[str, Any], path: tuple[str, ...], depth: int) -> Iterator[Row]:
        cells = list(self._cells(value, ()))
        named = [cell for cell in cells if (title := title_of(cell.label)) and title.roles[0] != "other"]
        if len(named) >= 2 or (len(named) == 1 and len(cells) == 1 and not path):
            yield from self._heading(path)
            line = self._find(named[0].text)
            text = "; ".join(f"{cell.label}: {cell.text}" for cell in cells)
            yield Row(line, plain(text, line, self.hidden)[:2000], tuple(cells), "card", "item")
            rest = {key: each for key, each in value.items() if _holds_records(each)}
        else:
            rest = value
        for key, each in rest.items():
            if isinstance(each, dict | list):
                yield from self._any(each, (*path, key), depth + 1)
            elif each is not None:
                yield from self._entry(key, each, path)

    def _entry(self, key: str, each: Any, path: tuple[str, ...]) -> Iterator[Row]:
        if path:
            yield from self._heading(path)
        yield from self._scalar(_words(each), (key,))

    def _cells(self, value: dict[str, Any], above: tuple[str, ...]) -> Iterator[Cell]:
        for key, each in value.items():
            label = " ".join((*above, _spaced(key)))
            if (
                isinstance(each, dict)
                and not above
                and not _holds_records(each)
                and all(not isinstance(one, dict | list) for one in each.values())
            ):
                yield from self._cells(each, (label,))
            elif isinstance(each, list):
                for one in each:
                    if isinstance(one, dict) and not _holds_records(one):
                        texts = [_words(inner) for inner in one.values() if isinstance(inner, str)]
                        if len(texts) == 1:
                            yield Cell(texts[0], 0, label)
                    elif not isinstance(one, dict | list):
                        yield Cell(_words(one), 0, label)
            elif not isinstance(each, dict) and each is not None:
                yield Cell(_words(each), 0, label)


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
    if isinstance(value, bool):
        return "yes" if value else "no"
    return "" if value is None else str(value).strip()
