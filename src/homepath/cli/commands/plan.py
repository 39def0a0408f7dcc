"""`homepath plan`: what has to change, in which order."""

from __future__ import annotations

from typing import Annotated

import typer

from homepath.cli.options import DomainOption, JsonOption, NetworkOption, PlainOption, SiteOption


def plan(
    route: Annotated[
        str | None, typer.Option("--route", help="Plan this way: records or nameservers.", show_default=False)
    ] = None,
    done: Annotated[
        str | None, typer.Option("--done", help="Mark a step, by number or kind, as done.", show_default=False)
    ] = None,
    site: SiteOption = None,
    domain: DomainOption = None,
    network: NetworkOption = None,
    json: JsonOption = False,
    plain: PlainOption = False,
) -> None:
    """Hold what is wanted against the last survey: the exact changes, what is kept, and the steps."""
    import time

    from homepath.cli import status
    from homepath.core.formats.contracts.plan import plan_json
    from homepath.stations.plan import mark_done
    from homepath.stations.plan import plan as station
    from homepath.stations.project import open_project

    project = open_project(site, route, domain)
    if done:
        mark_done(project, done, time.time())
    planned = station(project)
    if json:
        from homepath.cli.running import print_json

        print_json(plan_json(planned.plan))
    else:
        from homepath.cli.show.paper import paper
        from homepath.cli.show.plan import show_plan

        sheet = paper(plain)
        show_plan(sheet, planned.plan, planned.survey.at, planned.done, project.site.also)
        if not planned.visited and any(step.kind == "lower-ttl" for step in planned.plan.steps):
            sheet.blank()
            sheet.say(
                "A site is in use there: run `homepath visit` once before the change, so that what it promised to "
                "browsers is known to the plan."
            )
    raise typer.Exit(status.of_plan(planned.plan))
