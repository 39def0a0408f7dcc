"""The robot against BIND, Unbound and nginx: it reads `next --json`, types with nsupdate, and waits in real time."""

from __future__ import annotations

import json
import time
from pathlib import Path
from typing import Any

import pytest

from homepath.core.model.times import from_rfc3339
from tests.conftest import START, run_in
from tests.real import servers
from tests.real.test_real_servers import DOMAIN, ask, folder, update

__all__ = ["folder"]
pytestmark = pytest.mark.real
WWW = f"www.{DOMAIN}."
Json = dict[str, Any]

SITUATIONS = {
    "parked": "",
    "typed with the domain twice, and one digit wrong": (
        f"update add {WWW}{DOMAIN}. 10 CNAME site-20817.edge.bricklark.example.\n"
        f"update delete {DOMAIN}. A\n" + "\n".join(f"update add {DOMAIN}. 10 A 192.0.2.{last}" for last in (10, 24))
    ),
    "addresses where an alias belongs, old beside new": (
        f"update delete {WWW} CNAME\nupdate add {WWW} 10 A 192.0.2.10\nupdate add {DOMAIN}. 10 A 192.0.2.10"
    ),
}


def look(folder: Path, *words: str) -> tuple[Json, int]:
    done = run_in(folder, "next", "--json", *words)
    assert done.out, done.err
    return dict(json.loads(done.out)), done.status


def do(folder: Path, act: Json) -> None:
    """One act; what an update cannot carry is the robot's word alone."""
    if act["kind"] == "enter":
        lines = [f"update delete {e['name']} {e['type']} {e['value']}" for e in act["delete"]]
        lines += [f"update add {e['name']} {e['ttl']} {e['type']} {e['value']}" for e in act["enter"]]
        update(folder, "\n".join(lines))
    elif act["kind"] == "wait":
        left = from_rfc3339(act["until"]) - time.time()
        assert left < servers.TTL + 3, "longer than a cache can hold an answer here"
        time.sleep(max(0.0, left))


@pytest.mark.parametrize("before", SITUATIONS.values(), ids=list(SITUATIONS))
def test_it_arrives_and_nothing_is_lost(folder: Path, before: str) -> None:
    assert run_in(folder, *START).status == 0
    if before:
        update(folder, before)
    for cache in servers.CACHES:
        ask(cache, WWW, "A")
        ask(cache, DOMAIN, "A")
    said: list[Json] = []
    answer, status = look(folder)
    while answer["act"]["kind"] != "none":
        assert len(said) < 12, [each["act"] for each in said]
        assert sum(each["act"] == answer["act"] for each in said) < 2, answer["act"]
        said.append(answer)
        do(folder, answer["act"])
        told = answer["act"]["kind"] in ("tell-builder", "check-again", "builder-step")
        answer, status = look(folder, *(["--done", answer["step"]["id"]] if told else []))
    assert status == 0
    assert ask(servers.HOST, DOMAIN, "MX") == "10 mx1.mossgate.example.\n"
    assert '"v=spf1 mx -all"' in ask(servers.HOST, DOMAIN, "TXT")
    for cache in servers.CACHES:
        assert "198.51.100.7" not in ask(cache, DOMAIN, "A") + ask(cache, WWW, "A")
    if not before:
        update(folder, f"update delete {DOMAIN}. MX")
        answer, status = look(folder)
        assert (answer["step"]["kind"], status) == ("put-back", 3)
        do(folder, answer["act"])
        assert look(folder)[1] == 0
        assert ask(servers.HOST, DOMAIN, "MX") == "10 mx1.mossgate.example.\n"
