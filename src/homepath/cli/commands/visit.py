"""`homepath visit`: every way in."""

from __future__ import annotations

from typing import Annotated

import typer

from homepath.cli.options import DomainOption, JsonOption, NetworkOption, PlainOption, SiteOption, VerboseOption


def visit(
    ahead: Annotated[
        bool, typer.Option("--ahead", help="Ask the builder's edge for the site, wherever DNS still leads.")
    ] = False,
    through: Annotated[
        str | None,
        typer.Option(
            "--through",
            metavar="RESOLVER",
            help="Look names up with this resolver of the network file. Default: the authoritative servers.",
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
    """Try every way of typing the address, hop by hop.

    Over http and https, with a path and a query, and with the certificates that are shown."""
    from homepath.app.standing import assess_after
    from homepath.app.visit import ahead as look_ahead
    from homepath.app.visit import visit as station
    from homepath.cli.running import print_json, project_and_network, run, surveyed
    from homepath.cli.show.paper import paper
    from homepath.cli.show.visit import show_visit
    from homepath.core.contracts.visit import visit_json
    from homepath.core.model.problems import BadInput, Problem

    if ahead and through:
        raise BadInput(Problem("--ahead asks the builder's edge and no resolver", key="--through", seen=through))
    project, where = surveyed(*project_and_network(site, network, verbose, domain))
    work = look_ahead(project, where) if ahead else station(project, where, through)
    found = run(work, "Visiting every way in ...")
    assessment = assess_after(project, where.clock.now())
    if json:
        print_json(visit_json(found), assessment)
    else:
        show_visit(paper(plain), found, assessment, project.brief.builder, verbose)
    raise typer.Exit(assessment.exit)
