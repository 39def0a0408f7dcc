"""What is known of the domains of a list: one SQLite file beside it.

`sites` has a row for each domain: its place in the list, its last line, and when it is due; `packs` has its
journal, packed, and the digests of its last full check. `runs` has the runs, and a killed one continues.
`changes` and `days` have what changed (`site_state.py`). Journals are bounded (`journal/packed.py`).
"""

from __future__ import annotations

import json
import os
import sqlite3
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import Any, get_args

from homepath.bulk.lists import Listed
from homepath.bulk.site_state import Changes, Result, Run, SiteState, prepare, summary_from
from homepath.core.contracts.assessment import Json
from homepath.core.contracts.many import Verdict
from homepath.core.dns.names import Name
from homepath.core.message import msg, reason
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import rfc3339
from homepath.files import only_one
from homepath.journal.schema import PATIENCE, transaction, write_ahead

GONE_ON_WITHIN = 86400
"""Seconds within which an interrupted run continues; after that, its results are too old."""
LONGEST_LINE = 1_000_000
"""Characters of a line that is read back."""


def state_file(path: Path) -> Path:
    """The state file of a list; a link to a list is that list."""
    path = Path(os.path.realpath(path))
    return path / "homepath.many" if path.is_dir() else path.with_name(f"{path.name}.homepath-many")


