"""Checks everything, assesses the domain, and fills the calendar."""

from __future__ import annotations

import asyncio
from collections.abc import Coroutine, Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from homepath.app import survey, visit, watch
from homepath.app.decide import remembered
from homepath.app.project import Project
from homepath.app.send import settle
from homepath.core.dns.names import Name, shown
from homepath.core.files.calendar_file import Appointment, merged
from homepath.core.message import msg
from homepath.core.model.acts import Wait
from homepath.core.model.evidence import Evidence
from homepath.core.model.problems import CouldNotCheck
from homepath.core.model.steps import Assessment
from homepath.core.plan.difference import has_old_site
from homepath.core.site.zone_facts import handed_over
from homepath.core.wording.say import say
from homepath.core.wording.words import sentence, stage
from homepath.files import read_octets, write_octets
from homepath.net.network_file import Network
from homepath.net.session import Session, session

DAY = 86400.0
SOONEST = 600.0
"""Seconds between two checks of a domain where a person is at work, at least: a check is not free for others."""


def check_again_at(assessment: Assessment, now: float, since: float) -> float:
    """The next moment at which something can have changed. `since`: when the domain's state began.

    A wait: its end. A person's work: soon at first, later as long again as it already took. Else a day.
    """
    if isinstance(assessment.act, Wait):
        return max(now + 1, min(assessment.act.until, now + DAY))
    if assessment.arrived:
        return now + DAY
    return now + backoff(now, since)


def backoff(now: float, since: float) -> float:
    """Seconds until a state that began at `since` is checked again: soon at first, after days once a day."""
    return min(DAY, max(SOONEST, (now - since) / 4))


@dataclass(frozen=True, slots=True)
class NextResult:
    """The assessment of the whole site, and the evidence for the main domain and for `others`.

    `learned`: what became of updates whose answer was lost.
    """

    assessment: Assessment
    evidence: Evidence
    others: Mapping[Name, Evidence]
    learned: tuple[str, ...] = ()


async def find_next(project: Project, network: Network, within: Session | None = None) -> NextResult:
    """Check everything that can tell something now, at every domain of the site, and say what comes next.

    All of it is one session: no question is sent twice, and the time that it may take is that of the whole.
    """
    mine = within or session(network)
    with project.at_hand() as project:
        checked = [await _check(each, network, mine) for each in project.all_domains(network.clock.now())]
        learned = [words for each in checked for words in settle(each, network.clock.now())]
        found = remembered(checked, network.clock.now())
        checked[0].keep_form()
        with project.journal() as journal:
            journal.record_check(network.clock.now(), "next", project.domain, f"{stage(found)}: {sentence(found)}", {})
    others = {each.domain: each.evidence for each in checked[1:]}
    return NextResult(found, checked[0].evidence, others, tuple(learned))


async def _check(project: Project, network: Network, mine: Session) -> Project:
    """A fresh survey, one check at every vantage, the builder's servers, and a visit where it can show something.

    A site in use is visited once before anything changes: what it told browsers is known only while it answers. One
    that had arrived is visited whatever its records say: whether it is up comes first on every screen.
    """
    clock = network.clock
    surveyed = await survey.survey(project, network, within=mine, whole=False)
    project = surveyed.project
    work, over, there = project.work, project.wanted.hand_over, project.wanted.going == "there"
    switches = over is not None and bool(over.servers) and not handed_over(project.case)
    if not surveyed.survey.held:  # no server answers for the domain, so only the new ones can be seen
        if switches:
            with suppress(CouldNotCheck):  # where the present ones have no address either, the survey says so
                await watch.compare(project, network, mine)
        return project.fresh(clock.now())
    before = project.evidence.visit
    arrived = before is not None and before.verdict == "arrived"
    asks_edge = bool(work) or not arrived if there else not work
    checks: list[Coroutine[Any, Any, object]] = [watch.check(project, network, mine)]
    if switches:
        checks.append(watch.compare(project, network, mine))
    if asks_edge:  # before a visit, so that it is judged by what the builder's servers say now
        checks.append(visit.ask_edge(project, network, mine))
    for found in await asyncio.gather(*checks, return_exceptions=True):  # all of them end before one is raised
        if isinstance(found, BaseException):
            raise found
    in_use = project.evidence.arrived_at is not None
    if there and (in_use or not work or (not project.evidence.visited_before and has_old_site(project.case))):
        project = project.fresh(clock.now())
        seen = await visit.visit(project, network, within=mine, alone=True)
        if not work and not asks_edge and seen.verdict != "arrived":
            await visit.ask_edge(project, network, mine)
    return project.fresh(clock.now())


def appointments(seen: NextResult) -> Iterator[Appointment]:
    """The ends of waits, and what expires."""
    found = seen.assessment
    name = shown(found.domain)
    entered = found.find("enter") or found.find("name-servers")
    begun = entered is not None and entered.state == "done"
    for key, act in found.open_acts:
        step = found.find(key)
        if isinstance(act, Wait) and step is not None and (step == found.step or (begun and step.kind == "spread")):
            over = "caches" if act.cause in ("caches", "absence", "parent") else "other"
            title, words = msg(f"wait-over.{over}", name=name), msg("after-wait", title=step.title)
            yield Appointment(step.kind, act.until, say(title), say(words))
    yield from _ends(name, "", seen.evidence)
    for other, evidence in seen.others.items():
        yield from _ends(shown(other), f".{shown(other)}", evidence)


def _ends(name: str, about: str, evidence: Evidence) -> Iterator[Appointment]:
    """What expires of one domain. `about`: what tells its records from those of the main one."""
    registration = evidence.survey.registration if evidence.survey else None
    if registration and registration.expires is not None:
        yield Appointment(
            f"registration{about}",
            registration.expires,
            say(msg("registration-ends", name=name)),
            say(msg("registration-ends.then", registrar=registration.registrar)),
        )
    ends = evidence.visit.certificate_end if evidence.visit else None
    if ends is not None:
        yield Appointment(
            f"certificate{about}", ends, say(msg("certificate-ends", name=name)), say(msg("certificate-ends.then"))
        )


def write_calendar(seen: NextResult, path: Path, now: float) -> int:
    """Bring the calendar file up to date, or make it; how many appointments it has now. Raises BadInput."""
    there = read_octets(path, msg("file.calendar")).decode("utf-8", "surrogateescape") if path.exists() else None
    wanted = list(appointments(seen))
    made = merged(there, seen.assessment.domain, wanted, now, str(path))
    write_octets(path, made.encode("utf-8", "surrogateescape"))
    return len(wanted)
