"""`next --follow` from the first step to arrival, in a terminal of its own, with one mistake on the way."""

from __future__ import annotations

import json
import os
import pty
import select
import signal
import subprocess
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest

from homepath.cli.story import opened
from homepath.core.site.wanted import Wanted
from homepath.practice.scene_file import load_scene
from homepath.practice.world import World
from tests.cli.test_story import SCHEMAS
from tests.conftest import COMMAND, SPEED, START, Run, run_in
from tests.practice.mistakes import doubled_name, nameserver_mistyped, wrong_digit
from tests.practice.robot import Robot
from tests.practice.test_robot import _wanted

DRAWN = b"\x1b]0;"
"""Every check that is drawn sets the terminal's title."""


@dataclass
class Screen:
    """The follower in a terminal, and what it has written so far."""

    process: subprocess.Popen[bytes]
    terminal: int
    text: bytes = b""

    def read(self, until: bytes, since: int, limit: float = 25.0) -> bool:
        """Whether it writes that, after the first `since` octets; also true at its end."""
        ends = time.monotonic() + limit
        while until not in self.text[since:]:
            if time.monotonic() > ends:
                return False
            if select.select([self.terminal], [], [], 0.1)[0]:
                try:
                    self.text += os.read(self.terminal, 65536)
                except OSError:
                    return True
            elif self.process.poll() is not None:
                return True
        return True

    def press(self, key: bytes) -> None:
        with suppress(OSError):
            os.write(self.terminal, key)


def follower(folder: Path, *words: str) -> Screen:
    mine, theirs = pty.openpty()
    env = {k: v for k, v in os.environ.items() if not k.startswith("HOMEPATH")}
    env |= {"HOMEPATH_NETWORK": "network.toml", "TZ": "UTC", "TERM": "xterm", "COLUMNS": "100"}
    command = [COMMAND, "next", "--follow", "--bell", "--plain", *words]
    process = subprocess.Popen(
        command, cwd=folder, env=env, stdin=theirs, stdout=theirs, stderr=theirs, start_new_session=True
    )
    os.close(theirs)
    return Screen(process, mine)


def arrive(robot: Robot, screen: Screen, kind: str, mistake: Callable[[], object], code: bytes) -> None:
    """Do what the screen says, with one mistake at the first act of this kind, until the domain has arrived."""
    made = False
    assert screen.read(b"Keys:", 0)
    for _ in range(40):
        since, answer = len(screen.text), robot.next()
        act = answer["act"]
        if act["kind"] == "none" or screen.process.poll() is not None:
            break
        if act["kind"] == kind and not made:
            mistake()
            made = True
            if kind != "enter":
                screen.press(b"c")
            assert screen.read(code, since), screen.text[since:].decode()
            continue
        if act["kind"] == "wait":
            robot.wait(act)
        elif robot.do(answer):
            screen.press(b"d")
        elif act["kind"] != "enter":  # at the registrar: the next check may be two minutes away
            screen.press(b"c")
        assert screen.read(DRAWN, since), screen.text[since:].decode()
    since = len(screen.text)
    screen.press(b"c")
    screen.read(b"has arrived", since)
    assert made
    assert screen.process.wait(60) == 0


@pytest.mark.parametrize(
    ("scene", "kind", "mistake", "code"),
    [
        ("first-site", "enter", wrong_digit, b"near-miss"),
        ("newsletter", "enter", doubled_name, b"doubled"),
        ("prepared-first", "name-servers", nameserver_mistyped, b"nss"),
    ],
)
def test_it_stays_until_the_domain_has_arrived(
    tmp_path: Path, scene: str, kind: str, mistake: Callable[[Robot, Wanted, Any], object], code: bytes
) -> None:
    world = World(load_scene(scene), tmp_path, SPEED)
    with opened(world):
        if not (tmp_path / "homepath.toml").exists():
            assert run_in(tmp_path, *START).status == 0
        robot = Robot(world, tmp_path)
        wanted = _wanted(scene, "homepath.toml")
        assert wanted is not None
        screen = follower(tmp_path, "--then", "cp /dev/stdin turn.json")
        try:
            arrive(robot, screen, kind, lambda: mistake(robot, wanted, robot.said[-1]["act"]), code)
        finally:
            screen.process.kill()
            os.close(screen.terminal)
    assert b"Traceback" not in screen.text
    assert (b"records are in." in screen.text) == (kind == "enter")
    assert b"has arrived" in screen.text
    assert screen.text.count(b"\a") > screen.text.count(DRAWN), "it rings when it is the person's turn"
    assert json.loads((tmp_path / "turn.json").read_text())["act"]["kind"] == "none"


def test_without_a_terminal_each_change_is_a_line(world: World, homepath: Run, tmp_path: Path) -> None:
    assert homepath(*START).status == 0
    env = {**os.environ, "HOMEPATH_NETWORK": "network.toml"}
    for words in ((), ("--json",)):
        process = subprocess.Popen(
            [COMMAND, "next", "--follow", *words], cwd=tmp_path, env=env, stdout=subprocess.PIPE, text=True,
            preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),  # also where the tests ignore it
        )  # fmt: skip
        assert process.stdout is not None
        line = process.stdout.readline()
        process.send_signal(2)
        assert process.wait(60) == 1
        process.stdout.close()
        if words:
            value = json.loads(line)
            schema = json.loads((SCHEMAS / "next.schema.json").read_text())
            assert value["format"] == schema["properties"]["format"]["const"]
        else:
            assert line[:4].isdecimal()
            assert "primary address" in line
    done = homepath("next", "--bell")
    assert (done.status, "--follow" in done.err) == (2, True)
