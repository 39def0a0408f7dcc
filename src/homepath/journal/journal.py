"""The journal: one SQLite file beside the site file.

`looks` holds each look as its JSON contract, `contents` what the authoritative servers gave from when to when,
`changes` what was sent.
"""

from __future__ import annotations

import json
import sqlite3
import time
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from homepath.core.model.names import Name
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.records import Key, RecordSet

FILE = "homepath.journal"
VERSION = 1
PATIENCE = 10.0
"""Seconds that one command waits for another."""

_SCHEMA = """
create table looks (id integer primary key, at real not null, kind text not null, domain text not null,
  verdict text not null, body text not null);
create index looks_by_kind on looks (domain, kind, at);
create table contents (id integer primary key, name text not null, type text not null, ttl integer not null,
  "values" text not null, first_at real not null, last_at real not null);
create index contents_by_key on contents (name, type, last_at);
create table changes (id integer primary key, at real not null, domain text not null, words text not null,
  body text not null);
"""


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of the log."""

    at: float
    kind: str
    domain: Name
    words: str


@dataclass(frozen=True, slots=True)
class Look:
    """One look as its JSON contract."""

    at: float
    body: dict[str, Any]


@dataclass(frozen=True, slots=True)
class Content:
    """What a record set was at the authoritative servers, from when to when. No values: it was missing."""

    record: RecordSet
    first_at: float
    last_at: float


class Journal:
    """Opened for one command. Each write is one transaction; two commands at once wait for each other."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        self._db = connection

    def record_look(self, at: float, kind: str, domain: Name, verdict: str, body: dict[str, Any]) -> None:
        """Keep a look as its JSON contract."""
        with _transaction(self._db):
            self._db.execute(
                "insert into looks (at, kind, domain, verdict, body) values (?, ?, ?, ?, ?)",
                (at, kind, domain, verdict, json.dumps(body)),
            )

    def last_look(self, kind: str, domain: Name) -> Look | None:
        row = self._db.execute(
            "select at, body from looks where kind = ? and domain = ? order by id desc limit 1", (kind, domain)
        ).fetchone()
        return Look(row[0], json.loads(row[1])) if row else None

    def record_contents(self, at: float, sets: Iterable[RecordSet]) -> None:
        """Note what the authoritative servers give; a set that has not changed only gets a later end."""
        with _transaction(self._db):
            for record in sets:
                values = json.dumps(record.values)
                last = self._db.execute(
                    'select id, "values", ttl from contents where name = ? and type = ? order by id desc limit 1',
                    record.key,
                ).fetchone()
                if last and last[1:] == (values, record.ttl):
                    self._db.execute("update contents set last_at = max(last_at, ?) where id = ?", (at, last[0]))
                else:
                    self._db.execute(
                        'insert into contents (name, type, ttl, "values", first_at, last_at) values (?, ?, ?, ?, ?, ?)',
                        (*record.key, record.ttl, values, at, at),
                    )

    def contents(self, domain: Name) -> list[Content]:
        """The past of every record set of `domain`, oldest first."""
        rows = self._db.execute(
            'select name, type, ttl, "values", first_at, last_at from contents'
            " where name = ? or substr(name, -length(?)) = ? order by id",
            (domain, f".{domain}", f".{domain}"),
        )
        return [
            Content(RecordSet(name, rrtype, ttl, tuple(json.loads(values))), first, last)
            for name, rrtype, ttl, values, first, last in rows
        ]

    def record_change(self, at: float, domain: Name, words: str, body: dict[str, Any]) -> None:
        """Keep what was sent, with what stood there before."""
        with _transaction(self._db):
            self._db.execute(
                "insert into changes (at, domain, words, body) values (?, ?, ?, ?)",
                (at, domain, words, json.dumps(body)),
            )

    def marks(self, domain: Name) -> frozenset[str]:
        """The kinds of steps that a person has marked as done."""
        rows = self._db.execute("select verdict from looks where kind = 'done' and domain = ?", (domain,))
        return frozenset(row[0] for row in rows)

    def entries(self, domain: Name) -> list[Entry]:
        """Everything recorded, oldest first."""
        rows = self._db.execute(
            "select at, kind, domain, verdict from looks where domain = ? "
            "union all select at, 'send', domain, words from changes where domain = ? order by at",
            (domain, domain),
        )
        return [Entry(*row) for row in rows]


def changed_at(contents: list[Content], key: Key, wanted: RecordSet | None) -> float | None:
    """The latest moment at which the servers can still have given something else than `wanted`.

    That is when the wanted content was first seen, if anything else was seen before it; `wanted` None: when the set
    was first seen to be gone.
    """
    past = [each for each in contents if each.record.key == key]
    for at in range(len(past) - 1, -1, -1):
        meanings = past[at].record.meanings
        same = (wanted.meanings <= meanings) if wanted else not meanings
        if not same:
            return past[at + 1].first_at if at + 1 < len(past) else None
    return None


@contextmanager
def open_journal(folder: Path) -> Iterator[Journal]:
    """The journal of `folder`, made when missing. Raises BadInput when it cannot be used."""
    path = folder / FILE
    try:
        connection = sqlite3.connect(path, timeout=PATIENCE, isolation_level=None)
    except sqlite3.Error as error:
        raise _unusable(path, error) from error
    try:
        _prepare(connection, path)
        yield Journal(connection)
    except sqlite3.Error as error:
        raise _unusable(path, error) from error
    finally:
        connection.close()


@contextmanager
def _transaction(connection: sqlite3.Connection) -> Iterator[None]:
    """One write as a whole. The lock is taken first, so that what is read inside is still true when it is written."""
    connection.execute("begin immediate")
    try:
        yield
    except BaseException:
        connection.execute("rollback")
        raise
    connection.execute("commit")


def _prepare(connection: sqlite3.Connection, path: Path) -> None:
    _write_ahead(connection)
    connection.execute("pragma synchronous = normal")
    (version,) = connection.execute("pragma user_version").fetchone()
    if version == VERSION:
        return
    with _transaction(connection):
        (version,) = connection.execute("pragma user_version").fetchone()
        if version > VERSION:
            raise BadInput(
                Problem("the journal was written by a newer version of Home Path", str(path), hint="update Home Path")
            )
        if version == 0:
            for statement in _SCHEMA.split(";\n"):
                if statement.strip():
                    connection.execute(statement)
            connection.execute(f"pragma user_version = {VERSION}")


def _write_ahead(connection: sqlite3.Connection) -> None:
    """Switch to write-ahead logging. The switch itself does not wait for another command, so it is tried again."""
    ends = time.monotonic() + PATIENCE
    while True:
        try:
            connection.execute("pragma journal_mode = wal")
            return
        except sqlite3.OperationalError as error:
            if "locked" not in str(error) or time.monotonic() > ends:
                raise
            time.sleep(0.05)


def _unusable(path: Path, error: sqlite3.Error) -> BadInput:
    return BadInput(
        Problem(
            f"the journal cannot be used: {error}",
            str(path),
            hint="the folder must be writable and have space; if the file is damaged, move it away",
        )
    )
