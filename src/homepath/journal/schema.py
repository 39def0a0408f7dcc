"""The journal's file: its tables, how an older one is brought up to date, and how two commands share it."""

from __future__ import annotations

import sqlite3
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from homepath.core.message import msg, reason
from homepath.core.model.problems import BadInput, Problem

FILE = "homepath.journal"
VERSION = 4
READABLE_FROM = 3
"""The oldest version of this program's journal code that may read and write what this one writes."""
PATIENCE = 10.0
"""Seconds that one command waits for another."""

_STEPS = (
    # version 1: checks, contents, changes
    """
create table looks (id integer primary key, at real not null, kind text not null, domain text not null,
  verdict text not null, body text not null);
create index looks_by_kind on looks (domain, kind, at);
create table contents (id integer primary key, name text not null, type text not null, ttl integer not null,
  "values" text not null, first_at real not null, last_at real not null);
create index contents_by_key on contents (name, type, last_at);
create table changes (id integer primary key, at real not null, domain text not null, words text not null,
  body text not null);
""",
    # version 2: every answer as it came, verdicts as they changed, what the parent said
    """
alter table contents add column source text not null default 'zone';
create table heard (id integer primary key, at real not null, domain text not null, name text not null,
  type text not null, vantage text not null, role text not null, answer text not null);
create index heard_by_time on heard (domain, at);
create table verdicts (id integer primary key, at real not null, domain text not null, name text not null,
  type text not null, verdict text not null, settled_by real);
create index verdicts_by_key on verdicts (domain, name, type, id);
create table facts (name text primary key, value integer not null);
""",
    # version 3: checks in a format of their own, what the person said, and the steps at the last assessment
    """
alter table looks add column stored text not null default '';
create table told (id integer primary key, at real not null, domain text not null, step text not null);
insert into told (at, domain, step) select at, domain, verdict from looks where kind = 'done';
create table steps (domain text not null, id text not null, stored text not null, primary key (domain, id));
""",
    # version 4: an update is noted before it goes out, and what became of it afterwards
    """
alter table changes add column state text not null default 'sent';
""",
)


@contextmanager
def connected(folder: Path) -> Iterator[sqlite3.Connection]:
    """The journal's file of `folder`, made or brought up to date. Raises BadInput when it cannot be used."""
    path = folder / FILE
    try:
        connection = sqlite3.connect(path, timeout=PATIENCE, isolation_level=None)
    except sqlite3.Error as error:
        raise _unusable(path, error) from error
    try:
        write_ahead(connection)
        prepare(connection, str(path))
        yield connection
    except sqlite3.Error as error:
        raise _unusable(path, error) from error
    finally:
        connection.close()


@contextmanager
def transaction(connection: sqlite3.Connection) -> Iterator[None]:
    """One write as a whole. The lock is taken first, so that what is read inside is still true when it is written."""
    connection.execute("begin immediate")
    try:
        yield
    except BaseException:
        connection.execute("rollback")
        raise
    connection.execute("commit")


def prepare(connection: sqlite3.Connection, place: str = "") -> None:
    """The tables as this version has them. `place`: the file's name, for people. Raises BadInput, sqlite3.Error."""
    connection.execute("pragma synchronous = normal")
    if _version(connection) == VERSION:
        return
    with transaction(connection):
        version = _version(connection)
        if version > VERSION:
            _check_readable(connection, place)
            return
        for step in _STEPS[version:]:
            for statement in step.split(";\n"):
                if statement.strip():
                    connection.execute(statement)
        connection.execute("insert or replace into facts values ('readable_from', ?)", (READABLE_FROM,))
        connection.execute(f"pragma user_version = {VERSION}")


def _version(connection: sqlite3.Connection) -> int:
    (version,) = connection.execute("pragma user_version").fetchone()
    return int(version)


def _check_readable(connection: sqlite3.Connection, place: str) -> None:
    """A newer journal may still say that this version can use it: tables were only added."""
    try:
        row = connection.execute("select value from facts where name = 'readable_from'").fetchone()
    except sqlite3.OperationalError:
        row = None
    if row is None or row[0] > VERSION:
        raise BadInput(Problem(msg("schema.check-readable"), place or None, hint=msg("schema.check-readable.hint")))


def write_ahead(connection: sqlite3.Connection) -> None:
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
    return BadInput(Problem(msg("schema.unusable", error=reason(error)), str(path), hint=msg("schema.unusable.hint")))
