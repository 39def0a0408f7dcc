"""Vantages that fail in every way, while the whole tool runs: no crash, no wrong verdict, unknown is called unknown."""

from __future__ import annotations

import asyncio
import copy
import json
import re
import shutil
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest

from homepath.app.project import open_project
from homepath.app.watch import Goal, check, follow
from homepath.cli.story import opened
from homepath.core.dns.records import RecordSet
from homepath.core.model.survey import Spread
from homepath.core.model.times import from_rfc3339
from homepath.core.wording.say import say
from homepath.net.clock import FastClock, MachineClock
from homepath.net.network_file import load_network
from homepath.practice.scene_file import ResolverTable, SceneTable, load_scene
from homepath.practice.world import World
from homepath.practice.zones import Reply, reply
from tests.conftest import SPEED, START, Run, run_in

DOMAIN = "tidewick-kiln.example."
FAULTS = ("silent", "refusing", "other-question", "truncating", "drops-edns", "checking", "never-counting", "several")


def scene(*habits: str) -> SceneTable:
    return replace(load_scene("first-site"), resolvers=tuple(ResolverTable(each, each, 20) for each in habits))


@pytest.fixture
def faulty(tmp_path: Path) -> Iterator[World]:
    world = World(scene("plain", "slow", *FAULTS), tmp_path, SPEED)
    with opened(world):
        yield world


def watched(folder: Path) -> dict[str, Any]:
    done = run_in(folder, "watch", "--once", "--json")
    return dict(json.loads(done.out))


class Skipping:
    """A clock that does not wait: the story jumps instead."""

    slack = 10.0

    def __init__(self, world: World) -> None:
        self.world = world

    def now(self) -> float:
        return self.world.clock.now()

    async def sleep(self, seconds: float) -> None:
        self.world.skip(seconds)


def states(found: dict[str, Any], rrtype: str) -> dict[str, str]:
    (record,) = [each for each in found["records"] if each["type"] == rrtype]
    return {reading["vantage"]: reading["state"] for reading in record["readings"] if reading["role"] == "resolver"}


def sent(folder: Path) -> None:
    assert run_in(folder, *START).status == 0
    assert run_in(folder, "survey").status == 1
    done = run_in(folder, "send", "--key", "mossgate.key", "--yes", "--early")
    assert done.status == 1, done.out + done.err


def test_faulty_resolvers_are_what_they_are(faulty: World, tmp_path: Path) -> None:
    sent(tmp_path)
    found = watched(tmp_path)
    assert found["verdict"] == "spreading"
    observed = {"plain": "old", "slow": "old", "truncating": "old", "drops-edns": "old", "never-counting": "old"}
    lost = {"silent": "silent", "refusing": "broken", "other-question": "broken", "checking": "broken"}
    seen = states(found, "CNAME")
    assert {name: seen[name] for name in (*observed, *lost)} == {**observed, **lost}
    assert "signature-broken" in {finding["code"] for finding in found["findings"]}
    faulty.skip(2 * 3600)
    found = watched(tmp_path)
    assert found["verdict"] == "settled"
    assert states(found, "A")["silent"] == "silent"
    (record,) = [each for each in found["records"] if each["type"] == "CNAME"]
    assert "4 of 10 resolvers did not answer" in record["because"]


def test_with_nobody_but_faulty_ones_nothing_is_claimed(tmp_path: Path) -> None:
    with opened(World(scene("silent", "refusing", "other-question", "checking"), tmp_path, SPEED)):
        sent(tmp_path)
        assert watched(tmp_path)["verdict"] == "unknown"


