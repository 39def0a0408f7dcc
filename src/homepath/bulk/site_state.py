"""What is kept of a site of a list, what one check of it returns, the run that it belongs to, and the tables for it."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from pathlib import Path

from homepath.bulk.changes import TABLES as CHANGES
from homepath.bulk.lists import Listed
from homepath.core.contracts.many import Verdict
from homepath.core.dns.names import Name
from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem

VERSION = 3
_TABLES = """
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
    steps = {1: _FROM_1 + _FROM_2, 2: _FROM_2}.get(version, _TABLES)
    connection.executescript(f"begin immediate;{steps}{CHANGES}{_INDEXES}pragma user_version = {VERSION};commit;")


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
