"""`homepath sheet`: the plan to type from."""

from __future__ import annotations

import typer

from homepath.cli.options import PlainOption, SiteOption


def sheet(site: SiteOption = None, plain: PlainOption = False) -> None:
    """The plan in the notation of your DNS host's form, each value alone on its line."""
    from homepath.cli import status
    from homepath.cli.show.paper import paper
    from homepath.cli.show.sheet import show_sheet
    from homepath.core.formats.sheet import entries
    from homepath.stations.plan import plan as station
    from homepath.stations.project import open_project

    project = open_project(site)
    planned = station(project)
    show_sheet(paper(plain), planned.plan, entries(planned.plan, project.notation), project.notation)
    raise typer.Exit(
        status.WRONG if planned.plan.blockers else status.NOT_YET if planned.plan.work else status.AS_WANTED
    )
