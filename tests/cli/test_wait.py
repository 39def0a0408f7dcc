"""Waiting as a user does it: the live view, the forecast, the calendar."""

from __future__ import annotations

import fcntl
import json
import os
import pty
import select
import signal
import subprocess
import termios
import time
from pathlib import Path

import jsonschema
import pytest
from icalendar import Calendar

from homepath.practice.world import World
from tests.cli.test_story import SCHEMAS
from tests.conftest import COMMAND, START, Run


def _as_in_a_terminal() -> None:
    """The terminal is its own, and Ctrl-C reaches it, also where whoever runs the tests ignores that."""
    fcntl.ioctl(0, termios.TIOCSCTTY, 0)
    signal.signal(signal.SIGINT, signal.SIG_DFL)


@pytest.mark.parametrize("key", [b"q", b"\x03"])
def test_the_live_view_leaves_the_terminal_as_it_was(world: World, homepath: Run, tmp_path: Path, key: bytes) -> None:
    assert homepath(*START).status == 0
    homepath("survey")
    assert homepath("send", "--key", "mossgate.key", "--yes", "--early").status == 1
    mine, theirs = pty.openpty()
    before = termios.tcgetattr(theirs)
    env = {**os.environ, "HOMEPATH_NETWORK": "network.toml", "TERM": "xterm", "COLUMNS": "120", "LINES": "40"}
    process = subprocess.Popen(
        [COMMAND, "watch"], cwd=tmp_path, env=env, stdin=theirs, stdout=theirs, stderr=theirs, start_new_session=True,
        preexec_fn=_as_in_a_terminal,
    )  # fmt: skip
    seen = b""
    pressed, ends = False, time.monotonic() + 600
    while process.poll() is None and time.monotonic() < ends:
        if select.select([mine], [], [], 0.2)[0]:
            seen += os.read(mine, 65536)
        if b"q quits" in seen and not pressed:
            os.write(mine, key)
            pressed = True
    while select.select([mine], [], [], 0.2)[0]:
        seen += os.read(mine, 65536)
    assert pressed
    assert process.wait(300) == 1  # the bound is there to end a hung test, not to measure a busy machine
    assert termios.tcgetattr(theirs) == before
    assert b"Traceback" not in seen
    assert seen.rfind(b"\x1b[?25h") > seen.rfind(b"\x1b[?25l") >= 0
    os.close(mine)
    os.close(theirs)


def test_the_forecast_is_one_object_and_a_picture(world: World, homepath: Run, tmp_path: Path) -> None:
    assert homepath(*START).status == 0
    assert "survey" in homepath("forecast").err
    homepath("survey")
    done = homepath("forecast", "--json", "--wait", "10 min", "--figure", "f.png")
    value = json.loads(done.out)
    jsonschema.validate(value, json.loads((SCHEMAS / "forecast.schema.json").read_text()))
    assert [each["order"] for each in value["orders"]] == ["at-once", "lower-first", "wait-600", "remove-first"]
    assert value["recommended"] == "at-once"
    assert (tmp_path / "f.png").read_bytes()[:4] == b"\x89PNG"
    text = homepath("forecast").out
    assert "Best for tidewick-kiln.example: replace at once." in text
    for words in (
        ("--clamped", "60", "--stale", "60"),
        ("--gap", "soon"),
        ("--figure", "f.bmp"),
        ("--figure", "no/f.png"),
    ):
        assert homepath("forecast", *words).status == 2
    assert homepath("send", "--key", "mossgate.key", "--yes", "--early").status == 1
    homepath("survey")
    assert "changes nothing" in homepath("forecast").err


def test_the_calendar_follows_the_domain(world: World, homepath: Run, tmp_path: Path) -> None:
    assert homepath(*START).status == 0
    (tmp_path / "mine.ics").write_text("my notes")
    done = homepath("next", "--calendar", "mine.ics")
    assert (done.status, "not a calendar file" in done.err) == (2, True)
    assert (tmp_path / "mine.ics").read_text() == "my notes"
    assert homepath("send", "--key", "mossgate.key", "--yes", "--early").status in (1, 4)
    for _ in range(2):
        homepath("next", "--calendar", "waits.ics")
    events = Calendar.from_ical((tmp_path / "waits.ics").read_text()).walk("VEVENT")
    assert sorted(str(each["uid"]).split(".")[0] for each in events) == ["registration", "spread"]
