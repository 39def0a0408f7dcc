"""Everything for a page to keep or send, from what the journal holds. Nobody is asked."""

from __future__ import annotations

from homepath.core.model.acts import Enter
from homepath.core.model.forecast import Caches, Forecast
from homepath.core.model.problems import BadInput, CouldNotLook
from homepath.core.model.readings import Spread
from homepath.core.model.steps import Journey
from homepath.core.propagation.shares import shares_of
from homepath.report.facts import Facts
from homepath.stations.entering import entering, jobs_of
from homepath.stations.forecast import forecast
from homepath.stations.project import Project

SAMPLE = 60_000
"""Caches followed for the picture; a page needs no more."""


def gather(project: Project, now: float) -> Facts:
    """The facts of one domain. Raises CouldNotLook before the first look."""
    journey = project.journey(now)
    with project.journal() as journal:
        looks = journal.looks("watch", project.domain, Spread)
    found = entering(journey) if isinstance(journey.act, Enter) else None
    return Facts(
        journey=journey,
        plan=project.plan(),
        case=project.case,
        evidence=project.evidence,
        builder=project.brief.builder,
        host=project.host_of(journey),
        now=now,
        jobs=tuple(jobs_of(project, found)) if found else (),
        looks=tuple(shares_of(looks)),
        forecast=_forecast(project, journey, now),
    )


def _forecast(project: Project, journey: Journey, now: float) -> Forecast | None:
    if journey.arrived:
        return None
    try:
        return forecast(project, Caches(), now, sample=SAMPLE)
    except (BadInput, CouldNotLook):
        return None  # nothing that visitors meet is to change any more
