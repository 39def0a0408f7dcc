"""Forty domains that have arrived, in two lists, for nine days of story time, with `many --due --changed` every hour:
each of 34 incidents is reported in time with its cause, and so is its end; nothing else is ever reported. With
HOMEPATH_ALL_WALKS=1 it is six weeks, and 61 incidents.
"""

from __future__ import annotations

import json
import math
import os
import random
import sqlite3
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import pytest

from homepath.bulk import run as bulk_run
from homepath.bulk import short_check, site_check
from homepath.cli.story import opened
from homepath.practice.world import World
from tests.practice.agreement import run_inside
from tests.practice.incidents import DAY, INCIDENTS, NAMES, OWN_SERVERS, Incident, Incidents, Town, scene

HOUR = 3600
DAYS, BEGINNINGS = (42, 12) if os.environ.get("HOMEPATH_ALL_WALKS") else (9, 3)
"""How long it goes on, and within how many of its days the incidents begin."""
IN_TIME = 26 * HOUR
"""Within which an incident is reported: a check a day, an hourly timer, and the second check."""
WHOLE_CHECK = "time"
"""A short check that was not even begun, as a whole one was due."""
RECOVERED = 900
"""Within which the end of an incident is reported, from the first check after it."""
CACHED = 3 * DAY
"""What an incident leaves in caches may be reported for so long after its end."""
STATE = "list.csv.homepath-many"
Line = dict[str, Any]


@dataclass
class Happening:
    """One incident of one domain. `lines`: what was reported from its begin until the next one's, with the moments."""

    incident: Incident
    domain: str
    begin: float
    end: float
    lines: list[tuple[float, Line]] = field(default_factory=list)
    seen_by: list[str] = field(default_factory=list)


def planned(start: float, names: Sequence[str]) -> list[Happening]:
    """All kinds once in the first days, each at a domain of its own; 27 again after three weeks, if they come. Those of
    the domains `names`."""
    dice = random.Random(42)
    own = {"one-server-silent": NAMES[0], "all-servers-silent": NAMES[1]}
    others = iter(NAMES[len(OWN_SERVERS) :])
    found = [(incident, own.get(incident.name) or next(others), 2.0) for incident in INCIDENTS]
    again = [each for each in INCIDENTS if each.name not in own]
    found += (
        DAYS
        // 42
        * [(each, name, 23.0) for each, name in zip(dice.sample(again, 27), dice.sample(NAMES[2:36], 27), strict=True)]
    )
    happenings = []
    for incident, domain, first in found:
        begin = start + (first + dice.uniform(0, BEGINNINGS)) * DAY
        happening = Happening(incident, domain, begin, begin + dice.uniform(1.3, 1.9) * DAY)
        happenings += [happening] if domain in names else []
    return happenings


