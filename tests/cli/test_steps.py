"""The commands share one idea of where the domain stands: the same step, the same entries, the same end of a wait."""

from __future__ import annotations

import json
import re
import shlex
from dataclasses import replace
from pathlib import Path
from typing import Any

import jsonschema
import pytest

import homepath as package
from homepath.cli.commands.practice import _forms, _task
from homepath.cli.story import STORY, opened
from homepath.core.model.times import from_rfc3339
from homepath.practice.scene_file import ResolverTable, load_scene, names
from homepath.practice.world import World
from tests.conftest import SPEED, START, Run, follow_plan, run_in

DOMAIN = "tidewick-kiln.example"
SCHEMAS = Path(__file__).parents[2] / "docs" / "schemas"


def read(folder: Path, *words: str) -> dict[str, Any]:
    done = run_in(folder, *words, "--json")
    assert done.out, done.err
    value = dict(json.loads(done.out))
    kind = value["format"].split(".")[1].split("/")[0]
    jsonschema.validate(value, json.loads((SCHEMAS / f"{kind}.schema.json").read_text()))
    return value


def test_a_site_in_use_in_every_command(tmp_path: Path) -> None:
    """TTL of 12 h: lowered first, waited out from when that was seen, entered low, raised after arrival."""
    with opened(World(load_scene("busy-site"), tmp_path, SPEED)):
        said = read(tmp_path, "next")
        read(tmp_path, "next", "--done", "claim")
        said = read(tmp_path, "next", "--done", "take-back-hsts")  # the old site makes browsers remember https
        assert said["step"]["kind"] == "lower-ttl"
        lowered = run_in(tmp_path, "sheet").out
        assert "Change only the TTL" in lowered
        assert "10 min" in lowered
        plan = read(tmp_path, "plan")
        assert [step["id"] for step in plan["steps"]] == [step["id"] for step in said["steps"]]
        assert {
            c["ttl"] for c in plan["changes"] if c["move"] != "keep" and c["purpose"] == "website" and c["values"]
        } == {600}
        assert run_in(tmp_path, "send", "--key", "mossgate.key", "--yes").status == 1
        said = read(tmp_path, "next")
        assert (said["step"]["kind"], said["act"]["for"]) == ("wait-ttl", "caches")
        refused = run_in(tmp_path, "send", "--key", "mossgate.key", "--yes")
        assert (refused.status, "--early" in refused.err) == (3, True)
        assert "Not yet" in run_in(tmp_path, "sheet").out
        assert read(tmp_path, "forecast")["recommended"] == "lower-first"
        later = read(tmp_path, "next")["act"]["until"]
        assert abs(from_rfc3339(later) - from_rfc3339(said["act"]["until"])) <= 2  # the wait does not begin anew
        early = run_in(tmp_path, "send", "--key", "mossgate.key", "--yes", "--early")
        assert early.status == 1, early.err
        assert read(tmp_path, "next")["step"]["kind"] == "spread"


def test_watch_and_next_name_the_same_end_and_a_portal_holds_nothing_up(tmp_path: Path) -> None:
    scene = load_scene("first-site")
    portal = ResolverTable("hotel", "captive", 0)
    world = World(replace(scene, resolvers=(*scene.resolvers, portal)), tmp_path, SPEED)
    with opened(world):
        assert run_in(tmp_path, *START).status == 0
        read(tmp_path, "next")
        read(tmp_path, "next", "--done", "claim")
        assert run_in(tmp_path, "send", "--key", "mossgate.key", "--yes").status == 1
        watch, said = read(tmp_path, "watch", "--once"), read(tmp_path, "next")
        assert said["act"]["for"] == "caches"
        assert abs(from_rfc3339(watch["settled_by"]) - from_rfc3339(said["wait_until"])) <= 2
        assert "resolver-answers-for-itself" in {finding["code"] for finding in watch["findings"]}
        assert "hotel" not in {r["vantage"] for record in watch["records"] for r in record["readings"]}
        world.skip(7200)
        assert read(tmp_path, "next")["step"]["kind"] in ("check-again", "certificate")
        assert read(tmp_path, "watch", "--once")["verdict"] == "settled"


def test_what_the_plan_says_stands_in_text_and_json(tmp_path: Path) -> None:
    with opened(World(load_scene("change-of-plan"), tmp_path, SPEED)):
        follow_plan(tmp_path, "advice")
        assert run_in(tmp_path, "survey").status in (0, 1)
        plan, text = read(tmp_path, "plan"), run_in(tmp_path, "plan").out
        assert plan["open"] == ["nameservers"]
        assert any("Mail is in use" in reason for reason in plan["reasons"])
        flat = " ".join(text.split())
        for words in (*plan["reasons"], *(step["way_back"] for step in plan["steps"])):
            assert " ".join(words.split()) in flat
        assert re.search(r"At Mossgate: (delete \d+ records? and )?add \d", flat)
        handed = run_in(tmp_path, "plan", "--route", "nameservers").out
        assert "Enter at the new nameservers before" in handed
        assert "wiki.tidewick-kiln.example" not in handed or "A at wiki" in handed
        for words in (("sheet", "--step", "dance"), ("sheet", "--step", "claim"), ("sheet", "--step", "x", "--all")):
            assert run_in(tmp_path, *words).status == 2
        assert "Change 1 of" in run_in(tmp_path, "sheet", "--step", "enter").out
        assert "Change 1 of" in run_in(tmp_path, "sheet", "--all").out
        (tmp_path / "homepath.toml").write_text(
            (tmp_path / "homepath.toml").read_text().replace('"advise"', '"nameservers"')
        )
        assert "new zone" in run_in(tmp_path, "sheet").out


