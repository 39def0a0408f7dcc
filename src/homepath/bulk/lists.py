"""The list: a folder of site files, a CSV table, or a TOML file; read as a stream, one site after another."""

from __future__ import annotations

import hashlib
import json
import tomllib
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any, TypeVar

from homepath.core.dns.names import Name, absolute
from homepath.core.files.brief_file import read_brief
from homepath.core.files.site_file import SITE_FILE, read_notation, read_site
from homepath.core.files.site_rows import Row, read_list, read_table, site_of
from homepath.core.message import msg, reason
from homepath.core.model.brief import NO_NOTATION, Brief, Notation, Site, unwritten_notation
from homepath.core.model.problems import BadInput, Problem
from homepath.core.site.wanted import work_out
from homepath.files import read_text
from homepath.journal.schema import FILE

MOST_FOLDERS = 6
"""How deep site files are searched for."""


@dataclass(frozen=True, slots=True)
class Listed:
    """One site of a list. `place`: file and row, for people; `data`: the keys of its site file; `folder`: where its
    brief is searched for; `file`: its own site file, "" for a row of a table; `own`: a journal is next to that file."""

    domain: Name
    place: str
    data: str
    folder: str
    file: str = ""
    own: bool = False
    carried: str = ""
    """The owner's own columns, as JSON; "" without any."""


T = TypeVar("T", Brief, Notation)
_Named = tuple[Path, Callable[[Path], Brief | Notation]]


@dataclass(slots=True)
class NamedFiles:
    """Briefs and notations by their files, each read once, mistakes included."""

    _read: dict[Path, Any] = field(default_factory=dict)
    _named: dict[tuple[str, ...], list[_Named]] = field(default_factory=dict)
    _fingerprints: dict[tuple[str, ...], str] = field(default_factory=dict)

    @property
    def paths(self) -> list[str]:
        """The files that were read, or tried."""
        return sorted(map(str, self._read))

    def fingerprint(self, listed: Listed, decided: str = "") -> str:
        """A digest of what is wanted of a site: its row, and the content of the files that it names."""
        names = _names(listed, decided)
        if names not in self._fingerprints:
            self._fingerprints[names] = _short(
                *(repr(self._either(path, read)) for path, read in self._named_files(names))
            )
        return _short(listed.data, decided, self._fingerprints[names])

    def named_by(self, sites: Iterable[tuple[Listed, str]]) -> NamedFiles:
        """Only the files that these sites name, read here for processes that cannot read them."""
        found = NamedFiles()
        for names in {_names(*site) for site in sites}:
            for path, read in self._named_files(names):
                found._read[path] = self._either(path, read)
        return found

    def _named_files(self, names: tuple[str, ...]) -> list[_Named]:
        """The files that a row names, and how each is read."""
        if names not in self._named:
            folder, brief, *notations = names
            found: list[_Named] = [(Path(folder, brief), self.brief)] if brief else []
            self._named[names] = found + [(Path(folder, name), self.notation) for name in notations if name]
        return self._named[names]

    def _either(self, path: Path, read: Callable[[Path], Brief | Notation]) -> Any:
        """The paper, or what is wrong with it."""
        with suppress(BadInput):
            return read(path)
        return self._read[path]

    def brief(self, path: Path) -> Brief:
        """Raises BadInput."""
        return self._once(path, lambda: read_brief(read_text(path, "the brief"), path.name))

    def notation(self, path: Path) -> Notation:
        """Raises BadInput."""
        return self._once(path, lambda: read_notation(read_text(path, "the notation"), path.name))

    def _once(self, path: Path, read: Callable[[], T]) -> T:
        if path not in self._read:
            try:
                self._read[path] = read()
            except BadInput as error:
                self._read[path] = error
        found: T | BadInput = self._read[path]
        if isinstance(found, BadInput):
            raise found
        return found


