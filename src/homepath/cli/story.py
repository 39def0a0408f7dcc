"""The story that `demo` tells: each command is shown, then really run in the demo's folder."""

from __future__ import annotations

import asyncio
import os
import shlex
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from homepath.practice.paths import STATE_FILE
from homepath.practice.scene_file import load_scene
from homepath.practice.world import World, run

DOMAIN = "tidewick-kiln.example"


@dataclass(frozen=True, slots=True)
class Beat:
    """One command of the story: the words before it, and the exit statuses that belong here."""

    words: str
    command: str
    statuses: tuple[int, ...] = (0,)


STORY = (
    Beat(
        "The pottery owns a domain and has a site at Bricklark. First it says what it wants.",
        f"homepath start {DOMAIN} --primary www --brief bricklark.brief.toml --value site=20817 "
        "--value code=tk-4471 --notation mossgate.notation.toml",
    ),
    Beat("From here on, one command says what to do next.", "homepath next", (1,)),
    Beat(
        "At Bricklark. Its first check fails, and that is normal.",
        f"homepath practice builder connect {DOMAIN} www.{DOMAIN} --primary www.{DOMAIN}",
    ),
    Beat("Home Path cannot see that from outside, so the owner says so.", "homepath next --done claim", (1,)),
    Beat("What to type, as Mossgate's form expects it:", "homepath sheet", (1,)),
    Beat("And what will visitors see in the meantime?", "homepath forecast", (1,)),
    Beat(
        "The owner edits the parking record in place ...",
        f"homepath practice form edit {DOMAIN} @ A 198.51.100.7 192.0.2.10",
    ),
    Beat(
        "... and adds the second address, with one wrong digit.",
        f"homepath practice form enter {DOMAIN} @ A 192.0.2.24",
    ),
    Beat("Is that right?", "homepath next", (3,)),
    Beat("A mistake, and waiting would not help. What exactly?", "homepath watch --once", (3,)),
    Beat(
        "Mossgate accepts signed updates, so Home Path sends what is still missing, in one piece.",
        "homepath send --key mossgate.key --yes",
        (1,),
    ),
    Beat("And now?", "homepath next", (1,)),
    Beat("Which caches still hold an old answer, and until when?", "homepath watch --once", (1,)),
    Beat("An hour and a half later:", "homepath practice clock --skip '90 min'"),
    Beat("", "homepath next", (1,)),
    Beat("The certificate comes by itself. Some hours later:", "homepath practice clock --skip '4 h'"),
    Beat("", "homepath next"),
    Beat("Every address that a visitor may type:", "homepath visit"),
    Beat("Months later, someone tidies up the form ...", f"homepath practice form delete {DOMAIN} @ MX"),
    Beat("... and mail would stop. The next check notices.", "homepath next", (3,)),
    Beat("", f"homepath practice form enter {DOMAIN} @ MX '10 mx1.mossgate.example.'"),
    Beat("", "homepath next"),
)


@contextmanager
def opened(world: World) -> Iterator[None]:
    """The world in a thread of its own, open while the story is told."""
    trouble: list[BaseException] = []

    def work() -> None:
        try:
            asyncio.run(run(world, lambda: closing.is_set()))
        except BaseException as error:
            trouble.append(error)

    closing = threading.Event()
    thread = threading.Thread(target=work, name="practice world")
    thread.start()
    try:
        for _ in range(200):
            if (world.folder / STATE_FILE).exists() or trouble:
                break
            thread.join(0.02)
        yield
    finally:
        closing.set()
        thread.join(10)
    if trouble:
        raise trouble[0]


def tell(folder: Path, speed: float) -> int:
    """Tell the whole story in `folder`; 0 when every command ended as the story wants."""
    colour = sys.stdout.isatty() and "NO_COLOR" not in os.environ
    world = World(load_scene("first-site"), folder, speed)
    _say(f"Everything happens in {folder} and on 127.0.0.1. The story skips the waits.", colour)
    with opened(world):
        for beat in STORY:
            if not _play(beat, folder, colour):
                return 3
    _say(f"The site has arrived. Home Path keeps the folder: {folder}", colour)
    return 0


def _say(words: str, colour: bool) -> None:
    sys.stdout.write((f"\n\x1b[36m{words}\x1b[0m\n" if colour else f"\n{words}\n") if words else "\n")
    sys.stdout.flush()


def _play(beat: Beat, folder: Path, colour: bool) -> bool:
    _say(beat.words, colour)
    shown = f"\x1b[1m> {beat.command}\x1b[0m" if colour else f"> {beat.command}"
    sys.stdout.write(f"{shown}\n")
    sys.stdout.flush()
    environment = {**os.environ, "HOMEPATH_NETWORK": "network.toml"}
    words = shlex.split(beat.command)[1:]
    whole = [sys.executable, "-m", "homepath", *words]
    done = subprocess.run(whole, cwd=folder, env=environment, check=False)  # noqa: S603 - our own command
    if done.returncode not in beat.statuses:
        message = f"This should have ended with {beat.statuses[0]}, not {done.returncode}."
        _say(f"{message} The folder stays: {folder}", colour)
        return False
    return True
