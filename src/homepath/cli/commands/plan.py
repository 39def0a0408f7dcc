"""`homepath plan`: what has to change, in which order."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli.options import DomainOption, JsonOption, NetworkOption, PlainOption, SiteOption

if TYPE_CHECKING:
    from homepath.app.project import Project


def plan(
    route: Annotated[
        str | None,
        typer.Option("--route", help="Plan this way: records, nameservers, undo or leave.", show_default=False),
    ] = None,
    site: SiteOption = None,
    domain: DomainOption = None,
    network: NetworkOption = None,
    json: JsonOption = False,
    plain: PlainOption = False,
) -> None:
    """Say exactly what has to change, what is kept, and every step.

    Holds what is wanted against what was seen last, and asks nobody."""
    from homepath.cli.running import project_and_clock

    project, clock = project_and_clock(site, network, domain, route)
    show_way(project, clock.now(), json, plain)


def show_way(project: Project, now: float, json: bool, plain: bool, then: str = "homepath next") -> None:
    """The plan of the way that is gone, with its steps; ends with its exit status. `then`: the next word to type."""
    from homepath.app.standing import assess_site
    from homepath.core.contracts.plan import plan_json

    made, own = project.plan(), project.assess(now)
    assessment = assess_site(project, now, own)
    if json:
        from homepath.cli.running import print_json

        print_json(plan_json(made, own), assessment)
    else:
        from homepath.cli.show.paper import paper
        from homepath.cli.show.plan import show_plan

        survey = project.evidence.survey
        assert survey is not None
        show_plan(paper(plain), made, own, project.case, survey.at, project.site.also, then)
    raise typer.Exit(assessment.exit)
