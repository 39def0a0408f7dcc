"""`homepath many` over a practice world: one domain that exists among rows that do not work out."""

from __future__ import annotations

import csv
import io
import json
import os
import sqlite3
import subprocess
from contextlib import closing
from pathlib import Path
from typing import Any

import jsonschema
import pyarrow.parquet
import pytest

from homepath.bulk import intake
from homepath.bulk.intake import take_list
from homepath.bulk.site_state import Run
from homepath.bulk.state import open_state, state_file
from homepath.files import only_one
from homepath.practice.world import World
from tests.conftest import COMMAND, START, run_in

D = "tidewick-kiln.example"
HEAD = "domain,primary,brief,notation,site,code\n"
GOOD = f"{D},www,bricklark.brief.toml,mossgate.notation.toml,tidewick,tk-4471\n"
NOBODY = "nobody-here.example,www,bricklark.brief.toml,,nn,tk-1\n"
SCHEMA = json.loads((Path(__file__).parents[2] / "docs/schemas/many.schema.json").read_text())


@pytest.fixture
def folder(world: World, tmp_path: Path) -> Path:
    network = tmp_path / "network.toml"
    network.write_text(network.read_text() + "\n[pace]\nserver = 100000\nresolver = 100000\n")
    (tmp_path / "list.csv").write_text(HEAD + GOOD + NOBODY)
    return tmp_path


def lines(text: str) -> dict[str, dict[str, object]]:
    found = [json.loads(line) for line in text.splitlines()]
    for line in found:
        jsonschema.validate(line, SCHEMA)
    return {str(line["domain"]): line for line in found}


def test_each_domain_has_its_line_and_the_worst_decides(folder: Path) -> None:
    done = run_in(folder, "many", "list.csv", "--json")
    found = lines(done.out)
    assert done.status == 4
    one, other = found[f"{D}."], found["nobody-here.example."]
    assert (one["stage"], one["verdict"], one["changed"]) == ("claim", "not-yet", True)
    assert (other["stage"], other["verdict"], other["act"]) == ("unknown", "unknown", None)
    assert "does not delegate" in str(other["trouble"])
    alone = json.loads(run_in(folder, "next", "--from", "list.csv", D, "--json").out)
    assert (alone["act"], alone["stage"], alone["do"]) == (one["act"], one["stage"], one["do"])


def test_bad_rows_are_named_with_row_and_column_and_stop_nothing(folder: Path) -> None:
    bad = f"{D},www,bricklark.brief.toml,,a,b\nx.example,w.w,bricklark.brief.toml,,a,b\n"
    bad += "y.example,www,nix.toml,,a,b\nz,www\n"
    (folder / "list.csv").write_text(HEAD + GOOD + bad)
    done = run_in(folder, "many", "list.csv", "--json")
    assert list(lines(done.out)) == [f"{D}."]
    assert done.status == 2
    for said in (
        "row 3: domain: this domain is in the list twice",
        "row 4: primary: should be",
        "row 5: nix.toml: the brief is not there",
        "row 6: this row has 2 cells",
    ):
        assert said in done.err
    assert (again := run_in(folder, "many", "list.csv", "--changed")).err == again.out == "", "it was said before"
    (folder / "list.csv").write_text(HEAD + GOOD + bad + "zz,www\n")
    assert "row 7" in run_in(folder, "many", "list.csv", "--changed").err
    (folder / "list.csv").write_text(HEAD + GOOD)
    assert run_in(folder, "many", "list.csv", "--changed").status == 1


def test_a_persons_word_reaches_the_list_and_only_that_is_a_change(folder: Path) -> None:
    assert run_in(folder, "many", "list.csv").status == 4
    assert run_in(folder, "many", "list.csv", "--changed").out == ""
    told = run_in(folder, "next", "--from", "list.csv", D, "--done", "claim")
    assert f"--site list.csv:{D}" in told.out
    (folder / "keep.py").write_text("import sys, pathlib; pathlib.Path('told.txt').write_text(sys.stdin.read())")
    done = run_in(folder, "many", "list.csv", "--due", "--changed", "--json", "--then", "python3 keep.py")
    found = lines(done.out)
    assert list(found) == [f"{D}."]
    assert found[f"{D}."]["stage"] == "enter"
    assert (folder / "told.txt").read_text() == done.out
    sheet = run_in(folder, "sheet", "--site", f"list.csv:{D}")
    assert "192.0.2.10" in sheet.out
    assert sheet.status == 1
    logged = run_in(folder, "log", "--site", f"list.csv:{D}").out
    assert "claim" in logged
    assert "record sets at 2 servers" in logged
    page = run_in(folder, "report", "--site", f"list.csv:{D}", "--to", "page.html")
    assert page.status == 1, page.err
    assert D in (folder / "page.html").read_text()
    (folder / "told.txt").unlink()
    assert run_in(folder, "many", "list.csv", "--due", "--then", "python3 keep.py").status == 4
    assert not (folder / "told.txt").exists(), "nothing changed, so nobody is told"
    failing = run_in(folder, "many", "list.csv", "--then", "false")
    assert failing.status == 4


