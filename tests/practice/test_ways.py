"""The web in the practice world: scenes with one fault each, and the 21 situations walked until visitors arrive."""

from __future__ import annotations

import asyncio
import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest

from homepath.cli.story import opened
from homepath.core.formats.key_file import read_key_file
from homepath.core.model.names import relative, shown
from homepath.core.model.plan import Change
from homepath.core.model.problems import Refused
from homepath.core.model.readings import Spread
from homepath.core.model.visits import Visit
from homepath.net.network_file import Network, load_network
from homepath.practice.scene_file import load_scene, names
from homepath.practice.world import World
from homepath.stations.next import find_next
from homepath.stations.plan import Planned, plan_from
from homepath.stations.project import Project, open_project
from homepath.stations.send import prepare, send, update_server
from homepath.stations.survey import survey
from homepath.stations.visit import visit
from homepath.stations.watch import look
from tests.conftest import START, run_in
from tests.practice.test_situations import SITUATIONS

WEB = [name for name in names() if name.startswith("web")]
DOMAIN = "tidewick-kiln.example"


@contextmanager
def playing(name: str, folder: Path) -> Iterator[World]:
    world = World(load_scene(name), folder, 60)
    with opened(world):
        yield world


def visited(folder: Path) -> Visit:
    project, network = open_project(folder / "homepath.toml"), load_network(folder / "network.toml")
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


def test_a_sticky_promise_is_known_before_and_after_the_move(tmp_path: Path) -> None:
    """Seen while the old site still answers, it is in the plan with a step; after a hasty move it is in the visit."""
    with playing("web-sticky-hsts", tmp_path) as world:
        run_in(tmp_path, "survey")
        before = read(tmp_path, "visit")
        promised = [hop["hsts"] for way in before["ways"] for hop in way["hops"] if hop["hsts"]]
        assert promised
        plan = read(tmp_path, "plan")
        assert "sticky-https-too-early" in {finding["code"] for finding in plan["findings"]}
        assert "take-back-hsts" in [step["kind"] for step in plan["steps"]]
        run_in(tmp_path, "practice", "builder", "connect", DOMAIN)
        assert run_in(tmp_path, "send", "--key", "mossgate.key", "--yes").status == 0
        world.skip(7200)
        run_in(tmp_path, "survey")
        after = read(tmp_path, "visit")
        assert "sticky-https-too-early" in {finding["code"] for finding in after["findings"]}
        for _ in range(8):
            world.skip(7200)
        assert read(tmp_path, "visit")["verdict"] == "arrived"


def test_ahead_tells_who_is_known_before_dns_leads_there(tmp_path: Path) -> None:
    with playing("pottery", tmp_path) as world:
        assert run_in(tmp_path, *START).status == 0
        run_in(tmp_path, "survey")
        unknown = read(tmp_path, "visit", "--ahead")
        assert (unknown["ahead"], unknown["verdict"]) == (True, "waiting")
        assert {way["hops"][-1]["status"] for way in unknown["ways"]} == {404}
        assert "does not know every name" in run_in(tmp_path, "visit", "--ahead").out
        run_in(tmp_path, "practice", "builder", "connect", DOMAIN)
        run_in(tmp_path, "send", "--key", "mossgate.key", "--yes")
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


RECORDS = [name for name in SITUATIONS if load_scene(name).expect.route == "records"]
HANDED = [name for name in SITUATIONS if name not in RECORDS]


def typed(world: World, change: Change, domain: str) -> None:
    """One change as a person types it into the form; an alias at the apex is the host's to flatten."""

    def deed(what: str, **more: Any) -> None:
        getattr(world.control, what)({"domain": domain, "name": relative(change.name, f"{domain}."), **more})

    rrtype, values = change.type, change.entered
    if rrtype == "ALIAS":
        rrtype, values = "A", ("192.0.2.10", "192.0.2.11")
    for value in change.deleted:
        deed("delete", type=change.type, value=value)
    for value in values:
        text = value if rrtype != "TXT" else value.strip('"')
        deed("enter", type=rrtype, value=text)


