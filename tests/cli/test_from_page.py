"""From the builder's page to the plan, as a user does it: files, pipes, a terminal, and the form's own table back."""

from __future__ import annotations

import json
import os
import pty
import select
import signal
import subprocess
import time
from pathlib import Path

import jsonschema
import pytest

from homepath.practice.world import World
from tests.conftest import COMMAND, Run

PAGE = """Connect your domain to Bricklark
Delete these records if they are there:
A\t@\t198.51.100.7
Then add these:
Type\tHost\tPoints to\tTTL
A\t@\t192.0.2.10\t1 hour
A\t@\t192.0.2.44\t1 hour
CNAME\twww\tsite-20817.edge.bricklark.example\t1 hour
TXT\t@\tbricklark-owner=tk-4471\t1 hour
"""
DOMAIN = "tidewick-kiln.example"
SCHEMA = json.loads((Path(__file__).parents[2] / "docs/schemas/page.schema.json").read_text())


def test_a_page_a_survey_and_a_plan(world: World, homepath: Run, tmp_path: Path) -> None:
    (tmp_path / "page.txt").write_text(PAGE)
    started = homepath(
        "start", DOMAIN, "--page", "page.txt", "--builder", "Bricklark", "--notation", "mossgate.notation.toml"
    )
    assert started.status == 0, started.err
    assert "line 6" in started.out
    assert 'line 3: "A @ 198.51.100.7", to be deleted' in started.out
    assert started.out.count("[x]") == 4
    assert homepath("survey").status in (0, 1)
    plan = json.loads(homepath("plan", "--json").out)
    assert {
        (each["name"], each["type"], tuple(each["values"])) for each in plan["changes"] if each["move"] != "keep"
    } >= {
        (f"{DOMAIN}.", "A", ("192.0.2.10", "192.0.2.44")),
        (f"www.{DOMAIN}.", "CNAME", ("site-20817.edge.bricklark.example.",)),
    }
    # read once more, the folder keeps what the page does not say
    again = homepath("start", DOMAIN, "--page", "page.txt")
    assert again.status == 0
    site = (tmp_path / "homepath.toml").read_text()
    assert 'notation = "mossgate.notation.toml"' in site
    # what was typed into the form, pasted back, is seen before the first server is asked for it
    table = "Type\tName\tContent\tTTL\nTXT\t@\tbricklark-owner=tk-4471\t1 h\tEdit\tDelete\n"
    table += "A\tpots\t203.0.113.9\t1 h\tEdit\tDelete\n"
    (tmp_path / "form.txt").write_text(table)
    seen = json.loads(homepath("survey", "--zone", "form.txt", "--json").out)
    assert any(each["name"] == f"pots.{DOMAIN}." and each["values"] == ["203.0.113.9"] for each in seen["records"])
    cards = "Name: pots\nType: A\nContent: 203.0.113.9\n\nName: @\nType: TXT\nContent: v=spf1 mx -all\n"
    (tmp_path / "form.txt").write_text(cards)
    assert homepath("survey", "--zone", "form.txt").status in (0, 1)
    question = homepath("sheet", "--question").out
    assert "A, CNAME, TXT" in question
    assert DOMAIN in question


@pytest.mark.parametrize(
    ("text", "status", "verdict"),
    [
        (PAGE, 0, "read"),
        ("A 192.0.2.10\n", 1, "doubtful"),
        ("Thank you for your order.\n", 2, "nothing"),
        ("Option 1\nA @ 192.0.2.10\nOption 2\nA @ 192.0.2.44\n", 1, "doubtful"),
    ],
)
def test_the_reading_as_json(homepath: Run, tmp_path: Path, text: str, status: int, verdict: str) -> None:
    (tmp_path / "page.txt").write_text(text)
    done = homepath("brief", "read", "page.txt", "--json")
    found = json.loads(done.out)
    jsonschema.validate(found, SCHEMA)
    assert (done.status, found["verdict"]) == (status, verdict)
    assert {each["line"] for each in found["lines"]} >= {
        n for n, line in enumerate(text.splitlines(), 1) if line.strip()
    }


def test_bad_words_are_refused_with_what_to_do(homepath: Run, tmp_path: Path) -> None:
    (tmp_path / "page.txt").write_text(PAGE)
    assert "shop" in homepath("start", f"shop.{DOMAIN}", "--primary", "www", "--page", "page.txt").err
    assert "--page FILE" in homepath("start", DOMAIN).err
    both = homepath("start", DOMAIN, "--page", "page.txt", "--brief", "b.toml")
    assert (both.status, "give one of them" in both.err) == (2, True)
    assert homepath("brief", "read", "page.txt", "--values", "maybe").status == 2
    (tmp_path / "page.txt").write_text("A 192.0.2.10\n")
    doubtful = homepath("start", DOMAIN, "--page", "page.txt")
    assert (doubtful.status, (tmp_path / "homepath.toml").exists()) == (1, False)
    assert "--host 1=NAME" in doubtful.err
    assert homepath("start", DOMAIN, "--page", "page.txt", "--yes").status == 1  # no row is ticked
    assert "1 to 1" in homepath("start", DOMAIN, "--page", "page.txt", "--enter", "4").err
    assert homepath("start", DOMAIN, "--page", "page.txt", "--host", "1=@").status == 0
    assert (tmp_path / "builder.brief.toml").exists()
    (tmp_path / "builder.brief.toml").write_text("# mine\n" + (tmp_path / "builder.brief.toml").read_text())
    assert homepath("start", DOMAIN, "--page", "page.txt", "--host", "1=@").status == 0
    assert (tmp_path / "builder.brief.toml").read_text().startswith("# mine")
    ask = homepath("brief", "read", "page.txt", "--values", "ask", "--host", "1=@")
    assert ask.status == 0