def test_a_state_of_the_first_version_is_gone_on_with(folder: Path) -> None:
    before = run_in(folder, "many", "list.csv", "--json")
    with closing(sqlite3.connect(folder / "list.csv.homepath-many", isolation_level=None)) as opened:
        for name in ("sites_by_due", "sites_by_verdict"):
            opened.execute(f"drop index {name}")
        for name in ("changes", "days"):
            opened.execute(f"drop table {name}")
        for name in ("verdict", "carried"):
            opened.execute(f"alter table sites drop column {name}")
        opened.execute("alter table sites add column status integer not null default -1")
        opened.execute("pragma user_version = 1")
    again = run_in(folder, "many", "list.csv", "--due", "--json")
    assert (again.status, again.err) == (4, "")
    assert [(name, each["verdict"]) for name, each in lines(again.out).items()] == [
        (name, each["verdict"]) for name, each in lines(before.out).items()
    ]


def test_filters_and_forms(folder: Path) -> None:
    assert run_in(folder, "many", "list.csv").status == 4
    only = run_in(folder, "many", "list.csv", "--due", "--only", "unknown", "--json")
    assert list(lines(only.out)) == ["nobody-here.example."]
    assert run_in(folder, "many", "list.csv", "--due", "--only", "nothing").status == 2
    assert run_in(folder, "many", "list.csv", "--due", "--worst", "bad").status == 2
    table = list(csv.DictReader(io.StringIO(run_in(folder, "many", "list.csv", "--due", "--csv").out)))
    assert [row["domain"] for row in table] == [D, "nobody-here.example"]
    run_in(folder, "many", "list.csv", "--due", "--parquet", "all.parquet")
    rows = pyarrow.parquet.read_table(folder / "all.parquet").to_pylist()
    assert [row["verdict"] for row in rows] == ["not-yet", "unknown"]
    assert json.loads(rows[0]["act"])["kind"] == "tell-builder"
    text = run_in(folder, "many", "list.csv", "--due").out
    assert "2 domains in list.csv: 1 unknown, 1 to do." in text
    assert "homepath next --from list.csv nobody-here.example" in text, "the worst comes first"


def test_a_folder_of_site_files_and_the_journals_beside_them(folder: Path) -> None:
    assert run_in(folder, *START, "--folder", "sites/kiln").status == 0
    for name in ("bricklark.brief.toml", "mossgate.notation.toml"):
        place = folder / "sites" / "kiln" / name
        if not place.exists():
            place.write_text((folder / name).read_text())
    site = folder / "sites" / "kiln" / "homepath.toml"
    site.write_text(site.read_text().replace("../../", ""))
    assert run_in(folder, "next", "--site", str(site), "--done", "claim").status == 1
    done = run_in(folder, "many", "sites", "--json")
    assert lines(done.out)[f"{D}."]["stage"] == "enter", "what was told beside the site file counts"
    assert "1 domain in sites:" in run_in(folder / "sites", "many", ".", "--due", "--network", "../network.toml").out
    elsewhere = run_in(folder, "many", "sites", "--cluster", "tcp://127.0.0.1:9")
    assert elsewhere.status == 2
    assert "journals of their own" in elsewhere.err
    (folder / "sites" / "bad").mkdir()
    (folder / "sites" / "bad" / "homepath.toml").write_text('format = "homepath.site/1"\ndomain = 3\n')
    again = run_in(folder, "many", "sites", "--json")
    assert list(lines(again.out)) == [f"{D}."]
    assert "bad/homepath.toml" in again.err
    assert again.status == 2


