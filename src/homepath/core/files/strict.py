"""Strict reading of the TOML files people write: every problem at once, each with file, line, key and hint.

A file's form is a table of small readers. A reader takes a value, the path to it and the report; it returns the value
as wanted, or adds to the report and returns None. Written here because start-up time decides (a validation library
took a third of the time of `homepath plan`).
"""

from __future__ import annotations

import difflib
import re
import tomllib
from collections import Counter
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from homepath.core.message import Text, msg, reason
from homepath.core.model.problems import BadInput, Problem

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


@dataclass(slots=True)
class Report:
    """The problems of one file as they are found, and the lines of its keys."""

    file: str
    lines: dict[Path, int]
    problems: list[Problem] = field(default_factory=list)

    def line(self, path: Path) -> int:
        return line_of(path, self.lines) or 1

    def add(self, path: Path, message: Text, seen: object = None, hint: Text | None = None) -> None:
        shown = None if seen is None else repr(seen)[:80]
        self.problems.append(Problem(message, self.file, self.line(path), _dotted_strict(path), shown, hint))


Reader = Callable[[Any, Path, Report], Any]
Check = Callable[[str], Any]
"""Takes a text and returns what it means, or raises ValueError with a sentence."""

_NO_DEFAULT = object()


@dataclass(frozen=True, slots=True)
class Field:
    """A key of a table; without a default it must be there."""

    read: Reader
    default: Any = _NO_DEFAULT


def text(check: Check = lambda words: words) -> Reader:
    """A text in quotes that passes `check`."""

    def read(value: Any, path: Path, report: Report) -> Any:
        if not isinstance(value, str):
            return report.add(path, msg("strict.text"), value)
        try:
            return check(value)
        except ValueError as error:
            return report.add(path, reason(error), value)

    return read


def one_of(*words: str | int) -> Reader:
    def read(value: Any, path: Path, report: Report) -> Any:
        if value in words and not isinstance(value, bool):
            return value
        return report.add(path, msg("strict.one-of", words=tuple(map(repr, words))), value)

    return read


def number(least: float, most: float, whole: bool = True) -> Reader:
    kind = msg("strict.number.kind") if whole else "a number"

    def read(value: Any, path: Path, report: Report) -> Any:
        if (
            isinstance(value, bool)
            or not isinstance(value, int if whole else int | float)
            or not least <= value <= most
        ):
            return report.add(path, msg("strict.number", kind=kind, least=least, most=most), value)
        return value

    return read


def yes_no(value: Any, path: Path, report: Report) -> Any:
    return value if isinstance(value, bool) else report.add(path, msg("strict.yes-no"), value)


def list_of(item: Reader, least: int = 0) -> Reader:
    """A list whose items all pass; comes back as a tuple."""

    def read(value: Any, path: Path, report: Report) -> Any:
        if not isinstance(value, list):
            return report.add(path, msg("strict.list-of"), value)
        if len(value) < least:
            return report.add(path, msg("strict.list-of-2"), value, msg("strict.list-of-3"))
        return tuple(item(each, (*path, at), report) for at, each in enumerate(value))

    return read


def map_of(item: Reader, key: Check = lambda words: words) -> Reader:
    """A table with keys of one's own choosing."""

    def read(value: Any, path: Path, report: Report) -> Any:
        if not isinstance(value, dict):
            return report.add(path, msg("site-rows.read-list"), value)
        found = {}
        for name, each in value.items():
            try:
                found[key(name)] = item(each, (*path, name), report)
            except ValueError as error:
                report.add((*path, name), reason(error))
        return found

    return read


def table(make: Callable[..., Any], fields: Mapping[str, Field], line: bool = False) -> Reader:
    """A table of known keys, handed to `make` by name; with `line`, its line number too.

    `make` may raise ValueError to refuse a combination.
    """

    def read(value: Any, path: Path, report: Report) -> Any:
        if not isinstance(value, dict):
            return report.add(path, msg("site-rows.read-list"), value)
        count = len(report.problems)
        for name in value:
            if name not in fields:
                report.add((*path, name), msg("strict.table"), hint=_nearest(name, list(fields)))
        found = {}
        for name, each in fields.items():
            if name in value:
                found[name] = each.read(value[name], (*path, name), report)
            elif each.default is _NO_DEFAULT:
                report.add((*path, name), msg("strict.table-2"))
            else:
                found[name] = each.default
        if len(report.problems) > count:
            return None
        try:
            return make(**found, **({"line": report.line(path)} if line else {}))
        except ValueError as error:
            return report.add(path, reason(error))

    return read


