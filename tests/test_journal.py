from __future__ import annotations

import sqlite3
import subprocess
import sys
from pathlib import Path

import pytest

from homepath.core.model.problems import BadInput
from homepath.core.model.records import RecordSet
from homepath.journal.journal import FILE, Look, open_journal

D = "tidewick-kiln.example."


def a(*values: str) -> RecordSet:
    return RecordSet(f"www.{D}", "A", 60, values)


def test_contents_grow_only_when_something_changes(tmp_path: Path) -> None:
    with open_journal(tmp_path) as journal:
        for at, record in enumerate([a("192.0.2.1"), a("192.0.2.1"), a(), a("192.0.2.2"), a("192.0.2.2")]):
            journal.record_contents(at, [record])
        journal.record_contents(9, [RecordSet("www.other.example.", "A", 1, ("192.0.2.9",))])
    with open_journal(tmp_path) as journal:
        past = [(each.record.values, each.first_at, each.last_at) for each in journal.contents(D)]
    assert past == [(("192.0.2.1",), 0, 1), ((), 2, 2), (("192.0.2.2",), 3, 4)]


def test_looks_and_changes_are_remembered_in_order(tmp_path: Path) -> None:
    with open_journal(tmp_path) as journal:
        journal.record_look(1, "survey", D, "two", {"n": 1})
        journal.record_look(3, "survey", D, "two", {"n": 2})
        journal.record_change(2, D, "sent", {})
        journal.record_look(4, "survey", "other.example.", "x", {"n": 3})
        assert journal.last_look("survey", D) == Look(3, {"n": 2})
        assert journal.last_look("visit", D) is None
        assert [(entry.at, entry.kind) for entry in journal.entries(D)] == [(1, "survey"), (2, "send"), (3, "survey")]


def test_a_write_that_fails_leaves_nothing_behind(tmp_path: Path) -> None:
    with open_journal(tmp_path) as journal:
        journal.record_contents(1, [a("192.0.2.1")])
        with pytest.raises(sqlite3.Error):
            journal.record_contents(2, [a("192.0.2.2"), RecordSet("x.", "A", object(), ())])  # type: ignore[arg-type]
        assert len(journal.contents(D)) == 1


def test_a_newer_journal_is_left_alone(tmp_path: Path) -> None:
    with sqlite3.connect(tmp_path / FILE) as connection:
        connection.execute("pragma user_version = 99")
    connection.close()
    with pytest.raises(BadInput, match="newer version"), open_journal(tmp_path):
        pass


WRITER = """
import sys
from pathlib import Path
from homepath.core.model.records import RecordSet
from homepath.journal.journal import open_journal
at = 0
while True:
    at += 1
    with open_journal(Path(sys.argv[1])) as journal:
        journal.record_contents(at, [RecordSet("a.tidewick-kiln.example.", "A", 60, (f"192.0.2.{at % 200}",)),
                                     RecordSet("b.tidewick-kiln.example.", "A", 60, (f"192.0.2.{at % 200}",))])
    print(at, flush=True)
"""


def test_a_writer_that_is_killed_leaves_whole_entries_and_a_second_one_waits(tmp_path: Path) -> None:
    """Two records are written in one transaction: whatever the moment of the kill, both are there or none."""
    writers = []
    for _ in range(2):
        words = [sys.executable, "-c", WRITER, str(tmp_path)]
        writers.append(subprocess.Popen(words, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True))
    for writer in writers:
        assert writer.stdout is not None
        for _ in range(20):
            writer.stdout.readline()
    for writer in writers:
        writer.kill()
        _, errors = writer.communicate()
        assert errors == ""
    with open_journal(tmp_path) as journal:
        past = journal.contents(D)
        names = [content.record.name[0] for content in past]
        assert names.count("a") == names.count("b") >= 20
        journal.record_contents(9, [a("192.0.2.1")])
