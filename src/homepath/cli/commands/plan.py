"""`homepath plan`: what has to change, in which order."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, NoReturn

import typer

from homepath.cli.common import Common, about_a_site

if TYPE_CHECKING:
    from homepath.app.project import Project


@about_a_site("verbose")
def plan(
    common: Common,
    route: Annotated[
        str | None,
        typer.Option("--route", help="Plan this way: records, nameservers, undo or leave.", show_default=False),
    ] = None,
) -> None:
    """Say exactly what has to change, what is kept, and every step.

    Holds what is wanted against what was seen last, and asks nobody."""
    project, clock = common.offline(route)
    show_way(common, project, clock.now())


def show_way(common: Common, project: Project, now: float, then: str = "homepath next") -> NoReturn:
    """The plan for the chosen route, with its steps; ends with its exit status. `then`: the next command."""
    from homepath.app.decide import assess_site
    from homepath.cli.show.plan import show_plan
    from homepath.core.contracts.assessment import plan_json

    made, own = project.plan(), project.assess(now)
    survey = project.evidence.survey
    assert survey is not None
    common.end(
        assess_site(project, now, own),
        lambda: plan_json(made, own),
        lambda sheet: show_plan(sheet, made, own, project.case, survey.at, project.site.also, then),
    )
