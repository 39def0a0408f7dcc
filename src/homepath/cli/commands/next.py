"""`homepath next`: the one thing to do now."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from homepath.cli.options import DomainOption, JsonOption, NetworkOption, PlainOption, SiteOption, VerboseOption


def next(
    calendar: Annotated[
        Path | None,
        typer.Option(
            "--calendar",
            help="Put waits and expiry dates into this calendar file; run again, it is brought up to date.",
            show_default=False,
        ),
    ] = None,
    site: SiteOption = None,
    domain: DomainOption = None,
    network: NetworkOption = None,
    json: JsonOption = False,
    plain: PlainOption = False,
    verbose: VerboseOption = False,
) -> None:
    """Look at everything; say where the domain stands, what to do, where, and until when a wait lasts."""
    from homepath.cli import status
    from homepath.cli.running import print_json, project_and_network, run
    from homepath.cli.show.next import show_next
    from homepath.cli.show.paper import paper
    from homepath.core.formats.contracts.next import next_json
    from homepath.stations.next import find_next, write_calendar

    project, where = project_and_network(site, network, verbose, domain)
    seen = run(find_next(project, where), "Looking at everything ...")
    count = write_calendar(seen, calendar, where.clock.now()) if calendar else 0
    if json:
        print_json(next_json(seen.next))
    else:
        sheet = paper(plain)
        show_next(sheet, seen.next, where.clock.now())
        if calendar:
            sheet.blank()
            sheet.say(f"{calendar} holds {count} appointment{'s' * (count != 1)} of {project.site.domain}.")
    raise typer.Exit(status.OF_STAGE.get(seen.next.stage, status.NOT_YET))
