"""`homepath survey`: what is there now."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from homepath.cli.options import JsonOption, NetworkOption, PlainOption, SiteOption, VerboseOption


def survey(
    zone: Annotated[
        Path | None, typer.Option("--zone", help="A zone exported as a master file, to be merged.", show_default=False)
    ] = None,
    site: SiteOption = None,
    network: NetworkOption = None,
    json: JsonOption = False,
    plain: PlainOption = False,
    verbose: VerboseOption = False,
) -> None:
    """Ask the domain's own servers what is there, and remember it."""
    from homepath.cli import status
    from homepath.cli.running import print_json, project_and_network, run
    from homepath.cli.show.paper import paper
    from homepath.cli.show.survey import show_survey
    from homepath.core.formats.contracts.survey import survey_json
    from homepath.stations.project import purpose_within
    from homepath.stations.survey import survey as station

    project, where = project_and_network(site, network, verbose)
    found = run(station(project, where, zone), f"Asking the servers of {project.site.domain} ...")
    if json:
        print_json(survey_json(found.survey, purpose_within(found.survey.zone), found.findings))
    else:
        show_survey(paper(plain), found.survey, found.findings)
    raise typer.Exit(status.of_findings(found.findings))
