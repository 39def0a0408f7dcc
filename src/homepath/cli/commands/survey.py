"""`homepath survey`: what is there now."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from homepath.cli.common import Common, about_a_site


@about_a_site()
def survey(
    common: Common,
    zone: Annotated[
        list[Path] | None,
        typer.Option(
            "--zone", help="An export of the zone to be merged: master file, CSV or copied table. May be repeated."
        ),
    ] = None,
    transfer: Annotated[bool, typer.Option("--transfer", help="Also ask the servers for the whole zone.")] = False,
    ask: Annotated[
        list[str] | None,
        typer.Option("--ask", metavar="NAME", help="Also look at this name, which you know of. May be repeated."),
    ] = None,
    key: Annotated[Path | None, typer.Option("--key", help="A key file for --transfer.", show_default=False)] = None,
) -> None:
    """Ask the domain's own servers what is there, and remember it."""
    from homepath.app.decide import assess_after
    from homepath.app.project import purpose_in
    from homepath.app.survey import survey as station
    from homepath.cli.common import run
    from homepath.cli.show.survey import show_survey
    from homepath.core.contracts.checks import survey_json
    from homepath.core.files.key_file import read_key_file
    from homepath.files import read_text

    project, where = common.online()
    secret = read_key_file(read_text(key, "the key file"), str(key)) if key else None
    found = run(
        station(project, where, zone or (), transfer, secret, ask or ()),
        f"Checking the servers of {project.site.domain} ...",
    )
    assessment = assess_after(project, where.clock.now())
    common.end(
        assessment,
        lambda: survey_json(found.survey, purpose_in(found.case), found.findings),
        lambda sheet: show_survey(sheet, found.case, found.survey, assessment.levelled(found.findings), assessment),
    )