BIGGEST = 1_000_000
"""Octets of a file that is written by hand."""


def read_file(words: str, file: str, form: Reader, format_name: str, most: int = BIGGEST) -> Any:
    """Read a whole file by its form. Raises BadInput holding every problem found. `most`: octets that it may have."""
    _check_size(words, file, most)
    try:
        data = tomllib.loads(words)
    except tomllib.TOMLDecodeError as error:
        raise BadInput(_syntax(error, words, file)) from error
    except (ValueError, RecursionError) as error:
        raise BadInput(Problem(msg("strict.read-file"), file)) from error
    report = Report(file, key_lines(words))
    format_found = data.pop("format", None)
    if format_found != format_name:
        hint = msg("strict.read-file.hint", format_name=format_name)
        report.add(("format",), msg("strict.read-file-2", format_name=format_name), format_found or "nothing", hint)
        raise BadInput(*report.problems)
    found = form(data, (), report)
    if report.problems:
        raise BadInput(*sorted(report.problems, key=lambda problem: problem.line or 0))
    return found


DEEPEST = 8
"""Parts of a dotted key, and brackets inside each other."""
_BETWEEN = re.compile(r"[=\[\]{},]")
"""What separates keys and values; each character is checked once."""
_KEY_strict = re.compile(r"[\w-]+(?:[ \t]*\.[ \t]*[\w-]+)*")
LONGEST_LINE = 10_000
_LONG_NUMBER = re.compile(r"[0-9_]{40,}")
_STRINGS = re.compile(r'"(?:[^"\\\n]|\\.)*"|\'[^\'\n]*\'|#[^\n]*')


def _check_size(words: str, file: str, most: int) -> None:
    """What would cost a parser more than a hand-written file may. Raises BadInput."""
    if len(words) > most:
        raise BadInput(Problem(msg("strict.check-size", most=most // 1000000), file))
    deep = 0
    for number, line in _outside_long_texts(words):
        if len(line) > LONGEST_LINE:
            raise BadInput(Problem(msg("strict.check-size-2", count_line=len(line)), file, number))
        bare = _STRINGS.sub("", line)
        if any(part.count(".") >= DEEPEST and _KEY_strict.fullmatch(part.strip()) for part in _BETWEEN.split(bare)):
            raise BadInput(Problem(msg("strict.check-size-3", DEEPEST=DEEPEST), file, number, seen=line[:60]))
        if _LONG_NUMBER.search(bare):
            raise BadInput(Problem(msg("strict.check-size-4"), file, number))
        deep = max(0, deep + bare.count("[") + bare.count("{") - bare.count("]") - bare.count("}"))
        if deep > DEEPEST or bare.count("[") > 200 or bare.count("{") > 200:
            raise BadInput(Problem(msg("strict.check-size-5", DEEPEST=DEEPEST), file, number))


def _outside_long_texts(words: str) -> Iterator[tuple[int, str]]:
    """The lines with their numbers, without those inside texts of several lines."""
    inside = ""
    for number, line in enumerate(words.splitlines(), 1):
        if inside:
            inside = "" if inside in line else inside
            continue
        for mark in ('"""', "'''"):
            if line.count(mark) % 2:
                inside, line = mark, line.partition(mark)[0]
                break
        yield number, line


def _syntax(error: tomllib.TOMLDecodeError, words: str, file: str) -> Problem:
    place = re.search(r"line (\d+)", str(error))
    line = int(place[1]) if place else max(1, len(words.splitlines()))
    detail = str(error).split(" (at")[0]
    return Problem(
        msg("strict.syntax", lower=detail[:1].lower(), said=detail[1:]), file, line, hint=msg("strict.syntax.hint")
    )


def _dotted_strict(path: Path) -> str:
    words = ""
    for part in path:
        words += f"[{part + 1}]" if isinstance(part, int) else f".{part}" if words else part
    return words


def _nearest(key: str, known: list[str]) -> Text | None:
    near = difflib.get_close_matches(key, known, 1, 0.6)
    return msg("strict.nearest", near=near[0]) if near else msg("strict.nearest-2", known=tuple(known))
