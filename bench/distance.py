"""How long a check takes when every server is far away: 80 ms to each, and 200 ms more for a page. In one run, the same
check with everything near stands beside it. Run: `python bench/distance.py`.

The delay is put in front of each question and each page, so what is shown is how many of them wait for one another.
"""

from __future__ import annotations

import asyncio
import subprocess
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import Any

from run import HOMEPATH, INSTALLED

from homepath.app.driving import Driver
from homepath.app.next import find_next
from homepath.app.project import open_project
from homepath.cli.story import DOMAIN, STORY, opened
from homepath.net.asker import Asker
from homepath.net.network_file import load_network
from homepath.practice.scene_file import load_scene
from homepath.practice.world import World

FAR, PAGE = 0.08, 0.2


@contextmanager
def far_away() -> Iterator[None]:
    """Every question leaves 80 ms late, every page is asked for 280 ms late."""
    begin, fetch = Asker._begin, Driver._fetch_once

    def late(self: Asker, *asked: Any) -> None:
        asyncio.get_running_loop().call_later(FAR, lambda: begin(self, *asked))

    async def later(self: Driver, want: Any) -> Any:
        await asyncio.sleep(FAR + PAGE)
        return await fetch(self, want)

    Asker._begin, Driver._fetch_once = late, later  # type: ignore[method-assign,assignment]
    try:
        yield
    finally:
        Asker._begin, Driver._fetch_once = begin, fetch  # type: ignore[method-assign]


def check(folder: Path) -> tuple[float, float, int]:
    """Seconds, seconds of processor time, and questions of one whole check."""
    said: list[str] = []
    network = replace(load_network(folder / "network.toml"), trace=said.append)
    project = open_project(folder / "homepath.toml", now=network.clock.now())
    begun, worked = time.perf_counter(), time.process_time()
    asyncio.run(find_next(project, network))
    asked = sum(line.startswith("dns ") and len(line.split(": ")[0].split()) == 4 for line in said)
    return time.perf_counter() - begun, time.process_time() - worked, asked


def run(folder: Path, *words: str) -> None:
    environment = {**INSTALLED, "HOMEPATH_NETWORK": "network.toml"}
    subprocess.run([HOMEPATH, *words], cwd=folder, check=False, capture_output=True, env=environment)


def main() -> None:
    scene = load_scene("first-site")
    scene = replace(scene, resolvers=tuple(each for each in scene.resolvers if each.habit != "slow"))
    with tempfile.TemporaryDirectory() as made:
        folder = Path(made)
        with opened(World(scene, folder, 1)):
            run(folder, *STORY[0].command.split()[1:])
            near = check(folder)
            (folder / "homepath.journal").unlink()
            with far_away():
                first, later = check(folder), check(folder)
            run(folder, "practice", "builder", "connect", DOMAIN)
            run(folder, "send", "--key", "mossgate.key", "--yes")
            with far_away():
                entered = check(folder)
    for what, (seconds, processor, asked) in {
        "everything near, the first check": near,
        "far away, the first check": first,
        "far away, the next one": later,
        "far away, the records entered": entered,
    }.items():
        trips = f"{seconds / FAR:5.1f} times the way there" if what.startswith("far") else " " * 24
        print(f"{what:34} {seconds:5.2f} s  {trips}  {processor:5.2f} s of processor time  {asked} questions")


if __name__ == "__main__":
    main()
