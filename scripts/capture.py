"""Record what every command prints at each step of the robot, in every scene; compare two recordings.

    python scripts/capture.py FOLDER [SCENE...]     record: FOLDER/SCENE/STEP-COMMAND.txt
    diff -r BEFORE AFTER                            every line that differs is meant, or a fault

Times and durations differ from run to run, so each is replaced by a word.
"""

from __future__ import annotations

import re
import sys
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from tests.conftest import START, run_in  # noqa: E402
from tests.practice.robot import Robot  # noqa: E402
from tests.practice.test_robot import follow_to_its_end, opened_world, plans  # noqa: E402

from homepath.cli.story import opened  # noqa: E402 - the tests are no package that is installed
from homepath.practice.scene_file import load_scene, names  # noqa: E402

ASKS_NOBODY = ("plan", "sheet", "sheet --as html --to sheet.html", "forecast", "report --for support", "log")
LOOKS = ("survey", "watch --once", "visit", "compare", "next")
HAS_JSON = ("plan", "survey", "watch --once", "visit", "compare", "next")
NOISE = (
    (r"20\d\d-\d\d-\d\d[T ]\d\d:\d\d(:\d\d)?(\.\d+)?(Z|\+\d\d:\d\d| UTC)?", "<time>"),
    (r"\b20\d\d-\d\d-\d\d\b", "<day>"),
    (
        r"\b(Mon|Tues|Wednes|Thurs|Fri|Satur|Sun)day\b|\b\d\d:\d\d\b|\b\d{1,2} (January|February|March|April|May)\b",
        "<t>",
    ),
    (r"\b\d+(\.\d+)? (min|h|s|days?|weeks?)\b( \d+ (min|h|s)\b)?", "<span>"),
    (r"127\.0\.0\.1:\d+", "<place>"),
    (r'"(ttl|at|certificate_error_min|outage_min)": [\d.]+', r'"\1": <n>'),
    (r"[━·]+┤", "<bar>"),
    (r"^\s+[\d.]+,?$", "<n>"),
)


def quiet(text: str) -> str:
    for pattern, word in NOISE:
        text = re.sub(pattern, word, text, flags=re.MULTILINE)
    return text


def record(folder: Path, scene: str, plan: str) -> None:
    """One walk, with what every command printed before each act."""
    goal = folder / "+".join([scene, *plan.split(".")[:-2]])
    goal.mkdir(parents=True, exist_ok=True)
    with TemporaryDirectory() as made:
        world = opened_world(scene, Path(made))
        with opened(world):
            if not (Path(made) / "homepath.toml").exists():
                run_in(Path(made), *START)
            step = 0

            def witness(robot: Robot, answer: dict[str, Any]) -> None:
                nonlocal step
                step += 1
                for words in (*ASKS_NOBODY, *LOOKS):
                    for form in ("", " --json") if words in HAS_JSON else ("",):
                        done = run_in(robot.folder, *f"{words}{form}".split(), "--site", robot.site)
                        name = f"{step:02d}-{words.replace(' ', '')}{form.replace(' --', '.')}.txt"
                        text = (
                            f"exit {done.status}\n{quiet(done.out)}{'-- stderr' if done.err else ''}\n{quiet(done.err)}"
                        )
                        (goal / name).write_text(text)

            follow_to_its_end(Robot(world, Path(made), site=plan, witness=witness))
            print(f"{goal.name}: {step} steps", flush=True)


def main() -> None:
    folder, *chosen = sys.argv[1:]
    for scene in chosen or names():
        for plan in plans(load_scene(scene)):
            record(Path(folder), scene, plan)


if __name__ == "__main__":
    main()
