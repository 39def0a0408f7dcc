"""`homepath visit`: every way in."""

from __future__ import annotations

import typer

from homepath.cli.options import DomainOption, JsonOption, NetworkOption, PlainOption, SiteOption, VerboseOption


def visit(
    site: SiteOption = None,
    domain: DomainOption = None,
    network: NetworkOption = None,
    json: JsonOption = False,
    plain: PlainOption = False,
    verbose: VerboseOption = False,
) -> None:
    """Try http and https at every address, hop by hop, with the certificates shown."""
    from homepath.cli import status
    from homepath.cli.running import print_json, project_and_network, run
    from homepath.cli.show.paper import paper
    from homepath.cli.show.visit import show_visit
    from homepath.core.formats.contracts.visit import visit_json
    from homepath.stations.visit import visit as station

    project, where = project_and_network(site, network, verbose, domain)
    found = run(station(project, where), "Visiting every way in ...")
    if json:
        print_json(visit_json(found))
    else:
        show_visit(paper(plain), found)
    raise typer.Exit(status.OF_VISIT[found.verdict])