def test_lists_that_are_none(folder: Path) -> None:
    (folder / "empty").mkdir()
    (folder / "other.toml").write_text('format = "homepath.site/1"\n')
    (folder / "head.csv").write_text("domian,primary\n")
    for name in ("missing.csv", "empty", "other.toml", "head.csv"):
        done = run_in(folder, "many", name)
        assert done.status == 2, name
        assert done.err
    assert run_in(folder, "next", "--from", "list.csv", D).status == 2, "before the first run nothing is known"
    assert run_in(folder, "next", D).status == 2
    run_in(folder, "many", "list.csv")
    assert run_in(folder, "next", "--from", "list.csv", "other.example").status == 2
    (folder / "list.csv.homepath-many").write_bytes(b"not a database, but long enough to be looked at as one " * 20)
    assert run_in(folder, "many", "list.csv").status == 2


def test_a_changed_row_is_judged_anew_and_a_gone_one_is_silent(folder: Path) -> None:
    run_in(folder, "many", "list.csv")
    (folder / "list.csv").write_text(HEAD + GOOD.replace("www,", "apex,", 1))
    done = run_in(folder, "many", "list.csv", "--due", "--json")
    found = lines(done.out)
    assert list(found) == [f"{D}."]
    assert found[f"{D}."]["act"]["primary"] == f"{D}."  # type: ignore[index]
    with sqlite3.connect(folder / "list.csv.homepath-many") as state:
        assert state.execute("select count(*) from sites").fetchone() == (2,), "it may come back"


def test_a_run_that_was_broken_off_long_ago_is_not_gone_on_with(tmp_path: Path) -> None:
    (tmp_path / "list.csv").write_text(HEAD + GOOD)
    with open_state(tmp_path / "list.csv") as state:
        first = state.begin_run(["all"], 1000.0)
        assert state.begin_run(["all"], 2000.0) == Run(first.id, 1000.0, True)
        assert state.begin_run(["due"], 2000.0).resumed is False
        again = state.begin_run(["all"], 3000.0)
        assert state.begin_run(["all"], 3000.0 + 90_000).resumed is False
        assert state.begin_run(["all"], 3000.0 + 90_001, restart=True).resumed is False
        assert again.id > first.id


OWNED = "domain,primary,brief,notation,site,code,x-owner,ticket\n"
CARRY = 'format = "homepath.list/1"\ntable = "own.csv"\n[columns]\ncarry = ["ticket"]\n'


def owned(folder: Path) -> None:
    """A list with columns of its owner, of which one would be a formula."""
    rows = GOOD.strip() + ",=ada,T-1\n" + NOBODY.strip() + ",bo,T-2\n"
    (folder / "own.csv").write_text(OWNED + rows)
    (folder / "list.toml").write_text(CARRY)


def test_columns_of_the_owner_are_passed_on_everywhere_and_are_no_values_of_a_brief(folder: Path) -> None:
    owned(folder)
    (folder / "keep.py").write_text("import sys, pathlib; pathlib.Path('told.txt').write_text(sys.stdin.read())")
    done = run_in(folder, "many", "list.toml", "--json", "--parquet", "all.parquet", "--then", "python3 keep.py")
    assert done.status == 4, done.err
    assert lines(done.out)[f"{D}."]["columns"] == {"x-owner": "=ada", "ticket": "T-1"}
    assert [json.loads(line)["columns"]["ticket"] for line in (folder / "told.txt").read_text().splitlines()] == [
        "T-1",
        "T-2",
    ]
    assert [row["ticket"] for row in pyarrow.parquet.read_table(folder / "all.parquet").to_pylist()] == ["T-1", "T-2"]
    table = list(csv.DictReader(io.StringIO(run_in(folder, "many", "list.toml", "--due", "--csv").out)))
    assert [(row["x-owner"], row["ticket"]) for row in table] == [("'=ada", "T-1"), ("bo", "T-2")]
    assert [row["act"] for row in table] == ["tell-builder", ""]
    (folder / "list.toml").write_text(CARRY.replace('"ticket"', '"nothing", "domain"'))
    wrong = run_in(folder, "many", "list.toml")
    assert (wrong.status, "nothing" in wrong.err, "Home Path needs this column itself" in wrong.err) == (2, True, True)


def counted(folder: Path, key: str) -> list[dict[str, Any]]:
    out = run_in(folder, "many", "list.toml", "--due", "--by", key, "--json").out
    return [json.loads(line) for line in out.splitlines()]