class State:
    """Opened for one command."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        self._db = connection
        self.changes = Changes(connection)

    @property
    def connection(self) -> sqlite3.Connection:
        return self._db

    def mark_bad(self, domain: Name) -> None:
        """A row that cannot be used: it is left out of runs until it is fixed."""
        self._db.execute("update sites set bad = 1 where domain = ?", (domain,))

    def begin_run(self, words: Sequence[str], now: float, restart: bool = False) -> Run:
        """A new run, or the last one where it was broken off and asked the same (`words`)."""
        command = json.dumps(list(words))
        last = self._db.execute("select id, began, words, ended from runs order by id desc limit 1").fetchone()
        young = last is not None and isinstance(last[1], float) and 0 <= now - last[1] < GONE_ON_WITHIN
        if last is not None and last[3] is None and last[2] == command and young and not restart:
            return Run(last[0], last[1], True)
        with transaction(self._db):
            row = self._db.execute("insert into runs (began, words) values (?, ?)", (now, command))
            self._db.execute("delete from runs where id < ?", ((row.lastrowid or 0) - 1000,))
        return Run(int(row.lastrowid or 0), now, False)

    def end_run(self, run: Run, now: float) -> None:
        with transaction(self._db):
            self._db.execute("update runs set ended = ? where id = ?", (now, run.id))
            self.changes.end_day(now, self.counts())

    def count(self, run: Run, due: float | None = None) -> tuple[int, int]:
        """How many sites this run checks, and how many of them it has checked."""
        where, values = self._of_run(run, due)
        (left,) = self._db.execute(f"select count(*) from sites where {where}", values).fetchone()  # noqa: S608 - ours
        (done,) = self._db.execute(
            "select count(*) from sites where listed = ? and bad = 0 and run = ?", (self._listed, run.id)
        ).fetchone()
        return int(left) + int(done), int(done)

    def sites_to_check(
        self, run: Run, due: float | None, most: int, after: tuple[int, str] | None
    ) -> list[tuple[int, SiteState]]:
        """The next sites of a run, mixed, so that those of one host do not come together; `due`: only these."""
        where, values = self._of_run(run, due)
        # where few are due, an index of its own finds them without reading every row
        index = " indexed by sites_by_due" if due is not None else ""
        rows = self._db.execute(
            f"select mix, {_KEPT} from (select domain as next from sites{index}"  # noqa: S608 - ours
            f" where {where} and (mix, domain) > (?, ?) order by mix, domain limit ?)"
            " join sites on sites.domain = next left join packs using (domain) order by mix, sites.domain",
            (*values, *(after or (-1, "")), most),
        ).fetchall()
        return [(row[0], self._sound(row[1:])) for row in rows]

    def _sound(self, row: Sequence[Any]) -> SiteState:
        """What a row says; a damaged cell is as if nothing were known of it, so that no row stops the others."""
        site_state = _site_state(row)
        fitting = replace(
            site_state,
            turn=site_state.turn if isinstance(site_state.turn, int) else 0,
            line=site_state.line if line_of(site_state.line, site_state.listed.domain) is not None else "",
            site=site_state.site if isinstance(site_state.site, str) else "",
            journal=site_state.journal if isinstance(site_state.journal, bytes) else None,
            recheck=site_state.recheck if isinstance(site_state.recheck, bytes) else None,
        )
        if fitting.turn != site_state.turn:
            self._db.execute("update sites set turn = 0 where domain = ?", (site_state.listed.domain,))
        return fitting

    def _of_run(self, run: Run, due: float | None) -> tuple[str, tuple[Any, ...]]:
        where, values = "listed = ? and bad = 0 and run != ?", (self._listed, run.id)
        if due is None:
            return where, values
        # a check in the future was made with a wrong clock; a value that is no time was not written by Home Path
        odd = "typeof(next_look) not in ('real', 'integer') or looked_at > ?"
        return f"{where} and (next_look <= ? or {odd})", (*values, due, due)

    def keep(self, results: Iterable[Result], run: Run | None = None) -> int:
        """Write results; returns how many were dropped, because another command wrote to the site meanwhile."""
        lost = 0
        with transaction(self._db):
            for each in results:
                before = self._line(each.domain) if each.changed else None
                if each.as_it_was:
                    done = self._db.execute(
                        "update sites set line = ?, changed = 0, looked_at = ?, next_look = ?, run = ?, turn = turn + 1"
                        " where domain = ? and turn = ?",
                        (each.line, each.looked_at, each.next_look, run.id if run else 0, each.domain, each.turn),
                    )
                    lost += done.rowcount == 0
                    continue
                done = self._db.execute(
                    "update sites set line = ?, verdict = ?, changed = ?, looked_at = ?, next_look = ?,"
                    " run = ?, turn = turn + 1 where domain = ? and turn = ?",
                    (
                        *(each.line, each.verdict, int(each.changed), each.looked_at, each.next_look),
                        *(run.id if run else 0, each.domain, each.turn),
                    ),
                )
                lost += done.rowcount == 0
                if done.rowcount:
                    self._pack(each.domain, each.journal, each.recheck)
                    after = line_of(each.line, each.domain)
                    if each.changed and after is not None:
                        self.changes.note(each.domain, before, after, each.looked_at, run.id if run else 0)
        return lost

    def _pack(self, domain: Name, journal: bytes | None, recheck: bytes | None) -> None:
        self._db.execute("insert or replace into packs values (?, ?, ?)", (domain, journal, recheck))

    def keep_journal(self, domain: Name, journal: bytes, site: str) -> None:
        """What a person's command left: it counts whatever a run found meanwhile, and makes the site due."""
        with transaction(self._db):
            self._db.execute(
                "update sites set site = ?, next_look = 0, turn = turn + 1 where domain = ?", (site, domain)
            )
            self._pack(domain, journal, None)

    def get(self, domain: Name) -> SiteState | None:
        row = self._db.execute(
            f"select {_KEPT} from sites left join packs using (domain)"  # noqa: S608 - ours
            " where listed = ? and sites.domain = ?",
            (self._listed, domain),
        ).fetchone()
        return self._sound(row) if row else None

    def names(self, begin: str, most: int) -> list[Name]:
        """The domains of the list that begin so."""
        rows = self._db.execute(
            "select domain from sites where listed = ? and substr(domain, 1, ?) = ? order by domain limit ?",
            (self._listed, len(begin), begin, most),
        )
        return [row[0] for row in rows]

    def lines(self, run: Run | None = None) -> Iterator[Json]:
        """The line of every site, in the list's order; `changed` in a line is of this run."""
        rows = self._db.execute(
            "select line, domain, carried, changed = 1 and run = ? from sites"
            " where listed = ? and bad = 0 and line != '' order by number",
            (run.id if run else -1, self._listed),
        )
        for text, domain, carried, changed in rows:
            line = line_of(text, domain)
            if line is not None:
                yield {**line, "columns": carried_of(carried), "changed": bool(changed), "change": None}

    def undelivered(self, upto: int) -> Iterator[Json]:
        """The line of every site with a change, up to that number, that was not delivered yet. `change` has the key of
        the newest, and what was delivered before."""
        rows = self._db.execute(
            "select line, sites.domain, carried, newest.key, newest.at, oldest.was from"
            " (select domain, min(id) as first, max(id) as last from changes where delivered = 0 and id <= ?"
            "  group by domain) as open join sites using (domain)"
            " join changes as oldest on oldest.id = open.first join changes as newest on newest.id = open.last"
            " where listed = ? and bad = 0 and line != '' order by number",
            (upto, self._listed),
        )
        for text, domain, carried, key, at, was in rows:
            line = line_of(text, domain)
            if line is not None:
                change = {"key": key, "at": rfc3339(at), "was": summary_from(was)}
                yield {**line, "columns": carried_of(carried), "changed": True, "change": change}

    def _line(self, domain: Name) -> Json | None:
        row = self._db.execute("select line from sites where domain = ?", (domain,)).fetchone()
        return line_of(row[0], domain) if row else None

    def counts(self) -> dict[str, int]:
        """How many sites have each verdict."""
        rows = self._db.execute(
            "select verdict, count(*) from sites where listed = ? and bad = 0 group by verdict", (self._listed,)
        )
        return {word: count for word, count in rows if word in get_args(Verdict)}

    def has_own_journals(self) -> bool:
        """Whether a site's journal is next to its own site file, on this machine."""
        row = self._db.execute("select 1 from sites where listed = ? and own = 1 limit 1", (self._listed,)).fetchone()
        return row is not None

    def verdicts(self) -> set[Verdict]:
        """The verdicts that sites have."""
        one = "select 1 from sites where listed = ? and bad = 0 and verdict = ? limit 1"
        return {word for word in get_args(Verdict) if self._db.execute(one, (self._listed, word)).fetchone()}

    def is_new(self, name: str, value: str) -> bool:
        """Whether a fact differs from what it was when this was last asked."""
        before = self.fact(name)
        self._db.execute("insert or replace into facts values (?, ?)", (name, value))
        return bool(before != value)

    def never_checked(self) -> int:
        (count,) = self._db.execute(
            "select count(*) from sites where listed = ? and bad = 0 and verdict = ''", (self._listed,)
        ).fetchone()
        return int(count)

    @property
    def _listed(self) -> int:
        return self.number("listed")

    def number(self, name: str) -> int:
        """A fact that counts; 0 where it is none."""
        value = self.fact(name)
        return value if isinstance(value, int) and 0 <= value < 2**62 else 0

    def fact(self, name: str) -> Any:
        row = self._db.execute("select value from facts where name = ?", (name,)).fetchone()
        return row[0] if row else None


