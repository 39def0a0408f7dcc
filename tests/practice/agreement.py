"""All commands run at one moment give one answer: the same assessment as JSON, and no text that names another end."""

from __future__ import annotations

import contextlib
import io
import json
import re
from collections.abc import Sequence
from pathlib import Path
from typing import Any, Protocol

import pytest

from homepath.app.workspace import Workspace
from homepath.cli.app import main
from homepath.core.model.times import from_rfc3339
from homepath.core.wording.times import clock_time
from homepath.net.network_file import load_network
from tests.conftest import Done

Json = dict[str, Any]
ASSESS = ("plan", "sheet", "report", "send --dry-run", "forecast")
"""Commands that show what the journal knows."""
OBSERVE = ("survey", "watch --once", "visit", "compare", "next")
"""Commands that check something first."""
TEXTS = ("sheet", "plan", "log", "watch --once", "visit", "next")
"""Their texts name no end but the one of the assessment before them; each check may learn of another one."""
NAMES_THE_CAUSE = ("sheet", "plan", "watch --once", "visit", "next")
"""Their texts name what is in the way, with its code."""
END = re.compile(r"(?:until|by|By) ((?:\w{3} \d{1,2} \w{3} )?\d\d:\d\d UTC)")


class Someone(Protocol):
    """Who runs the commands: about `site`, as --site takes it, in `folder`; `said`: what was said so far."""

    folder: Path
    site: str

    @property
    def said(self) -> Sequence[object]: ...


def run_inside(folder: Path, *words: str) -> Done:
    """`homepath` in this process: starting another one for each of a thousand commands would take most of the time."""
    out, err = io.StringIO(), io.StringIO()
    wanted = {"HOMEPATH_NETWORK": str(folder / "network.toml"), "COLUMNS": "100"}
    with pytest.MonkeyPatch.context() as patch, contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        for name, value in wanted.items():
            patch.setenv(name, value)
        patch.chdir(folder)
        patch.setattr("sys.argv", ["homepath", *words])
        patch.setattr("sys.stdin", io.StringIO())
        with pytest.raises(SystemExit) as ended:
            main()
    return Done(ended.value.code if isinstance(ended.value.code, int) else 0, out.getvalue(), err.getvalue())


def run_here(robot: Someone, *words: str) -> Done:
    return run_inside(robot.folder, *words, "--site", robot.site)


def assessment_of(robot: Someone, words: str) -> tuple[Json | None, int]:
    """What a command says with --json; None where it has no question to answer (exit status 2) or is refused."""
    done = run_here(robot, *words.split(), "--json")
    if not done.out:  # such as a forecast where nothing changes for visitors
        assert done.status in (2, 3), (words, done)
        return None, done.status
    whole = json.loads(done.out)
    if words.startswith("watch") and done.status == 0:
        assert whole["verdict"] not in ("not-entered", "entered-wrong", "split"), whole
    if whole["assessment"]["exit"] == 0:
        assert not [each for each in whole["assessment"]["findings"] if each["level"] == "blocker"], whole["assessment"]
    return dict(whole["assessment"]), done.status


def agree(robot: Someone, answer: Json) -> None:
    """Fails where a command says something else than what the journal holds by then: after each check, whatever it
    learned, every command that only shows gives that very assessment. The texts take turns with the JSON."""
    if answer["where"] != "builder":  # which runs the new zone itself
        assert answer["act"].get("where") in (None, answer["where"]), "records are entered where the step is done"
    if len(robot.said) % 2 == 0:
        _texts_agree(robot, answer)
        return
    if answer["act"]["kind"] == "enter":  # the sheet is about what is to be entered now, at whichever domain
        jobs = json.loads(run_here(robot, "sheet", "--json").out)["jobs"]
        for deed in ("delete", "enter"):
            typed = sorted((each["name"], each["type"]) for each in answer["act"][deed])
            assert typed == sorted((job["name"], each["type"]) for job in jobs for each in job[deed]), jobs
    for words in OBSERVE:
        found, status = assessment_of(robot, words)
        if found is None:
            continue
        if words != "compare":  # it answers a question of its own
            assert status == found["exit"], (words, status, found)
        for other in ASSESS if words == OBSERVE[-1] else ASSESS[:1]:
            shown, status = assessment_of(robot, other)
            if shown is not None:
                differing = {key: (shown[key], found[key]) for key in shown if key != "at" and shown[key] != found[key]}
                assert not differing, (words, other, differing)
                assert status == found["exit"], (words, other, status)


def _texts_agree(robot: Someone, answer: Json) -> None:
    for words in TEXTS:
        done = run_here(robot, *words.split())
        now, status = assessment_of(robot, "plan")
        assert now is not None
        assert (words, done.status) == (words, status), (done.out, answer["assessment"])
        if words == "watch --once" and answer["where"] == "new DNS host":
            assert "at Mossgate. Waiting" not in done.out, "what the new host needs is not typed at the old one"
        if status == 3 and words in NAMES_THE_CAUSE:
            causes = {each["code"] for each in answer["because"] if each["level"] == "blocker"}
            if ":" not in robot.site:  # no site of a list; each check may learn of another cause
                network = load_network(robot.folder / "network.toml")
                causes = {each.code for each in Workspace(robot.folder / robot.site, network).assess().blockers}
            if not done.out:  # where no server holds the domain, the cause is why nothing could be checked
                said = " ".join(done.err.split())
                assert any(each["message"] in said for each in answer["because"]), (words, said, answer["because"])
            else:
                assert any(f"({each})" in done.out for each in causes), (words, causes, done.out)
        assert status == 3 or "the way\n" not in done.out, (words, done.out)
        assert now["act"] != "wait" or "Waiting does not help" not in done.out, (words, done.out)
        until = now["wait_until"]
        allowed = {clock_time(from_rfc3339(until), 0.0).split()[-2]} if until else set()
        ends = {end.split()[-2] for end in END.findall(done.out)} if words != "log" else set()
        assert ends <= allowed, (words, ends, until, done.out)
