"""Everything for a page or a figure, from what the journal holds. Nobody is asked."""

from __future__ import annotations

from pathlib import Path

from homepath.app.entering import entering, jobs_of
from homepath.app.forecast import forecast
from homepath.app.project import Project
from homepath.core.message import msg
from homepath.core.model.acts import Enter
from homepath.core.model.forecast import Caches, Forecast
from homepath.core.model.problems import BadInput, CouldNotLook
from homepath.core.model.readings import Spread
from homepath.core.model.steps import Assessment
from homepath.core.propagation.readings import shares_of
from homepath.net.network_file import Network
from homepath.report import spread
from homepath.report.records import Facts


def draw_spread(project: Project, network: Network, path: Path) -> None:
    """The spread of the project's records as the journal remembers it. Raises CouldNotLook when it holds no look."""
    with project.journal() as journal:
        looks = journal.looks("watch", project.domain, Spread)
    found = shares_of(looks)
    if not found:
        raise CouldNotLook(
            msg("report.draw-spread"),
            msg("report.draw-spread-2"),
        )
    spread.draw(found, project.domain, network.clock.now(), path)


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