def test_what_belongs_to_one_site_becomes_a_value(homepath: Run, tmp_path: Path) -> None:
    (tmp_path / "page.txt").write_text(PAGE)
    assert homepath("start", DOMAIN, "--page", "page.txt", "--builder", "Bricklark", "--values", "ask").status == 0
    assert 'value = "bricklark-owner={code}"' in (tmp_path / "bricklark.brief.toml").read_text()
    assert 'code = "tk-4471"' in (tmp_path / "homepath.toml").read_text()


def test_the_notation_is_told_from_rows(homepath: Run, tmp_path: Path) -> None:
    rows = "Type;Name;Content;TTL\nA;tidewick-kiln.example;198.51.100.7;3600\n"
    rows += "CNAME;www.tidewick-kiln.example;a.example.;3600\n"
    (tmp_path / "rows.csv").write_text(rows + 'TXT;tidewick-kiln.example;"""v=spf1 mx -all""";3600\n')
    done = homepath("notation", "read", DOMAIN, "rows.csv", "--host", "Mossgate", "--to", "m.notation.toml")
    assert done.status == 0, done.err
    text = (tmp_path / "m.notation.toml").read_text()
    for line in ('apex = "full"', 'names = "full"', 'final_dot = "required"', "complete = false"):
        assert line in text
    assert "which types it lacks" in done.err
    few = homepath("notation", "read", DOMAIN, "few.txt")
    assert few.status == 2
    (tmp_path / "few.txt").write_text("Type\tName\tValue\nA\twww\t192.0.2.1\n")
    assert homepath("notation", "read", DOMAIN, "few.txt").status == 1
    assert homepath("notation", "check", "m.notation.toml").status == 0


def typed(folder: Path, words: list[str], answers: list[tuple[str, str]]) -> tuple[int, str]:
    """The command on a terminal of its own; each answer is typed when its question has appeared."""
    pid, terminal = pty.fork()
    if pid == 0:
        os.chdir(folder)
        os.environ["TERM"] = "xterm"
        os.execv(COMMAND, ["homepath", *words])
    said, at, left, ends = "", 0, list(answers), time.monotonic() + 300
    while True:
        if time.monotonic() > ends:
            os.kill(pid, signal.SIGKILL)
            os.waitpid(pid, 0)
            raise AssertionError(f"it waits for something else: {said}")
        ready, _, _ = select.select([terminal], [], [], 0.2)
        if ready:
            try:
                piece = os.read(terminal, 4096)
            except OSError:
                break
            if not piece:
                break
            said += piece.decode("utf-8", "replace")
        if left and left[0][0] in said[at:]:
            os.write(terminal, left.pop(0)[1].encode())
            at = len(said)
    _, status = os.waitpid(pid, 0)
    assert not left, said
    return os.waitstatus_to_exitcode(status), said


def test_on_a_terminal_the_page_is_pasted_or_questions_are_answered(tmp_path: Path) -> None:
    pasted, answered = tmp_path / "pasted", tmp_path / "answered"
    pasted.mkdir()
    answered.mkdir()
    status, said = typed(
        pasted, ["start", DOMAIN],
        [("Which", "1\n"), ("Paste the page", PAGE.replace("\t", "   ") + "\n\n"),
         ("what your page asks", "1 host\n"), ("rows that are wrong", "5\n"), ("what your page asks", "1\n"),
         ("what your page asks", "1 5\n"), ("what your page asks", "\n"), ("Where should the site be", "\n")],
    )  # fmt: skip
    assert status == 0, said
    assert (pasted / "homepath.toml").exists()
    status, said = typed(
        answered, ["start", DOMAIN],
        [("Which", "3\n"), ("nameservers?", "n\n"), ("Type of the next", "A\n"), ("host or name", "\n"),
         ("Its value", "192.0.2.10\n"), ("Type of the next", "\n"),
         ("what your page asks", "\n"), ("Where should the site be", "apex\n")],
    )  # fmt: skip
    assert status == 0, said
    assert "192.0.2.10" in (answered / "builder.brief.toml").read_text()


def test_what_the_rows_do_not_show_is_asked_for(tmp_path: Path) -> None:
    (tmp_path / "few.txt").write_text("Type\tName\tValue\nA\twww\t192.0.2.1\n")
    answers = [
        ("domain itself is written", "@\n"), ("Targets end", "no\n"), ("TXT values are", "no\n"),
        ("TTLs", "5 min, 1 h\n"),
        ("types does it lack", "CAA\n"), ("alias at the domain", "\n"), ("Can it forward", "http\n"),
    ]  # fmt: skip
    status, said = typed(tmp_path, ["notation", "read", DOMAIN, "few.txt", "--to", "n.notation.toml"], answers)
    assert status == 0, said
    text = (tmp_path / "n.notation.toml").read_text()
    for line in (
        'apex = "@"',
        'lacks = ["CAA"]',
        "available = true",
        "https = false",
        "complete = false",
        "#   whether it has",
    ):
        assert line in text


def test_a_page_in_a_pipe(tmp_path: Path) -> None:
    done = subprocess.run(
        [COMMAND, "start", DOMAIN, "--page", "-"], input=PAGE, text=True, cwd=tmp_path, capture_output=True, check=False
    )
    assert done.returncode == 0, done.stderr
    assert (tmp_path / "builder.brief.toml").exists()
