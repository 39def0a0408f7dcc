"""Shared by all tests: no socket leaves this machine, the installed command, a practice world."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from ipaddress import ip_address
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

from homepath.cli.story import opened
from homepath.core.wording import say as words
from homepath.practice.scene_file import load_scene
from homepath.practice.world import World
from tests.ready_process import run_ready

# no test fails because the machine is busy: neither one example nor the making of examples has a time limit
settings.register_profile("busy", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("busy")
words.FORGIVING = False
SPEED = 10
"""How fast the story of a test's world runs. What has to pass is skipped, so that a busy machine changes nothing."""
COMMAND = shutil.which("homepath", path=str(Path(sys.executable).parent)) or "homepath"


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The longest test first, so that no processor waits for it at the end."""
    items.sort(key=lambda item: "test_six_weeks" not in item.nodeid)


@pytest.fixture(autouse=True, scope="session")
def _only_loopback() -> Iterator[None]:
    """Any socket to another machine fails the test that opened it."""
    patch = pytest.MonkeyPatch()
    for method in ("connect", "connect_ex", "sendto"):
        patch.setattr(socket.socket, method, _guarded(getattr(socket.socket, method)))
    yield
    patch.undo()


def _guarded(original: Callable[..., object]) -> Callable[..., object]:
    def call(self: socket.socket, *args: object) -> object:
        place = args[-1]
        if self.family in (socket.AF_INET, socket.AF_INET6) and isinstance(place, tuple):
            assert ip_address(place[0]).is_loopback, f"a test tried to reach {place}"
        return original(self, *args)

    return call


@dataclass
class Done:
    status: int
    out: str
    err: str


Run = Callable[..., Done]


def follow_plan(folder: Path, name: str) -> None:
    """Make another plan of a scene, `NAME.homepath.toml`, the site file of its folder."""
    (folder / "homepath.toml").write_text((folder / f"{name}.homepath.toml").read_text())


def run_in(folder: Path, *words: str, **environment: str) -> Done:
    """`homepath` in a process of its own, run as a user would. The installed script itself runs where the environment
    changes how Python starts."""
    env = {**{k: v for k, v in os.environ.items() if not k.startswith("HOMEPATH")}, "TZ": "UTC", **environment}
    if (folder / "network.toml").exists():
        env.setdefault("HOMEPATH_NETWORK", "network.toml")
    if any(name.startswith(("PYTHON", "LC_", "LANG")) for name in environment):  # what Python reads when it starts
        ran = subprocess.run(
            [COMMAND, *words], cwd=folder, env=env, capture_output=True, text=True, timeout=600, check=False
        )
        done = Done(ran.returncode, ran.stdout, ran.stderr)
    else:
        done = Done(*run_ready(folder, words, env, 600))
    assert "Traceback" not in done.err, done.err
    return done


@pytest.fixture
def world(tmp_path: Path) -> Iterator[World]:
    """The scene of the demo."""
    made = World(load_scene("first-site"), tmp_path, SPEED)
    with opened(made):
        yield made


@pytest.fixture
def homepath(tmp_path: Path) -> Run:
    return lambda *words, **environment: run_in(tmp_path, *words, **environment)


START = (
    "start",
    "tidewick-kiln.example",
    *("--primary", "www", "--brief", "bricklark.brief.toml", "--notation", "mossgate.notation.toml"),
    *("--value", "site=20817", "--value", "code=tk-4471"),
)
