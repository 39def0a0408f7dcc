"""Where each key of a TOML text stands, so that a mistake can be pointed at by line."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator

Path = tuple[str | int, ...]

_HEADER = re.compile(r"^\s*(\[\[?)\s*([^\[\]]+?)\s*\]\]?\s*(?:#.*)?$")
_KEY = re.compile(
    r"""^\s*((?:[A-Za-z0-9_-]+|"[^"]*"|'[^']*')(?:\s*\.\s*(?:[A-Za-z0-9_-]+|"[^"]*"|'[^']*'))*)\s*=\s*(.*)$"""
)
_QUOTED = re.compile(r'"(?:[^"\\]|\\.)*"|\'[^\']*\'')


def key_lines(text: str) -> dict[Path, int]:
    """The line number, from 1, of every table header, key and item of an array written over several lines."""
    found: dict[Path, int] = {}
    counts: Counter[Path] = Counter()
    table: Path = ()
    lines = iter(enumerate(text.splitlines(), 1))
    for number, line in lines:
        if header := _HEADER.match(line):
            table = _dotted(header[2])
            if header[1] == "[[":
                counts[table] += 1
                table = (*table, counts[table] - 1)
            found.setdefault(table, number)
        elif pair := _KEY.match(line):
            path = (*table, *_dotted(pair[1]))
            found.setdefault(path, number)
            _read_on(path, pair[2], lines, found)
    return found


def line_of(path: Path, lines: dict[Path, int]) -> int | None:
    """The line of `path`, or of the nearest thing around it."""
    while path and path not in lines:
        path = path[:-1]
    return lines.get(path)


def _dotted(text: str) -> Path:
    return tuple(part.strip().strip("\"'") for part in re.findall(r"\"[^\"]*\"|'[^']*'|[^.]+", text))


def _read_on(path: Path, value: str, lines: Iterator[tuple[int, str]], found: dict[Path, int]) -> None:
    for mark in ('"""', "'''"):
        if value.startswith(mark):
            while mark not in value[3:]:
                value = "   " + next(lines, (0, mark))[1]
            return
    depth, item = _depth(value), 0
    while depth > 0:
        number, line = next(lines, (0, ""))
        if not number:
            return
        if depth == 1 and re.match(r"\s*[{\"']", line):
            found[(*path, item)] = number
            item += 1
        depth += _depth(line)


def _depth(line: str) -> int:
    bare = _QUOTED.sub("", line).split("#", 1)[0]
    return bare.count("[") + bare.count("{") - bare.count("]") - bare.count("}")
