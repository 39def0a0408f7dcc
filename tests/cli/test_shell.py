"""The command in a bad environment: nothing to write to, nothing to read from, and errors that nobody foresaw."""

from __future__ import annotations

import contextlib
import json
import os
import pty
import resource
import select
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from homepath.practice.world import World
from tests.conftest import COMMAND, START, Run, run_in


def sh(folder: Path, script: str, **environment: str) -> subprocess.CompletedProcess[str]:
    env = {**{k: v for k, v in os.environ.items() if not k.startswith("HOMEPATH")}, "TZ": "UTC", **environment}
    if (folder / "network.toml").exists():
        env["HOMEPATH_NETWORK"] = "network.toml"
    done = subprocess.run(
        ["/bin/sh", "-c", script.replace("homepath", COMMAND, 1)],
        cwd=folder,
        env=env,
        capture_output=True,
        text=True,
        timeout=600,
        check=False,
    )
    assert "Traceback" not in done.stderr, done.stderr
    assert "Exception ignored" not in done.stderr, done.stderr
    return done


def test_what_nobody_foresaw_is_one_sentence_with_the_place_of_the_details(tmp_path: Path) -> None:
    script = (
        "import sys, homepath.app.project as p, homepath.cli.app as app\n"
        "def fail(*a, **k): raise KeyError('odd\\x1b[2J')\n"
        "p.open_project = fail\nsys.argv = ['homepath', 'plan']\napp.main()\n"
    )
    env = {**os.environ, "TMPDIR": str(tmp_path), "HOMEPATH_NETWORK": ""}
    env.pop("HOMEPATH_NETWORK")
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, env=env, check=False)
    assert done.returncode == 4
    assert "Traceback" not in done.stderr
    assert "\x1b" not in done.stderr
    (details,) = tmp_path.glob("homepath-failed-*.txt")
    assert str(details) in done.stderr
    assert "KeyError" in details.read_text()
    wanted = subprocess.run(
        [sys.executable, "-c", script],
        capture_output=True,
        text=True,
        env={**env, "HOMEPATH_TRACEBACK": "1"},
        check=False,
    )
    assert "Traceback" in wanted.stderr


@pytest.mark.parametrize(
    ("script", "status"),
    [
        ("homepath --version >/dev/full", 4),
        ("homepath explain near-miss >/dev/full", 4),
        ("homepath explain near-miss | head -c 1", 0),
        ("homepath explain near-miss >&-", None),
        ("homepath explain near-miss 2>&-", 0),
        ("homepath next <&-", 2),
        ("mkdir gone && cd gone && rmdir ../gone && homepath plan", 2),
        ("homepath brief read <&-", 2),
    ],
)
def test_a_place_that_takes_or_gives_nothing(script: str, status: int | None, tmp_path: Path) -> None:
    done = sh(tmp_path, script)
    assert status is None or done.returncode == status, done.stderr


def test_a_terminal_that_knows_only_ascii(world: World, homepath: Run, tmp_path: Path) -> None:
    brief = tmp_path / "bricklark.brief.toml"
    brief.write_text(brief.read_text().replace('builder = "Bricklark"', 'builder = "Bricklärk \\u001b[2J"'))
    assert homepath(*START).status == 0
    homepath("survey")
    plain = sh(tmp_path, "homepath plan", PYTHONIOENCODING="ascii:strict", LC_ALL="C", PYTHONUTF8="0")
    assert plain.returncode == 1
    assert "Brickl\\xe4rk" in plain.stdout
    for words in (("plan",), ("brief", "check", "bricklark.brief.toml"), ("brief", "show", "bricklark.brief.toml")):
        assert "\x1b" not in homepath(*words).out


def test_a_label_and_another_primary_are_refused_together(world: World, tmp_path: Path) -> None:
    words = ["start", "shop.tidewick-kiln.example", *START[2:]]
    done = run_in(tmp_path, *words)
    assert done.status == 2
    assert "shop.tidewick-kiln.example" in done.err
    assert not (tmp_path / "homepath.toml").exists()
    words[words.index("www")] = "shop"
    assert run_in(tmp_path, *words).status == 0


