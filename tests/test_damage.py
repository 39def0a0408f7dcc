"""Damaged state: whatever stands in any cell of a list's state or of a journal, no row stops the others."""

from __future__ import annotations

import pickle
import sqlite3
import threading
import zlib
from collections.abc import Iterator
from contextlib import closing, suppress
from multiprocessing import Pipe, connection
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest

from homepath import __version__
from homepath.app.project import open_project
from homepath.bulk import processes
from homepath.bulk.intake import take_list
from homepath.bulk.lists import Listed, NamedFiles
from homepath.bulk.run import Asked, run
from homepath.bulk.site_state import SiteState
from homepath.bulk.state import open_state, state_file
from homepath.bulk.workers import Batch, OtherVersion, check_batch, run_context_of
from homepath.core.dns.answers import Server
from homepath.core.model.problems import HomePathError, Problem
from homepath.journal.journal import FILE
from homepath.net.network_file import Network
from homepath.practice.world import World
from tests.conftest import START as BEGIN
from tests.conftest import Run, run_in

DOMAINS = ("one.example.", "two.example.", "three.example.")
DEEP = "[" * 100_000
ODD: tuple[Any, ...] = (None, -1, 2**63 - 1, 1e308, "", "x", DEEP, '{"domain": "other.example."}', b"\xff\x00", b"")
BOMB = zlib.compress(b"\x00" * 50_000_000)


def a_list(folder: Path) -> Path:
    brief = 'format = "homepath.brief/1"\nbuilder = "Bricklark"\n[routes.records]\n'
    brief += 'apex = [{ type = "A", values = ["192.0.2.10"] }]\nwww = [{ type = "A", values = ["192.0.2.10"] }]\n'
    (folder / "b.toml").write_text(brief)
    rows = "".join(f"{domain[:-1]},www,b.toml\n" for domain in DOMAINS)
    (folder / "list.csv").write_text("domain,primary,brief\n" + rows)
    return folder / "list.csv"


class Clock:
    slack = 3.0

    def now(self) -> float:
        return 1_772_442_000.0

    async def sleep(self, seconds: float) -> None:
        return None


NOBODY = Network(roots=(Server("127.0.0.1", 9),), resolvers=(), clock=Clock())


def looked_at(path: Path, due: bool = False) -> dict[str, str]:
    """The verdict of each domain after a run; where nobody answers, all are unknown."""
    said: list[Problem] = []
    with open_state(path) as state:
        bad = take_list(state, path, NOBODY.clock.now(), said.append).bad
        run(state, NOBODY, run_context_of(NOBODY), Asked(due=due), bad, lambda progress: None)
        return {line["domain"]: line["verdict"] for line in state.lines()}


def cells(file: Path) -> Iterator[tuple[str, str]]:
    with closing(sqlite3.connect(file)) as db:
        for (table,) in db.execute("select name from sqlite_master where type = 'table'").fetchall():
            for column in db.execute(f"pragma table_info({table})").fetchall():
                yield table, column[1]


def restore(file: Path, whole: bytes) -> None:
    for suffix in ("-wal", "-shm"):
        file.with_name(file.name + suffix).unlink(missing_ok=True)
    file.write_bytes(whole)


def read_whole(file: Path) -> bytes:
    with closing(sqlite3.connect(file)) as db:
        db.execute("pragma wal_checkpoint(truncate)")
    return file.read_bytes()


def damage(file: Path, table: str, column: str, value: Any) -> None:
    """One cell of the first row, where the table itself takes the value."""
    with closing(sqlite3.connect(file)) as db:
        db.execute("pragma ignore_check_constraints = on")
        first = "(select min(rowid) from runs)" if table == "runs" else None
        where = {"sites": "domain = 'one.example.'", "packs": "domain = 'one.example.'", "runs": f"id = {first}"}
        try:
            db.execute(f"update {table} set {column} = ? where {where.get(table, '1 = 1')}", (value,))
            db.commit()
        except (sqlite3.IntegrityError, OverflowError):
            db.rollback()