def _names(listed: Listed, decided: str) -> tuple[str, ...]:
    """The folder of a row, and the files that it names there, or what was decided meanwhile: the brief, the notation,
    and that of a new host."""
    if decided:
        with suppress(BadInput):
            site = read_site(decided, listed.place)
            return listed.folder, site.brief, site.notation or "", site.move.to if site.move else ""
    data = json.loads(listed.data)
    move = data.get("move")
    named = (data.get("brief"), data.get("notation"), move.get("to") if isinstance(move, dict) else None)
    return listed.folder, *(name if isinstance(name, str) else "" for name in named)


def _short(*texts: str) -> str:
    return hashlib.blake2b("\n".join(texts).encode(), digest_size=8).hexdigest()


@dataclass(frozen=True, slots=True)
class SiteFiles:
    """A site with its brief and notations, as a check needs them."""

    site: Site
    brief: Brief
    notation: Notation = NO_NOTATION
    new_notation: Notation = NO_NOTATION


def site_files_of(listed: Listed, named_files: NamedFiles, decided: str = "") -> SiteFiles:
    """Everything that a site's row names, read strictly; `decided`: the site file that a person's decisions made of it,
    "" where the row says it all. Raises BadInput."""
    site = read_site(decided, listed.place) if decided else site_of(json.loads(listed.data))
    folder = Path(listed.folder)
    problems: list[Problem] = []

    def beside(name: str, read: Any, otherwise: Any) -> Any:
        if not name:
            return otherwise
        try:
            return read(folder / name)
        except BadInput as error:
            problems.extend(replace(problem, file=name) for problem in error.problems)
            return otherwise

    brief = beside(site.brief, named_files.brief, Brief(""))
    notation = beside(site.notation or "", named_files.notation, unwritten_notation(site))
    new_notation = beside(site.move.to if site.move else "", named_files.notation, NO_NOTATION)
    if problems:
        raise BadInput(*problems)
    return SiteFiles(site, brief, notation, new_notation)


def checked(listed: Listed, named_files: NamedFiles) -> list[Problem]:
    """What is wrong with a row, with row and column."""
    try:
        files = site_files_of(listed, named_files)
        unknown = set(files.site.values) - {value.name for value in files.brief.asked}
        if unknown and not listed.file:
            known = ", ".join(value.name for value in files.brief.asked) or "no values"
            return [
                Problem(msg("lists.checked"), listed.place, key=name, hint=msg("lists.checked.hint", known=known))
                for name in sorted(unknown)
            ]
        work_out(files.site, files.brief, files.notation, None)
    except BadInput as error:
        return [_placed(problem, listed.place) for problem in error.problems]
    return []


def _placed(problem: Problem, place: str) -> Problem:
    """A problem at its row, whatever file it names."""
    message = problem.message
    if problem.file and not place.startswith(problem.file):
        message = msg("place", place=problem.file, message=message)
    return Problem(message, place, None, problem.key, problem.seen, problem.hint)


def listed_in(path: Path) -> Iterator[Listed | list[Problem]]:
    """The sites of a list, and in the place of a bad row its problems. Raises BadInput where there is no list."""
    if path.is_dir():
        yield from _in_folder(path)
    elif path.suffix.lower() == ".toml":
        listed = read_list(read_text(path, "the list"), str(path))
        if listed.csv_file is not None:
            yield from _in_csv(path.parent / listed.csv_file, listed.defaults, listed.carry)
        yield from _rows(iter(listed.rows), path)
    else:
        yield from _in_csv(path, {}, ())


def check_list(path: Path) -> None:
    """Raises BadInput where there is no list, before anything is written beside it."""
    try:
        there = path.exists()
    except (OSError, ValueError):
        there = False
    if not there:
        raise BadInput(Problem(msg("lists.check-list"), str(path)))
    next(listed_in(path), None)


