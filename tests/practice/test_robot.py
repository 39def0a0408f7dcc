"""Anyone who follows `next` and nothing else arrives and loses nothing: every scene, fresh and with one mistake.

Set HOMEPATH_ALL_WALKS=1 to make every mistake in every scene that has a place for it (some 300 walks); else each
mistake is made in some scenes, and each scene is walked with some mistakes.
"""

from __future__ import annotations

import json
import os
from collections import Counter
from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path
from typing import Any

import pytest

from homepath.app.project import open_project
from homepath.cli.story import opened
from homepath.core.files.brief_file import read_brief
from homepath.core.files.site_file import read_notation, read_site
from homepath.core.model.brief import Notation
from homepath.core.site.wanted import Wanted, work_out
from homepath.practice.scene_file import ResolverTable, SceneTable, load_scene, names
from homepath.practice.world import World
from tests.conftest import SPEED, START, run_in
from tests.practice.agreement import agree
from tests.practice.mistakes import MISTAKES, Mistake
from tests.practice.robot import DOMAIN, Robot, content, kept, lost

SITE = "homepath.toml"
EVERY = bool(os.environ.get("HOMEPATH_ALL_WALKS"))


@dataclass(frozen=True)
class Walk:
    """`plan`: the site file that is followed. `early`: the mistake was made before the first check."""

    scene: str
    plan: str = SITE
    mistake: Mistake | None = None
    early: bool = False

    def __str__(self) -> str:
        parts = [self.scene, self.plan.removesuffix(SITE).rstrip("."), self.mistake.name if self.mistake else ""]
        return "-".join(filter(None, (*parts, "early" if self.early else "")))


def plans(scene: SceneTable) -> list[str]:
    return [SITE, *sorted(name for name in scene.files if name.endswith(f".{SITE}"))]


@cache
def _wanted(name: str, plan: str) -> Wanted | None:
    """What a scene's site wants; None where no one has chosen yet."""
    files = load_scene(name).files
    if plan not in files:
        plan, files = SITE, {**files, SITE: FIRST}
    site = read_site(files[plan], plan)
    told = site.move.to if site.move else site.notation
    notation = read_notation(files[told], told) if told else Notation()
    return work_out(site, read_brief(files[site.brief], site.brief), notation)


FIRST = f"""format = "homepath.site/1"
domain = "{DOMAIN}"
primary = "www"
brief = "bricklark.brief.toml"
notation = "mossgate.notation.toml"
values = {{ site = "20817", code = "tk-4471" }}
"""
"""What `homepath start` writes in the scene that begins without a site file."""
FRESH = [Walk(name, plan) for name in names() for plan in plans(load_scene(name))]
STORIES = [walk for walk in FRESH if load_scene(walk.scene).group != "web"]


def with_mistakes() -> list[Walk]:
    walks = [
        replace(walk, mistake=mistake, early=early)
        for mistake in MISTAKES
        for early in ((True, False) if mistake.early else (False,))
        for walk in STORIES
        if (wanted := _wanted(walk.scene, walk.plan))
        and mistake.fits(wanted, load_scene(walk.scene))
        and load_scene(walk.scene).ends == "arrived"
    ]
    if EVERY:
        return walks
    # every mistake once early and once late, or twice late, in the scenes that have had the fewest so far
    chosen: list[Walk] = []
    used = Counter({"four-names": 3})  # three domains and a label: its walk is four times as long
    for mistake in MISTAKES:
        for early in (True, False) if mistake.early else (False, False):
            mine = [w for w in walks if w.mistake is mistake and w.early == early and w not in chosen]
            if mine:
                chosen.append(min(mine, key=lambda walk: used[walk.scene]))
                used[chosen[-1].scene] += 1
    return chosen


def opened_world(name: str, folder: Path) -> World:
    scene = load_scene(name)
    return World(
        replace(scene, resolvers=(*scene.resolvers, ResolverTable("validating cache", "validating", 0))), folder, SPEED
    )


@pytest.mark.parametrize("walk", [*FRESH, *with_mistakes()], ids=str)
def test_it_arrives_and_nothing_is_lost(walk: Walk, tmp_path: Path) -> None:
    """Mail and every other name stay reachable through resolvers all the way, where no mistake took them away."""
    world = opened_world(walk.scene, tmp_path)
    with opened(world):
        if not (tmp_path / SITE).exists():
            assert run_in(tmp_path, *START).status == 0
        before, whole, robot = kept(world), content(world), Robot(world, tmp_path, site=walk.plan)
        if walk.mistake is None:
            robot.mail = before.get((f"{DOMAIN}.", "MX"), frozenset())
            follow_to_its_end(robot)
        else:
            follow_with(robot, walk.mistake, walk.early)
        if world.scene.ends == "back":
            assert content(world) == whole
        elif world.scene.ends == "left":
            assert not any("bricklark" in value for _, values in content(world).values() for value in values)
        else:
            unlisted = walk.mistake is not None and walk.mistake.unlisted
            gone = {key for key in lost(before, world) if key[0] == f"{DOMAIN}." or not unlisted}
            assert gone <= removed(walk.scene)
            no_old_answers(robot)