def test_views_choose_and_count(folder: Path) -> None:
    owned(folder)
    assert run_in(folder, "many", "list.toml").status == 4
    for where, found in (
        (["host=mossgate"], [D]),
        (["x-owner=bo"], ["nobody-here.example"]),
        (["verdict=unknown", "verdict=not-yet"], [D, "nobody-here.example"]),
        (["stage=claim", "ticket=T-2"], []),
    ):
        asked = [word for each in where for word in ("--where", each)]
        out = run_in(folder, "many", "list.toml", "--due", "--json", *asked).out
        assert [name.removesuffix(".") for name in lines(out)] == found, where
    for bad in ("stage=x", "host", "=a"):
        assert run_in(folder, "many", "list.toml", "--due", "--where", bad).status == 2
    by = [
        json.loads(line)
        for line in run_in(folder, "many", "list.toml", "--due", "--by", "ticket", "--json").out.splitlines()
    ]
    assert [(each["value"], each["now"]) for each in by] == [("T-2", {"unknown": 1}), ("T-1", {"not-yet": 1})]
    assert all(each["now"] == each["before"] for each in by)
    assert "nobody has it" not in run_in(folder, "many", "list.toml", "--due", "--by", "stage").out
    assert run_in(folder, "many", "list.toml", "--due", "--by", "nix").status == 2
    assert run_in(folder, "next", "--from", "list.toml", D, "--done", "claim").status == 1
    by = [
        json.loads(line)
        for line in run_in(folder, "many", "list.toml", "--due", "--by", "stage", "--json").out.splitlines()
    ]
    assert {each["value"]: (each["now"], each["before"]) for each in by} == {
        "unknown": ({"unknown": 1}, {"unknown": 1}),
        "enter": ({"not-yet": 1}, {}),
        "claim": ({}, {"not-yet": 1}),
    }


def test_news_are_delivered_at_least_once_with_one_key(folder: Path) -> None:
    (folder / "keep.py").write_text("import sys, pathlib; pathlib.Path('told.txt').write_text(sys.stdin.read())")
    assert run_in(folder, "many", "list.csv").status == 4
    assert run_in(folder, "many", "list.csv", "--due", "--changed").out == ""
    assert run_in(folder, "next", "--from", "list.csv", D, "--done", "claim").status == 1
    assert "claim" not in run_in(folder, "many", "list.csv", "--due", "--json").err, "a check by hand"
    keys = []
    for command, there in (("false", True), ("python3 keep.py", True), ("python3 keep.py", False)):
        done = run_in(folder, "many", "list.csv", "--due", "--changed", "--json", "--then", command)
        found = lines(done.out)
        assert bool(found) == there, command
        keys += [each["change"]["key"] for each in found.values()]  # type: ignore[index]
        for each in found.values():
            assert each["change"]["was"]["stage"] == "claim"  # type: ignore[index]
    assert len(keys) == 2
    assert len(set(keys)) == 1
    assert json.loads((folder / "told.txt").read_text())["change"]["key"] == keys[0]
    text = run_in(folder, "many", "list.csv", "--history", "7d").out
    assert "2026-03-02" in text
    day = json.loads(run_in(folder, "many", "list.csv", "--history", "7", "--json").out)
    assert (day["counts"]["unknown"], day["counts"]["not-yet"], day["changes"]) == (1, 1, 1)
    assert run_in(folder, "many", "list.csv", "--history", "x").status == 2


def test_an_alarm_is_for_what_is_new(folder: Path) -> None:
    assert run_in(folder, "many", "list.csv", "--alarm", "blocker").status == 4, "the first check of a domain is news"
    assert run_in(folder, "many", "list.csv", "--alarm", "blocker").status == 0
    assert run_in(folder, "many", "list.csv", "--alarm", "bad").status == 2


def test_a_second_run_ends_quietly(folder: Path) -> None:
    with only_one(folder / "list.csv.lock") as first:
        assert first
        with only_one(state_file(folder / "list.csv").with_suffix(".lock")):
            done = run_in(folder, "many", "list.csv", "--due")
            assert (done.status, done.out, done.err) == (0, "", "")
            assert "Another run is at work" in run_in(folder, "many", "list.csv", "--due", "--verbose").err


def test_metrics_are_written_whole(folder: Path) -> None:
    assert run_in(folder, "many", "list.csv", "--metrics", "counts.txt").status == 4
    text = (folder / "counts.txt").read_text()
    assert 'homepath_domains{verdict="unknown"} 1' in text
    assert 'homepath_domains{verdict="not-yet"} 1' in text
    assert text.endswith("# EOF\n")
    assert run_in(folder, "many", "list.csv", "--due", "--metrics", ".").status == 2