def _in_csv(path: Path, defaults: Mapping[str, Any], carry: Collection[str]) -> Iterator[Listed | list[Problem]]:
    if path.exists() and not path.is_file():
        raise BadInput(Problem(msg("lists.no-file"), str(path)))
    try:
        with path.open(encoding="utf-8-sig", newline="", errors="surrogateescape") as lines:
            yield from _rows(read_table(_bounded(lines), str(path), defaults, carry), path)
    except FileNotFoundError as error:
        raise BadInput(Problem(msg("lists.check-list"), str(path))) from error
    except OSError as error:
        raise BadInput(Problem(msg("lists.in-csv", strerror=error.strerror), str(path))) from error


def _bounded(lines: Any) -> Iterator[str]:
    """Lines, of which none can fill the memory."""
    while line := lines.readline(100_000):
        yield line


def _rows(rows: Iterator[Row | list[Problem]], path: Path) -> Iterator[Listed | list[Problem]]:
    folder = str(path.resolve().parent)
    for row in rows:
        if not isinstance(row, Row):
            yield [Problem(p.message, f"{p.file}, row {p.line}", None, p.key, p.seen, p.hint) for p in row]
            continue
        place = f"{path}, row {row.line}"
        domain = row.data.get("domain")
        try:
            name = absolute(domain.strip()) if isinstance(domain, str) else ""
            data = json.dumps(row.data, sort_keys=True, default=str)
            carried = json.dumps(row.carried, sort_keys=True) if row.carried else ""
            (data + "".join(row.carried.values())).encode("utf-8")
        except UnicodeEncodeError:
            yield [Problem(msg("lists.rows-2"), place, hint=msg("lists.rows.hint"))]
            continue
        except ValueError as error:
            yield [Problem(reason(error), place, key="domain", seen=str(domain)[:80])]
            continue
        if not name or name == ".":
            yield [Problem(msg("lists.rows-3"), place, key="domain")]
            continue
        yield Listed(name, place, data, folder, carried=carried)


def _in_folder(folder: Path) -> Iterator[Listed | list[Problem]]:
    """Every `homepath.toml` in the folder or below it, and other site files in the folder itself."""
    found = False
    for path in sorted(_site_files(folder)):
        found = True
        if not path.is_file():
            yield [Problem(msg("lists.no-file"), str(path))]
            continue
        try:
            words = read_text(path, msg("file.site"))
            site = read_site(words, str(path))
        except BadInput as error:
            yield list(error.problems)
            continue
        data = tomllib.loads(words)
        data.pop("format", None)
        own = path.name == SITE_FILE and (path.parent / FILE).exists()
        text = json.dumps(data, sort_keys=True, default=str)
        yield Listed(absolute(site.domain), str(path), text, str(path.resolve().parent), str(path.resolve()), own)
    if not found:
        raise BadInput(Problem(msg("lists.in-folder"), str(folder), hint=msg("lists.in-folder.hint")))


def _site_files(folder: Path) -> Iterator[Path]:
    for path in folder.glob("*.toml"):
        if path.name != SITE_FILE and _is_site(path):
            yield path
    levels = "/".join
    for depth in range(MOST_FOLDERS + 1):
        yield from folder.glob(levels([*["*"] * depth, SITE_FILE]))


def _is_site(path: Path) -> bool:
    try:
        if not path.is_file():  # a pipe would hold us
            return False
        with path.open("rb") as file:
            return b"homepath.site/" in file.read(4096)
    except OSError:
        return False


def list_fingerprint(path: Path, named: Sequence[str] = ()) -> str:
    """A fingerprint of the files of a list, by their times and sizes, and of those that it names, which may be missing;
    "" for a folder, which may hold any."""
    if path.is_dir():
        return ""
    files = [path]
    if path.suffix.lower() == ".toml":
        with suppress(BadInput):
            table = read_list(read_text(path, "the list"), str(path)).csv_file
            files += [path.parent / table] if table else []
    try:
        return _short(*(_stamp(each.resolve()) for each in files), *map(_stamp, map(Path, named)))
    except OSError:
        return ""


def _stamp(path: Path) -> str:
    if not path.exists():
        return str(path)
    found = path.stat()
    return f"{path} {found.st_size} {found.st_mtime_ns}"
