"""Whoever follows `next` and nothing else arrives and loses nothing: all situations, fresh and with a mistake made.

Set HOMEPATH_ALL_MISTAKES=1 to try every mistake in every scene (some 300 walks); else each mistake is made in some.
"""

from __future__ import annotations

import json
import os
from collections import Counter
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest

from homepath.cli.story import opened
from homepath.core.formats.brief_file import read_brief
from homepath.core.formats.site_file import read_notation, read_site
from homepath.core.model.brief import Notation
from homepath.core.wanted.wanted import Wanted, work_out
from homepath.practice.scene_file import ResolverTable, load_scene, names
from homepath.practice.world import World
from homepath.stations.project import open_project
from tests.conftest import run_in
from tests.practice.mistakes import DOMAIN, LOST, TYPED, Mistake, fits
from tests.practice.robot import Robot, kept, lost

SITUATIONS = [name for name in names() if name[:2].isdigit()]
RECORDS = [name for name in SITUATIONS if load_scene(name).expect.route == "records"]
HANDED = [name for name in SITUATIONS if name not in RECORDS]
EVERY = bool(os.environ.get("HOMEPATH_ALL_MISTAKES"))


@pytest.mark.parametrize("name", RECORDS)
def test_it_arrives_and_nothing_is_lost(name: str, tmp_path: Path) -> None:
    world = World(load_scene(name), tmp_path, 60)
    with opened(world):
        before, robot = kept(world), Robot(world, tmp_path)
        robot.walk()
        assert lost(before, world) == {}
        # no cache that keeps the rules holds anything else than the new answer
        plain = world.caches["plain cache"]
        for way in open_project(tmp_path / "homepath.toml").wanted.names:
            held = plain.resolve(way, "A", world.clock.now()).answer
            assert {v for each in held if each.type == "A" for v in each.values} == {
                v for each in world.lookup(way, "A").answer if each.type == "A" for v in each.values
            }


@pytest.mark.parametrize("name", [*HANDED, "18-records-or-name-servers"])
def test_a_hand_over_arrives_and_nothing_is_lost(name: str, tmp_path: Path) -> None:
    """Mail and every other name are there at each moment of the walk, for whoever asks through a resolver."""
    scene = load_scene(name)
    scene = replace(scene, resolvers=(*scene.resolvers, ResolverTable("validating cache", "validating", 0)))
    world = World(scene, tmp_path, 60)
    with opened(world):
        file = tmp_path / "homepath.toml"
        file.write_text(file.read_text().replace('route = "advise"', 'route = "nameservers"'))
        before, robot = kept(world), Robot(world, tmp_path)
        robot.mail = before.get(("tidewick-kiln.example.", "MX"), frozenset())
        robot.walk()
        assert lost(before, world) == {}
        assert world.zone_now("tidewick-kiln.example.") != "tidewick-kiln.example."
        switched = [answer["act"]["kind"] for answer in robot.said].index("name-servers")
        seen = {step["kind"]: step["state"] for step in robot.said[switched]["steps"]}
        assert seen["compare"] == "done"


def _wanted(name: str) -> tuple[Wanted, set[str]]:
    """What a scene's site wants, and the names that its zone holds at first."""
    scene = load_scene(name)
    site = read_site(scene.files["homepath.toml"], "homepath.toml")
    brief = read_brief(scene.files[site.brief], site.brief)
    notation = read_notation(scene.files[site.notation], site.notation) if site.notation else Notation()
    held = {f"{line.split()[0]}.{DOMAIN}." for line in scene.zones[f"{DOMAIN}."].splitlines() if line.split()}
    return work_out(site, brief, notation), held


def _made() -> list[tuple[str, Mistake, bool]]:
    """Scene, mistake, and whether it was made before the first look."""
    places = {scene: _wanted(scene) for scene in RECORDS}
    pairs = [(scene, mistake, early) for mistake in TYPED for early in (True, False) for scene in RECORDS]
    pairs += [(scene, mistake, False) for mistake in LOST for scene in RECORDS]
    pairs = [pair for pair in pairs if fits(pair[1], *places[pair[0]])]
    if EVERY:
        return pairs
    # every mistake once before the first look and twice after it, in a scene that others have not had yet
    chosen: list[tuple[str, Mistake, bool]] = []
    used = Counter[str]()
    for mistake in (*TYPED, *LOST):
        for early in (True, False, False):
            mine = [pair for pair in pairs if pair[1] is mistake and pair[2] == early and pair not in chosen]
            if mine:
                chosen.append(min(mine, key=lambda pair: used[pair[0]]))
                used[chosen[-1][0]] += 1
    return chosen


