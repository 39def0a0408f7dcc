"""The second robot: it follows `next`, and takes any wrong turn of the table of mistakes on its way, twice, while a
nameserver keeps silent now and then. Everything it does follows from a seed."""

from __future__ import annotations

import random
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from homepath.cli.story import opened
from homepath.net.asker import Asker
from homepath.practice.scene_file import load_scene
from homepath.practice.world import World
from tests.conftest import SPEED, START, run_in
from tests.practice.mistakes import MISTAKES
from tests.practice.robot import DOMAIN, MOST_ACTS, Json, Robot, kept, lost
from tests.practice.test_robot import STORIES, Walk, _wanted

WRONG_TURNS, HOW_OFTEN, HOW_SILENT = 2, 0.25, 0.15
PATIENCE = 0.25
"""Seconds of real time for one try; the walk is about what silence means, not about waiting for it."""
Entry = tuple[str, str, str]


def turns_of(seed: int) -> tuple[random.Random, Walk]:
    chance = random.Random(seed)
    ends = [walk for walk in STORIES if load_scene(walk.scene).ends == "arrived"]
    return chance, chance.choice(ends)


def wander(seed: int, folder: Path) -> list[str]:
    """One walk to its end; the wrong turns it took. Raises AssertionError with the seed and what was not right."""
    chance, walk = turns_of(seed)
    world = World(load_scene(walk.scene), folder, SPEED)
    took: list[str] = []
    with opened(world), impatient():
        if not (folder / "homepath.toml").exists():
            assert run_in(folder, *START).status == 0
        before = {key: values for key, values in kept(world).items() if not key[0].endswith(f"{DOMAIN}.{DOMAIN}.")}
        robot = Robot(world, folder, site=walk.plan)
        robot.unseen = True  # a wrong turn may come before the first check
        watching = _Watching(robot)
        answer = watching.next(None, chance)
        for _ in range(MOST_ACTS):
            if answer["act"]["kind"] == "none":
                break
            turn = _wrong_turn(walk, answer, chance) if len(took) < WRONG_TURNS else None
            if turn is not None:
                took.append(turn.name)
                wanted = _wanted(walk.scene, walk.plan)
                assert wanted is not None
                watching.turned()
                if turn.unlisted:
                    before = {}
                answer = watching.next(turn.deed(robot, wanted, answer["act"]), chance)
                continue
            answer = watching.next(robot.do(answer), chance)
        assert answer["act"]["kind"] == "none", f"{seed}: not there after {MOST_ACTS} acts, {took}: {answer['act']}"
        assert not lost(before, world), f"{seed}: {took}: {lost(before, world)}"
    return took


def _wrong_turn(walk: Walk, answer: Json, chance: random.Random) -> Any:
    """One that fits here, or None."""
    if chance.random() > HOW_OFTEN:
        return None
    wanted, scene = _wanted(walk.scene, walk.plan), load_scene(walk.scene)
    kind = answer["act"]["kind"]
    mine = [each for each in MISTAKES if wanted and each.fits(wanted, scene) and each.at in ("first", kind)]
    fitting = [each for each in mine if each.at == "first" or kind == "name-servers"]
    return chance.choice(fitting) if fitting else None


class _Watching:
    """Holds each answer against those before it."""

    def __init__(self, robot: Robot) -> None:
        self.robot = robot
        self.deleted: set[Entry] = set()
        self.entered: set[Entry] = set()
        self.seen: object = None

    def turned(self) -> None:
        """A wrong turn was taken: what was said before it may be taken back."""
        self.deleted, self.entered, self.seen = set(), set(), None

    def next(self, done: str | None, chance: random.Random) -> Json:
        before = self.robot.said[-1] if self.robot.said else None
        seen = self._world()
        with one_silent(self.robot.world, chance):
            answer = self.robot.next(done)
        self._no_contradiction(answer)
        again = sum(each["act"] == answer["act"] and each["step"] == answer["step"] for each in self.robot.said)
        assert again <= 3, f"{again} times without effect: {answer['act']}"
        if before is not None and seen == self.seen and done is None and before["act"]["kind"] == "wait":
            # what was only said to be done may be asked for again, with what was seen of it
            seen_done = {step["id"] for step in before["steps"] if step["state"] == "done" and step["by"] == "seen"}
            now = [step for step in answer["steps"] if step["id"] in seen_done]
            back = [s for s in now if s["state"] not in ("done", "left-out")]
            assert not back, f"went back though nothing changed: {[(s['id'], s['state'], s['why']) for s in back]}"
        self.seen = seen
        return answer

    def _world(self) -> object:
        world = self.robot.world
        zones = {zone: world.zones.get(zone).sets for zone in world.zones.ids()}
        return {zone: dict(sets) for zone, sets in zones.items()}

    def _no_contradiction(self, answer: Json) -> None:
        act = answer["act"]
        if act["kind"] != "enter" or answer["step"]["kind"] in ("put-back", "mend"):
            return
        goes = {(e["name"], e["type"], e["value"]) for e in act["delete"]}
        comes = {(e["name"], e["type"], e["value"]) for e in act["enter"]}
        goes, comes = goes - comes, comes - goes
        assert not comes & self.deleted, f"to be entered, and was to be deleted: {comes & self.deleted}"
        assert not goes & self.entered, f"to be deleted, and was to be entered: {goes & self.entered}"
        self.deleted |= goes
        self.entered |= comes


@contextmanager
def one_silent(world: World, chance: random.Random) -> Iterator[None]:
    """For one check, one of the domain's nameservers answers nothing, now and then."""
    parent = world.zones.get("example.")
    names = parent.values(f"{DOMAIN}.", "NS")
    if chance.random() > HOW_SILENT or len(names) < 2:
        yield
        return
    silent, usual = chance.choice(sorted(names)), world.served_by
    world.served_by = lambda server: None if server == silent else usual(server)  # type: ignore[method-assign]
    try:
        yield
    finally:
        del world.served_by


@contextmanager
def impatient() -> Iterator[None]:
    usual = Asker.__init__.__defaults__
    Asker.__init__.__defaults__ = (PATIENCE, 2, None)
    try:
        yield
    finally:
        Asker.__init__.__defaults__ = usual
