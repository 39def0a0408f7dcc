"""A journal in memory, and as octets: that of one domain of a list, where a file for each would be a million files.

The octets are the columns of its tables, compressed: a third of what SQLite's own pages and indexes take.
"""

from __future__ import annotations

import json
import sqlite3
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache

from homepath.core.message import Text, msg
from homepath.core.model.problems import BadInput, Problem
from homepath.core.observe.watch import REMEMBERED
from homepath.journal.journal import Journal
from homepath.journal.schema import prepare, transaction

SQLITE = b"SQLite format 3\x00"
"""How a journal begins that an earlier version packed: as SQLite's own pages."""

MOST_PACKED = 16_000_000
"""Octets of one unpacked journal; more is no journal of ours."""
KEPT_WATCHES = 2
"""Checks of `watch` that are packed whole: a page draws the spread from them. Of other kinds only the last is read;
older ones keep their line."""
KEPT_LINES = 200
"""Lines of checks, the newest, and as many changes of verdicts."""
KEPT_HEARD = 1_000
"""Answers of resolvers and servers, the newest: what a spread is judged by."""
KEPT_CONTENTS = 40
"""Contents of one record set: the first, and the newest."""

_TRIM = (
    (
        "update looks set stored = '' where stored != '' and kind != 'hsts' and id in (select id from (select id,"
        " row_number() over (partition by kind, domain order by id desc) as place from looks)"
        " where place > case kind when 'watch' then ? else 1 end)",
        KEPT_WATCHES,
    ),
    (
        "delete from looks where id <= (select max(id) from looks) - ? and stored = ''"
        " and kind not in ('transfer', 'whole', 'visit', 'job', 'world')",
        KEPT_LINES,
    ),
    ("delete from verdicts where id <= (select max(id) from verdicts) - ?", KEPT_LINES),
    ("delete from heard where id <= (select max(id) from heard) - ?", KEPT_HEARD),
    # what no check reads any more; not the newest, since a clock that jumped makes them look old
    (
        "delete from heard where at < (select max(at) from heard) - ? and id <= (select max(id) from heard) - 100",
        REMEMBERED,
    ),
    (
        "delete from contents where id in (select id from (select id,"
        " row_number() over (partition by name, type, source order by id desc) as late,"
        " row_number() over (partition by name, type, source order by id) as early from contents)"
        " where late > ? and early > 1)",
        KEPT_CONTENTS,
    ),
)


class Packed:
    """The journal of one domain. `octets`: as `packed` gave them, None for one that knows nothing yet.

    Raises BadInput for what cannot be used.
    """

    def __init__(self, octets: bytes | None = None) -> None:
        self._db = sqlite3.connect(":memory:", isolation_level=None)
        try:
            whole = None if octets is None else _unpacked(octets)
            self._db.deserialize(whole if whole is not None and whole.startswith(SQLITE) else _empty())
            prepare(self._db)
            if whole is not None and not whole.startswith(SQLITE):
                _fill(self._db, whole)
        except (sqlite3.Error, ValueError, TypeError, KeyError, AttributeError, RecursionError) as error:
            raise _unusable(str(error)) from error
        self._before = self._db.total_changes

    @property
    def changed(self) -> bool:
        """Whether anything was written to it."""
        return self._db.total_changes != self._before

    @contextmanager
    def open(self) -> Iterator[Journal]:
        """The journal, for one piece of work."""
        try:
            yield Journal(self._db)
        except sqlite3.Error as error:
            raise _unusable(str(error)) from error

    def packed(self) -> bytes:
        """The journal as octets, bounded: what is old and long is left out first."""
        for statement, most in _TRIM:
            self._db.execute(statement, (most,))
        columns = {
            table: dict(zip(names, zip(*self._db.execute(f"select * from {table}"), strict=True), strict=False))  # noqa: S608
            for table, names in _columns(self._db).items()
        }
        return zlib.compress(json.dumps(columns, separators=(",", ":")).encode(), 6)

    def close(self) -> None:
        self._db.close()


def _unpacked(octets: bytes) -> bytes:
    """Raises BadInput for what is no packed journal."""
    unpacker = zlib.decompressobj()
    try:
        found = unpacker.decompress(octets, MOST_PACKED)
    except zlib.error as error:
        raise _unusable(str(error)) from error
    if not unpacker.eof:
        raise _unusable(msg("packed.unpacked"))
    return found


def _columns(db: sqlite3.Connection) -> dict[str, list[str]]:
    """The names of each table's columns."""
    tables = db.execute("select name from sqlite_master where type = 'table' and name not like 'sqlite_%'").fetchall()
    return {table: [row[1] for row in db.execute(f"pragma table_info({table})")] for (table,) in tables}


def _fill(db: sqlite3.Connection, whole: bytes) -> None:
    """Every column that the tables have; one that was not packed keeps its default."""
    found = json.loads(whole)
    insert = "insert or replace into {} ({}) values ({})"
    with transaction(db):
        for table, names in _columns(db).items():
            there = [name for name in names if found.get(table, {}).get(name)]
            words = ", ".join(f'"{name}"' for name in there)
            rows = zip(*(found[table][name] for name in there), strict=True)
            if there:
                db.executemany(insert.format(table, words, ", ".join("?" * len(there))), rows)


@cache
def _empty() -> bytes:
    """A journal with its tables and nothing in them."""
    with sqlite3.connect(":memory:", isolation_level=None) as made:
        made.execute("pragma page_size = 1024")
        prepare(made)
        return made.serialize()


def _unusable(why: Text) -> BadInput:
    return BadInput(Problem(msg("packed.unusable", why=why), hint=msg("packed.unusable.hint")))
