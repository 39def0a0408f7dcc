"""The whole job in the practice world, with the installed command, as a user would do it."""

from __future__ import annotations

import json
import os
import subprocess
import tomllib
from dataclasses import replace
from pathlib import Path
from typing import Any

import jsonschema
import pytest

from homepath.practice.world import World
from tests.conftest import COMMAND, START, Done, Run, run_in

SCHEMAS = Path(__file__).parents[2] / "docs" / "schemas"
DOMAIN = "tidewick-kiln.example"


def read(homepath: Run, command: str, status: int, *more: str) -> dict[str, Any]:
    """The JSON of a command, held against its schema."""
    done = homepath(command, "--json", *more)
    assert done.status == status, done.out + done.err
    value: dict[str, Any] = json.loads(done.out)
    jsonschema.validate(value, json.loads((SCHEMAS / f"{command}.schema.json").read_text()))
    return value


def test_from_a_parked_domain_to_the_site(world: World, homepath: Run) -> None:
    assert homepath(*START).status == 0
    survey = read(homepath, "survey", 1)
    assert {"ns1.mossgate.example.", "ns2.mossgate.example."} == set(survey["delegation"]["servers"])
    assert read(homepath, "next", 1)["stage"] == "claim"
    assert homepath("practice", "builder", "connect", DOMAIN).status == 0

    plan = read(homepath, "plan", 1)
    work = [(c["move"], c["name"], c["type"]) for c in plan["changes"] if c["move"] != "keep"]
    assert sorted(work) == [
        ("add", f"{DOMAIN}.", "TXT"),
        ("replace", f"{DOMAIN}.", "A"),
        ("replace", f"www.{DOMAIN}.", "CNAME"),
    ]
    assert read(homepath, "watch", 1, "--once")["verdict"] == "not-entered"
    jobs = read(homepath, "sheet", 1)["jobs"]
    assert [(len(job["delete"]), len(job["enter"])) for job in jobs] == [(1, 2), (1, 1), (0, 1)]
    rows = {(row["name"], row["type"]): row for row in read(homepath, "report", 1)["records"]}
    assert (rows[f"www.{DOMAIN}.", "CNAME"]["before"], rows[f"{DOMAIN}.", "A"]["state"]) == (
        ["parking.mossgate.example."],
        "to change",
    )

    typed = homepath("practice", "form", "enter", DOMAIN, f"shop.{DOMAIN}", "A", "192.0.2.10")
    assert f"shop.{DOMAIN}.{DOMAIN}" in typed.out
    homepath("practice", "form", "delete", DOMAIN, "www", "CNAME")
    homepath("practice", "form", "enter", DOMAIN, "www", "CNAME", "site-20817.edge.bricklark.example")
    wrong = read(homepath, "watch", 3, "--once")
    assert wrong["verdict"] == "entered-wrong"
    assert "target-unfinished" in {finding["code"] for finding in wrong["findings"]}
    assert read(homepath, "next", 3)["stage"] == "mend"

    sent = homepath(
        "send", "--key", "mossgate.key", "--yes", "--early"
    )  # `next` surveyed anew, so the plan is from now
    assert sent.status == 1, sent.err
    assert "everything is there" in sent.out
    assert not [c for c in read(homepath, "plan", 1)["changes"] if c["move"] != "keep"]  # what was read back counts
    read(homepath, "survey", 1)
    assert not [c for c in read(homepath, "plan", 1)["changes"] if c["move"] != "keep"]
    mail = {(c["name"], c["type"]): c["values"] for c in read(homepath, "plan", 1)["changes"]}
    assert mail[f"{DOMAIN}.", "MX"] == ["10 mx1.mossgate.example."]
    assert '"v=spf1 mx -all"' in mail[f"{DOMAIN}.", "TXT"]

    spreading = read(homepath, "watch", 1, "--once")
    assert spreading["verdict"] == "spreading"
    assert spreading["settled_by"]
    # nobody said so; the edge tells nothing until the builder has looked by itself
    assert read(homepath, "next", 1)["stage"] in ("claim", "spread")
    waiting = read(homepath, "next", 1, "--done", "claim")
    assert (waiting["stage"], bool(waiting["wait_until"])) == ("spread", True)

    homepath("practice", "clock", "--skip", "2 h")
    homepath("watch", "--once")  # the stale-serving cache gives its old answer once more while it asks anew (RFC 8767)
    assert read(homepath, "watch", 1, "--once")["verdict"] == "settled"
    visit = read(homepath, "visit", 1)
    assert visit["verdict"] == "waiting"
    assert {way["certificate"]["state"] for way in visit["ways"] if way["url"].startswith("https")} == {"default"}
    assert read(homepath, "next", 1)["stage"] == "secure"
    homepath("practice", "builder", "check")
    homepath("practice", "builder", "check")
    arrived = read(homepath, "visit", 0)
    assert {way["final_url"] for way in arrived["ways"]} == {f"https://www.{DOMAIN}/"}
    assert len(arrived["ways"]) == 4
    assert read(homepath, "next", 0)["stage"] == "arrived"
    log = homepath("log").out
    assert "record sets to ns1.mossgate.example" in log
    assert "198.51.100.7" in log


def test_a_zone_that_changed_since_the_survey_is_refused_and_untouched(world: World, homepath: Run) -> None:
    homepath(*START)
    homepath("survey")
    homepath("practice", "form", "enter", DOMAIN, "@", "TXT", "somebody else was here")
    before = homepath("practice", "form", "entries", DOMAIN).out
    done = homepath("send", "--key", "mossgate.key", "--yes", "--early")
    assert done.status == 3
    assert "has changed since the plan was made" in done.err
    assert homepath("practice", "form", "entries", DOMAIN).out == before
    assert homepath("send", "--dry-run").status == 1
    assert homepath("practice", "form", "entries", DOMAIN).out == before


