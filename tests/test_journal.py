from __future__ import annotations

import json
import sqlite3
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from homepath.core.dns.answers import Answer, Outcome, Question, Server
from homepath.core.dns.records import RecordSet
from homepath.core.message import Message, msg
from homepath.core.model.evidence import Content, EdgeSeen, Observation, VerdictChange
from homepath.core.model.problems import BadInput
from homepath.core.model.steps import Step
from homepath.core.model.survey import Compared, Spread, Survey
from homepath.core.model.visits import Visit
from homepath.core.observe.watch import REMEMBERED
from homepath.core.web.known import HstsSeen
from homepath.core.wording.say import say
from homepath.journal import journal as module
from homepath.journal import schema
from homepath.journal.evidence import read_evidence
from homepath.journal.journal import FILE, Journal, open_journal
from homepath.journal.packed import Packed
from homepath.journal.storage import SHAPE, NewerShape, restored, stored
from tests.refusals import refused

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
        journal.record_check(1, "edge", D, "two", EdgeSeen(1, None))
        journal.record_check(3, "edge", D, "two", EdgeSeen(3, True, True, 3))
        journal.complete_change(journal.begin_change(2, D, "sent", {}), "sent")
        journal.record_check(4, "edge", "other.example.", "x", EdgeSeen(4, False))
        assert journal.last_check("edge", D, EdgeSeen) == EdgeSeen(3, True, True, 3)
        assert journal.last_check("visit", D, Visit) is None
        assert [(entry.at, entry.kind) for entry in journal.entries(D)] == [(1, "edge"), (2, "send"), (3, "edge")]
        journal.record_told(5, D, "claim")
        journal.record_told(7, D, "claim")
        assert journal.confirmed(D) == {"claim": 7}


st.register_type_strategy(str, st.text("ab.-\n é", max_size=4))
st.register_type_strategy(float, st.floats(0, 2e9))
st.register_type_strategy(int, st.integers(0, 2**31))
st.register_type_strategy(Message, st.builds(msg, st.just("wait"), name=st.text("ab", max_size=3)))


@pytest.mark.parametrize("kind", [Survey, Spread, Visit, EdgeSeen, Compared, Step, HstsSeen])
def test_what_is_stored_comes_back_as_it_was(kind: type[Any]) -> None:
    """What a command keeps of its own check is what the next command reads of it."""

    @settings(max_examples=20, deadline=None, suppress_health_check=list(HealthCheck))
    @given(st.from_type(kind))
    def comes_back(value: Any) -> None:
        assert restored(kind, stored(value)) == value

    comes_back()


def test_the_storage_has_a_shape_of_its_own(tmp_path: Path) -> None:
    """What an older version did not write gets its default, what a newer one adds is passed over; another shape is a
    clear error, and a row that is no such value never stops a command."""
    whole = json.loads(stored(EdgeSeen(3, True, True, 3)))
    assert whole["shape"] == SHAPE
    del whole["value"]["secure"]
    whole["value"]["weather"] = "fine"
    assert restored(EdgeSeen, json.dumps(whole)) == EdgeSeen(3, True, False, 3)
    with pytest.raises(NewerShape):
        restored(EdgeSeen, json.dumps({**whole, "shape": SHAPE + 1}))
    for broken in ("[]", "{}", '{"shape": 1, "value": 3}', "no"):
        with refused(ValueError, r"stored|Expecting"):
            restored(EdgeSeen, broken)
    with open_journal(tmp_path) as journal:
        journal.record_check(1, "edge", D, "x", EdgeSeen(1, None))
        journal.record_check(2, "edge", D, "x", EdgeSeen(2, None))
    with sqlite3.connect(tmp_path / FILE) as file:
        file.execute("update looks set stored = 'no' where at = 2")
    file.close()
    with open_journal(tmp_path) as journal:
        assert journal.looks("edge", D, EdgeSeen) == [EdgeSeen(1, None)]
    with sqlite3.connect(tmp_path / FILE) as file:
        file.execute("update looks set stored = ?", (json.dumps({**whole, "shape": SHAPE + 1}),))
    file.close()
    with open_journal(tmp_path) as journal, refused(BadInput, "newer version"):
        journal.last_check("edge", D, EdgeSeen)


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
    with refused(BadInput, "newer version"), open_journal(tmp_path):
        pass