def test_no_cell_of_a_lists_state_stops_the_other_rows(tmp_path: Path) -> None:
    path = a_list(tmp_path)
    assert looked_at(path) == dict.fromkeys(DOMAINS, "unknown")
    file = state_file(path)
    whole = read_whole(file)
    tried = 0
    for table, column in list(cells(file)):
        for value in (*ODD, *((BOMB,) if table == "packs" else ())):
            restore(file, whole)
            damage(file, table, column, value)
            found = looked_at(path)
            assert {domain: found.get(domain) for domain in DOMAINS[1:]} == dict.fromkeys(DOMAINS[1:], "unknown")
            assert found.get(DOMAINS[0], "unknown") in ("unknown", "bad-input"), (table, column, value)
            tried += 1
    assert tried > 200


def test_a_clock_that_was_ahead_leaves_no_domain_unlooked_at(tmp_path: Path) -> None:
    path = a_list(tmp_path)
    looked_at(path)
    with closing(sqlite3.connect(state_file(path))) as db:
        ahead = NOBODY.clock.now() + 3e8
        db.execute("update sites set looked_at = ?, next_look = ?, run = 0, line = ''", (ahead, ahead + 86400))
        db.execute("update runs set began = ?, ended = null", (ahead,))
        db.commit()
    assert looked_at(path, due=True) == dict.fromkeys(DOMAINS, "unknown")


def test_no_cell_of_a_journal_gives_a_traceback(world: World, homepath: Run, tmp_path: Path) -> None:
    """It opens, or says in one sentence what is wrong; a record of a type that nobody knows is a record."""
    homepath(*BEGIN)
    homepath("survey")
    file = tmp_path / FILE
    whole = read_whole(file)
    for table, column in list(cells(file)):
        for value in ODD:
            restore(file, whole)
            with closing(sqlite3.connect(file)) as db:
                try:
                    db.execute(f"update {table} set {column} = ?", (value,))
                    db.commit()
                except (sqlite3.Error, OverflowError):
                    continue
            try:
                project = open_project(tmp_path / "homepath.toml", now=1_772_442_000.0)
                project.assess(1_772_442_000.0)
            except HomePathError:
                continue
    restore(file, whole)
    with closing(sqlite3.connect(file)) as db:
        db.execute("update contents set type = 'TYPE65400' where type = 'MX'")
        db.commit()
    assert run_in(tmp_path, "plan", "--json").status in (1, 3)
    assert "survey" in run_in(tmp_path, "log").out


class Silent:
    """A process that was stopped: it gives no sign of life."""

    killed = 0

    def kill(self) -> None:
        Silent.killed += 1

    def join(self, seconds: float) -> None:
        return None


def test_a_worker_that_gives_no_sign_of_life_is_replaced(monkeypatch: pytest.MonkeyPatch) -> None:
    clock = [0.0]

    def wait(lines: list[Any], seconds: float) -> list[Any]:
        clock[0] += seconds
        return connection.wait(lines, 0.05)

    def hire() -> Any:
        here, there = Pipe()
        if not hired:
            hired.append(there)
            return processes._Worker(Silent(), here)  # type: ignore[arg-type]

        def work() -> None:
            there.send(None)
            with suppress(EOFError, OSError):
                while True:
                    number, batch = there.recv()
                    for kept in batch.sites:
                        there.send((number, SimpleNamespace(domain=kept.listed.domain)))
                    there.send((number, None))

        threading.Thread(target=work, daemon=True).start()
        return processes._Worker(Silent(), here)  # type: ignore[arg-type]

    hired: list[Any] = []
    ground = run_context_of(NOBODY)
    sites = [SiteState(Listed(name, "", "", ""), 0, "", "", None, None) for name in "abc"]
    given = [Batch(ground, (site,), NamedFiles(), 1) for site in sites]
    for name, instead in {
        "monotonic": lambda: clock[0],
        "wait": wait,
        "_hire": hire,
        "batches": lambda *_: iter(given),
        "batch_size": lambda *_: 1,
    }.items():
        monkeypatch.setattr(processes, name, instead)
    found = list(processes.checked_by_processes(iter(()), ground, 1, 3))
    assert sorted(each.domain for each in found) == ["a", "b", "c"]
    assert processes.SILENT_FOR < clock[0] < 3 * processes.SILENT_FOR
    assert Silent.killed == 2


def test_a_worker_of_another_version_refuses() -> None:
    batch = Batch(run_context_of(NOBODY), (), NamedFiles(), 1, "0.0.9")
    with pytest.raises(OtherVersion) as refused:
        check_batch(batch)
    assert pickle.loads(pickle.dumps(refused.value)).args == (__version__, "0.0.9")
