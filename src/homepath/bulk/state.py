"""What is known of the domains of a list: one SQLite file beside it.

`sites` has a row for each domain: its place in the list, its last line, and when it is due; `packs` has its
journal, packed, and the digests of its last full check. `runs` has the runs, and a killed one continues.
A site that left the list is kept for `FORGOTTEN_AFTER` and then deleted; journals are bounded (`journal/packed.py`).
"""

from __future__ import annotations

import hashlib
import json
import os
import sqlite3
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import Any, get_args

from homepath.bulk.lists import Listed
from homepath.bulk.site_state import Result, Run, SiteState, prepare
from homepath.core.contracts.many import Verdict
from homepath.core.dns.names import Name
from homepath.core.message import msg, reason
from homepath.core.model.problems import BadInput, Problem
from homepath.files import only_one
from homepath.journal.schema import PATIENCE, transaction, write_ahead

FORGOTTEN_AFTER = 90 * 86400
"""Seconds after which a site that is no longer in the list is deleted."""
GONE_ON_WITHIN = 86400
"""Seconds within which an interrupted run continues; after that, its results are too old."""
LONGEST_LINE = 1_000_000
"""Characters of a line that is read back."""
AT_ONCE = 500
"""Rows written in one transaction while a list is read."""


def state_file(path: Path) -> Path:
    """The state file of a list; a link to a list is that list."""
    path = Path(os.path.realpath(path))
    return path / "homepath.many" if path.is_dir() else path.with_name(f"{path.name}.homepath-many")