WRITER = """
import sys
from pathlib import Path
from homepath.core.dns.records import RecordSet
from homepath.core.model.visits import Visit
from homepath.journal.journal import open_journal
from tests.refusals import refused
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


def observed(at: float, outcome: Outcome = "answered") -> Observation:
    soa = RecordSet(D, "SOA", 60, ("ns. dns. 1 2 3 4 900",))
    said = Answer(
        Question(f"www.{D}", "A"), Server("127.0.0.1", 53), outcome, at, "NOERROR", True, (a("192.0.2.1"),), (soa,)
    )
    return Observation((f"www.{D}", "CNAME"), "here", "resolver", said)


def watched(at: float, verdict: str) -> VerdictChange:
    return VerdictChange(at, (f"www.{D}", "A"), verdict, None)  # type: ignore[arg-type]


def test_every_answer_can_be_judged_again_and_only_changed_verdicts_are_listed(tmp_path: Path) -> None:
    with open_journal(tmp_path) as journal:
        for at, verdict in enumerate(("spreading", "spreading", "settled", "spreading")):
            journal.record_watch(
                at, D, verdict, {"n": at}, [observed(at), observed(at, "silent")], [watched(at, verdict)]
            )
        assert journal.observed(D, 2) == [observed(2), observed(2, "silent"), observed(3), observed(3, "silent")]
        assert [(each.at, each.verdict) for each in journal.verdict_changes(D)] == [
            *((0, "spreading"), (2, "settled"), (3, "spreading"))
        ]


def test_the_size_is_bounded_and_what_matters_stays(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for name, most in (("MOST_HEARD", 20), ("MOST_VALUES", 5), ("MOST_CONTENTS", 4)):
        monkeypatch.setattr(module, name, most)
    with open_journal(tmp_path) as journal:
        for at in range(40):
            journal.record_contents(at, [a(f"192.0.2.{at}")])
            journal.record_watch(at, D, "spreading", EdgeSeen(at, None), [observed(at)], [watched(at, "spreading")])
        assert [each.at for each in journal.looks("watch", D, EdgeSeen)] == [35, 36, 37, 38, 39]
        assert len(journal.entries(D)) == 40
        assert [each.answer.at for each in journal.observed(D, 0)] == list(range(20, 40))
        assert [each.first_at for each in journal.contents(D)] == [0, 37, 38, 39]


def test_an_older_journal_is_brought_up_to_date_and_a_newer_one_used_if_it_allows(tmp_path: Path) -> None:
    with sqlite3.connect(tmp_path / FILE) as old:
        for statement in schema._STEPS[0].split(";\n"):
            old.execute(statement)
        old.execute("insert into contents values (1, ?, 'A', 60, '[\"192.0.2.1\"]', 1, 2)", (f"www.{D}",))
        old.execute("insert into looks values (1, 1, 'survey', ?, 'two', '{}')", (D,))
        old.execute("pragma user_version = 1")
    old.close()
    with open_journal(tmp_path) as journal:
        assert [(each.record.values, each.source) for each in journal.contents(D)] == [(("192.0.2.1",), "zone")]
        journal.record_watch(3, D, "settled", {}, [observed(3)], [watched(3, "settled")])
        assert [entry.kind for entry in journal.entries(D)] == ["survey", "watch"]
    with sqlite3.connect(tmp_path / FILE) as newer:
        newer.execute(f"pragma user_version = {schema.VERSION + 1}")
        newer.execute("alter table looks add column weather text")
    newer.close()
    with open_journal(tmp_path) as journal:
        assert len(journal.entries(D)) == 2
    with sqlite3.connect(tmp_path / FILE) as newer:
        newer.execute("update facts set value = 5 where name = 'readable_from'")
    newer.close()
    with refused(BadInput, "newer version"), open_journal(tmp_path):
        pass


ODD_ROWS = {
    "insert into contents values (null, ?, 'A', 60, '[\"192.0.2.1\"]', -62135596800, 5, 'zone')": "content",
    "insert into contents values (null, ?, 'A', 60, '[\"192.0.2.1\"]', 1, 253402300800, 'zone')": "content",
    "insert into contents values (null, ?, 'A', 'long', '[\"192.0.2.1\"]', 1, 2, 'zone')": "content",
    "insert into contents values (null, ?, 'A', 60, 'not json', 1, 2, 'zone')": "content",
    "insert into contents values (null, ?, 'A', 60, '{\"a\": 1}', 1, 2, 'nobody')": "content",
    "insert into told values (null, 'soon', ?, 'claim')": "done",
    "insert into steps values (?, 'claim', '{\"shape\": 1, \"value\": []}')": "step",
    "insert into steps values (?, 'enter', '[[[')": "step",
    "insert into changes values (null, 9e18, ?, 'w', '{}', 'sent')": "update",
    "insert into heard values (null, 1, ?, 'a.', 'A', 'v', 'resolver', '{\"asked\": 1}')": "answer",
    "insert into verdicts values (null, 1, ?, 'a.', 'A', 'fine', null)": "verdict",
    "insert into looks values (null, 1, 'survey', ?, 'w', '{}', '{\"shape\": 1, \"value\": {\"at\": 5}}')": "survey",
    "insert into looks values (null, 1, 'visit', ?, 'w', '{}', '{\"shape\": 1, \"value\": 1e999}')": "visit",
    "insert into looks values (null, 'never', 'survey', ?, 'w', '{}', '')": "log",
}


@pytest.mark.parametrize("statement", ODD_ROWS)
def test_no_row_of_the_journal_stops_a_command(statement: str, tmp_path: Path) -> None:
    """What a row holds, whoever wrote it, is named and left out; everything else counts."""
    good = Content(RecordSet(D, "A", 60, ("192.0.2.7",)), 10, 10)
    with open_journal(tmp_path) as journal:
        journal.record_contents(10, [good.record])
    with sqlite3.connect(tmp_path / FILE) as connection:
        connection.execute(statement, (D,))
    connection.close()
    with open_journal(tmp_path) as journal:
        found = read_evidence(journal, D, 100.0)
        entries, changes = journal.entries(D), journal.changes(D, "sent", "about")
        heard_of, verdicts = journal.observed(D, 0), journal.verdict_changes(D)
        assert any(say(each).startswith(f"{ODD_ROWS[statement]}: ") for each in journal.left_out)
    assert [each for each in found.contents if each.record == good.record] == [good]
    assert (heard_of, verdicts, changes) == ([], [], [])
    assert all(isinstance(entry.at, float) for entry in entries)


def test_a_packed_journal_keeps_what_a_check_reads_even_where_a_clock_jumped() -> None:
    def heard(journal: Journal, at: float) -> None:
        journal.record_watch(at, D, "settled", Spread(D, at, "settled", None, (), ()), [observed(at)], [])

    packed = Packed()
    with packed.open() as journal:
        for at in range(150):
            heard(journal, float(at))
            journal.record_check(float(at), "edge", D, "", EdgeSeen(float(at), None))
        heard(journal, 3 * REMEMBERED)  # by a clock that had jumped
        heard(journal, 150.0)
    with Packed(packed.packed()).open() as journal:
        assert [each.answer.at for each in journal.observed(D, 52.0)] == [
            *(float(at) for at in range(52, 150)), 3 * REMEMBERED, 150.0,
        ]  # fmt: skip
        assert journal.observed(D, 0.0)[0].answer.at == 52.0
        assert [each.at for each in journal.looks("watch", D, Spread)] == [3 * REMEMBERED, 150.0]
        assert journal.looks("edge", D, EdgeSeen) == [EdgeSeen(149.0, None)]
        assert len([each for each in journal.entries(D) if each.kind == "edge"]) > 40
