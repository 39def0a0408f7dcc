"""`homepath compare`: the present and the new name servers side by side, before the switch."""

from __future__ import annotations

import typer

from homepath.cli.options import DomainOption, JsonOption, NetworkOption, PlainOption, SiteOption, VerboseOption


def compare(
    site: SiteOption = None,
    domain: DomainOption = None,
    network: NetworkOption = None,
    json: JsonOption = False,
    plain: PlainOption = False,
    verbose: VerboseOption = False,
) -> None:
    """Hold new name servers against the present ones.

    Before a switch, each is asked for all that must come along: may one switch, or what is missing?"""
    from homepath.app.compare import compare as station
    from homepath.app.standing import assess_after
    from homepath.cli import status
    from homepath.cli.running import print_json, project_and_network, run, surveyed
    from homepath.cli.show.compare import show_compared
    from homepath.cli.show.paper import paper
    from homepath.core.contracts.compare import compare_json

    project, where = surveyed(*project_and_network(site, network, verbose, domain))
    found = run(station(project, where), "Asking both sides ...")
    assessment = assess_after(project, where.clock.now())
    if json:
        print_json(compare_json(found.compared), assessment)
    else:
        show_compared(paper(plain), found.compared, assessment, found.former, project.brief.builder)
    raise typer.Exit(status.of_compared(found.compared))