def line_of(text: object, domain: Name) -> dict[str, Any] | None:
    """The last line of a domain; None for anything else."""
    if not isinstance(text, str) or not text or len(text) > LONGEST_LINE:
        return None
    try:
        line = json.loads(text)
    except (ValueError, RecursionError):
        return None
    fits = isinstance(line, dict) and line.get("domain") == domain and line.get("verdict") in get_args(Verdict)
    # a line of an earlier version lacks these until the site is checked again
    return {**_SINCE_THEN, **line} if fits and isinstance(line.get("assessment"), dict | None) else None


_SINCE_THEN = {"assessment": None, "host": "", "builder": ""}


def carried_of(text: object) -> dict[str, str]:
    """The owner's own columns of a row."""
    found = summary_from(text) or {}
    return {str(name): str(value) for name, value in found.items()}


_KEPT = "sites.domain, place, data, folder, file, own, turn, line, site, journal, recheck"


def _site_state(row: Sequence[Any]) -> SiteState:
    domain, place, data, folder, file, own, *more = row
    return SiteState(Listed(domain, place, data, folder, file, bool(own)), *more)


@contextmanager
def open_state(path: Path) -> Iterator[State]:
    """The state of the list at `path`. Raises BadInput when it cannot be used."""
    file = state_file(path)
    try:
        connection = sqlite3.connect(file, timeout=PATIENCE, isolation_level=None)
    except sqlite3.Error as error:
        raise _unusable(file, error) from error
    try:
        connection.execute("pragma page_size = 1024")  # in larger pages, half of the file would be their empty ends
        write_ahead(connection)
        connection.execute("pragma synchronous = normal")
        prepare(connection, file)
        yield State(connection)
    except sqlite3.Error as error:
        raise _unusable(file, error) from error
    finally:
        connection.close()


@contextmanager
def alone(path: Path) -> Iterator[bool]:
    """Whether this run is the only one at work on a list: two never are."""
    with only_one(state_file(path).with_suffix(".lock")) as first:
        yield first


def _unusable(file: Path, error: sqlite3.Error) -> BadInput:
    return BadInput(Problem(msg("state.unusable", error=reason(error)), str(file), hint=msg("schema.unusable.hint")))
