"""Follows a site until it has arrived: checks when something can have changed, and yields each change."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Mapping
from dataclasses import dataclass, field

from homepath.app.decide import decided, say_done
from homepath.app.driving import Driver
from homepath.app.next import NextResult, check_again_at, find_next
from homepath.app.project import Project
from homepath.app.send import servers_of
from homepath.app.watch import wait_or_sooner
from homepath.core.dns.answers import Question
from homepath.core.message import Text, reason
from homepath.core.model.acts import Act, Enter, Wait
from homepath.core.model.problems import CouldNotCheck, HomePathError
from homepath.core.model.steps import Assessment
from homepath.net.asker import Asker
from homepath.net.network_file import Network
from homepath.net.session import Session

BETWEEN = 15.0
"""Seconds between two checks of the servers where records are being entered, at least."""
WHOLE = 300.0
"""Seconds after which everything is checked again, although those servers return what they did before."""
PATIENT = 120.0
"""Seconds between two full checks while a person has something to do elsewhere."""
LONGEST = 3600.0
"""Seconds between two checks of a wait, at most."""

Returned = Mapping[tuple[str, Question], object]
"""What each server returned to each question; what was not answered is missing."""


@dataclass(frozen=True, slots=True)
class Moment:
    """What one check showed. `entered` of `records`: how many of the records to add are in; 0 of 0 where none are.
    `changed`: the act, or why, is not the one of before; `turn`: it has just become the person's turn;
    `then`: the next check, Unix seconds; `lost`: why the check failed, what was known is shown again."""

    seen: NextResult
    entered: int
    records: int
    changed: bool
    turn: bool
    then: float
    lost: Text = ""


@dataclass(slots=True)
class FollowControl:
    """What the person presses: `sooner` brings the next check forward, `leave` ends, `done` says that the step is
    done, `decide` answers its question."""

    sooner: asyncio.Event = field(default_factory=asyncio.Event)
    leave: bool = False
    done: bool = False
    decide: str = ""


async def follow_next(project: Project, network: Network, control: FollowControl) -> AsyncIterator[Moment]:
    """Check until the site has arrived or the person leaves. Raises CouldNotCheck where the first check fails."""
    clock = network.clock
    most: dict[str, int] = {}
    last: NextResult | None = None
    while True:
        lost: Text = ""
        try:
            seen = await find_next(project, network)
        except CouldNotCheck as error:
            if last is None:
                raise
            seen, lost = last, reason(error)
        project = project.fresh(clock.now())
        found, before = seen.assessment, last.assessment if last else None
        left = _left(found.act)
        key = found.step.id if found.step else ""
        most[key] = max(left, most.get(key, 0))
        turn = before is not None and _yours(found) and not (_yours(before) and _same_step(found, before))
        then = min(_next(found, clock.now()), clock.now() + LONGEST)
        changed = before is None or _shown(found) != _shown(before)
        yield Moment(seen, most[key] - left, most[key], changed, turn, then, lost)
        if found.arrived:
            return
        last = seen
        await _until_change(project, network, found, control, then)
        if control.leave:
            return
        project = _answered(project, found, control, clock.now())


def _answered(project: Project, found: Assessment, control: FollowControl, now: float) -> Project:
    """Keep what the person pressed meanwhile."""
    if control.done and found.step is not None:
        say_done(project, found.step.id, now)
    if control.decide:
        project = decided(project, control.decide, now)
    control.done, control.decide = False, ""
    return project


async def _until_change(
    project: Project, network: Network, found: Assessment, control: FollowControl, then: float
) -> None:
    """Wait for the next check. While records are entered, only the servers that they go to are checked."""
    clock, act = network.clock, found.act
    if not isinstance(act, Enter):
        await wait_or_sooner(then - clock.now(), network, control.sooner)
        return
    before = await _returned(project, network, act)
    ends = clock.now() + WHOLE
    while clock.now() < ends:
        if await wait_or_sooner(BETWEEN, network, control.sooner):
            return
        now = await _returned(project, network, act)
        if any(now[key] != before[key] for key in now.keys() & before.keys()):
            return


async def _returned(project: Project, network: Network, act: Enter) -> Returned:
    """What the zone's own servers return now: the SOA, and every record set of the act. Empty where they are lost."""
    keys = dict.fromkeys((entry.name, entry.type) for entry in (*act.delete, *act.enter) if entry.type != "ALIAS")
    questions = [Question(project.domain, "SOA"), *(Question(*key) for key in keys)]
    driver = Driver(network, Session(Asker(network)))
    try:
        servers = await servers_of(driver, project, act.where)
    except HomePathError:
        return {}
    asks = [(question, server) for server in servers for question in questions]
    answers = await driver.walker.asker.ask_all(asks)
    return {
        (server.place, question): (answer.rcode, sorted((each.key, sorted(each.values)) for each in answer.answer))
        for (question, server), answer in zip(asks, answers, strict=True)
        if answer.usable
    }


def _left(act: Act) -> int:
    """Records still to add. One typed wrong has to be deleted too, which takes nothing from what is in."""
    return len(set(act.enter)) if isinstance(act, Enter) else 0


def _yours(found: Assessment) -> bool:
    """Whether the person has something to do."""
    return not found.arrived and not isinstance(found.act, Wait)


def _same_step(found: Assessment, before: Assessment) -> bool:
    return (found.step and found.step.id) == (before.step and before.step.id)


def _shown(found: Assessment) -> object:
    """What a screen shows of it; only the end of a wait may move without a word."""
    act = type(found.act) if isinstance(found.act, Wait) else found.act
    wrong = [(each.code, each.name, each.type, each.message) for each in found.because]
    return found.step and found.step.id, act, wrong, found.site_up


def _next(found: Assessment, now: float) -> float:
    return check_again_at(found, now, now) if isinstance(found.act, Wait) else now + PATIENT