def test_one_address_with_several_caches_and_a_verdict_taken_back(tmp_path: Path) -> None:
    """One cache of three holds the old answer for longer: what looked settled is not, and nobody is to blame."""
    world = World(scene("several"), tmp_path, SPEED)
    with opened(world):
        sent(tmp_path)
        world.skip(1000)
        for cache in world.caches.values():
            cache._cache.clear()
        keep = next(cache for name, cache in world.caches.items() if name.endswith("0"))
        assert watched(tmp_path)["verdict"] == "settled"
        now, lookup = world.clock.now(), keep.lookup
        alias = RecordSet("www.tidewick-kiln.example.", "CNAME", 3600, ("parking.mossgate.example.",))
        keep.lookup = lambda name, rrtype: (
            Reply("NOERROR", True, (alias,)) if name == alias.name else lookup(name, rrtype)
        )
        keep._cache.clear()
        keep.resolve("www.tidewick-kiln.example.", "A", now - 1100)  # fetched before the change
        keep.lookup = lookup
        record = None
        for _ in range(30):  # any of the three may answer
            found = watched(tmp_path)
            record = next(each for each in found["records"] if each["name"].startswith("www."))
            if record["verdict"] != "settled":
                break
        assert record is not None
        assert (record["verdict"], bool(record["taken_back"])) == ("spreading", True)
        log = run_in(tmp_path, "log").out
        assert "Results, as they changed" in log


def test_a_network_that_answers_dns_queries_itself_is_named(world: World, homepath: Run, tmp_path: Path) -> None:
    """A router that sends each query to its own resolver makes every nameserver look lame; the root cannot be one."""
    homepath(*START)
    file, resolver = tmp_path / "network.toml", load_network(tmp_path / "network.toml").resolvers[0].server
    file.write_text(re.sub(r"roots = .*", f'roots = ["{resolver.place}"]', file.read_text()))
    for command in ("next", "survey", "visit", "watch --once"):
        done = homepath(*command.split())
        assert (done.status, done.out) == (4, ""), (command, done)
        assert "network answers DNS queries itself" in done.err, command
        assert "Use another network" in done.err, command


def test_one_of_two_name_servers_behind_is_split_and_moves_the_deadline(world: World, tmp_path: Path) -> None:
    old = copy.deepcopy(world.zones)
    server = next(table for table in world.scene.servers if table.name.startswith("ns2."))

    async def behind(name: str, rrtype: str) -> Any:
        return reply(old, server.zones, name, rrtype)

    right = world._name_servers[server.name]._answerer
    sent(tmp_path)
    world._name_servers[server.name]._answerer = behind
    found = watched(tmp_path)
    assert found["verdict"] == "split"
    world.skip(1800)
    world._name_servers[server.name]._answerer = right
    caught_up = world.clock.now()
    found = watched(tmp_path)
    assert found["verdict"] == "spreading"
    (record,) = [each for each in found["records"] if each["type"] == "A"]
    assert from_rfc3339(record["settled_by"]) >= caught_up + 3600 - 60


def test_a_clock_that_is_set_back_gives_no_wrong_deadline(world: World, tmp_path: Path) -> None:
    sent(tmp_path)
    watched(tmp_path)
    world.skip(-3 * 3600)
    found = watched(tmp_path)
    assert "clock-set-back" in {finding["code"] for finding in found["findings"]}
    for record in found["records"]:
        if record["settled_by"]:
            assert from_rfc3339(record["settled_by"]) <= world.clock.now() + 5400 + 3 * 3600 + 60


def test_within_one_command_the_clock_only_goes_forward(monkeypatch: pytest.MonkeyPatch) -> None:
    clock = MachineClock()
    before = clock.now()
    monkeypatch.setattr(time, "time", lambda: 0.0)
    assert 0 <= clock.now() - before < 600
    assert FastClock(100.0, -1.0, 2.0).now() == 102.0