def test_sending_needs_the_right_key_and_a_word(world: World, homepath: Run, tmp_path: Path) -> None:
    homepath(*START)
    homepath("survey")
    assert "--yes" in homepath("send", "--key", "mossgate.key", "--early").err
    assert "--key" in homepath("send", "--yes", "--early").err
    right = (tmp_path / "mossgate.key").read_text()
    for name, text in {
        "secret": right.replace('secret "', 'secret "AAAA'),
        "name": right.replace("mossgate-key", "other-key"),
    }.items():
        (tmp_path / f"{name}.key").write_text(text)
        done = homepath("send", "--key", f"{name}.key", "--yes", "--early")
        assert done.status == 3, done.out
        assert "key" in done.err
        assert right.split('"')[3] not in done.out + done.err
    read(homepath, "survey", 1)


def test_an_exported_zone_is_merged(world: World, homepath: Run, tmp_path: Path) -> None:
    homepath(*START)
    (tmp_path / "export.txt").write_text(
        f"$ORIGIN {DOMAIN}.\n@ 60 A 192.0.2.99\nkiln-7 60 A 192.0.2.77\nwww 60 AAAA 2001:db8::1\n"
    )
    survey = read(homepath, "survey", 1, "--zone", "export.txt")
    records = {(r["name"], r["type"]): r for r in survey["records"]}
    assert records[f"kiln-7.{DOMAIN}.", "A"]["sources"] == ["file export.txt"]
    assert records[f"{DOMAIN}.", "A"]["values"] == ["198.51.100.7"]
    assert (f"www.{DOMAIN}.", "AAAA") not in records
    assert any("other values" in spot for spot in survey["blind_spots"])
    assert any("nameservers do not" in spot for spot in survey["blind_spots"])


def test_watch_ends_when_settled_and_writes_one_line_a_change(tmp_path: Path) -> None:
    from homepath.cli.story import opened
    from homepath.practice.scene_file import load_scene

    scene = load_scene("first-site")
    world = World(replace(scene, resolvers=scene.resolvers[:1]), tmp_path, 10)
    with opened(world):
        run_in(tmp_path, *START)
        run_in(tmp_path, "survey")
        run_in(tmp_path, "send", "--key", "mossgate.key", "--yes", "--early")
        env = {**os.environ, "TZ": "UTC", "HOMEPATH_NETWORK": "network.toml"}
        with subprocess.Popen([COMMAND, "watch"], cwd=tmp_path, env=env, stdout=subprocess.PIPE, text=True) as watching:
            assert watching.stdout is not None
            said = []
            for line in watching.stdout:
                said.append(line)
                if "spreading" in line and "CNAME" in line:
                    world.skip(3600)  # all TTLs end at once, once the first check was seen
        done = Done(watching.wait(), "".join(said), "")
    assert done.status == 1  # the builder and its certificate are still to come
    lines = [line.split()[2:] for line in done.out.splitlines() if line[:2].isdigit()]
    assert ["settled", "the"] in [line[:2] for line in lines]
    assert ["spreading", f"www.{DOMAIN}", "CNAME"] in lines
    assert "\x1b" not in done.out


@pytest.mark.parametrize("primary", ["apex", "shop"])
def test_other_primaries(world: World, homepath: Run, primary: str) -> None:
    assert homepath(*[word if word != "www" else primary for word in START]).status == 0
    homepath("practice", "builder", "connect", DOMAIN, "--primary", primary)
    homepath("survey")
    assert homepath("send", "--key", "mossgate.key", "--yes", "--early").status == 1
    homepath("practice", "builder", "check")
    homepath("practice", "builder", "check")
    visit = read(homepath, "visit", 1)
    host = DOMAIN if primary == "apex" else f"shop.{DOMAIN}"
    assert {way["final_url"] for way in visit["ways"]} == {f"https://{host}/"}
    assert len(visit["ways"]) == (4 if primary == "apex" else 2)


def test_caa_that_forbids_is_found_and_mended(world: World, homepath: Run) -> None:
    homepath(*START)
    homepath("practice", "builder", "connect", DOMAIN)
    homepath("practice", "form", "enter", DOMAIN, "@", "CAA", '0 issue "other.example"')
    survey = read(homepath, "survey", 1)
    assert "issuer-not-allowed" in {finding["code"] for finding in survey["findings"]}
    homepath("send", "--key", "mossgate.key", "--yes", "--early")
    read(homepath, "survey", 1)
    for _ in range(2):
        homepath("practice", "builder", "check")
    assert read(homepath, "visit", 1)["verdict"] == "arrived"


def test_what_a_mistake_showed_of_a_form_is_kept_in_the_site_file(world: World, homepath: Run, tmp_path: Path) -> None:
    file = tmp_path / "homepath.toml"
    assert homepath(*START).status == 0
    file.write_text(file.read_text().replace('notation = "mossgate.notation.toml"\n', ""))
    homepath("practice", "form", "delete", DOMAIN, "www", "CNAME")
    homepath("practice", "form", "enter", DOMAIN, "www", "CNAME", "site-20817.edge.bricklark.example")
    read(homepath, "next", 3)
    assert tomllib.loads(file.read_text())["form"] == {"final_dot": "required"}
    (tmp_path / "homepath.journal").unlink()  # on another machine, which has the site file alone
    homepath("practice", "form", "delete", DOMAIN, "www", "CNAME")
    read(homepath, "next", 1)
    sheet = homepath("sheet").out
    assert "type the dot" in sheet
    assert "site-20817.edge.bricklark.example." in sheet
