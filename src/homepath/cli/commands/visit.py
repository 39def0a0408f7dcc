"""`homepath visit`: every way in."""

from __future__ import annotations

from typing import Annotated

import typer

from homepath.cli.common import Common, about_a_site


@about_a_site()
def visit(
    common: Common,
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
) -> None:
    """Try every way of typing the address, hop by hop.

    Over http and https, with a path and a query, and with the certificates that are shown."""
    from homepath.app.decide import assess_after
    from homepath.app.visit import ahead as check_ahead
    from homepath.app.visit import visit as station
    from homepath.cli.common import run
    from homepath.cli.show.visit import show_visit
    from homepath.core.contracts.checks import visit_json
    from homepath.core.model.problems import BadInput, Problem

    if ahead and through:
        raise BadInput(Problem("--ahead queries the builder's servers and no resolver", key="--through", seen=through))
    project, where = common.surveyed()
    found = run(
        check_ahead(project, where) if ahead else station(project, where, through), "Visiting every address ..."
    )
    assessment = assess_after(project, where.clock.now())
    common.end(
        assessment,
        lambda: visit_json(found),
        lambda sheet: show_visit(sheet, found, assessment, project.brief.builder, common.verbose),
    )