@pytest.mark.parametrize(("name", "mistake", "early"), _made(), ids=lambda each: getattr(each, "__name__", str(each)))
def test_it_arrives_after_a_mistake(name: str, mistake: Mistake, early: bool, tmp_path: Path) -> None:
    world = World(load_scene(name), tmp_path, 60)
    with opened(world):
        before, robot = kept(world), Robot(world, tmp_path)
        if not early:
            robot.next()
            world.skip(60)
        wanted = open_project(tmp_path / "homepath.toml").wanted
        mistake(world, wanted)
        world.skip(60)
        first = robot.next()
        robot.walk()
        assert lost(before, world) == {}
        if mistake in LOST and kept(world) != {}:
            gone = [answer for answer in robot.said if answer["step"] and answer["step"]["kind"] == "put-back"]
            assert bool(gone) == bool(lost(before, world) or first["step"]["kind"] == "put-back")


def test_the_installed_command_says_the_same_with_its_exit_status(tmp_path: Path) -> None:
    """`next` as a user runs it: with and without `--json`, from the first word to the end."""
    world = World(load_scene("01-parked-four-addresses"), tmp_path, 60)
    with opened(world):
        robot = Robot(world, tmp_path)

        def read(*words: str) -> tuple[dict[str, Any], int]:
            done = run_in(tmp_path, "next", "--json", *words)
            return dict(json.loads(done.out)), done.status

        answer, status = read()
        plain = run_in(tmp_path, "next")
        assert (status, plain.status) == (1, 1)
        assert f"homepath next --done {answer['step']['id']}" in plain.out
        assert run_in(tmp_path, "next", "--done", "no-such-step").status == 2
        for _ in range(20):
            if answer["act"]["kind"] == "none":
                break
            told = robot.do(answer)
            answer, status = read(*(["--done", told] if told else []))
            assert status == (0 if answer["act"]["kind"] == "none" else 1)
        assert status == 0
        assert "has arrived" in run_in(tmp_path, "next").out
        world.control.delete({"domain": "tidewick-kiln.example", "name": "@", "type": "MX"})
        answer, status = read()
        assert (answer["step"]["kind"], status) == ("put-back", 3)
        assert "mx1.mossgate.example" in run_in(tmp_path, "next").out
        for command in (("survey",), ("watch", "--once"), ("plan",)):
            done = run_in(tmp_path, *command)
            assert done.status == 3, command
            assert "kept-record-gone" in done.out, command
        assert run_in(tmp_path, "next", "--decide", "accept:@ MX").status == 0
        assert '"@ MX" = []' in (tmp_path / "homepath.toml").read_text()
        assert run_in(tmp_path, "next", "--decide", "nothing").status == 2


def test_an_edge_that_answers_as_soon_as_it_is_told_needs_no_word(tmp_path: Path) -> None:
    scene = load_scene("01-parked-four-addresses")
    world = World(replace(scene, builder=replace(scene.builder, answers="told")), tmp_path, 60)
    with opened(world):
        robot = Robot(world, tmp_path)
        answer = robot.next()
        robot.do(answer)
        answer = robot.next()
        claim = next(step for step in answer["steps"] if step["kind"] == "claim")
        assert (claim["state"], claim["by"]) == ("done", "seen")


def test_the_old_site_is_visited_once_before_anything_changes(tmp_path: Path) -> None:
    """What it tells browsers (HSTS) is known only while it answers; the question comes before the change."""
    world = World(load_scene("web-sticky-hsts"), tmp_path, 60)
    with opened(world):
        robot = Robot(world, tmp_path)
        answer = robot.next()
        answer = robot.next(robot.do(answer))
        assert answer["step"]["kind"] == "take-back-hsts"
        assert "sticky-https-too-early" in {finding["code"] for finding in answer["because"]}
        robot.walk()