def test_one_answer_for_many(folder: Path) -> None:
    assert run_in(folder, "many", "list.csv").status == 4
    unasked = run_in(folder, "many", "list.csv", "--done", "claim")
    assert (unasked.status, "add --yes" in unasked.err) == (2, True)
    done = run_in(folder, "many", "list.csv", "--done", "claim", "--where", "verdict=not-yet", "--yes")
    assert (done.status, f"{D}  loses nothing" in done.out, "Recorded for 1 of 1" in done.out) == (0, True, True)
    assert run_in(folder, "many", "list.csv", "--decide", "drop:@ TXT", "--yes").status == 1
    (folder / "bricklark.brief.toml").rename(folder / "away.toml")
    failed = run_in(folder, "many", "list.csv", "--done", "claim", "--where", "verdict=not-yet", "--yes")
    assert (failed.status, "Recorded for 0 of 1" in failed.out) == (2, True)
    assert failed.err.startswith(f"{D}: ")
    assert "Message(" not in failed.err
    (folder / "away.toml").rename(folder / "bricklark.brief.toml")
    assert next(iter(lines(run_in(folder, "many", "list.csv", "--due", "--json").out).values()))["stage"] == "enter"


def test_a_list_whose_file_is_unchanged_is_not_read_again(folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    with open_state(folder / "list.csv") as state:
        assert take_list(state, folder / "list.csv", 1.0, print).bad == 0
        due = "select domain from sites indexed by sites_by_due where listed = 1 and bad = 0 and next_look <= 1"
        plan = " ".join(row[3] for row in state.connection.execute(f"explain query plan {due}"))
        assert "COVERING INDEX sites_by_due" in plan
        monkeypatch.setattr(intake, "listed_in", None)
        assert take_list(state, folder / "list.csv", 1.0, print, unless_unchanged=True) == intake.Taken(0, read=False)
        (folder / "list.csv").write_text(HEAD + GOOD)
        with pytest.raises(TypeError):
            take_list(state, folder / "list.csv", 1.0, print, unless_unchanged=True)
        monkeypatch.undo()
        (folder / "list.csv").write_text(HEAD + GOOD + GOOD + NOBODY.replace("bricklark", "missing"))
        for read in (True, False):
            found = take_list(state, folder / "list.csv", 1.0, print, unless_unchanged=True)
            assert found == intake.Taken(2, read)
        (folder / "missing.brief.toml").write_text((folder / "bricklark.brief.toml").read_text())
        for read in (True, False):  # a file that a bad row names was mended
            found = take_list(state, folder / "list.csv", 1.0, print, unless_unchanged=True)
            assert found == intake.Taken(1, read)


def test_a_list_that_changes_during_a_run_is_checked_as_it_was_read_and_then_read_again(folder: Path) -> None:
    words = [COMMAND, "many", "list.csv", "--due", "--changed", "--json", "--verbose"]
    env = {**os.environ, "HOMEPATH_NETWORK": "network.toml"}
    run = subprocess.Popen(words, cwd=folder, env=env, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    assert run.stderr
    assert any(line.startswith("dns ") for line in run.stderr), "the list was read, and the first query is out"
    half = "half-a-row,ww"
    (folder / "list.csv").write_text(HEAD + NOBODY.replace("nobody", "another") + GOOD + half)
    out, _ = run.communicate(timeout=60)
    assert set(lines(out)) == {f"{D}.", "nobody-here.example."}
    again = run_in(folder, "many", "list.csv", "--due", "--changed", "--json")
    assert (set(lines(again.out)), again.status) == ({"another-here.example."}, 4)
    assert "row 4: this row has 2 cells" in again.err
    assert set(lines(run_in(folder, "many", "list.csv", "--json").out)) == {f"{D}.", "another-here.example."}


def test_one_cause_is_one_line_and_named_domains_are_no_part_of_it(folder: Path) -> None:
    names = [f"nobody-{n}.example" for n in range(5)]
    (folder / "list.csv").write_text(HEAD + GOOD + "".join(NOBODY.replace("nobody-here.example", n) for n in names))
    out = run_in(folder, "many", "list.csv", "--changed").out
    (line,) = [each for each in " ".join(out.split()).split("* ") if "5 domains" in each]
    assert line.startswith("5 domains: example does not delegate the domain")
    assert "(nobody-0.example, nobody-1.example, nobody-2.example and 2 more)" in line
    assert out.count("delegate") == 1
    assert D in out
    assert run_in(folder, "many", "list.csv", "--changed").out == ""
