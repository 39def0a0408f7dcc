"""The web in the practice world: scenes with one fault each."""

from __future__ import annotations

import asyncio
import json
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest

from homepath.app.project import open_project
from homepath.app.survey import survey
from homepath.app.visit import visit
from homepath.cli.story import opened
from homepath.core.dns.names import relative
from homepath.core.model.visits import Visit
from homepath.net.network_file import load_network
from homepath.practice.scene_file import load_scene, names
from homepath.practice.world import World
from tests.conftest import SPEED, START, run_in

WEB = [name for name in names() if load_scene(name).expect.verdict]
DOMAIN = "tidewick-kiln.example"


@contextmanager
def playing(name: str, folder: Path) -> Iterator[World]:
    world = World(load_scene(name), folder, SPEED)
    with opened(world):
        yield world


def visited(folder: Path) -> Visit:
    network = load_network(folder / "network.toml")
    project = open_project(folder / "homepath.toml", now=network.clock.now())
    return asyncio.run(visit(project, network))


@pytest.mark.parametrize("name", WEB)
def test_each_scene_says_what_is_wrong_and_nothing_else(name: str, tmp_path: Path) -> None:
    expect = load_scene(name).expect
    with playing(name, tmp_path) as world:
        if expect.connected:
            world.control.connect({"domain": DOMAIN, "primary": "www", "code": "tk-4471"})
        project = open_project(tmp_path / "homepath.toml")
        asyncio.run(survey(project, load_network(tmp_path / "network.toml")))
        for _ in range(expect.hours):
            world.skip(3600)
        found = visited(tmp_path)
        assert found.verdict == expect.verdict
        said = [f"{finding.code} {relative(finding.name, project.domain)}" for finding in found.findings]
        assert said == list(expect.visit)


def read(folder: Path, *words: str) -> dict[str, Any]:
    done = run_in(folder, *words, "--json")
    assert done.out, done.err
    return dict(json.loads(done.out))


def test_hsts_is_known_before_and_after_the_move(tmp_path: Path) -> None:
    """Seen while the old site still answers, it is in the plan with a step; after a hasty move it is in the visit."""
    with playing("web-sticky-hsts", tmp_path) as world:
        run_in(tmp_path, "survey")
        before = read(tmp_path, "visit")
        assert [hop["hsts"] for way in before["ways"] for hop in way["hops"] if hop["hsts"]]
        plan = read(tmp_path, "plan")
        assert "sticky-https-too-early" in {finding["code"] for finding in plan["findings"]}
        assert "take-back-hsts" in [step["kind"] for step in plan["steps"]]
        run_in(tmp_path, "practice", "builder", "connect", DOMAIN)
        assert run_in(tmp_path, "send", "--key", "mossgate.key", "--yes", "--early").status == 1
        world.skip(7200)
        run_in(tmp_path, "survey")
        after = read(tmp_path, "visit")
        assert "sticky-https-too-early" in {finding["code"] for finding in after["findings"]}
        for _ in range(8):
            world.skip(7200)
        assert read(tmp_path, "visit")["verdict"] == "arrived"


def test_ahead_tells_who_is_known_before_dns_leads_there(tmp_path: Path) -> None:
    with playing("first-site", tmp_path) as world:
        assert run_in(tmp_path, *START).status == 0
        run_in(tmp_path, "survey")
        unknown = read(tmp_path, "visit", "--ahead")
        assert (unknown["ahead"], unknown["verdict"]) == (True, "waiting")
        assert {way["hops"][-1]["status"] for way in unknown["ways"]} == {404}
        assert "does not know every name" in run_in(tmp_path, "visit", "--ahead").out
        run_in(tmp_path, "practice", "builder", "connect", DOMAIN)
        run_in(tmp_path, "send", "--key", "mossgate.key", "--yes", "--early")
        for _ in range(4):
            world.skip(7200)
        assert read(tmp_path, "visit", "--ahead")["verdict"] == "arrived"
        assert "Ready" in run_in(tmp_path, "visit", "--ahead").out
        through = read(tmp_path, "visit", "--through", "plain cache")
        assert through["verdict"] == "arrived"
        for words in (("--ahead", "--through", "plain cache"), ("--through", "nobody")):
            assert run_in(tmp_path, "visit", *words).status == 2
        run_in(tmp_path, "practice", "builder", "https-only", "off")
        assert read(tmp_path, "visit")["verdict"] == "broken"


def test_further_domains_are_visited_along(tmp_path: Path) -> None:
    """A further domain that leads nowhere yet keeps the whole from having arrived; then it is set up too."""
    with playing("web", tmp_path) as world:
        site = tmp_path / "homepath.toml"
        site.write_text(f'also = ["tidewick-pots.example"]\n{site.read_text()}')
        claims = [{"domain": DOMAIN}, {"domain": "tidewick-pots.example", "leads_to": f"www.{DOMAIN}"}]
        for claim in claims:
            world.control.connect({"primary": "www", "code": "tk-4471", **claim})
        for _ in range(8):
            world.skip(7200)
        found = visited(tmp_path)
        assert (found.verdict, len(found.ways)) == ("waiting", 8)  # nothing was entered there: that is not yet wrong
        assert {urlsplit(way.url).hostname for way in found.ways if way.state == "arrived"} == {DOMAIN, f"www.{DOMAIN}"}
        further = {"domain": "tidewick-pots.example"}
        world.control.delete({**further, "name": "@", "type": "A"})
        for address in load_scene("web").builder.addresses:
            world.control.enter({**further, "name": "@", "type": "A", "value": address})
        world.control.enter({**further, "name": "www", "type": "CNAME", "value": "site-20817.edge.bricklark.example."})
        world.control.enter({**further, "name": "@", "type": "TXT", "value": "bricklark-owner=tk-4471"})
        for _ in range(8):
            world.skip(7200)
        found = visited(tmp_path)
        assert found.verdict == "arrived", [(way.url, way.words) for way in found.ways]
