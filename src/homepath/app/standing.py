"""Where a site stands by what the journal knows, and the person's word; nobody is asked."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.app.project import Project
from homepath.core.assess.assess import joined
from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.steps import Assessment


def assess_site(project: Project, now: float, own: Assessment | None = None) -> Assessment:
    """The assessment by what the journal knows, without looking anew; all domains of the site taken together.

    `own`: that of the project alone, if it is at hand. A further domain that was not surveyed yet is left out. Raises
    CouldNotLook where the main one was not.
    """
    main, *more = project.all_domains(now)
    return joined([own or main.assess(now), *(each.assess(now) for each in more if each.evidence.survey is not None)])


def assess_after(project: Project, now: float) -> Assessment:
    """The assessment after a check that the journal holds by now; how each step stands is kept there too."""
    main, *more = project.fresh(now).all_domains(now)
    return remembered([main, *(each for each in more if each.evidence.survey is not None)], now)


def remembered(projects: Sequence[Project], now: float) -> Assessment:
    """The assessment of a site's domains, with how each step stands kept in the journal."""
    assessments = [each.assess(now) for each in projects]
    with projects[0].journal() as journal:
        for each in assessments:
            journal.record_steps(each.domain, each.steps)
    return joined(assessments)


def say_done(project: Project, step_id: str, now: float) -> None:
    """Keep the person's word that a step is done. Raises BadInput when there is none such."""
    project = project.fresh(now)
    for each in project.all_domains(now):
        known = {step.id for step in each.evidence.remembered}
        if each.evidence.survey is not None:
            known |= {step.id for step in each.assess(now).steps}
        plain = step_id.removesuffix(f"@{each.site.domain}")
        if plain in known and (step_id == plain or each.domain != project.domain):
            with each.journal() as journal:
                journal.record_told(now, each.domain, plain)
            return
    steps = [step.id for step in assess_site(project, now).steps]
    raise BadInput(
        Problem(
            msg("standing.say-done"), key="--done", seen=step_id, hint=msg("standing.say-done.hint", steps=tuple(steps))
        )
    )