class State:
    """Opened for one command."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        self._db = connection

    def take_in(self, sites: Iterable[Listed], now: float) -> Iterator[tuple[Listed, str]]:
        """Note the list as it is now. Returns each site whose row is new or differs, and each that is there twice, with
        the place where it was before.

        A site that is given and is no good has to be told with `mark_bad`, before the next one is taken.
        """
        generation = self._number("reading") + 1
        with transaction(self._db):
            self._db.execute("insert or replace into facts values ('reading', ?)", (generation,))
            for number, site in enumerate(sites, 1):
                if number % AT_ONCE == 0:
                    self._db.execute("commit")
                    self._db.execute("begin immediate")
                before = self._db.execute(
                    "select place, data, folder, file, own, listed, bad from sites where domain = ?", (site.domain,)
                ).fetchone()
                if before is not None and before[5] == generation:
                    yield site, before[0]
                    continue
                same = before is not None and before[1:4] == (site.data, site.folder, site.file)
                self._put(site, number, generation, same)
                if not same or before[6]:
                    yield site, ""
            self._db.execute(
                "update sites set gone_since = ? where listed < ? and gone_since is null", (now, generation)
            )
            gone = "select domain from sites where gone_since < ?"
            self._db.execute(f"delete from packs where domain in ({gone})", (now - FORGOTTEN_AFTER,))  # noqa: S608 - ours
            self._db.execute("delete from sites where gone_since < ?", (now - FORGOTTEN_AFTER,))
            self._db.execute("insert or replace into facts values ('listed', ?)", (generation,))

    def _put(self, site: Listed, number: int, generation: int, same: bool) -> None:
        mix = int.from_bytes(hashlib.blake2b(site.domain.encode(), digest_size=6).digest())
        self._db.execute(
            "insert into sites (domain, number, place, data, folder, file, own, listed, mix)"
            " values (?, ?, ?, ?, ?, ?, ?, ?, ?) on conflict (domain) do update set number = excluded.number,"
            " place = excluded.place, data = excluded.data, folder = excluded.folder, file = excluded.file,"
            " own = excluded.own, listed = excluded.listed, mix = excluded.mix, gone_since = null, bad = 0",
            (site.domain, number, site.place, site.data, site.folder, site.file, int(site.own), generation, mix),
        )
        if not same:  # what is wanted may be another thing now, so it is due, and judged again
            self._db.execute("update sites set next_look = 0, site = '' where domain = ?", (site.domain,))
            self._db.execute("update packs set recheck = null where domain = ?", (site.domain,))

    def mark_bad(self, domain: Name) -> None:
        """A row that cannot be used: it is left out of runs until it is fixed."""
        self._db.execute("update sites set bad = 1 where domain = ?", (domain,))

    def begin_run(self, words: Sequence[str], now: float, restart: bool = False) -> Run:
        """A new run, or the last one where it was broken off and asked the same (`words`)."""
        said = json.dumps(list(words))
        last = self._db.execute("select id, began, words, ended from runs order by id desc limit 1").fetchone()
        young = last is not None and isinstance(last[1], float) and 0 <= now - last[1] < GONE_ON_WITHIN
        if last is not None and last[3] is None and last[2] == said and young and not restart:
            return Run(last[0], last[1], True)
        with transaction(self._db):
            row = self._db.execute("insert into runs (began, words) values (?, ?)", (now, said))
            self._db.execute("delete from runs where id < ?", ((row.lastrowid or 0) - 1000,))
        return Run(int(row.lastrowid or 0), now, False)

    def end_run(self, run: Run, now: float) -> None:
        with transaction(self._db):
            self._db.execute("update runs set ended = ? where id = ?", (now, run.id))

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
        rows = self._db.execute(
            f"select mix, {_KEPT} from sites left join packs using (domain)"  # noqa: S608 - ours
            f" where {where} and (mix, sites.domain) > (?, ?) order by mix, sites.domain limit ?",
            (*values, *(after or (-1, "")), most),
        ).fetchall()
        return [(row[0], self._sound(row[1:])) for row in rows]

    def _sound(self, row: Sequence[Any]) -> SiteState:
        """What a row says; a damaged cell is as if nothing were known of it, so that no row stops the others."""
        kept = _kept(row)
        fitting = replace(
            kept,
            turn=kept.turn if isinstance(kept.turn, int) else 0,
            line=kept.line if line_of(kept.line, kept.listed.domain) is not None else "",
            site=kept.site if isinstance(kept.site, str) else "",
            journal=kept.journal if isinstance(kept.journal, bytes) else None,
            recheck=kept.recheck if isinstance(kept.recheck, bytes) else None,
        )
        if fitting.turn != kept.turn:
            self._db.execute("update sites set turn = 0 where domain = ?", (kept.listed.domain,))
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

    def lines(self, run: Run | None = None, changed: bool = False) -> Iterator[tuple[bool, dict[str, Any]]]:
        """Whether it changed in this run, and the line, of every site, in the list's order; or of the changed ones."""
        only = " and changed = 1 and run = ?" if changed and run is not None else ""
        rows = self._db.execute(
            "select changed, run, line, domain from sites where listed = ? and bad = 0 and line != ''"  # noqa: S608 - ours
            f"{only} order by number",
            (self._listed, run.id) if only and run is not None else (self._listed,),
        )
        for is_changed, of_run, text, domain in rows:
            line = line_of(text, domain)
            if line is not None:
                # a line from before there was an assessment has none until the site is checked again
                yield bool(is_changed) and (run is None or of_run == run.id), {"assessment": None, **line}

    def has_own_journals(self) -> bool:
        """Whether a site's journal is next to its own site file, on this machine."""
        row = self._db.execute("select 1 from sites where listed = ? and own = 1 limit 1", (self._listed,)).fetchone()
        return row is not None

    def verdicts(self) -> set[Verdict]:
        """The verdicts that sites have."""
        rows = self._db.execute(
            "select distinct verdict from sites where listed = ? and bad = 0 and line != ''", (self._listed,)
        )
        return {row[0] for row in rows if row[0] in get_args(Verdict)}

    def is_new(self, name: str, value: str) -> bool:
        """Whether a fact differs from what it was when this was last asked."""
        before = self._fact(name)
        self._db.execute("insert or replace into facts values (?, ?)", (name, value))
        return bool(before != value)

    def never_checked(self) -> int:
        (count,) = self._db.execute(
            "select count(*) from sites where listed = ? and bad = 0 and line = ''", (self._listed,)
        ).fetchone()
        return int(count)

    @property
    def _listed(self) -> int:
        return self._number("listed")

    def _number(self, name: str) -> int:
        """A fact that counts; 0 where it is none."""
        value = self._fact(name)
        return value if isinstance(value, int) and 0 <= value < 2**62 else 0

    def _fact(self, name: str) -> Any:
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
    return line if fits and isinstance(line.get("assessment"), dict | None) else None


_KEPT = "sites.domain, place, data, folder, file, own, turn, line, site, journal, recheck"


def _kept(row: Sequence[Any]) -> SiteState:
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
        write_ahead(connection)
        connection.execute("pragma synchronous = normal")
        prepare(connection, file)
        yield State(connection)
    except sqlite3.Error as error:
        raise _unusable(file, error) from error
    finally:
        connection.close()


@contextmanager
def alone(path: Path) -> Iterator[None]:
    """Only one run at a time works on a list. Raises BadInput when there is another one."""
    with only_one(state_file(path).with_suffix(".lock")) as first:
        if not first:
            raise BadInput(Problem(msg("state.alone"), str(path), hint=msg("state.alone.hint")))
        yield


def _unusable(file: Path, error: sqlite3.Error) -> BadInput:
    return BadInput(Problem(msg("state.unusable", error=reason(error)), str(file), hint=msg("schema.unusable.hint")))
