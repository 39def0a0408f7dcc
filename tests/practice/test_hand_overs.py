"""Hand-overs with the mistakes that people make in them: the walk arrives all the same, and nothing stays lost."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from homepath.cli.story import opened
from homepath.practice.scene_file import load_scene
from homepath.practice.world import World
from tests.conftest import SPEED, run_in
from tests.practice.agreement import agree
from tests.practice.robot import DOMAIN, Robot, kept, lost

ORIGIN = f"{DOMAIN}."
Json = dict[str, Any]
Deed = Callable[[Robot, Json], None]


def by_servers(folder: Path) -> None:
    """The owner chose nameservers, where the scene leaves it open."""
    file = folder / "homepath.toml"
    file.write_text(file.read_text().replace('route = "advise"', 'route = "nameservers"'))


def servers(robot: Robot, names: list[str]) -> None:
    robot.world.control.servers({"domain": DOMAIN, "servers": names})


def test_name_servers_that_do_not_hold_the_domain_yet_are_taken_back_at_once(tmp_path: Path) -> None:
    """Entered hours before they have loaded the domain: nobody reaches it, so the former ones come back first."""
    world = World(load_scene("change-of-plan"), tmp_path, SPEED)
    with opened(world):
        by_servers(tmp_path)
        before, robot = kept(world), Robot(world, tmp_path)
        answer = robot.next()
        robot.do(answer)
        servers(robot, list(world.hosts.find("Hearthpage").servers))
        answer = robot.next("claim")
        assert (answer["act"]["kind"], answer["act"]["servers"]) == (
            "name-servers",
            ["ns1.mossgate.example.", "ns2.mossgate.example."],
        )
        assert run_in(tmp_path, "next").status in (1, 3)
        robot.walk()
        assert lost(before, world) == {}
        assert world.zone_now(ORIGIN) != ORIGIN


def test_name_servers_that_were_all_mistyped_are_named_and_corrected(tmp_path: Path) -> None:
    """The new ones are ready: they come at once, not the former ones first."""
    world = World(load_scene("change-of-plan"), tmp_path, SPEED)
    with opened(world):
        by_servers(tmp_path)
        before, robot = kept(world), Robot(world, tmp_path)
        wanted = robot.walk("name-servers")["act"]["servers"]
        servers(robot, ["ns1.heartpage.example", "ns2.heartpage.example"])
        answer = robot.next()
        assert (answer["step"]["id"], answer["act"]["servers"]) == ("name-servers", wanted)
        assert answer["assessment"]["exit"] == 3
        assert {"nameservers-changed", "servers-incomplete"} <= {each["code"] for each in answer["because"]}
        assert "'h' is missing at character 10" in run_in(tmp_path, "next").out
        robot.walk()
        assert lost(before, world) == {}


def test_a_builder_that_leads_the_website_only_after_the_switch(tmp_path: Path) -> None:
    """A parked domain loses nothing by it; the owner is asked, and it arrives."""
    plain = load_scene("prepared-first")
    hosts = tuple(replace(each, website_late=each.name == plain.builder.name) for each in plain.hosts)
    world = World(replace(plain, hosts=hosts), tmp_path, SPEED)
    with opened(world):
        by_servers(tmp_path)
        before, robot = kept(world), Robot(world, tmp_path)
        robot.walk()
        assert lost(before, world) == {}
        assert "compare" in {answer["step"]["kind"] for answer in robot.said if answer["act"]["kind"] == "decide"}


def test_a_word_said_before_the_new_name_servers_has_no_effect(tmp_path: Path) -> None:
    """The site is to be published again once the new servers are seen; said before that, it is asked for again."""
    world = World(load_scene("prepared-first"), tmp_path, SPEED)
    with opened(world):
        robot = Robot(world, tmp_path)
        answer = robot.walk("name-servers")
        step = next(step for step in answer["steps"] if step["kind"] == "builder-step")
        robot.publish()
        answer = robot.next(step["id"])
        step = next(each for each in answer["steps"] if each["id"] == step["id"])
        assert step["state"] == "ahead"
        assert "no effect" in step["why"]
        assert answer["act"]["kind"] == "name-servers"
        robot.walk("publish-again")
        answer = robot.walk()
        assert answer["act"]["kind"] == "none"


def test_a_site_that_was_only_said_to_be_published_is_asked_for_again(tmp_path: Path) -> None:
    world = World(load_scene("prepared-first"), tmp_path, SPEED)
    with opened(world):
        robot = Robot(world, tmp_path, publishes=False)
        answer = robot.walk("publish-again")
        robot.next(answer["step"]["id"])
        again = robot.walk("publish-again")
        assert "do not show the site yet" in again["step"]["why"]
        robot.publishes = True
        robot.walk()


def test_next_never_says_switch_before_compare_says_ready(tmp_path: Path) -> None:
    """A new server that keeps silent, one that only asks others, one that does not exist: no switch."""
    plain = load_scene("change-of-plan")
    for habit in ("silent", "recursive", "gone"):
        tables = [
            replace(t, habit=habit if habit != "gone" else "plain", names=t.names if habit != "gone" else t.names[1:])
            if t.name == "ns1.hearthpage.example."
            else t
            for t in plain.servers
        ]
        folder = tmp_path / habit
        made = replace(plain, servers=tuple(tables))
        if habit == "gone":
            zone = made.zones["hearthpage.example."].replace("ns2.hearthpage.example. 3600 IN A   203.0.113.112\n", "")
            zone = zone.replace("*.hearthpage.example.   300  IN A   192.0.2.170\n", "")
            made = replace(made, zones={**made.zones, "hearthpage.example.": zone})
        world = World(made, folder, SPEED)
        with opened(world):
            by_servers(folder)
            robot = Robot(world, folder)
            seen = set()
            answer = robot.next()
            for _ in range(14):
                seen.add(answer["act"]["kind"])
                loses = [c for c in answer["act"].get("choices", ()) if not c["loses"]]
                if answer["step"]["kind"] in ("new-zone", "compare") and answer["act"]["kind"] in (
                    "decide",
                    "builder-step",
                ):
                    break
                assert answer["act"]["kind"] != "decide" or loses
                answer = robot.next(robot.do(answer))
            assert "name-servers" not in seen, habit
            compared = json.loads(run_in(folder, "compare", "--json").out)
            assert compared["verdict"] in ("not-ready", "unknown")
            assert run_in(folder, "compare").status in (1, 3, 4)


def test_a_dns_host_that_is_off_for_good_does_not_hold_the_domain(tmp_path: Path) -> None:
    """All commands say alike that no server answers; the new side is checked all the same; the owner's word counts."""
    world = World(load_scene("mail-comes-along"), tmp_path, SPEED)
    with opened(world):
        robot = Robot(world, tmp_path)
        answer, usual = robot.walk("enter"), world.served_by
        off = {"ns1.mossgate.example.", "ns2.mossgate.example."}
        world.served_by = lambda server: None if server in off else usual(server)  # type: ignore[method-assign]
        assert (robot.next()["act"]["kind"], run_in(tmp_path, "next").status) == ("enter", 4)
        answer = robot.next(robot.do(answer))
        assert (answer["step"]["kind"], answer["act"]["kind"]) == ("compare", "decide")
        for command in ("survey", "watch --once", "visit", "next", "plan", "sheet"):
            assert run_in(tmp_path, *command.split()).status == 4, command
        assert json.loads(run_in(tmp_path, "compare", "--json").out)["verdict"] != "ready"
        words = ["next", "--decide", "none:@ SOA"]
        assert words[1:] in [choice["then"][1:] for choice in answer["act"]["choices"]]
        assert run_in(tmp_path, *words).status == 4
        robot.walk("remove-ds")
        robot.walk()


