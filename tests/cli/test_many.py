"""`homepath many` over a practice world: one domain that exists among rows that do not work out."""

from __future__ import annotations

import csv
import io
import json
import sqlite3
from contextlib import closing
from pathlib import Path

import jsonschema
import pyarrow.parquet
import pytest

from homepath.bulk.site_state import Run
from homepath.bulk.state import open_state
from homepath.practice.world import World
from tests.conftest import START, run_in

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
        opened.execute("alter table sites drop column verdict")
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
    assert f"homepath next --from list.csv {D}" in text


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
