"""Every scene that says what to expect: surveyed in its own practice world and planned, exactly so."""

from __future__ import annotations

import asyncio
from pathlib import Path

import pytest

from homepath.cli.story import opened
from homepath.core.model.names import relative
from homepath.core.model.plan import Plan
from homepath.core.model.steps import Journey
from homepath.net.network_file import load_network
from homepath.practice.scene_file import load_scene, names
from homepath.practice.world import World
from homepath.stations.project import open_project
from homepath.stations.survey import survey
from tests.conftest import START, run_in

SITUATIONS = [name for name in names() if load_scene(name).group != "web"]


def planned(name: str, folder: Path) -> tuple[Plan, Journey]:
    with opened(World(load_scene(name), folder, 60)):
        if not (folder / "homepath.toml").exists():
            assert run_in(folder, *START).status == 0
        network = load_network(folder / "network.toml")
        project = open_project(folder / "homepath.toml", now=network.clock.now())
        asyncio.run(survey(project, network))
        project = project.fresh(network.clock.now())
        return project.plan(), project.journey(network.clock.now())


def said(plan: Plan, journey: Journey) -> dict[str, object]:
    """The plan as a scene file writes it."""

    def at(name: str) -> str:
        return relative(name, plan.domain)

    changes = [f"{c.move} {at(c.name)} {c.type}: {' '.join(c.values)}".strip() for c in plan.work]
    findings = [f"{finding.code} {at(finding.name)}" for finding in plan.findings]
    steps = [step.kind for step in journey.steps if step.number is not None]
    return {"route": plan.route, "changes": changes, "findings": findings, "steps": steps}


@pytest.mark.parametrize("name", SITUATIONS)
def test_situation(name: str, tmp_path: Path) -> None:
    expect = load_scene(name).expect
    assert said(*planned(name, tmp_path)) == {
        "route": expect.route,
        "changes": list(expect.changes),
        "findings": list(expect.findings),
        "steps": list(expect.steps),
    }
