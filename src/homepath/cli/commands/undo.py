"""`homepath undo`: the way back to what was before the last change."""

from __future__ import annotations

from typing import Annotated

import typer

from homepath.cli.common import Common, about_a_site


@about_a_site("verbose")
def undo(
    common: Common,
    to: Annotated[
        str | None,
        typer.Option("--to", metavar="TIME", help="Back to how it was seen at this moment.", show_default=False),
    ] = None,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Only show what would be put back.")] = False,
    stop: Annotated[bool, typer.Option("--stop", help="Take the way back no longer; go on as before.")] = False,
) -> None:
    """Plan to put back what the last change replaced.

    Nothing is changed by it: `sheet`, `send` and `next` then do."""
    from homepath.app import returning
    from homepath.cli.commands.plan import show_way
    from homepath.core.model.problems import BadInput, Problem

    project, clock = common.offline()
    if stop and (to or dry_run):
        raise BadInput(Problem("--stop goes alone", key="--stop"))
    if stop:
        typer.echo(returning.stopped(project))
        return
    moment = returning.moment_of(to, clock.now()) if to else None
    going = returning.back(project, moment, clock.now())
    if not dry_run:
        returning.keep(going)
    show_way(common, going, clock.now(), "homepath undo" if dry_run else "homepath next")
