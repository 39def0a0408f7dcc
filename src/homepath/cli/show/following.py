"""`next --follow` on a terminal, and as one line a change."""

from __future__ import annotations

import asyncio
import contextlib
import json
import sys
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from homepath.app.entering import entering, jobs_of
from homepath.app.follow import FollowControl, Moment, follow_next
from homepath.app.project import Project
from homepath.cli.common import Common
from homepath.cli.show.live import listening
from homepath.cli.show.next import show_moment
from homepath.cli.show.paper import Paper
from homepath.cli.show.sheet import show_jobs
from homepath.cli.status import ring, run_then
from homepath.core.contracts.assessment import next_json, with_assessment
from homepath.core.files.sheet import Job
from homepath.core.model.acts import Decide, Enter, Wait
from homepath.core.model.steps import Assessment
from homepath.core.model.times import rfc3339
from homepath.core.model.visible import visible
from homepath.core.wording.say import say
from homepath.core.wording.times import clock_time, lasting
from homepath.core.wording.words import only_confirmed, sentence
from homepath.net.network_file import Network


@dataclass(slots=True)
class Signals:
    """What happens when it becomes the person's turn. `failed`: the command of --then ended with a fault."""

    bell: bool = False
    then: list[str] | None = None
    failed: bool = False

    async def give(self, found: Assessment) -> None:
        if self.bell:
            ring()
        if self.then:
            value = with_assessment(next_json(found), found)
            self.failed = bool(await asyncio.to_thread(run_then, self.then, value)) or self.failed


async def follow_on_screen(project: Project, network: Network, common: Common, signals: Signals) -> Assessment:
    """Follow the site, and show each change. Ends when it has arrived, or when the person leaves."""
    sheet, tty = common.paper, sys.stdout.isatty() and not common.json
    screen = _Screen(sheet, network) if tty else None
    control = FollowControl()
    latest: list[Moment] = []

    def pressed(key: str) -> None:
        _press(key, control, latest[-1].seen.assessment if latest else None)

    with listening(pressed) if tty else contextlib.nullcontext(False) as keys:
        try:
            async for moment in follow_next(project, network, control):
                latest[:] = [moment]
                found = moment.seen.assessment
                if screen:
                    await screen.draw(project.fresh(network.clock.now()), moment, keys)
                elif moment.changed or (moment.lost and not common.json):
                    value = with_assessment(next_json(found), found)
                    line = f"{rfc3339(network.clock.now())} {_line(moment)}"
                    sys.stdout.write(f"{json.dumps(value, ensure_ascii=True) if common.json else line}\n")
                    sys.stdout.flush()
                if moment.turn or found.arrived:
                    await signals.give(found)
        finally:
            if screen:
                screen.close()
    return latest[-1].seen.assessment


def _press(key: str, control: FollowControl, found: Assessment | None) -> None:
    act = found.act if found else None
    if key in "qQ":
        control.leave = True
    elif key in "dD" and act is not None and only_confirmed(act):
        control.done = True
    elif isinstance(act, Decide) and key.isdecimal() and 0 < int(key) <= len(act.choices):
        words = act.choices[int(key) - 1].then
        if list(words[:2]) != ["next", "--decide"] or len(words) != 3:
            return  # a command of its own, which is shown
        control.decide = words[2]
    elif key not in "cC":
        return
    control.sooner.set()


def _line(moment: Moment) -> str:
    if moment.lost:
        return f"could not check: {say(moment.lost)}"
    progress = f"{moment.entered} of {moment.records} records are in. " if moment.entered else ""
    return progress + sentence(moment.seen.assessment)


@dataclass(slots=True)
class _Screen:
    """Prints what changed, and keeps one line below it that counts down."""

    sheet: Paper
    network: Network
    shown: tuple[str, int] | None = None
    ticking: asyncio.Task[None] | None = field(default=None)

    async def draw(self, project: Project, moment: Moment, keys: bool) -> None:
        self._stop()
        found, now = moment.seen.assessment, self.network.clock.now()
        state = (found.step.id if found.step else "", moment.entered)
        if moment.changed or state != self.shown:
            self._show(project, moment, self.shown is not None and self.shown[0] == state[0])
        self.shown = state
        if moment.lost:
            self.sheet.say(f"{clock_time(now, now)}: could not check. {say(moment.lost)}")
        sys.stdout.write(f"\x1b]0;{'your turn' if _is_turn(found) else 'waiting'}: homepath\x07")
        sys.stdout.flush()
        if not found.arrived:
            self.ticking = asyncio.create_task(self._tick(moment, keys))

    def _show(self, project: Project, moment: Moment, same_step: bool) -> None:
        found, now = moment.seen.assessment, self.network.clock.now()
        if self.shown is not None:
            self.sheet.say(f"{clock_time(now, now)}")
        if same_step and moment.records:
            self.sheet.say(f"{moment.entered} of {moment.records} records are in.")
        show_moment(self.sheet, found, project.brief.builder, project.host_of(found), now, brief=same_step)
        typed = entering(project.assess(now)) if isinstance(found.act, Enter) else None
        if typed is not None and same_step:
            self._left(jobs_of(project, typed))
        elif typed is not None:
            show_jobs(self.sheet, jobs_of(project, typed), project.form_at(typed.act.where))
        for number, choice in enumerate(found.act.choices if isinstance(found.act, Decide) else (), 1):
            self.sheet.say(f"{number}  {say(choice.say)}", 2)
        self.sheet.blank()

    def _left(self, jobs: Sequence[Job]) -> None:
        """What is left of a step whose records are above on the screen."""
        self.sheet.blank()
        self.sheet.say("Still to do:")
        for line in (line for job in jobs for line in job.lines):
            self.sheet.say(f"{line.deed} {line.type} at {line.name or '(empty name)'}", 2)
            self.sheet.value(visible(line.value), 6)

    async def _tick(self, moment: Moment, keys: bool) -> None:
        """Count down until the next check; the line is written over itself."""
        while True:
            words = " ".join(_footer(moment, self.network.clock.now(), keys))
            sys.stdout.write(f"\r\x1b[K{words[: self.sheet.width - 1]}")
            sys.stdout.flush()
            await asyncio.sleep(1.0)

    def _stop(self) -> None:
        if self.ticking:
            self.ticking.cancel()
            self.ticking = None
            sys.stdout.write("\r\x1b[K")

    def close(self) -> None:
        self._stop()
        sys.stdout.write("\x1b]0;\x07")
        sys.stdout.flush()


def _is_turn(found: Assessment) -> bool:
    return not found.arrived and not isinstance(found.act, Wait)


def _footer(moment: Moment, now: float, keys: bool) -> Iterator[str]:
    act = moment.seen.assessment.act
    if isinstance(act, Wait):
        yield f"{lasting(max(0.0, act.until - now))} left, until {clock_time(act.until, now)}."
    elif isinstance(act, Enter):
        yield "Watching the domain's own servers."
    else:
        yield f"Next check in {lasting(max(0.0, moment.then - now))}."
    if not keys:
        yield "Ctrl-C stops."
    elif only_confirmed(act):
        yield "Keys: d done, c check now, q quit."
    elif isinstance(act, Decide):
        yield "Keys: 1-9 choose, c check now, q quit."
    else:
        yield "Keys: c check now, q quit."
