"""What the commands say beyond the first story: registration, sheets, briefs, ways, marks."""

from __future__ import annotations

import csv
import json
import tomllib
from dataclasses import replace
from pathlib import Path

from homepath.cli.story import opened
from homepath.practice.scene_file import RegistrationTable, load_scene
from homepath.practice.world import World
from tests.conftest import SPEED, START, Run, follow_plan, run_in

DOMAIN = "tidewick-kiln.example"


def test_registration_data_is_asked_and_judged(tmp_path: Path) -> None:
    held = RegistrationTable("Mossgate \x1b[31m", ("client hold",), 10)
    with opened(World(replace(load_scene("first-site"), registration=held), tmp_path, SPEED)):
        run_in(tmp_path, *START)
        done = run_in(tmp_path, "survey", "--json")
        text = run_in(tmp_path, "survey").out
    survey = json.loads(done.out)
    assert done.status == 3
    assert survey["registration"]["statuses"] == ["client hold"]
    assert {"registration-on-hold", "registration-ending"} <= {finding["code"] for finding in survey["findings"]}
    assert "\x1b" not in text
    assert run_in(tmp_path, "send", "--dry-run").status == 3  # a blocker stands in the way


def test_sheets_in_every_form(world: World, homepath: Run, tmp_path: Path) -> None:
    homepath(*START)
    homepath("survey")
    page = homepath("sheet", "--as", "html").out
    assert page.startswith("<!doctype html>")
    assert page.count("<script") == 1  # its own; tests/browser looks at it
    assert "198.51.100.7" in homepath("sheet", "--as", "letter").out
    assert "CNAME, TXT" in homepath("sheet", "--question").out
    assert homepath("sheet", "--as", "csv", "--to", "sheet.csv").status == 1
    rows = list(csv.DictReader((tmp_path / "sheet.csv").read_text().splitlines()))
    assert [row["value"] for row in rows if row["do"] == "delete"] == ["198.51.100.7", "parking.mossgate.example."]
    assert len([row for row in rows if row["do"] == "enter"]) == 4
    assert "# DNS records" in homepath("sheet", "--as", "markdown").out
    assert "IN\tSOA" in homepath("sheet", "--as", "zone").out
    assert homepath("sheet", "--as", "pdf").status == 2


def test_briefs_are_read_checked_and_shown(tmp_path: Path, homepath: Run) -> None:
    (tmp_path / "page.txt").write_text(
        "Log in to your DNS host.\nType\tHost\tValue\nA\t@\t192.0.2.10\n"
        "CNAME\twww\tsite-<site>.edge.bricklark.example\n"
        "TXT\t@\tbricklark-owner=<your code>\n"
    )
    done = homepath("brief", "read", "page.txt", "--builder", "Bricklark", "--to", "b.brief.toml")
    assert done.status == 0
    assert "line 3" in done.err
    assert homepath("brief", "check", "b.brief.toml").status == 0
    shown = homepath("brief", "show", "b.brief.toml").out
    assert "site-{site}.edge.bricklark.example." in shown
    started = homepath("start", DOMAIN, "--brief", "b.brief.toml", "--value", "site=7", "--value", "code=x1")
    assert "site-7.edge.bricklark.example." in started.out
    (tmp_path / "odd.txt").write_text("A\tshop.flint-row.example\t192.0.2.10\n")
    doubtful = homepath("brief", "read", "odd.txt", "--to", "odd.toml")
    assert (doubtful.status, (tmp_path / "odd.toml").exists()) == (1, False)
    assert "--domain flint-row.example" in doubtful.err
    own = ("--domain", "flint-row.example")
    assert homepath("brief", "read", "odd.txt", "--to", "odd.toml", *own).status == 0
    (tmp_path / "none.txt").write_text("Thank you for choosing us!\n")
    assert homepath("brief", "read", "none.txt").status == 2


def test_the_way_can_be_chosen_and_steps_marked(tmp_path: Path) -> None:
    with opened(World(load_scene("change-of-plan"), tmp_path, SPEED)):
        follow_plan(tmp_path, "advice")
        run_in(tmp_path, "survey")
        text = run_in(tmp_path, "plan").out
        assert "homepath plan --route nameservers" in text
        assert "Mail is in use" in text
        handed = json.loads(run_in(tmp_path, "plan", "--route", "nameservers", "--json").out)
        assert handed["route"] == "nameservers"
        assert [c["type"] for c in handed["changes"] if c["move"] != "keep"] == ["NS"]
        assert run_in(tmp_path, "next", "--done", "claim").status == 1
        assert "done: Add the domain at Hearthpage" in run_in(tmp_path, "plan").out
        assert "the steps are" in run_in(tmp_path, "next", "--done", "dance").err
        assert run_in(tmp_path, "plan", "--route", "magic").status == 2


