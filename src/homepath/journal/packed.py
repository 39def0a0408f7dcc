"""A journal in memory, and as octets: that of one domain of a list, where a file for each would be a million files."""

from __future__ import annotations

import sqlite3
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache

from homepath.core.message import Text, msg
from homepath.core.model.problems import BadInput, Problem
from homepath.journal.journal import Journal
from homepath.journal.schema import prepare

MOST_PACKED = 16_000_000
"""Octets of one unpacked journal; more is no journal of ours."""
KEPT_LOOKS = 2
"""Checks of one kind that are packed whole; older ones keep their line."""
KEPT_LINES = 200
"""Lines of checks, the newest, and as many changes of verdicts."""
KEPT_HEARD = 1_000
"""Answers of resolvers and servers, the newest: what a spread is judged by."""
KEPT_CONTENTS = 40
"""Contents of one record set: the first, and the newest."""

_TRIM = (
    (
        "update looks set stored = '' where stored != '' and kind != 'hsts' and id not in (select id from (select id,"
        " row_number() over (partition by kind, domain order by id desc) as place from looks) where place <= ?)",
        KEPT_LOOKS,
    ),
    (
        "delete from looks where id <= (select max(id) from looks) - ? and stored = ''"
        " and kind not in ('transfer', 'whole', 'visit', 'job', 'world')",
        KEPT_LINES,
    ),
    ("delete from verdicts where id <= (select max(id) from verdicts) - ?", KEPT_LINES),
    ("delete from heard where id <= (select max(id) from heard) - ?", KEPT_HEARD),
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
            self._db.deserialize(_empty() if octets is None else _unpacked(octets))
            prepare(self._db)
        except sqlite3.Error as error:
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
        free, pages = (self._db.execute(f"pragma {what}").fetchone()[0] for what in ("freelist_count", "page_count"))
        if free * 3 > pages:
            self._db.execute("vacuum")
        return zlib.compress(self._db.serialize(), 6)

    def close(self) -> None:
        self._db.close()


def _unpacked(octets: bytes) -> bytes:
    """Raises BadInput for what is no packed journal."""
    unpacker = zlib.decompressobj()
    try:
        found = unpacker.decompress(octets, MOST_PACKED)
    except zlib.error as error:
        raise _unusable(str(error)) from error
    if not unpacker.eof or not found.startswith(b"SQLite format 3\x00"):
        raise _unusable(msg("packed.unpacked"))
    return found


@cache
def _empty() -> bytes:
    """A journal with its tables and nothing in them."""
    with sqlite3.connect(":memory:", isolation_level=None) as made:
        made.execute("pragma page_size = 1024")
        prepare(made)
        return made.serialize()


def _unusable(why: Text) -> BadInput:
    return BadInput(Problem(msg("packed.unusable", why=why), hint=msg("packed.unusable.hint")))
