"""A domain that has arrived, followed by `many --due --changed` like a timer does it: whatever happens to it is
reported at its next check with its cause, once, and so is its end."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from homepath.bulk import run as bulk_run
from homepath.bulk import short_check, site_check
from homepath.cli.story import opened
from homepath.core.model.times import from_rfc3339
from homepath.practice.world import World
from tests.conftest import START, run_in
from tests.practice.agreement import run_inside
from tests.practice.incidents import DAY, DOMAIN, INCIDENTS, Incident, Incidents, scene
from tests.practice.robot import Robot

LIST = (
    f"domain,primary,brief,notation,site,code\n{DOMAIN},www,bricklark.brief.toml,mossgate.notation.toml,20817,tk-4471\n"
)


class Timer:
    """The list of one domain, and the timer that checks it every hour, of which only hours with something due count."""

    def __init__(self, robot: Robot) -> None:
        self.robot, self.world = robot, robot.world
        self.differed: list[str] = []
        (robot.folder / "list.csv").write_text(LIST)

    def run(self) -> list[dict[str, Any]]:
        network = self.robot.folder / "network.toml"
        if "[pace]" not in (text := network.read_text()):
            network.write_text(f"{text}\n[pace]\nserver = 100000\nresolver = 100000\n")
        done = run_inside(self.robot.folder, *["many", "list.csv", "--due", "--changed", "--json"])
        assert not done.err, done.err
        return [json.loads(line) for line in done.out.splitlines()]

    def after(self, seconds: float) -> list[dict[str, Any]]:
        self.world.skip(seconds)
        return self.run()


@pytest.fixture(scope="module")
def arrived(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Timer]:
    folder: Path = tmp_path_factory.mktemp("incidents")
    world = World(scene(), folder, 10)
    with opened(world), pytest.MonkeyPatch.context() as patch:
        patch.setattr(bulk_run, "SECOND_CHECK", 1.0)
        assert run_in(folder, *START).status == 0
        robot = Robot(world, folder)
        robot.walk()
        timer = Timer(robot)

        async def difference(*args: Any) -> str:
            found = await short_check.difference(*args)
            timer.differed += [found] if found else []
            return found

        async def unchanged(*args: Any) -> bool:
            found = await short_check.is_registration_unchanged(*args)
            timer.differed += [] if found else ["registry"]
            return found

        patch.setattr(site_check, "difference", difference)
        patch.setattr(site_check, "is_registration_unchanged", unchanged)
        world.skip(2 * DAY)
        assert timer.run()[0]["verdict"] == "as-wanted"
        timer.after(DAY + 60)
        yield timer


@pytest.mark.parametrize("incident", INCIDENTS, ids=lambda each: each.name)
def test_an_incident_is_reported_once_with_its_cause_and_so_is_its_end(arrived: Timer, incident: Incident) -> None:
    it = Incidents(arrived.world)
    incident.deed(it)
    arrived.differed.clear()
    found = arrived.after(DAY + 60)
    try:
        # what was added may be among the thirtieth of the missing names that a check asks for anyway
        seen = arrived.differed[0] if arrived.differed else ""
        assert incident.by in (seen, "serial" if seen == "records" else ""), "the part of the short check that sees it"
        if incident.verdict is None:
            assert found == []
            return
        (line,) = found
        codes = [each["code"] for each in (line["assessment"] or {"findings": []})["findings"]]
        assert (line["verdict"], line["changed"]) == (incident.verdict, True), (codes, line["trouble"])
        assert not incident.code or incident.code in codes
        if incident.verdict == "wrong":
            assert line["where"] == incident.where, line["do"]
        assert arrived.after(_until_due(arrived, line)) == [], "said once"
    finally:
        it.over()
    ends = arrived.after(2 * DAY)
    assert ends, "its end was not reported"
    assert ends[-1]["verdict"] in ("as-wanted", "not-yet"), (ends[-1]["do"], ends[-1]["act"])
    for _ in range(4):  # what the incident left in caches
        if ends[-1]["verdict"] != "as-wanted":
            ends += arrived.after(2 * DAY)
    assert (ends[-1]["verdict"], ends[-1]["worst"] and ends[-1]["worst"]["level"]) in (
        ("as-wanted", "note"),
        ("as-wanted", None),
    )
    arrived.after(DAY + 60)


def _until_due(timer: Timer, line: dict[str, Any]) -> float:
    return max(60.0, from_rfc3339(line["next_look"]) - timer.world.clock.now() + 1)