def test_a_further_domain_is_planned_and_visited_like_the_first(world: World, homepath: Run) -> None:
    also = "tidewick-pots.example"
    homepath(*START, "--also", also)
    assert f"plan --domain {also}" in homepath("survey").out + homepath("plan").out
    homepath("practice", "builder", "connect", also, "--leads-to", f"www.{DOMAIN}")
    homepath("survey", "--domain", also)
    plan = json.loads(homepath("plan", "--domain", also, "--json").out)
    assert {c["name"] for c in plan["changes"] if c["move"] != "keep"} == {f"{also}.", f"www.{also}."}
    homepath("practice", "builder", "connect", DOMAIN)
    for domain in (also, DOMAIN):
        assert homepath("send", "--domain", domain, "--key", "mossgate.key", "--yes", "--early").status == 1
        homepath("survey", "--domain", domain)
    for _ in range(2):
        homepath("practice", "builder", "check")
    visit = json.loads(homepath("visit", "--domain", also, "--json").out)
    assert visit["verdict"] == "arrived"
    assert {way["final_url"] for way in visit["ways"]} == {f"https://www.{DOMAIN}/"}
    assert "it has: tidewick-kiln.example, tidewick-pots.example" in homepath("plan", "--domain", "x.example").err


def test_what_is_wrong_at_a_further_domain_is_said_with_its_domain_and_its_sheet(tmp_path: Path) -> None:
    pots = "tidewick-pots.example"
    with opened(World(load_scene("four-names"), tmp_path, SPEED)):
        said = run_in(tmp_path, "next").out
        assert f"at Mossgate (your DNS host), for {pots}:" in said
        assert f"homepath sheet --domain {pots}" in said
        for command in ("sheet", f"sheet --step enter@{pots}"):
            assert f"form, domain {pots}: 3 changes" in run_in(tmp_path, *command.split()).out, command
        assert f"form, domain {DOMAIN}: 3 changes" in run_in(tmp_path, "sheet", "--domain", DOMAIN).out
        plan = run_in(tmp_path, "plan").out
        assert "(alias-by-address)" in plan
        assert f"homepath sheet --domain {DOMAIN}" in plan


def test_an_answer_about_a_further_domain_is_kept_for_it_alone(tmp_path: Path) -> None:
    """In the one site file, which no choice about one of its domains turns into that domain's."""
    pots, file = "tidewick-pots.example", tmp_path / "homepath.toml"
    with opened(World(load_scene("four-names"), tmp_path, SPEED)):
        run_in(tmp_path, "next")
        before = file.read_text()
        for command in ("undo", "leave", "next --decide route:records"):
            done = run_in(tmp_path, *command.split(), "--domain", pots)
            assert (done.status, "for the whole site" in done.err, file.read_text()) == (2, True, before), command
        run_in(tmp_path, "practice", "form", "enter", pots, "*", "A", "198.51.100.88")
        run_in(tmp_path, "survey", "--domain", pots)
        word = f"accept:*.{pots}. A"
        assert word in (text := " ".join(run_in(tmp_path, "plan", "--domain", pots).out.split())), text
        for words in (("--decide", word), ("--decide", "drop:www TXT", "--domain", pots)):
            assert "wildcard-added" not in run_in(tmp_path, "next", "--json", *words).out, words
        site = tomllib.loads(file.read_text())
        assert site["also"] == tomllib.loads(before)["also"]
        assert (site["domain"], site["accepted"]) == (DOMAIN, {f"*.{pots}. A": ["198.51.100.88"]})
        assert site["purposes"] == {f"www.{pots}. TXT": "website"}


def test_next_on_the_way_by_name_servers_leads_to_the_registrar(tmp_path: Path) -> None:
    world = World(load_scene("prepared-first"), tmp_path, SPEED)
    with opened(world):
        world.control.connect({"domain": DOMAIN, "primary": "www", "code": ""})
        run_in(tmp_path, "next", "--done", "claim")
        done = run_in(tmp_path, "next", "--done", "inventory", "--json")
        found = json.loads(done.out)
        assert (done.status, found["step"]["kind"], found["act"]["kind"]) == (1, "new-zone", "wait")
        world.skip(4 * 3600)  # its servers take hours to load the domain
        done = run_in(tmp_path, "next", "--json")
        found = json.loads(done.out)
        assert (done.status, found["stage"], found["where"]) == (1, "enter", "registrar")
        assert found["act"]["kind"] == "name-servers"
        assert "Nothing to send" in run_in(tmp_path, "send", "--dry-run").out  # no update changes a delegation


def test_an_apex_forwarded_by_the_host_is_a_step_not_a_record(tmp_path: Path) -> None:
    with opened(World(load_scene("no-alias-at-the-apex"), tmp_path, SPEED)):
        follow_plan(tmp_path, "forward")
        notation = tmp_path / "mossgate.notation.toml"
        notation.write_text(notation.read_text().replace("https = true", "https = false"))
        run_in(tmp_path, "survey")
        text = run_in(tmp_path, "plan").out + run_in(tmp_path, "plan", "--route", "records").out
        sheet = run_in(tmp_path, "sheet").out
    assert "Forward tidewick-kiln.example" in text
    assert "https without www will not work" in text
    assert "192.0.2" not in sheet


def test_an_optional_set_that_nobody_entered_is_not_waited_for(world: World, homepath: Run, tmp_path: Path) -> None:
    brief = tmp_path / "bricklark.brief.toml"
    six = '{ type = "AAAA", values = ["2001:db8::10"], optional = true }, { type = "A", values'
    brief.write_text(brief.read_text().replace('{ type = "A", values', six, 1))
    homepath(*START)
    homepath("survey")
    assert homepath("send", "--key", "mossgate.key", "--yes", "--early").status == 1
    watched = json.loads(homepath("watch", "--once", "--json").out)
    assert watched["verdict"] == "spreading"
    assert "AAAA" not in {record["type"] for record in watched["records"]}
