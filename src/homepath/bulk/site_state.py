"""What is kept of a site of a list, and what changed there."""

from __future__ import annotations

import hashlib
import json
import sqlite3
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any, get_args

from homepath.bulk.lists import Listed
from homepath.core.contracts.many import Verdict, summary_of
from homepath.core.dns.names import Name
from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import rfc3339
from homepath.journal.schema import transaction

KEPT_FOR = 400 * 86400.0
"""Seconds for which changes and the counts of a day are kept."""
_CHANGES = """
create table changes (id integer primary key, domain text not null, at real not null, key text not null,
  was text not null, now text not null, run integer not null, delivered integer not null default 0);
create index changes_open on changes (delivered, domain);
create index changes_of on changes (domain, at);
create index changes_in on changes (run);
create table days (day text primary key, counts text not null);
"""


@dataclass(frozen=True, slots=True)
class Change:
    """One change of a domain. `was` and `now` as `summary_of` makes them; `was` is None for its first check."""

    domain: Name
    at: float
    key: str
    was: Mapping[str, Any] | None
    now: Mapping[str, Any]


class Changes:
    """The changes in a list's state."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        self._db = connection

    def note(
        self, domain: Name, before: Mapping[str, Any] | None, after: Mapping[str, Any], at: float, run: int
    ) -> None:
        """Keep one change, with a key of its own, by which a receiver drops what it got before."""
        was, now = _text(before), _text(after)
        key = hashlib.blake2b(f"{domain}\n{at!r}\n{was}\n{now}".encode(), digest_size=10).hexdigest()
        self._db.execute(
            "insert into changes (domain, at, key, was, now, run) values (?, ?, ?, ?, ?, ?)",
            (domain, at, key, was, now, run),
        )

    def last(self) -> int:
        """The number of the newest change."""
        (number,) = self._db.execute("select coalesce(max(id), 0) from changes").fetchone()
        return int(number)

    def delivered(self, upto: int, domains: Iterable[Name] | None = None, first_only: bool = False) -> None:
        """Everything up to this number was delivered, of these domains or of all; `first_only`: only the lines of first
        checks."""
        done = "update changes set delivered = 1 where delivered = 0 and id <= ? and (? = 0 or was = '')"
        with transaction(self._db):
            if domains is None:
                self._db.execute(done, (upto, int(first_only)))
            else:
                self._db.executemany(f"{done} and domain = ?", ((upto, int(first_only), each) for each in domains))

    def of(self, domain: Name | None = None, since: float = 0.0, run: int | None = None) -> Iterator[Change]:
        """Changes of one domain, of one run, or of all since a moment, oldest first."""
        columns = "select domain, at, key, was, now from changes"
        if run is not None:
            rows = self._db.execute(f"{columns} where run = ? order by id", (run,))
        elif domain is not None:
            rows = self._db.execute(f"{columns} where domain = ? and at >= ? order by id", (domain, since))
        else:
            rows = self._db.execute(f"{columns} where at >= ? order by id", (since,))
        for name, at, key, was, now in rows:
            yield Change(name, at, key, summary_from(was), summary_from(now) or {})

    def end_day(self, now: float, counts: Mapping[str, int]) -> None:
        """The counts as a run left them: the last run of a day speaks for it."""
        self._db.execute("insert or replace into days values (?, ?)", (rfc3339(now)[:10], json.dumps(counts)))
        self._db.execute("delete from days where day < ?", (rfc3339(now - KEPT_FOR)[:10],))
        self._db.execute("delete from changes where at < ?", (now - KEPT_FOR,))

    def days(self, since: float) -> Iterator[tuple[str, dict[str, int]]]:
        """The counts by verdict of each day on which a run ended, oldest first."""
        for day, text in self._db.execute("select * from days where day >= ? order by day", (rfc3339(since)[:10],)):
            try:
                counts = json.loads(text)
                yield str(day), {word: int(counts.get(word, 0)) for word in get_args(Verdict)}
            except (ValueError, TypeError, AttributeError):  # a damaged row says nothing
                continue


def _text(line: Mapping[str, Any] | None) -> str:
    return json.dumps(summary_of(line), separators=(",", ":")) if line is not None else ""


def summary_from(text: object) -> dict[str, Any] | None:
    """What `summary_of` made; None for anything else."""
    try:
        found = json.loads(text) if isinstance(text, str) and text else None
    except (ValueError, RecursionError):
        return None
    return found if isinstance(found, dict) else None


VERSION = 3
_SITES = """
create table facts (name text primary key, value);
create table runs (id integer primary key, began real not null, words text not null, ended real);
create table sites (domain text primary key, number integer, place text not null, data text not null,
  folder text not null, file text not null, own integer not null, listed integer not null, mix integer not null,
  bad integer not null default 0, run integer not null default 0, turn integer not null default 0,
  line text not null default '', verdict text not null default '', changed integer not null default 0,
  looked_at real, next_look real not null default 0, gone_since real, site text not null default '',
  carried text not null default '') without rowid;
create table packs (domain text primary key, journal blob, recheck blob);
create index sites_by_number on sites (listed, number);
create index sites_by_mix on sites (listed, mix);
"""
_INDEXES = """
create index sites_by_due on sites (listed, bad, run, next_look, looked_at, mix);
create index sites_by_verdict on sites (listed, bad, verdict);
"""
# the column `status` of version 1 is unused; it stays because old SQLite cannot drop a column
_FROM_1 = """
alter table sites add column verdict text not null default '';
update sites set verdict = json_extract(line, '$.verdict') where line != '';
"""


_FROM_2 = """
alter table sites add column carried text not null default '';
"""


def prepare(connection: sqlite3.Connection, file: Path) -> None:
    """Make the tables where there are none. Raises BadInput where a newer version made them."""
    (version,) = connection.execute("pragma user_version").fetchone()
    if version > VERSION:
        raise BadInput(Problem(msg("state-schema.prepare"), str(file), hint=msg("schema.check-readable.hint")))
    if version == VERSION:
        return
    steps = {1: _FROM_1 + _FROM_2, 2: _FROM_2}.get(version, _SITES)
    connection.executescript(f"begin immediate;{steps}{_CHANGES}{_INDEXES}pragma user_version = {VERSION};commit;")


@dataclass(frozen=True, slots=True)
class SiteState:
    """What the state knows of one site. `site`: its site file as decided meanwhile, "" where the list says it all;
    `line`: as `homepath.many/1`, "" before the first check."""

    listed: Listed
    turn: int
    line: str
    site: str
    journal: bytes | None
    recheck: bytes | None


@dataclass(frozen=True, slots=True)
class Result:
    """The result of one check of one site, as it is kept. `turn`: the turn that it was checked from, so
    that what a person did meanwhile is not overwritten."""

    domain: Name
    turn: int
    line: str
    verdict: Verdict
    changed: bool
    looked_at: float
    next_look: float
    journal: bytes | None
    recheck: bytes | None
    asked: int = 0
    as_it_was: bool = False
    """Nothing changed, so the journal and the digests stay the same."""
    alarm: bool = False
    """It was fine at the last check and is not now: that counts once a second check says the same."""


@dataclass(frozen=True, slots=True)
class Run:
    """One run over the list. `resumed`: it was begun earlier and broken off."""

    id: int
    began: float
    resumed: bool
