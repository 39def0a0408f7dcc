"""One run over a list: what is due is checked, each result is written as it comes, and a broken-off run goes on."""

from __future__ import annotations

import asyncio
import secrets
import time
from collections.abc import AsyncIterator, Callable, Iterator
from dataclasses import dataclass, replace

from homepath.bulk.site_state import Result, Run, SiteState
from homepath.bulk.state import State
from homepath.bulk.workers import RunContext, checked_here
from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem
from homepath.net.network_file import Network

AHEAD = 200
"""Sites read from the state at once."""
WRITTEN_AFTER = 0.5
"""Seconds that results wait to be written together, at most."""
TOGETHER = 50
MOST_LOST = 3
"""Times that a site is checked again because a person's command wrote to it meanwhile."""
SECOND_CHECK = 20.0
"""Seconds after which domains that were fine and are not now are checked again, before that counts."""


@dataclass(frozen=True, slots=True)
class Asked:
    """What a run is to do. `due`: only where something can have changed. `workers`: processes; `cluster`: the address
    of a scheduler instead. `restart`: do not continue an interrupted run."""

    due: bool = False
    workers: int = 1
    cluster: str = ""
    restart: bool = False

    @property
    def words(self) -> list[str]:
        return ["due"] if self.due else ["all"]


@dataclass(frozen=True, slots=True)
class Progress:
    """How far a run is. `rate`: sites a second since it was begun or gone on with; `left`: seconds, None before one is
    done."""

    done: int
    of: int
    rate: float
    left: float | None
    again: int = 0
    """Domains that were fine and are not now, which are about to be checked again."""


@dataclass(frozen=True, slots=True)
class Ran:
    """What a run came to. `bad`: rows that could not be used; `named`: whether this run said which."""

    run: Run
    bad: int
    named: bool = True


def run(
    state: State, network: Network, ground: RunContext, asked: Asked, bad: int, tell: Callable[[Progress], None]
) -> Ran:
    """Check everything that this run is to check. Ctrl-C ends it, and what was checked is kept.

    Raises BadInput where a cluster cannot have what it needs, CouldNotCheck without a cluster.
    """
    if asked.cluster and state.has_own_journals():
        hint = msg("run.run.hint")
        raise BadInput(Problem(msg("run.run"), key="--cluster", hint=hint))
    now = network.clock.now()
    this = state.begin_run(asked.words, now, asked.restart)
    due = this.began if asked.due else None
    of, resumed = state.count(this, due)
    meter = _Meter(of, resumed, tell)
    tell(meter.progress())
    if of > resumed:
        _check_all(state, this, due, ground, asked, of - resumed, meter)
    if meter.doubtful:
        tell(replace(meter.progress(), again=meter.doubtful))
        asyncio.run(network.clock.sleep(SECOND_CHECK))
        meter.confirming = True
        fresh = replace(ground, key=secrets.token_hex(8))  # no answer of the first check counts for the second
        _check_all(state, this, due, fresh, asked, meter.doubtful, meter)
    for _ in range(MOST_LOST if of > resumed else 0):  # sites that a person's command wrote to meanwhile
        if not state.sites_to_check(this, due, 1, None):
            break
        asyncio.run(_here(state, this, due, ground, meter))
    state.end_run(this, network.clock.now())
    return Ran(this, bad)


def _check_all(
    state: State, this: Run, due: float | None, ground: RunContext, asked: Asked, sites: int, meter: _Meter
) -> None:
    """Check what this run has not checked yet: `sites` of them, here, in processes, or in a cluster."""
    sites_due = _sites(state, this, due)
    if asked.cluster:
        from homepath.bulk.processes import checked_by_cluster

        _write(state, this, checked_by_cluster(sites_due, ground, asked.cluster, sites), meter)
    elif asked.workers > 1:
        from homepath.bulk.processes import checked_by_processes

        _write(state, this, checked_by_processes(sites_due, ground, asked.workers, sites), meter)
    else:
        asyncio.run(_here(state, this, due, ground, meter))


def _sites(state: State, run: Run, due: float | None) -> Iterator[SiteState]:
    """The sites to check, mixed."""
    after: tuple[int, str] | None = None
    while some := state.sites_to_check(run, due, AHEAD, after):
        after = (some[-1][0], some[-1][1].listed.domain)
        yield from (site_state for _, site_state in some)


async def _here(state: State, run: Run, due: float | None, ground: RunContext, meter: _Meter) -> None:
    results: AsyncIterator[Result] = checked_here(_sites(state, run, due), ground)
    box = _Box(state, run, meter)
    try:
        async for each in results:
            box.put(each)
    finally:
        box.empty()


def _write(state: State, run: Run, results: Iterator[Result], meter: _Meter) -> None:
    box = _Box(state, run, meter)
    try:
        for each in results:
            box.put(each)
    finally:
        box.empty()


class _Box:
    """Results on their way into the state: written some at a time, and soon. An alarm is not written before a second
    check, so that the domain is still to be checked in this run."""

    def __init__(self, state: State, run: Run, meter: _Meter) -> None:
        self._state, self._run, self._meter = state, run, meter
        self._held: list[Result] = []
        self._since = time.monotonic()

    def put(self, result: Result) -> None:
        if result.alarm and not self._meter.confirming:
            self._meter.doubtful += 1
            return
        self._held.append(result)
        if len(self._held) >= TOGETHER or time.monotonic() - self._since > WRITTEN_AFTER:
            self.empty()

    def empty(self) -> None:
        held, self._held, self._since = self._held, [], time.monotonic()
        if held:
            lost = self._state.keep(held, self._run)
            self._meter.add(len(held) - lost)


class _Meter:
    """Counts, and tells how far it is."""

    def __init__(self, of: int, done: int, tell: Callable[[Progress], None]) -> None:
        self.done, self._of, self._tell = done, of, tell
        self.doubtful, self.confirming = 0, False
        self._began, self._first = time.monotonic(), done

    def add(self, count: int) -> None:
        self.done += count
        self._tell(self.progress())

    def progress(self) -> Progress:
        seconds = time.monotonic() - self._began
        rate = (self.done - self._first) / seconds if seconds > 0 else 0.0
        left = (self._of - self.done) / rate if rate else None
        return Progress(self.done, self._of, rate, left)
