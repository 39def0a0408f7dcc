"""Every scene that says what to expect: surveyed in its own practice world and planned, exactly so."""

from __future__ import annotations

import asyncio
import runpy
from pathlib import Path

import pytest

from homepath.app.project import open_project
from homepath.app.survey import survey
from homepath.cli.story import opened
from homepath.core.dns.names import is_within, relative
from homepath.core.files.brief_file import read_brief
from homepath.core.model.plan import Plan
from homepath.core.model.steps import Assessment
from homepath.net.network_file import load_network
from homepath.practice.scene_file import load_scene, names
from homepath.practice.world import World
from tests.conftest import SPEED, START, run_in

SITUATIONS = [name for name in names() if load_scene(name).group != "web"]


def planned(name: str, folder: Path) -> tuple[Plan, Assessment]:
    with opened(World(load_scene(name), folder, SPEED)):
        if not (folder / "homepath.toml").exists():
            assert run_in(folder, *START).status == 0
        network = load_network(folder / "network.toml")
        project = open_project(folder / "homepath.toml", now=network.clock.now())
        asyncio.run(survey(project, network))
        project = project.fresh(network.clock.now())
        return project.plan(), project.assess(network.clock.now())


def said(plan: Plan, assessment: Assessment) -> dict[str, object]:
    """The plan as a scene file writes it."""

    def at(name: str) -> str:
        return relative(name, plan.domain)

    changes = [f"{c.move} {at(c.name)} {c.type}: {' '.join(c.values)}".strip() for c in plan.work]
    findings = [f"{finding.code} {at(finding.name)}" for finding in plan.findings]
    steps = [step.kind for step in assessment.steps if step.number is not None]
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


def test_every_need_is_shown_by_some_scene() -> None:
    found = runpy.run_path(str(Path(__file__).parents[2] / "scripts" / "scene_needs.py"))
    assert sorted(found["NEEDS"]) == list(range(1, 49))
    scenes = found["scenes"]()
    assert [title for title, shows in found["NEEDS"].values() if not any(map(shows, scenes))] == []


@pytest.mark.parametrize("name", names())
def test_a_scene_names_its_own_builder(name: str) -> None:
    """The builder of the world is the one of its brief, its names are those of the brief, and so is the task."""
    scene = load_scene(name)
    (brief,) = (read_brief(text, file) for file, text in scene.files.items() if file.endswith(".brief.toml"))
    assert brief.builder == scene.builder.name
    texts = [value for part in (brief.apex, brief.www, brief.label) for record in part for value in record.values]
    targets = [text for text in texts if text.endswith(".example.")]
    assert all(is_within(text, scene.builder.domain) for text in (*targets, *brief.nameservers))
    addresses = {text for text in texts if text[0].isdigit()}
    assert addresses <= set(scene.builder.addresses) or "brief-outdated @" in scene.expect.findings
