"""The `homepath` command: its sub-commands, and the one place where errors become sentences and exit statuses."""

from __future__ import annotations

import sys
from typing import Annotated

import typer

from homepath import __version__
from homepath.cli import demo, explain, log, next_, plan, practice, send, sheet, start, survey, visit, watch
from homepath.core.model.problems import HomePathError

app = typer.Typer(
    name="homepath",
    help="Connect a registered domain to a hosted site builder, and know what you are waiting for.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
)
app.command()(start.start)
app.command()(survey.survey)
app.command()(plan.plan)
app.command()(sheet.sheet)
app.command()(send.send)
app.command()(watch.watch)
app.command()(visit.visit)
app.command(name="next")(next_.next_)
app.command()(log.log)
app.command()(explain.explain)
app.add_typer(practice.app, name="practice")
app.command()(demo.demo)


def _version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"homepath {__version__}")
        raise typer.Exit


@app.callback()
def _main(
    version: Annotated[
        bool, typer.Option("--version", callback=_version, is_eager=True, help="Show the version and end.")
    ] = False,
) -> None:
    pass


def main() -> None:
    """Run the command; every error that was foreseen becomes a sentence on stderr and an exit status."""
    try:
        app()
    except HomePathError as error:
        from homepath.cli.failures import report_failure

        sys.exit(report_failure(error))
    except BrokenPipeError:
        sys.stderr.close()
        sys.exit(141)
