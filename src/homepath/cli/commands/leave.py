"""`homepath leave`: the way out of a builder, for good."""

from __future__ import annotations

from typing import Annotated

import typer

from homepath.cli.common import Common, about_a_site


@about_a_site("verbose")
def leave(
    common: Common,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Only show what would be taken out.")] = False,
    stop: Annotated[bool, typer.Option("--stop", help="Stay; go on as before.")] = False,
) -> None:
    """Plan to leave the builder, in the safe order.

    Every name that leads there is named. Nothing is changed by it."""
    from homepath.app import returning
    from homepath.cli.commands.plan import show_way
    from homepath.core.model.problems import BadInput, Problem

    project, clock = common.offline()
    if stop and dry_run:
        raise BadInput(Problem("--stop goes alone", key="--stop"))
    if stop:
        typer.echo(returning.stopped(project))
        return
    going = returning.away(project, clock.now())
    if not dry_run:
        returning.keep(going)
    show_way(common, going, clock.now(), "homepath leave" if dry_run else "homepath next")
