"""`homepath next`: the one thing to do now."""

from __future__ import annotations

import typer

from homepath.cli.options import DomainOption, JsonOption, NetworkOption, PlainOption, SiteOption, VerboseOption


def next(
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
    from homepath.stations.next import find_next

    project, where = project_and_network(site, network, verbose, domain)
    found = run(find_next(project, where), "Looking at everything ...")
    if json:
        print_json(next_json(found))
    else:
        show_next(paper(plain), found, where.clock.now())
    raise typer.Exit(status.OF_STAGE.get(found.stage, status.NOT_YET))
