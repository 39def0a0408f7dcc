"""Every vantage for every record of the job, and both sides of a hand-over."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from dataclasses import dataclass, field, replace
from typing import Literal

from homepath.app.driving import Driver
from homepath.app.project import Project
from homepath.app.survey import up_to_date
from homepath.app.visit import revisit
from homepath.core.dns.names import Name
from homepath.core.dns.records import Zone
from homepath.core.message import msg
from homepath.core.model.problems import BadInput, CouldNotCheck, Problem
from homepath.core.model.survey import Compared, Spread
from homepath.core.observe.compare import Sides, compare_check
from homepath.core.observe.watch import REMEMBERED, Memory, watch_check
from homepath.core.plan.going_back import former_servers
from homepath.core.plan.new_zone import due, glue_names
from homepath.core.propagation.verdicts import next_look
from homepath.core.site.zone_facts import handed_over
from homepath.net.network_file import Network
from homepath.net.session import Session, session


@dataclass(frozen=True, slots=True)
class Both:
    """What was compared, and the project as the journal knows it then."""

    compared: Compared
    project: Project
    former: bool = False
    """Whether the switch is over, so that the old side is the one of before."""


async def compare(project: Project, network: Network, within: Session | None = None) -> Both:
    """Query the current and the new nameservers for every record that must move, and store the answers in the journal.

    Raises BadInput where no hand-over is wanted or its servers are not known, CouldNotCheck.
    """
    over = project.wanted.hand_over
    if over is None:
        raise BadInput(
            Problem(msg("compare.compare", domain=project.domain), key="route", hint=msg("compare.compare.hint"))
        )
    if not over.servers:
        raise BadInput(Problem(msg("compare.compare-2", host=over.host), key="servers", hint="homepath next"))
    if within is None:
        project, within, _ = await _surveyed(project, network)
    case = project.case
    former = former_servers(project.evidence.contents, project.domain, over.servers) if handed_over(case) else ()
    glue = _glue(project, glue_names(case))
    out_of_reach = frozenset(each for every in glue.values() for each in every if not network.has_route(each))
    sides = Sides(over.servers, glue, out_of_reach, former)
    found = await Driver(network, within).drive(compare_check(case, due(case), sides, within.label))
    compared = found.compared
    different = tuple(each for each in compared.records if each.state != "same")
    with project.journal() as journal:
        short = replace(compared, records=different, same=len(compared.records) - len(different))
        journal.record_check(compared.at, "compare", project.domain, compared.verdict, short)
        if not former:
            journal.record_contents(compared.at, found.new_sets, "new")
    return Both(compared, project.fresh(network.clock.now()), bool(former))


async def _surveyed(project: Project, network: Network) -> tuple[Project, Session, CouldNotCheck | None]:
    """For a check on its own: a survey of now, and the session in which it was made. Where no server of the domain
    answers, the project as it was, and why: the other servers may answer."""
    within = session(network)
    try:
        return await up_to_date(project, network, within), within, None
    except CouldNotCheck as error:
        return project, within, error


def _glue(project: Project, names: tuple[Name, ...]) -> dict[Name, tuple[str, ...]]:
    """Addresses of new servers below the domain itself: as the present zone, or a check at the new one, returns
    them."""
    zones: list[Zone] = [project.case.zone]
    return {
        name: tuple(value for zone in zones for rrtype in ("A", "AAAA") for value in zone.values(name, rrtype))
        for name in names
    }


async def check(project: Project, network: Network, within: Session | None = None) -> Spread:
    """One check at every vantage; the journal keeps it. Raises CouldNotCheck when the servers cannot be found.

    `within`: the session of a larger check, which made a survey.
    """
    alone, unsurveyed = within is None, None
    if within is None:
        project, within, unsurveyed = await _surveyed(project, network)
    now, domain = network.clock.now(), project.domain
    project = project.fresh(now)
    with project.journal() as journal:
        observed = tuple(journal.observed(domain, now - REMEMBERED))
        memory = Memory(observed, tuple(journal.verdict_changes(domain)), network.clock.slack)
    resolvers = {each.label: each.server for each in network.resolvers}
    try:
        found = await Driver(network, within).drive(watch_check(project.case, memory, resolvers, within.label))
    except CouldNotCheck as error:
        raise unsurveyed or error from error  # the survey says it as all other commands do
    spread = found.spread
    with project.journal() as journal:
        journal.record_contents(spread.at, found.contents)
        journal.record_contents(spread.at, found.handed, "parent")
        journal.record_contents(spread.at, found.behind, "behind")
        journal.record_watch(spread.at, domain, spread.verdict, spread, found.observed, found.verdicts)
    if alone and unsurveyed is None:
        await revisit(project, network, within)
    return spread


@dataclass(frozen=True, slots=True)
class Goal:
    """When to stop looking. `until` None: at `settled`, or as soon as waiting cannot change anything.

    `entered`: the source returns everything wanted, whatever caches hold. `seconds`: so long at most.
    """

    until: Literal["settled", "entered"] | None = None
    seconds: float | None = None

    def reached(self, spread: Spread) -> bool:
        if self.until == "entered":
            return spread.verdict in ("settled", "spreading")
        return spread.verdict == "settled" or (
            self.until is None and spread.verdict in ("entered-wrong", "not-entered")
        )


@dataclass(slots=True)
class WatchControl:
    """For the person who watches: `sooner` brings the next check forward, with `leave` there is none."""

    sooner: asyncio.Event = field(default_factory=asyncio.Event)
    leave: bool = False


async def follow(
    project: Project, network: Network, goal: Goal, control: WatchControl | None = None
) -> AsyncIterator[tuple[Spread, float | None]]:
    """Check until the goal; each check comes with the time of the next one, None after the last."""
    control = control or WatchControl()
    clock = network.clock
    ends = None if goal.seconds is None else clock.now() + goal.seconds
    spread: Spread | None = None
    while True:
        spread = await (check(project, network) if spread is None else _check_again(project, network, spread))
        now = clock.now()
        if goal.reached(spread) or (ends is not None and now >= ends):
            yield spread, None
            return
        then = next_look(spread.records, now)
        then = then if ends is None else min(then, ends)
        yield spread, then
        await wait_or_sooner(then - clock.now(), network, control.sooner)
        if control.leave:
            return


async def _check_again(project: Project, network: Network, before: Spread) -> Spread:
    """A later check. Without a network, everything is unknown for now; it may come back."""
    try:
        return await check(project, network, session(network))
    except CouldNotCheck as error:
        lost = [
            replace(r, verdict="unknown", readings=(), because=error.message, taken_back=None) for r in before.records
        ]
        return replace(before, at=network.clock.now(), verdict="unknown", records=tuple(lost), findings=())


async def wait_or_sooner(seconds: float, network: Network, sooner: asyncio.Event) -> bool:
    """Wait this long, or until the person presses a key; whether they did."""
    waits = [asyncio.ensure_future(network.clock.sleep(seconds)), asyncio.ensure_future(sooner.wait())]
    try:
        await asyncio.wait(waits, return_when=asyncio.FIRST_COMPLETED)
        return sooner.is_set()
    finally:
        for each in waits:
            each.cancel()
        sooner.clear()
