"""`homepath leave`: the way out of a builder, for good."""

from __future__ import annotations

from typing import Annotated

import typer

from homepath.cli.options import DomainOption, JsonOption, NetworkOption, PlainOption, SiteOption


def leave(
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Only show what would be taken out.")] = False,
    stop: Annotated[bool, typer.Option("--stop", help="Stay; go on as before.")] = False,
    site: SiteOption = None,
    domain: DomainOption = None,
    network: NetworkOption = None,
    json: JsonOption = False,
    plain: PlainOption = False,
) -> None:
    """Plan to leave the builder, in the safe order.

    Every name that leads there is named. Nothing is changed by it."""
    from homepath.app import returning
    from homepath.cli.commands.plan import show_way
    from homepath.cli.running import project_and_clock
    from homepath.core.model.problems import BadInput, Problem

    project, clock = project_and_clock(site, network, domain)
    if stop and dry_run:
        raise BadInput(Problem("--stop goes alone", key="--stop"))
    if stop:
        typer.echo(returning.stopped(project))
        return
    going = returning.away(project, clock.now())
    if not dry_run:
        returning.keep(going)
    show_way(going, clock.now(), json, plain, "homepath leave" if dry_run else "homepath next")
