"""All commands run at one moment give one answer: the same assessment as JSON, and no text that names another end."""

from __future__ import annotations

import json
import re
from datetime import UTC, datetime
from typing import Any

from homepath.core.model.times import from_rfc3339
from homepath.core.wording.times import clock_time
from tests.conftest import run_in
from tests.practice.robot import Robot

Json = dict[str, Any]
ASSESS = ("plan", "sheet", "report", "send --dry-run")
"""Commands that show what the journal knows."""
OBSERVE = ("survey", "watch --once", "visit", "compare", "next")
"""Commands that check something first."""
TEXTS = ("next", "visit", "watch --once", "sheet", "plan")
END = re.compile(r"(?:until|by|By) ((?:\w{3} \d{1,2} \w{3} )?\d\d:\d\d UTC)")


def assessment_of(robot: Robot, words: str) -> tuple[Json | None, int]:
    """What a command says with --json; None where it has no question to answer (exit status 2) or is refused."""
    done = run_in(robot.folder, *words.split(), "--json", "--site", robot.site)
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
        assert _without_time(found) == _without_time(expected), words
        expected = found
    if observing:
        _texts_agree(robot, expected)


def _without_time(found: Json) -> Json:
    """Everything but when it was assessed; a wait for a record that is not entered yet begins now, so it may move."""
    until = found["wait_until"] and round(from_rfc3339(found["wait_until"]) / 60)
    return {**found, "at": None, "wait_until": until}


def _texts_agree(robot: Robot, expected: Json) -> None:
    ends: dict[str, list[str]] = {}
    for words in TEXTS:
        done = run_in(robot.folder, *words.split(), "--site", robot.site)
        assert done.status == expected["exit"], (words, done.status, expected)
        for end in END.findall(done.out):
            ends.setdefault(end.split()[-2], []).append(words)
    until = expected["wait_until"]
    allowed = {clock_time(from_rfc3339(until), 0.0).split()[-2]} if until else set()
    assert set(ends) <= allowed, (ends, until, datetime.fromtimestamp(robot.world.clock.now(), UTC))