def test_one_code_for_each_domain(world: World, tmp_path: Path) -> None:
    more = ("--also", "tidewick-pots.example", "--value", "code@tidewick-pots.example=tk-9000")
    assert run_in(tmp_path, *START, *more).status == 0
    text = (tmp_path / "homepath.toml").read_text()
    assert "tk-9000" in text
    from homepath.app.project import open_project

    main = open_project(tmp_path / "homepath.toml")
    proofs = {
        each.domain: [w.record.values[0] for w in each.wanted.wants if "owner=" in w.record.values[0]]
        for each in main.all_domains(0.0)
    }
    assert "tk-4471" in proofs["tidewick-kiln.example."][0]
    assert "tk-9000" in proofs["tidewick-pots.example."][0]
    odd = run_in(tmp_path, *START, "--value", "code@other.example=1")
    assert (odd.status, "other.example" in odd.err) == (2, True)


def test_a_journal_of_any_content_stops_no_command(world: World, homepath: Run, tmp_path: Path) -> None:
    """A registry date of the year 1 or 9999 once ended every later command in a traceback."""
    import sqlite3

    assert homepath(*START).status == 0
    homepath("next")
    with sqlite3.connect(tmp_path / "homepath.journal") as connection:
        (text,) = connection.execute("select stored from looks where kind = 'survey' order by id desc").fetchone()
        value = json.loads(text)
        for expires in (-62135596800.0, 253402300799.0, "soon"):
            value["value"]["registration"]["expires"] = expires
            connection.execute(
                "insert into looks (at, kind, domain, verdict, body, stored) values (1, 'survey', ?, 'x', '{}', ?)",
                ("tidewick-kiln.example.", json.dumps(value)),
            )
            connection.commit()
            for words in (
                ("plan",),
                ("plan", "--json"),
                ("sheet",),
                ("log",),
                ("next", "--calendar", "c.ics"),
                ("visit",),
            ):
                assert homepath(*words).status in (0, 1, 2, 3)
    connection.close()


@pytest.mark.parametrize("hung_up", [False, True])
def test_a_terminal_that_goes_away_ends_the_live_view(
    world: World, homepath: Run, tmp_path: Path, hung_up: bool
) -> None:
    """End of input, and a hang-up that the shell told the command to ignore: it once read at full speed for ever."""
    assert homepath(*START).status == 0
    homepath("survey")
    assert homepath("send", "--key", "mossgate.key", "--yes", "--early").status == 1
    mine, theirs = pty.openpty()
    (tmp_path / "failures").mkdir()
    env = {**os.environ, "HOMEPATH_NETWORK": "network.toml", "TERM": "xterm", "COLUMNS": "120", "LINES": "40"}
    env["TMPDIR"] = str(tmp_path / "failures")
    process = subprocess.Popen(
        [COMMAND, "watch"], cwd=tmp_path, env=env, stdin=theirs, stdout=theirs, stderr=subprocess.DEVNULL,
        start_new_session=True, preexec_fn=lambda: signal.signal(signal.SIGHUP, signal.SIG_IGN) and None,
    )  # fmt: skip
    os.close(theirs)
    seen, ends = b"", time.monotonic() + 600
    while b"q quits" not in seen and time.monotonic() < ends:
        if select.select([mine], [], [], 0.2)[0]:
            seen += os.read(mine, 65536)
    assert b"q quits" in seen
    if hung_up:
        os.close(mine)
    else:
        os.write(mine, b"\x04q")
    begin = resource.getrusage(resource.RUSAGE_CHILDREN).ru_utime
    while process.poll() is None and time.monotonic() < ends:
        if not hung_up and select.select([mine], [], [], 0.2)[0]:
            with contextlib.suppress(OSError):  # the other side has closed it
                os.read(mine, 65536)
        time.sleep(0.05)
    assert process.poll() is not None
    assert not list((tmp_path / "failures").iterdir()), "a closed terminal is no failure"
    assert resource.getrusage(resource.RUSAGE_CHILDREN).ru_utime - begin < 30
    if not hung_up:
        os.close(mine)