def test_an_address_that_no_one_answers_at_is_deleted_before_the_builder_connects(tmp_path: Path) -> None:
    world = World(load_scene("mail-comes-along"), tmp_path, SPEED)
    with opened(world):
        robot = Robot(world, tmp_path)
        robot.walk("builder-step")
        stray = {"domain": DOMAIN, "name": "@", "type": "AAAA", "value": "2001:db8::66", "at": "Fernhollow"}
        world.control.enter(stray)
        answer = robot.next()
        assert [(each["type"], each["value"]) for each in answer["act"]["delete"]] == [("AAAA", "2001:db8::66")]
        assert [each["code"] for each in answer["because"]] == ["address-dead"]
        agree(robot, answer)
        robot.walk()


def test_signed_again_on_wish(tmp_path: Path) -> None:
    world = World(load_scene("mail-comes-along"), tmp_path, SPEED)
    with opened(world):
        robot = Robot(world, tmp_path)
        robot.walk()
        assert "sign:yes" in run_in(tmp_path, "next").out
        assert run_in(tmp_path, "next", "--decide", "sign:yes").status == 1
        answer = robot.next()
        assert answer["act"]["kind"] == "builder-step"
        world.control.sign({"domain": DOMAIN, "at": "Fernhollow"})
        answer = robot.walk("add-ds")
        robot.do(answer)
        assert robot.walk()["act"]["kind"] == "none"
        assert world.zones.get("example.").values(ORIGIN, "DS")


def test_what_the_new_host_cannot_hold_is_decided_once_and_stays_one_step(tmp_path: Path) -> None:
    with opened(world := World(load_scene("prepared-first"), tmp_path, SPEED)):
        robot = Robot(world, tmp_path)
        robot.walk("name-servers")
        caa = {"domain": DOMAIN, "name": "@", "type": "CAA", "value": '0 issue "other.example"', "ttl": 3600}
        world.control.enter(caa)
        (choice,) = robot.walk("decide")["act"]["choices"]
        assert [each["value"] for each in choice["loses"]] == [caa["value"]]  # not what it would get there
        assert run_in(tmp_path, *choice["then"]).status == 1
        robot.walk()