class Timer:
    """The list of all domains, and the timer that runs every hour, of which only hours with something due count.
    `checks`: when each domain was checked."""

    def __init__(self, world: World, folder: Path, names: Sequence[str]) -> None:
        self.world, self.folder, self.town, self.names = world, folder, Town(world), names
        rows = (f"{name},www,bricklark.brief.toml,mossgate.notation.toml,20817,tk-4471" for name in names)
        (folder / "list.csv").write_text("domain,primary,brief,notation,site,code\n" + "\n".join(rows) + "\n")
        self.start = world.clock.now()
        self.checks: dict[str, list[float]] = {name: [] for name in names}

    def rows(self, words: str) -> list[tuple[Any, ...]]:
        with sqlite3.connect(f"file:{self.folder / STATE}?mode=ro", uri=True) as state:
            return state.execute(f"select {words} from sites").fetchall()

    def run(self) -> list[Line]:
        network, begin = self.folder / "network.toml", self.world.clock.now()
        if "[pace]" not in (text := network.read_text()):
            network.write_text(f"{text}\n[pace]\nserver = 100000\nresolver = 100000\n")
        done = run_inside(self.folder, "many", "list.csv", "--due", "--changed", "--json")
        assert not done.err, done.err
        for domain, at in self.rows("domain, looked_at"):
            if at is not None and at >= begin:
                self.checks[domain.removesuffix(".")].append(begin)
        return [json.loads(line) for line in done.out.splitlines()]

    def begin(self) -> None:
        """Every domain has arrived, and the first checks are over."""
        for _ in range(6):  # a page that a busy machine gave too late is there at the next run
            self.run()
            if all(verdict == "as-wanted" for (verdict,) in self.rows("verdict")):
                return
            self.world.skip(900)
        pytest.fail(str(self.rows("domain, verdict")))

    def until(self, moment: float) -> Iterator[tuple[float, Line]]:
        """What the hourly runs report before this moment."""
        while (hour := self._next_hour()) < moment:
            self.world.skip(hour - self.world.clock.now())
            for line in self.run():
                yield hour, line
        self.world.skip(max(0.0, moment - self.world.clock.now()))

    def _next_hour(self) -> float:
        """The full hour at which the next domain is due."""
        due: float = max(self.world.clock.now(), min(at for (at,) in self.rows("next_look")))
        return self.start + math.ceil((due - self.start) / HOUR) * HOUR

    def wrong(self, happening: Happening) -> str:
        """What was wrong with the reports about one incident; empty where nothing was."""
        incident = happening.incident
        while_there = [(at, line) for at, line in happening.lines if at <= happening.end]
        after = [(at, line) for at, line in happening.lines if at > happening.end]
        # what was added may be among the thirtieth of the missing names that a check asks for anyway
        seen = happening.seen_by[0] if happening.seen_by else ""
        if incident.by not in (seen, "serial" if seen == "records" else "") and seen != WHOLE_CHECK:
            return f"seen by {seen or 'nothing'} instead of {incident.by}"
        if incident.verdict is None:
            return f"reported: {happening.lines}" if happening.lines else ""
        if len(while_there) != 1:
            return f"reported {len(while_there)} times"
        at, line = while_there[0]
        if at - happening.begin > IN_TIME:
            return f"reported after {(at - happening.begin) / HOUR:.0f} h"
        if not any(at < check <= at + HOUR for check in self.checks[happening.domain]):
            return "not checked again soon after it was reported"
        codes = {each["code"] for each in (line["assessment"] or {"findings": []})["findings"]}
        if line["verdict"] != incident.verdict or (incident.code and incident.code not in codes):
            return f"{line['verdict']}: {codes} {line['trouble']}"
        if incident.verdict == "wrong" and line["where"] != incident.where:
            return f"to be done at the {line['where']}: {line['do']}"
        first_check = min(at for at in self.checks[happening.domain] if at > happening.end)
        if not after or after[0][0] > first_check + RECOVERED:
            return "its end was not reported at the first check after it"
        verdicts = [(line["verdict"], (line["worst"] or {"level": "note"})["level"]) for _, line in after]
        if {verdict for verdict, _ in verdicts} > {"as-wanted", "not-yet"} or verdicts[-1] != ("as-wanted", "note"):
            return f"after its end: {verdicts}"
        return "" if after[-1][0] < happening.end + CACHED else "its end took too long"


@pytest.fixture(params=[0, 1], ids=["one half", "the other"])
def timer(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Timer]:
    world = World(scene(), tmp_path, 10)
    with opened(world), pytest.MonkeyPatch.context() as patch:
        patch.setattr(bulk_run, "SECOND_CHECK", 0.1)
        yield Timer(world, tmp_path, NAMES[request.param :: 2])


def test_six_weeks(timer: Timer, monkeypatch: pytest.MonkeyPatch) -> None:
    happenings = planned(timer.start, timer.names)
    last: dict[str, Happening] = {}

    def seen_by(domain: str, part: str) -> None:
        happening = last.get(domain.removesuffix("."))
        if part and happening is not None and timer.world.clock.now() < happening.end:
            happening.seen_by.append(part)

    async def difference(domain: str, *args: Any) -> str:
        found = await short_check.difference(domain, *args)
        seen_by(domain, found)
        return found

    async def unchanged(domain: str, *args: Any) -> bool:
        found = await short_check.is_registration_unchanged(domain, *args)
        seen_by(domain, "" if found else "registry")
        return found

    monkeypatch.setattr(site_check, "difference", difference)
    monkeypatch.setattr(site_check, "is_registration_unchanged", unchanged)
    timer.begin()
    events = [(each.begin, 1, each) for each in happenings] + [(each.end, 0, each) for each in happenings]
    under_way: dict[str, Incidents] = {}
    unasked: list[tuple[float, Line]] = []
    for moment, begins, happening in sorted(events, key=lambda event: event[:2]):
        for at, line in timer.until(moment):
            domain = line["domain"].removesuffix(".")
            (last[domain].lines if domain in last else unasked).append((at, line))
        if begins:
            last[happening.domain], under_way[happening.domain] = happening, Incidents(timer.town, happening.domain)
            happening.incident.deed(under_way[happening.domain])
        else:
            under_way.pop(happening.domain).over()
    for at, line in timer.until(timer.start + DAYS * DAY):
        last[line["domain"].removesuffix(".")].lines.append((at, line))
    assert not unasked, "reported without an incident"
    wrong = {f"{each.incident.name} at {each.domain}": found for each in happenings if (found := timer.wrong(each))}
    assert not wrong, wrong
    assert (timer.folder / STATE).stat().st_size / len(timer.names) <= 12 * 1024