WRONG = ("last-years-page-half_entered-early", "wrong-row-quoted_text", "mail-comes-along-texts_deleted")
"""Walks in which more than one thing is wrong at once."""
AGREEING = [
    *(walk for walk in STORIES if EVERY or walk.scene in ("first-site", "dark-already", "moving-out", "wrong-row")),
    *(walk for walk in with_mistakes() if EVERY or str(walk) in WRONG),
]


@pytest.mark.parametrize("walk", AGREEING, ids=str)
def test_all_commands_agree_at_every_step(walk: Walk, tmp_path: Path) -> None:
    with opened(world := opened_world(walk.scene, tmp_path)):
        if not (tmp_path / SITE).exists():
            assert run_in(tmp_path, *START).status == 0
        robot = Robot(world, tmp_path, site=walk.plan, witness=agree)
        if walk.mistake is None:
            follow_to_its_end(robot)
        else:
            follow_with(robot, walk.mistake, walk.early)


def removed(name: str) -> set[tuple[str, str]]:
    """What the plan of a scene is expected to delete: mistakes that were made before its story begins."""
    words = [change.split() for change in load_scene(name).expect.changes]
    return {(f"{host}.{DOMAIN}.", rrtype.rstrip(":")) for move, host, rrtype, *_ in words if move == "remove"}


def follow_to_its_end(robot: Robot) -> None:
    """To where the scene ends; half of the records are entered before the person changes their mind."""
    if robot.world.scene.ends == "back":
        answer = robot.walk("enter")
        act = answer["act"]
        robot.do({**answer, "act": {**act, "delete": act["delete"][:2], "enter": act["enter"][:2]}})
        robot.next()
        assert run_in(robot.folder, "undo").status in (0, 1)
    if robot.world.scene.ends == "left":
        robot.next()
        assert run_in(robot.folder, "leave").status in (0, 1)
    robot.walk()


def follow_with(robot: Robot, mistake: Mistake, early: bool) -> None:
    answer = {"act": {}} if early else robot.walk(mistake.at) if mistake.at != "first" else robot.next()
    robot.unseen = early
    told = mistake.deed(robot, open_project(robot.folder / robot.site).wanted, answer["act"])
    robot.world.skip(60)
    robot.next(told)
    robot.walk()


def no_old_answers(robot: Robot) -> None:
    """No cache that respects TTLs holds anything but the new answer."""
    plain = robot.world.caches["plain cache"]
    for way in open_project(robot.folder / robot.site).wanted.names:
        held = plain.resolve(way, "A", robot.world.clock.now()).answer
        assert {v for each in held if each.type == "A" for v in each.values} == {
            v for each in robot.world.lookup(way, "A").answer if each.type == "A" for v in each.values
        }


def test_the_installed_command_says_the_same_with_its_exit_status(tmp_path: Path) -> None:
    """`next` as a user runs it: with and without `--json`, from the first word to the end."""
    world = World(load_scene("first-site"), tmp_path, SPEED)
    with opened(world):
        assert run_in(tmp_path, *START).status == 0
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
        world.control.delete({"domain": DOMAIN, "name": "@", "type": "MX"})
        answer, status = read()
        assert (answer["step"]["kind"], status) == ("put-back", 3)
        assert "mx1.mossgate.example" in run_in(tmp_path, "next").out
        for command in (("survey",), ("watch", "--once"), ("plan",)):
            done = run_in(tmp_path, *command)
            assert done.status == 3, command
            assert "kept-record-gone" in done.out, command
        assert run_in(tmp_path, "next", "--decide", "accept:@ MX").status == 0
        assert '"@ MX" = []' in (tmp_path / SITE).read_text()
        assert run_in(tmp_path, "next", "--decide", "nothing").status == 2


def test_a_builder_that_answers_as_soon_as_it_knows_the_domain_needs_no_word(tmp_path: Path) -> None:
    world = World(load_scene("dark-already"), tmp_path, SPEED)
    with opened(world):
        robot = Robot(world, tmp_path)
        answer = robot.next()
        robot.do(answer)
        answer = robot.next()
        claim = next(step for step in answer["steps"] if step["kind"] == "claim")
        assert (claim["state"], claim["by"]) == ("done", "seen")


def test_the_old_site_is_visited_once_before_anything_changes(tmp_path: Path) -> None:
    """What it tells browsers (HSTS) is known only while it answers; the question comes before the change."""
    world = World(load_scene("web-sticky-hsts"), tmp_path, SPEED)
    with opened(world):
        robot = Robot(world, tmp_path)
        answer = robot.next()
        answer = robot.next(robot.do(answer))
        assert answer["step"]["kind"] == "take-back-hsts"
        assert "sticky-https-too-early" in {finding["code"] for finding in answer["because"]}
        robot.walk()
