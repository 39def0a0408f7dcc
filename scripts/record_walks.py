#!/usr/bin/env python3
"""Records what comes back over the network in walks through the practice scenes, for tests/core/recorded.

scripts/record_walks.py             walk all scenes again, then write what is expected
scripts/record_walks.py --expect    only write what today's code makes of the record; look at the difference
"""

from __future__ import annotations

import sys
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from tests.conftest import START, run_in  # noqa: E402
from tests.core.recorded import replay  # noqa: E402
from tests.practice import robot as robots  # noqa: E402
from tests.practice.test_robot import STORIES, Walk, follow_to_its_end, follow_with, opened_world, with_mistakes  # noqa: E402

from homepath.app.next import find_next  # noqa: E402
from homepath.cli.story import opened  # noqa: E402


def record(walk: Walk) -> list[replay.Recorded]:
    found: list[replay.Recorded] = []

    async def recorded(project: Any, network: Any) -> Any:
        name = f"{walk} {len(found) + 1:02d}"
        with replay.recording(project.folder, project.file.name, name, network, found) as session:
            return await find_next(project, network, session)

    with TemporaryDirectory() as made:
        folder = Path(made)
        robots.find_next = recorded  # type: ignore[attr-defined, assignment]
        with opened(world := opened_world(walk.scene, folder)):
            if not (folder / "homepath.toml").exists():
                run_in(folder, *START)
            robot = robots.Robot(world, folder, site=walk.plan)
            if walk.mistake is None:
                follow_to_its_end(robot)
            else:
                follow_with(robot, walk.mistake, walk.early)
    return found


def unlike(cases: list[replay.Recorded]) -> list[replay.Recorded]:
    """Those that bring something up for the first time: another step, act, finding or state of a step."""
    seen: set[object] = set()
    kept = []
    for case in cases:
        with TemporaryDirectory(ignore_cleanup_errors=True) as made:
            found = replay.replayed(case, Path(made))[1].assessment
        now = found.step and found.step.id
        new: set[object] = {(now, type(found.act))}
        new |= {(now, each.code) for each in found.findings} | {(now, each.kind, each.state) for each in found.steps}
        if not new <= seen:
            seen |= new
            kept.append(case)
    return kept


def main() -> None:
    if "--expect" not in sys.argv:
        cases: list[replay.Recorded] = []
        for walk in [*STORIES, *with_mistakes()]:
            cases += record(walk)
            print(walk, len(cases), flush=True)
        replay.save(unlike(cases))
    from tests.core.test_recorded import today

    replay.EXPECTED.write_text("".join(f"{line}\n" for line in today()))


if __name__ == "__main__":
    main()
