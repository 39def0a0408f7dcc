"""All commands run at one moment give one answer: the same assessment as JSON, and no text that names another end."""

from __future__ import annotations

import contextlib
import io
import json
import re
from datetime import UTC, datetime
from typing import Any

import pytest

from homepath.cli.app import main
from homepath.core.model.times import from_rfc3339
from homepath.core.wording.times import clock_time
from tests.conftest import Done
from tests.practice.robot import Robot

Json = dict[str, Any]
ASSESS = ("plan", "sheet", "report", "send --dry-run")
"""Commands that show what the journal knows."""
OBSERVE = ("survey", "watch --once", "visit", "compare", "next")
"""Commands that check something first."""
TEXTS = ("next", "visit", "watch --once", "sheet", "plan")
END = re.compile(r"(?:until|by|By) ((?:\w{3} \d{1,2} \w{3} )?\d\d:\d\d UTC)")


def run_here(robot: Robot, *words: str) -> Done:
    """`homepath` in this process: starting another one for each of a thousand commands would take most of the time."""
    out, err = io.StringIO(), io.StringIO()
    wanted = {"HOMEPATH_NETWORK": str(robot.folder / "network.toml"), "COLUMNS": "100"}
    with (
        pytest.MonkeyPatch.context() as patch,
        contextlib.redirect_stdout(out),
        contextlib.redirect_stderr(err),
    ):
        for name, value in wanted.items():
            patch.setenv(name, value)
        patch.chdir(robot.folder)
        patch.setattr("sys.argv", ["homepath", *words, "--site", robot.site])
        patch.setattr("sys.stdin", io.StringIO())
        with pytest.raises(SystemExit) as ended:
            main()
    return Done(ended.value.code if isinstance(ended.value.code, int) else 0, out.getvalue(), err.getvalue())


def assessment_of(robot: Robot, words: str) -> tuple[Json | None, int]:
    """What a command says with --json; None where it has no question to answer (exit status 2) or is refused."""
    done = run_here(robot, *words.split(), "--json")
    if not done.out:
        assert done.status in (2, 3), (words, done)
        return None, done.status
    return dict(json.loads(done.out)["assessment"]), done.status


def agree(robot: Robot, answer: Json, observing: bool = True) -> None:
    """Fails where two commands differ."""
    expected = dict(answer["assessment"])
    for words in (*(OBSERVE if observing else ()), *ASSESS):
        found, status = assessment_of(robot, words)
        if found is None:
            continue
        if words != "compare":  # it answers a question of its own
            assert status == found["exit"], (words, status, found)
        new_facts = words in OBSERVE
        here, there = _settled(found, new_facts), _settled(expected, new_facts)
        assert here == there, (words, {key: (here[key], there[key]) for key in here if here[key] != there[key]})
        expected = found
    if observing:
        _texts_agree(robot, expected)


def _settled(found: Json, new_facts: bool) -> Json:
    """Everything but when it was assessed. Each check may learn something new of a resolver, and nothing else."""
    findings = [each for each in found["findings"] if not (new_facts and each["who"] == "resolver")]
    return {**found, "at": None, "findings": findings}


def _texts_agree(robot: Robot, expected: Json) -> None:
    ends: dict[str, list[str]] = {}
    for words in TEXTS:
        done = run_here(robot, *words.split())
        assert done.status == expected["exit"], (words, done.status, expected)
        for end in END.findall(done.out):
            ends.setdefault(end.split()[-2], []).append(words)
    until = expected["wait_until"]
    allowed = {clock_time(from_rfc3339(until), 0.0).split()[-2]} if until else set()
    assert set(ends) <= allowed, (ends, until, datetime.fromtimestamp(robot.world.clock.now(), UTC))
