"""What one check may cost: each question is sent once, the journal is opened once, the rules are applied once."""

from __future__ import annotations

import asyncio
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

import pytest

from homepath.app import project as projects
from homepath.app.next import NextResult, find_next
from homepath.app.project import open_project
from homepath.core.findings import registry
from homepath.core.model.problems import CouldNotCheck
from homepath.core.plan import plan as planning
from homepath.journal.journal import Journal, open_journal
from homepath.net.network_file import load_network
from homepath.net.session import session
from homepath.practice.world import World
from tests.conftest import START, Run
from tests.refusals import refused


def check(folder: Path) -> tuple[NextResult, list[str]]:
    """One whole check, and every question that it sent."""
    said: list[str] = []
    network = replace(load_network(folder / "network.toml"), trace=said.append)
    found = asyncio.run(find_next(open_project(folder / "homepath.toml", now=network.clock.now()), network))
    lines = [line.split(": ")[0] for line in said if line.startswith("dns ")]
    return found, [line for line in lines if len(line.split()) == 4]


@pytest.fixture
def entered(world: World, homepath: Run, tmp_path: Path) -> Path:
    """The records are entered, and the builder knows the domain."""
    homepath(*START)
    homepath("next")
    homepath("practice", "builder", "connect", "tidewick-kiln.example")
    homepath("next", "--done", "claim")
    assert homepath("send", "--key", "mossgate.key", "--yes", "--early").status == 1
    return tmp_path


def test_a_check_after_the_records_are_entered(entered: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    opened: list[Path] = []
    applied: list[int] = []

    @contextmanager
    def counting(folder: Path) -> Iterator[Journal]:
        opened.append(folder)
        with open_journal(folder) as journal:
            yield journal

    def findings(case: object) -> object:
        applied.append(1)
        return registry.findings(case)  # type: ignore[arg-type]

    monkeypatch.setattr(projects, "open_journal", counting)
    monkeypatch.setattr(planning, "findings", findings)
    found, asked = check(entered)
    assert found.assessment.step is not None
    assert found.assessment.step.kind == "spread"
    assert [line for line, times in Counter(asked).items() if times > 1] == []
    assert len(asked) <= 105  # two servers and four resolvers
    assert (len(opened), len(applied)) == (1, 1)


def test_the_time_limit_is_that_of_the_whole_command(entered: Path) -> None:
    """However many checks one command makes, its time runs from the first; then nothing new is asked, and it ends."""

    async def late() -> None:
        network = load_network(entered / "network.toml")
        one = session(network)
        one.begin()
        first = one.asker.ends
        one.begin()
        assert one.asker.ends == first
        one.asker.ends = asyncio.get_running_loop().time() - 1
        await find_next(open_project(entered / "homepath.toml", now=network.clock.now()), network, one)

    with refused(CouldNotCheck, "no time left"):
        asyncio.run(late())
