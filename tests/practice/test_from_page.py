"""From a page to the end: read, then `next` and nothing else; also where the builder has moved since then."""

from __future__ import annotations

import json
from pathlib import Path

from homepath.cli.story import opened
from homepath.practice.scene_file import load_scene
from homepath.practice.world import World
from tests.conftest import SPEED, run_in
from tests.practice.robot import DOMAIN, Robot, kept, lost

PAGE = "Bitte legen Sie diese Einträge an:\nTyp\tName\tWert\n" + "".join(
    f"{row}\tKopieren\n"
    for row in (
        *(f"A\t@\t192.0.2.{last}" for last in (10, 44)),
        "CNAME\twww\tsite-20817.edge.bricklark.example",
        "TXT\t@\tbricklark-owner=tk-4471",
    )
)


def test_a_page_is_enough_to_arrive(tmp_path: Path) -> None:
    world = World(load_scene("first-site"), tmp_path, SPEED)
    with opened(world):
        (tmp_path / "page.txt").write_text(PAGE)
        words = ("--page", "page.txt", "--builder", "Bricklark", "--notation", "mossgate.notation.toml")
        assert run_in(tmp_path, "start", DOMAIN, *words).status == 0
        before, robot = kept(world), Robot(world, tmp_path)
        robot.walk()
        assert lost(before, world) == {}


def test_a_builder_that_has_moved_is_found_before_anything_is_entered(tmp_path: Path) -> None:
    world = World(load_scene("first-site"), tmp_path, SPEED)
    with opened(world):
        (tmp_path / "old.txt").write_text(PAGE.replace("192.0.2.", "203.0.113.2"))
        (tmp_path / "page.txt").write_text(PAGE)
        words = ("--builder", "Bricklark", "--notation", "mossgate.notation.toml")
        assert run_in(tmp_path, "start", DOMAIN, "--page", "old.txt", *words).status == 0
        done = run_in(tmp_path, "next", "--json")
        answer = json.loads(done.out)
        assert (done.status, answer["act"]["kind"]) == (3, "decide")
        assert answer["because"][0]["code"] == "brief-outdated"
        again, trust = (choice["then"] for choice in answer["act"]["choices"])
        assert again == ["start", DOMAIN, "--page", "FILE"]
        # the page's word may be taken against what is seen; then the visit says it, and waits for no certificate
        assert run_in(tmp_path, *trust).status in (0, 1)
        answer = Robot(world, tmp_path).walk("builder-step")
        assert answer["because"][0]["code"] == "brief-outdated"
        assert "--page FILE" in answer["act"]["instruction"]
        visit = json.loads(run_in(tmp_path, "visit", "--json").out)
        assert visit["verdict"] == "broken"
        codes = {finding["code"] for finding in visit["findings"]}
        assert "brief-outdated" in codes
        assert run_in(tmp_path, *[word if word != "FILE" else "page.txt" for word in again]).status == 0
        robot = Robot(world, tmp_path)
        before = kept(world)
        robot.walk()
        assert lost(before, world) == {}
