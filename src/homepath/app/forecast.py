"""What visitors will meet, before anything is changed, and the facts of a report. Needs no network."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from homepath.app.entering import entering, jobs_of
from homepath.app.project import Project
from homepath.core.forecast import orders
from homepath.core.forecast.orders import gap_of, use_of, warned
from homepath.core.forecast.simulate import before_share, simulate
from homepath.core.message import msg
from homepath.core.model.acts import Enter, Wait
from homepath.core.model.forecast import Caches, Course, Forecast, Outlook
from homepath.core.model.problems import BadInput, CouldNotCheck, Problem
from homepath.core.model.steps import Assessment
from homepath.core.model.survey import Spread
from homepath.core.plan.plan import absent_ttl
from homepath.core.propagation.readings import shares_of
from homepath.core.site.zone_facts import handed_over
from homepath.net.network_file import Network
from homepath.report.figures import draw_spread_so_far
from homepath.report.records import Facts


def draw_spread(project: Project, network: Network, path: Path) -> None:
    """The spread of the project's records as the journal remembers it. Raises CouldNotCheck when it holds no check."""
    with project.journal() as journal:
        looks = journal.looks("watch", project.domain, Spread)
    found = shares_of(looks)
    if not found:
        raise CouldNotCheck(msg("report.draw-spread"), msg("report.draw-spread-2"))
    draw_spread_so_far(found, project.domain, network.clock.now(), path)


SAMPLE = 60_000
"""Caches followed for the picture; a page needs no more."""


def gather(project: Project, now: float) -> Facts:
    """The facts of one domain. Raises CouldNotCheck before the first check."""
    assessment = project.assess(now)
    with project.journal() as journal:
        looks = journal.looks("watch", project.domain, Spread)
    found = entering(assessment) if isinstance(assessment.act, Enter) else None
    return Facts(
        assessment=assessment,
        plan=project.plan(),
        case=project.case,
        evidence=project.evidence,
        builder=project.brief.builder,
        host=project.host_of(assessment),
        now=now,
        jobs=tuple(jobs_of(project, found)) if found else (),
        looks=tuple(shares_of(looks)),
        forecast=_forecast(project, assessment, now),
    )


def _forecast(project: Project, assessment: Assessment, now: float) -> Forecast | None:
    if assessment.arrived:
        return None
    try:
        return forecast(project, Caches(), now, sample=SAMPLE)
    except (BadInput, CouldNotCheck):
        return None  # nothing that visitors meet is to change any more


def forecast(
    project: Project,
    caches: Caches,
    now: float,
    waits: Sequence[int] = (),
    gap: int = orders.TYPING,
    sample: int = 300_000,
) -> Forecast:
    """Compare orders of steps from where the assessment is at `now` (Unix seconds).

    `waits`: further waits after lowering the TTL, `gap`: between removing and adding; seconds. Raises CouldNotCheck
    without a survey, BadInput when the plan changes nothing that visitors meet.
    """
    made, case = project.plan(), project.case
    survey, assessment = case.survey, project.assess(now)
    assert survey is not None
    servers_ttl = survey.delegation.ttl if survey.delegation else 0
    own = case.zone.get(project.domain, "NS")
    held = assessment.act_of("wait-ttl")
    left = held.until - now if isinstance(held, Wait) and assessment.act_of("lower-ttl") is None else 0.0
    found = orders.situations(case, max(servers_ttl, own.ttl if own else 0), round(left))
    if not found or not made.work:
        raise BadInput(Problem(msg("forecast.forecast", domain=project.domain)))
    planned_lower = any(key in ("lower-ttl", "wait-ttl") for key, _ in assessment.open_acts)
    compared = orders.orders(found, planned_lower, waits, gap)
    both = project.evidence.compared
    if case.wanted.hand_over is not None and both is not None and not handed_over(case):
        ttl = max(servers_ttl, own.ttl if own else 0)
        if lost := orders.left_behind(both, ttl, absent_ttl(case.zone)):
            compared.append(orders.too_early(lost))
    seen = project.evidence.visit
    use, padlock = use_of(case, seen), gap_of(case, seen, project.evidence.edge)
    seconds = orders.horizon(compared, padlock.usual if padlock else 0)
    alike = {phases: simulate(phases, caches, seconds, sample) for each in compared for _, phases in each.phases}
    outlooks = tuple(Outlook(each, orders.together([alike[phases] for _, phases in each.phases])) for each in compared)
    outlooks = tuple(replace(each, warned=warned(each, padlock)) for each in outlooks)
    key, because = orders.recommend(outlooks, planned_lower, use)
    return Forecast(
        project.domain, caches, tuple(found), use, outlooks, key, because, _apart(outlooks, caches), padlock
    )


def _apart(outlooks: Sequence[Outlook], caches: Caches) -> float | None:
    """How far the simulation is from the closed form where both apply: one change, the nameservers kept."""
    single = next((each for each in outlooks if each.order.key == "at-once"), None)
    if single is None or any(phases[0].servers_ttl for _, phases in single.order.phases):
        return None
    course: Course = single.course
    names = single.order.phases
    worst = 0.0
    for minute in course.minutes:
        exact = sum(before_share(minute.at, phases[0], caches) for _, phases in names) / len(names)
        worst = max(worst, abs(1 - minute.new - exact))
    return worst
