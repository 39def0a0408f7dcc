"""Going back and leaving, walked in the practice world: what was replaced is there again, what came since stays."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from homepath.app.project import open_project
from homepath.cli.story import opened
from homepath.core.model.times import rfc3339
from homepath.practice.scene_file import load_scene
from homepath.practice.world import World
from tests.conftest import SPEED, START, follow_plan, run_in
from tests.practice.mistakes import Deed, address_for_alias, doubled_name, half_entered, quoted_text, wrong_digit
from tests.practice.robot import DOMAIN, Robot, content

ORIGIN = f"{DOMAIN}."


def read(folder: Path, *words: str) -> dict[str, Any]:
    done = run_in(folder, *words, "--json")
    assert done.out, done.err
    return dict(json.loads(done.out))


@pytest.mark.parametrize("name", ["wrong-row", "newsletter", "leftovers", "going-back"])
def test_undo_puts_back_just_what_the_change_replaced(name: str, tmp_path: Path) -> None:
    world = World(load_scene(name), tmp_path, SPEED)
    with opened(world):
        before, robot = content(world), Robot(world, tmp_path)
        robot.walk()
        since = {"domain": DOMAIN, "name": "kiln-news", "type": "A", "value": "198.51.100.44"}
        world.control.enter(since)
        world.control.enter({**since, "name": "@", "type": "TXT", "value": "some-other=proof"})
        robot.next()
        plan = read(tmp_path, "undo", "--dry-run")
        assert plan["route"] == "undo"
        assert json.loads(run_in(tmp_path, "plan", "--json").out)["route"] != "undo"  # --dry-run only shows
        assert run_in(tmp_path, "undo").status in (0, 1)
        answer = robot.next()
        assert answer["act"]["kind"] == "enter"
        assert "Change 1 of" in run_in(tmp_path, "sheet").out
        watched = read(tmp_path, "watch", "--once")
        assert watched["verdict"] == "not-entered", "what the change had set is no mistake of the one who undoes it"
        assert "As expected. You are undoing the change" in run_in(tmp_path, "visit").out
        answer = robot.walk()
        assert "is back to the records from before" in run_in(tmp_path, "next").out
        after = content(world)
        assert after.pop(("kiln-news.tidewick-kiln.example.", "A"))
        texts = set(after[ORIGIN, "TXT"][1]) - {'"some-other=proof"'}
        if texts:
            assert texts == set(before[ORIGIN, "TXT"][1])
        assert {k: v for k, v in after.items() if k[1] != "TXT"} == {k: v for k, v in before.items() if k[1] != "TXT"}


def test_undo_by_machine_and_then_on_again(tmp_path: Path) -> None:
    """Half entered by an update, taken back by one, and on again to the end."""
    world = World(load_scene("first-site"), tmp_path, SPEED)
    with opened(world):
        before = content(world)
        words = ("start", DOMAIN, "--brief", "bricklark.brief.toml", "--notation", "mossgate.notation.toml")
        assert run_in(tmp_path, *words, "--value", "site=20817", "--value", "code=tk-4471").status == 0
        assert run_in(tmp_path, "undo").status == 4  # nothing was checked yet
        run_in(tmp_path, "practice", "builder", "connect", DOMAIN)
        assert run_in(tmp_path, "next", "--done", "claim").status == 1
        untouched = read(tmp_path, "undo", "--dry-run")
        assert [c for c in untouched["changes"] if c["move"] != "keep"] == []
        assert "nothing-to-take-back" in {f["code"] for f in untouched["findings"]}
        assert run_in(tmp_path, "send", "--key", "mossgate.key", "--yes", "--early").status == 1
        assert run_in(tmp_path, "undo").status == 1
        assert run_in(tmp_path, "send", "--key", "mossgate.key", "--yes", "--early").status == 1
        assert content(world) == before
        done = run_in(tmp_path, "next", "--json")
        assert json.loads(done.out)["act"]["kind"] in ("wait", "none")
        assert "goes on to Bricklark" in run_in(tmp_path, "undo", "--stop").out
        robot = Robot(world, tmp_path)
        robot.walk()
        assert run_in(tmp_path, "undo", "--stop").status == 0


@pytest.mark.parametrize("mistake", [wrong_digit, half_entered, address_for_alias, doubled_name, quoted_text])
def test_undo_of_what_was_typed_wrongly_leaves_nothing_of_it(mistake: Deed, tmp_path: Path) -> None:
    world = World(load_scene("first-site"), tmp_path, SPEED)
    with opened(world):
        assert run_in(tmp_path, *START).status == 0
        before, robot = content(world), Robot(world, tmp_path)
        robot.next()
        mistake(robot, open_project(tmp_path / "homepath.toml").wanted, {})
        assert content(world) != before
        robot.next()
        assert run_in(tmp_path, "undo").status in (0, 1)
        robot.walk()
        assert content(world) == before


@pytest.mark.parametrize(("rrtype", "value"), [("CNAME", "shop.elsewhere.example."), ("TXT", "hello")])
def test_undo_keeps_what_came_since_where_the_owner_says_so(rrtype: str, value: str, tmp_path: Path) -> None:
    with opened(world := World(load_scene("first-site"), tmp_path, SPEED)):
        assert run_in(tmp_path, *START).status == 0
        robot = Robot(world, tmp_path)
        robot.walk()
        form = {"domain": DOMAIN, "name": "www"}
        world.control.delete(form | {"type": "CNAME", "value": None})
        world.control.enter(form | {"type": rrtype, "value": value, "ttl": 3600})
        assert run_in(tmp_path, "undo").status == 1
        assert robot.next()["because"][0]["code"] == "in-the-way-now"
        robot.walk()  # of the choices it takes the one that loses nothing
        there = content(world)["www." + DOMAIN + ".", rrtype][1]
        assert [each.strip('"') for each in there] == [value]
        world.control.enter({"domain": DOMAIN, "name": "@", "type": "AAAA", "value": "2001:db8::66", "ttl": 3600})
        world.skip(4000)  # what comes where nothing was before stays, too
        watched = run_in(tmp_path, "watch", "--once", "--json")
        assert (watched.status, json.loads(watched.out)["verdict"]) == (0, "settled")


def test_undo_of_a_lowered_keeping_time(tmp_path: Path) -> None:
    world = World(load_scene("busy-site"), tmp_path, SPEED)
    with opened(world):
        before, robot = content(world), Robot(world, tmp_path)
        answer = robot.walk("enter")
        assert answer["step"]["kind"] == "lower-ttl"
        robot.next(robot.do(answer))
        assert {key: values for key, (_, values) in content(world).items()} == {k: v for k, (_, v) in before.items()}
        assert content(world) != before
        assert run_in(tmp_path, "undo").status == 1
        for command in ("next", "plan"):
            assert "hange only the TTL of 3 records" in run_in(tmp_path, command).out
        assert "Change only the TTL, to 24 h, of" in run_in(tmp_path, "watch", "--once").out
        robot.walk()
        assert content(world) == before


def test_undo_to_an_earlier_look_and_what_stands_in_the_way(tmp_path: Path) -> None:
    world = World(load_scene("first-site"), tmp_path, SPEED)
    with opened(world):
        assert run_in(tmp_path, *START).status == 0
        robot = Robot(world, tmp_path)
        robot.next()
        first = rfc3339(world.clock.now())
        before = content(world)
        world.skip(7200)
        robot.walk()
        for name, rrtype in (("@", "MX"), ("www", "CNAME")):
            world.control.delete({"domain": DOMAIN, "name": name, "type": rrtype})
        world.control.enter({"domain": DOMAIN, "name": "www", "type": "TXT", "value": "a note of somebody"})
        robot.next()
        bad = run_in(tmp_path, "undo", "--to", "2001-01-01T00:00:00Z")
        assert (bad.status, "no check from that time" in bad.err) == (2, True)
        assert run_in(tmp_path, "undo", "--to", "yesterday").status == 2
        assert run_in(tmp_path, "undo", "--to", "2099-01-01").status == 2
        assert run_in(tmp_path, "undo", "--to", first).status == 3
        answer = robot.next()
        assert (answer["act"]["kind"], answer["because"][0]["code"]) == ("decide", "in-the-way-now")
        assert "Settled" not in run_in(tmp_path, "watch", "--once").out
        assert {each["id"]: each["state"] for each in answer["steps"]}["take-back"] == "ahead"
        drop = next(each for each in answer["act"]["choices"] if each["loses"])
        assert [each["value"] for each in drop["loses"]] == ['"a note of somebody"']
        assert run_in(tmp_path, *drop["then"]).status in (1, 3)
        robot.walk()
        assert content(world) == before


def test_undo_of_a_hand_over_leads_back_by_compare(tmp_path: Path) -> None:
    """Mail that was changed at the new host since is carried back first; a deleted old zone is asked for."""
    world = World(load_scene("no-alias-at-the-apex"), tmp_path, SPEED)
    with opened(world):
        follow_plan(tmp_path, "forward")
        before, robot = content(world), Robot(world, tmp_path)
        robot.walk()
        world.control.enter(
            {"domain": DOMAIN, "name": "kiln-news", "type": "A", "value": "198.51.100.44", "at": "Thornlea"}
        )
        assert run_in(tmp_path, "survey", "--ask", "kiln-news").status in (0, 1)
        assert run_in(tmp_path, "undo").status == 1
        answer = robot.walk("enter")
        assert answer["act"]["where"] == "DNS host"
        assert [(each["name"], each["value"]) for each in answer["act"]["enter"]] == [
            ("kiln-news.tidewick-kiln.example.", "198.51.100.44")
        ]
        robot.walk("name-servers")
        robot.walk()
        after = content(world)
        after.pop(("kiln-news.tidewick-kiln.example.", "A"))
        assert after == before
        compared = read(tmp_path, "compare")
        assert compared["old"][0]["name"].endswith("thornlea.example.")


@pytest.mark.parametrize("name", ["shop-beside", "newsletter", "leftovers"])
def test_leaving_ends_with_nothing_that_leads_there(name: str, tmp_path: Path) -> None:
    world = World(load_scene(name), tmp_path, SPEED)
    with opened(world):
        robot = Robot(world, tmp_path)
        robot.walk()
        world.control.enter({"domain": DOMAIN, "name": "old-shop", "type": "CNAME", "value": f"www.{DOMAIN}."})
        assert run_in(tmp_path, "survey", "--ask", "old-shop").status in (0, 1, 3)
        there = content(world)
        plan = read(tmp_path, "leave")
        assert plan["route"] == "leave"
        answer = robot.next()
        assert answer["step"]["kind"] == "let-go"
        gone = {(each["name"], each["type"]) for each in answer["act"]["delete"]}
        assert ("old-shop.tidewick-kiln.example.", "CNAME") in gone or name == "shop-beside"
        order = []
        while answer["act"]["kind"] != "none":
            order.append(answer["step"]["kind"])
            assert len(order) < 12, order
            answer = robot.next(robot.do(answer))
        assert order.index("let-go") < order.index("spread") < order.index("leave-builder")
        left = content(world)
        assert not [
            key for key, (_, values) in left.items() if any(world.scene.builder.domain in value for value in values)
        ]
        assert {k for k in there if k[1] in ("MX", "NS")} <= set(left)
        assert "has left" in run_in(tmp_path, "next").out


def test_leaving_a_builder_that_runs_the_domain_needs_another_home_first(tmp_path: Path) -> None:
    world = World(load_scene("change-of-plan"), tmp_path, SPEED)
    with opened(world):
        robot = Robot(world, tmp_path)
        robot.walk()
        assert run_in(tmp_path, "leave").status == 3
        answer = robot.next()
        assert answer["because"][0]["code"] == "builder-runs-the-domain"
        site = tmp_path / "homepath.toml"
        (tmp_path / "thornlea.notation.toml").write_text(
            load_scene("no-alias-at-the-apex").files["thornlea.notation.toml"]
        )
        site.write_text(
            site.read_text() + '\n[move]\nto = "thornlea.notation.toml"\n'
            'servers = ["ns-k7.thornlea.example.", "ns-m3.thornlea.example."]\n'
        )
        before = content(world)
        robot.walk()
        left = content(world)
        assert left[ORIGIN, "MX"][1] == before[ORIGIN, "MX"][1]
        assert (ORIGIN, "A") not in left or "192.0.2.10" not in left[ORIGIN, "A"][1]