@dataclass
class Walk:
    """The stations of one project in its world, as Python: what the commands do, without starting each of them."""

    world: World
    folder: Path
    domain: str | None = None

    @property
    def project(self) -> Project:
        return open_project(self.folder / "homepath.toml", None, self.domain)

    @property
    def network(self) -> Network:
        return load_network(self.folder / "network.toml")

    def survey(self) -> Planned:
        project = self.project
        found = asyncio.run(survey(project, self.network))
        return Planned(plan_from(project.seen(found.survey), found.survey), found.survey)

    def look(self) -> Spread:
        return asyncio.run(look(self.project, self.network))

    def enter(self) -> None:
        """Everything the plan wants, by one signed update where that is allowed, else by hand; then the forwarding."""
        project, planned = self.project, self.survey()
        try:
            prepare(project, planned)
            key = read_key_file((self.folder / "mossgate.key").read_text(), "mossgate.key")
            server = asyncio.run(update_server(project, planned, self.network, None))
            assert not asyncio.run(send(project, planned, key, server, self.network)).differences
        except Refused:
            for change in sorted(planned.plan.work, key=lambda change: change.move != "remove"):
                typed(self.world, change, shown(project.domain))
        for name in project.wanted.forwarded:
            there = self.world.lookup(name, "A").answer
            if not any("198.51.100.9" in each.values for each in there):
                at_apex = {"domain": DOMAIN, "name": "@", "type": "A"}
                for each in there:
                    self.world.control.delete({**at_apex, "value": each.values[0]})
                self.world.control.enter({**at_apex, "value": "198.51.100.9"})


@pytest.mark.parametrize("name", RECORDS)
def test_the_situation_is_walked_until_visitors_arrive(name: str, tmp_path: Path) -> None:
    with playing(name, tmp_path) as world:
        walk = Walk(world, tmp_path)
        claim = {"domain": DOMAIN, "primary": walk.project.site.primary, "code": "tk-4471"}
        assert world.control.connect(claim)["state"] != "live"  # the builder's first check
        for further in walk.project.site.also:
            there = shown(walk.project.wanted.primary)
            world.control.connect({**claim, "domain": further, "primary": "www", "leads_to": there})
            Walk(world, tmp_path, further).enter()
        walk.enter()
        assert not walk.survey().plan.work
        assert walk.look().verdict in ("spreading", "settled")
        for _ in range(30):
            world.skip(7200)
        walk.look()  # a stale-serving cache gives its old answer once more (RFC 8767)
        assert walk.look().verdict == "settled"
        found = visited(tmp_path)
        assert found.verdict == "arrived", [(way.url, way.words) for way in found.ways]
        assert asyncio.run(find_next(walk.project, walk.network)).next.stage == "arrived"


@pytest.mark.parametrize("name", HANDED)
def test_a_hand_over_is_followed_as_far_as_the_registrar(name: str, tmp_path: Path) -> None:
    """Name servers are entered at the registrar, which the practice world does not play yet."""
    with playing(name, tmp_path) as world:
        walk = Walk(world, tmp_path)
        walk.survey()
        seen = walk.look()
        (servers,) = [record for record in seen.records if record.type == "NS"]
        assert (seen.verdict, servers.verdict) == ("not-entered", "not-entered")
        assert "parent" in {reading.role for reading in servers.readings}
        following = asyncio.run(find_next(walk.project, walk.network)).next
        assert (following.stage, following.where) in {("enter", "registrar"), ("claim", "builder")}


def test_a_site_in_use_is_to_be_visited_once_before_the_change(tmp_path: Path) -> None:
    with playing("09-two-addresses-and-alias", tmp_path):
        run_in(tmp_path, "survey")
        assert "once before the change" in run_in(tmp_path, "plan").out
        run_in(tmp_path, "visit")
        assert "once before the change" not in run_in(tmp_path, "plan").out


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
        assert (found.verdict, len(found.ways)) == ("broken", 8)
        assert {urlsplit(way.url).hostname for way in found.ways if way.state == "arrived"} == {DOMAIN, f"www.{DOMAIN}"}
        further = {"domain": "tidewick-pots.example"}
        world.control.delete({**further, "name": "@", "type": "A"})
        for address in load_scene("web").builder.addresses:
            world.control.enter({**further, "name": "@", "type": "A", "value": address})
        world.control.enter({**further, "name": "www", "type": "CNAME", "value": "tidewick.bricklark.example."})
        world.control.enter({**further, "name": "@", "type": "TXT", "value": "bricklark-owner=tk-4471"})
        for _ in range(8):
            world.skip(7200)
        found = visited(tmp_path)
        assert found.verdict == "arrived", [(way.url, way.words) for way in found.ways]