def test_the_command_that_a_world_begins_with_works_and_one_without_its_values_says_how(
    tmp_path: Path, homepath: Run
) -> None:
    world = World(load_scene("first-site"), tmp_path, SPEED)
    assert shlex.split(world.first_command) == shlex.split(STORY[0].command)
    with opened(world):
        bare = homepath("start", DOMAIN, "--brief", "bricklark.brief.toml")
        assert bare.status == 2
        assert "--value code=... (such as" in bare.err
        assert not (tmp_path / "homepath.toml").exists()
        begun = homepath(*shlex.split(world.first_command)[1:])
        assert begun.status == 0
        assert begun.out.rstrip().endswith("homepath next")
        unseen = homepath("forecast")
        assert f"{DOMAIN} has not been surveyed" in unseen.err


def test_practice_lists_its_scenes_and_an_open_world_says_its_task(tmp_path: Path, homepath: Run) -> None:
    listed = homepath("practice", "scenes").out
    assert all(f"  {name} " in listed for name in names() if load_scene(name).group != "web")
    assert max(map(len, listed.splitlines())) <= 80
    assert len(listed.splitlines()) <= 24
    assert "web-proxy-loop" in homepath("practice", "scenes", "web").out
    assert homepath("practice", "scenes", "nothing").status == 2
    world = World(load_scene("wrong-row"), tmp_path, SPEED)
    with opened(world):
        files = {path.name for path in tmp_path.iterdir()}
        assert len([name for name in files if name.endswith(".brief.toml")]) == 1
        assert len([name for name in files if name.endswith(".notation.toml")]) == 1
        assert world.first_command == "homepath next"
        refused = homepath("practice", "builder", "check", DOMAIN)
        assert (refused.status, "connect it first" in refused.err) == (2, True)
        for words in ((DOMAIN,), (f"www.{DOMAIN}", DOMAIN, "--primary", f"www.{DOMAIN}")):
            connected = homepath("practice", "builder", "connect", *words)
            assert connected.out.startswith(f"{DOMAIN}: waiting for DNS"), connected.err
            assert set(world.builder.claims[f"{DOMAIN}."].names) == {f"{DOMAIN}.", f"www.{DOMAIN}."}
        assert homepath("practice", "builder", "connect", "elsewhere.example").status == 2
        edit = ("practice", "form", "edit", DOMAIN, "@", "A")
        assert homepath(*edit, "198.51.100.7", "no address").status == 2
        assert homepath(*edit, "198.51.100.7", "192.0.2.10").out == f"Saved. {DOMAIN} A is now: 192.0.2.10\n"
        assert DOMAIN in homepath("practice", "builder", "check", DOMAIN).out
        assert homepath("practice", "form", "forward", DOMAIN, "@", "https://x.example/").status == 2


@pytest.mark.parametrize("name", names())
def test_an_open_world_says_the_task_of_its_own_scene(name: str) -> None:
    scene = load_scene(name)
    said = " ".join([*_task(scene), *_forms(scene)])
    others = {"Bricklark", "Pebbleworks", "Fernhollow", "Hearthpage"} - {scene.builder.name}
    assert scene.builder.name in said
    assert not [other for other in others if other in said]


def test_an_idn_is_shown_as_typed_with_its_dns_form_beside_it(world: World, homepath: Run) -> None:
    words = [word.replace(DOMAIN, "töpferei-am-fluss.example") for word in START]
    assert "töpferei-am-fluss.example (in DNS: xn--" in homepath(*words).out


def test_a_workspace_always_sees_the_latest(world: World, homepath: Run, tmp_path: Path) -> None:
    assert homepath(*START).status == 0
    site = package.open(tmp_path, tmp_path / "network.toml")
    site.survey()
    assert [change.type for change in site.plan().work] == ["A", "CNAME", "TXT"]
    assessment = site.next()
    assert assessment.step is not None
    assert assessment.step == site.assess().step
    told = site.next(done=assessment.step.id)
    assert told.step is not None
    assert (told.step.kind, site.domain) == ("enter", f"{DOMAIN}.")
    world.control.delete({"domain": DOMAIN, "name": "@", "type": "MX"})
    assert "kept-record-gone" in {finding.code for finding in site.watch().findings}
    assert "kept-record-gone" in {finding.code for finding in site.visit().findings}
    stands = site.assess()
    assert stands.step is not None
    assert stands.step.kind == "put-back"