def test_the_network_goes_and_comes_back_in_the_middle(world: World, tmp_path: Path) -> None:
    """The watch goes on: unknown while nothing answers, and right again afterwards."""
    sent(tmp_path)
    good = (tmp_path / "network.toml").read_text()
    network = replace(load_network(tmp_path / "network.toml"), clock=Skipping(world))
    project = open_project(tmp_path / "homepath.toml")
    dark = replace(network, roots=(replace(network.roots[0], port=9),))

    async def main() -> list[Spread]:
        found = []
        watching = follow(project, network, Goal("settled", 40_000))
        async for spread, _ in watching:
            found.append(spread)
            if len(found) == 1:
                object.__setattr__(network, "roots", dark.roots)
            elif len(found) == 2:
                object.__setattr__(network, "roots", load_network(tmp_path / "network.toml").roots)
            else:
                await watching.aclose()  # type: ignore[attr-defined]
                break
        return found

    first, lost, back = asyncio.run(main())
    assert (first.verdict, lost.verdict) == ("spreading", "unknown")
    assert back.verdict in ("spreading", "settled")
    assert {record.verdict for record in lost.records} == {"unknown"}
    assert "no server of the root zone" in say(lost.records[0].because)
    (tmp_path / "network.toml").write_text(good)
    world_gone = tmp_path / "elsewhere"
    world_gone.mkdir()
    for name in ("homepath.toml", "bricklark.brief.toml", "mossgate.notation.toml", "authority.pem"):
        shutil.copy(tmp_path / name, world_gone / name)
    (world_gone / "network.toml").write_text(good.replace("roots = [", 'roots = ["127.0.0.1:9"] #'))
    done = run_in(world_gone, "watch", "--once")
    assert (done.status, "root zone" in done.err) == (4, True)


def test_looks_and_goals(world: World, tmp_path: Path) -> None:
    """`--until entered` goes on while nothing is entered, and ends as soon as the source is right."""
    assert run_in(tmp_path, *START).status == 0
    run_in(tmp_path, "survey")
    done = run_in(tmp_path, "watch", "--until", "entered", "--for", "70 s")
    assert (done.status, "not-entered" in done.out) == (1, True)
    sent(tmp_path)
    out = tmp_path / "given.json"
    then = f"{shutil.which('tee')} {out}"
    done = run_in(tmp_path, "watch", "--until", "entered", "--then", then, "--figure", "s.svg")
    assert (done.status, json.loads(out.read_text())["verdict"]) == (1, "spreading")
    assert (tmp_path / "s.svg").read_text().count("<svg") == 1
    failed = run_in(tmp_path, "watch", "--until", "entered", "--then", "false")
    assert (failed.status, "ended with status 1" in failed.err) == (4, True)
    for words, said in (
        (("--then", "no-such-program-here"), "program does not exist"),
        (("--once", "--for", "1 h"), "--once checks once"),
        (("--for", "soon"), "not a length of time"),
        (("--figure", "s.gif"), ".png or an .svg"),
        (("--resolvers", "none.toml"), "The list of resolvers is not there"),
    ):
        done = run_in(tmp_path, "watch", *words)
        assert (done.status, said in done.err) == (2, True), done.err
    port = load_network(tmp_path / "network.toml").resolvers[0].server.port
    (tmp_path / "mine.toml").write_text(
        f'format = "homepath.resolvers/1"\n[[resolvers]]\naddress = "127.0.0.1:{port}"\nlabel = "my own"\n'
    )
    done = run_in(tmp_path, "watch", "--once", "--json", "--resolvers", "mine.toml")
    assert set(states(json.loads(done.out), "CNAME")) == {"my own"}


def test_a_look_is_remembered_whole(world: World, tmp_path: Path) -> None:
    sent(tmp_path)
    project, network = open_project(tmp_path / "homepath.toml"), load_network(tmp_path / "network.toml")
    spread = asyncio.run(check(project, network))
    from homepath.journal.journal import open_journal

    with open_journal(tmp_path) as journal:
        observed = journal.observed(DOMAIN, 0)
        assert journal.verdict_changes(DOMAIN)
    assert len(observed) >= sum(len(record.readings) for record in spread.records)
