"""Everything for a page to keep or send, from what the journal holds. Nobody is asked."""

from __future__ import annotations

from homepath.app.entering import entering, jobs_of
from homepath.app.forecast import forecast
from homepath.app.project import Project
from homepath.core.model.acts import Enter
from homepath.core.model.forecast import Caches, Forecast
from homepath.core.model.problems import BadInput, CouldNotLook
from homepath.core.model.readings import Spread
from homepath.core.model.steps import Assessment
from homepath.core.propagation.shares import shares_of
from homepath.report.facts import Facts

SAMPLE = 60_000
"""Caches followed for the picture; a page needs no more."""


def gather(project: Project, now: float) -> Facts:
    """The facts of one domain. Raises CouldNotLook before the first look."""
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
    except (BadInput, CouldNotLook):
        return None  # nothing that visitors meet is to change any more
