"""Brings the state of a list up to the list: rows that are new, changed or gone, and what is wrong with each."""

from __future__ import annotations

import hashlib
import json
import sqlite3
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path

from homepath.bulk.lists import Listed, NamedFiles, checked, list_fingerprint, listed_in
from homepath.bulk.state import State
from homepath.core.message import msg
from homepath.core.model.problems import Problem
from homepath.journal.schema import transaction

FORGOTTEN_AFTER = 90 * 86400
"""Seconds after which a site that is no longer in the list is deleted."""
MOST_NAMED = 100
"""Files that a list with bad rows may name, to be looked at before it is read again."""
AT_ONCE = 500
"""Rows written in one transaction while a list is read."""


@dataclass(frozen=True, slots=True)
class Taken:
    """`bad`: how many rows of a list cannot be used. `read`: whether it was read now, so that they were named."""

    bad: int
    read: bool = True


def take_list(
    state: State,
    path: Path,
    now: float,
    say: Callable[[Problem], None],
    read: Callable[[int], None] = lambda rows: None,
    unless_unchanged: bool = False,
) -> Taken:
    """Update the state from the list. `say` gets every problem, with row and column; `read` gets the number of rows
    read. `unless_unchanged`: do not read the list again if its file has not changed. If it has bad rows, the files that
    they name must be unchanged too, because someone may have corrected one of those.

    Raises BadInput where there is no list at all.
    """
    fingerprint = list_fingerprint(path)
    known, named = _known(state)
    if unless_unchanged and fingerprint and state.fact("list") == list_fingerprint(path, named):
        return Taken(known, read=False)
    named_files = NamedFiles()
    bad = rows = 0

    def good() -> Iterator[Listed]:
        nonlocal bad, rows
        for each in listed_in(path):
            rows += 1
            if rows % 1000 == 0:
                read(rows)
            if isinstance(each, list):
                bad += 1
                for problem in each:
                    say(problem)
            else:
                yield each

    for site, twice in taken_in(state, good(), now):
        if twice:
            problems = [
                Problem(msg("run.take-list"), site.place, key="domain", hint=msg("run.take-list.hint", twice=twice))
            ]
        else:
            problems = checked(site, named_files)
            if problems:
                state.mark_bad(site.domain)
        bad += bool(problems)
        for problem in problems:
            say(problem)
    named = named_files.paths if bad else []
    again = not fingerprint or len(named) > MOST_NAMED
    state.is_new("list", "" if again else list_fingerprint(path, named))
    state.is_new("bad rows", json.dumps([bad, [] if again else named]))
    return Taken(bad)


def _known(state: State) -> tuple[int, list[str]]:
    """How many rows of the list could not be used when it was read, and the files that it named then."""
    try:
        bad, named = json.loads(state.fact("bad rows") or "[0, []]")
        return int(bad), [str(each) for each in named]
    except (ValueError, TypeError, RecursionError):
        return 0, []


def taken_in(state: State, sites: Iterable[Listed], now: float) -> Iterator[tuple[Listed, str]]:
    """Note the list as it is now. Returns each site whose row is new or differs, and each that is there twice, with the
    place where it was before.

    A site that is given and is no good has to be told with `mark_bad`, before the next one is taken.
    """
    db, generation = state.connection, state.number("reading") + 1
    with transaction(db):
        db.execute("insert or replace into facts values ('reading', ?)", (generation,))
        for number, site in enumerate(sites, 1):
            if number % AT_ONCE == 0:
                db.execute("commit")
                db.execute("begin immediate")
            before = db.execute(
                "select place, data, folder, file, own, listed, bad from sites where domain = ?", (site.domain,)
            ).fetchone()
            if before is not None and before[5] == generation:
                yield site, before[0]
                continue
            same = before is not None and before[1:4] == (site.data, site.folder, site.file)
            _put(db, site, number, generation, same)
            if not same or before[6]:
                yield site, ""
        db.execute("update sites set gone_since = ? where listed < ? and gone_since is null", (now, generation))
        gone = "select domain from sites where gone_since < ?"
        db.execute(f"delete from packs where domain in ({gone})", (now - FORGOTTEN_AFTER,))  # noqa: S608 - ours
        db.execute("delete from sites where gone_since < ?", (now - FORGOTTEN_AFTER,))
        db.execute("insert or replace into facts values ('listed', ?)", (generation,))


def _put(db: sqlite3.Connection, site: Listed, number: int, generation: int, same: bool) -> None:
    mix = int.from_bytes(hashlib.blake2b(site.domain.encode(), digest_size=6).digest())
    db.execute(
        "insert into sites (domain, number, place, data, folder, file, own, carried, listed, mix)"
        " values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) on conflict (domain) do update set number = excluded.number,"
        " place = excluded.place, data = excluded.data, folder = excluded.folder, file = excluded.file,"
        " own = excluded.own, carried = excluded.carried, listed = excluded.listed, mix = excluded.mix,"
        " gone_since = null, bad = 0",
        (
            *(site.domain, number, site.place, site.data, site.folder, site.file, int(site.own)),
            *(site.carried, generation, mix),
        ),
    )
    if not same:  # what is wanted may be another thing now, so it is due, and judged again
        db.execute("update sites set next_look = 0, site = '' where domain = ?", (site.domain,))
        db.execute("update packs set recheck = null where domain = ?", (site.domain,))
