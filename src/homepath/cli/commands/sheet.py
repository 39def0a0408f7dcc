"""`homepath sheet`: the plan to type from."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli.options import DomainOption, PlainOption, SiteOption

if TYPE_CHECKING:
    from homepath.stations.plan import Planned
    from homepath.stations.project import Project

FORMS = ("text", "markdown", "html", "csv", "zone")


def sheet(
    form: Annotated[str, typer.Option("--as", help="text, markdown, html, csv or zone.")] = "text",
    to: Annotated[Path | None, typer.Option("--to", help="Write it to this file.", show_default=False)] = None,
    site: SiteOption = None,
    domain: DomainOption = None,
    plain: PlainOption = False,
) -> None:
    """The plan in the notation of your DNS host's form, each value alone on its line."""
    import sys

    from homepath.cli import status
    from homepath.core.model.problems import BadInput, Problem
    from homepath.stations.files import write_text
    from homepath.stations.plan import plan as station
    from homepath.stations.project import open_project

    if form not in FORMS:
        raise BadInput(Problem("there is no such form", key="--as", seen=form, hint=f"one of {', '.join(FORMS)}"))
    project = open_project(site, None, domain)
    planned = station(project)
    text = _text(project, planned, form, plain)
    if to:
        write_text(to, text)
    else:
        sys.stdout.write(text)
    raise typer.Exit(status.of_plan(planned.plan))


def _text(project: Project, planned: Planned, form: str, plain: bool) -> str:
    import io

    from homepath.cli.show.paper import paper
    from homepath.cli.show.sheet import show_sheet
    from homepath.core.formats.sheet import entries
    from homepath.core.formats.sheet_pages import as_csv, as_markdown, as_page, as_zone
    from homepath.core.planning.update import applied

    notation = project.notation
    lines = entries(planned.plan, notation)
    if form == "markdown":
        return as_markdown(planned.plan, lines, notation)
    if form == "html":
        return as_page(planned.plan, lines, notation)
    if form == "csv":
        return as_csv(lines)
    if form == "zone":
        return as_zone(applied(planned.survey.zone, planned.plan.work))
    out = io.StringIO()
    show_sheet(paper(plain, out), planned.plan, lines, notation)
    return out.getvalue()
