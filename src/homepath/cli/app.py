"""The `homepath` command: its sub-commands, and the one place where errors become sentences and exit statuses.

Only the module of the command that runs is imported, so that `homepath --version` is as quick as a bare program.
"""

from __future__ import annotations

import contextlib
import importlib
import os
import sys
import warnings
from typing import Annotated, Any

import typer
from typer.core import TyperGroup

from homepath import __version__
from homepath.cli.common import quiet_app

COMMANDS = {
    "start": "start",
    "brief": "brief",
    "notation": "notation",
    "survey": "checks",
    "plan": "plan",
    "forecast": "plan",
    "sheet": "sheet",
    "send": "send",
    "compare": "checks",
    "watch": "checks",
    "visit": "checks",
    "forwarder": "forwarder",
    "next": "next",
    "report": "report",
    "many": "many",
    "undo": "plan",
    "leave": "plan",
    "log": "report",
    "explain": "report",
    "practice": "practice",
    "demo": "practice_pages",
}
"""In the order of the path, each with its module in `homepath.cli.commands`: a function of the command's name there,
or, for those with commands of their own, a typer app."""


_COMPLETES = "_HOMEPATH_COMPLETE"
"""Set by a shell that asks how a word may go on; only then what completes words is loaded."""


class _OnDemand(TyperGroup):
    """Finds a command by importing its module."""

    def list_commands(self, ctx: Any) -> list[str]:
        return list(COMMANDS)

    def get_command(self, ctx: Any, cmd_name: str) -> Any:
        if cmd_name not in COMMANDS:
            return None
        module = importlib.import_module(f"homepath.cli.commands.{COMMANDS[cmd_name]}")
        if hasattr(module, cmd_name):
            app = quiet_app()
            app.command(name=cmd_name)(getattr(module, cmd_name))
        else:
            app = module.app
        command = typer.main.get_command(app)
        command.name = cmd_name
        if _COMPLETES in os.environ:
            from homepath.cli.completing import completed

            completed(command)
        return command


app = quiet_app(
    name="homepath",
    cls=_OnDemand,
    help="Connect a registered domain to a hosted site builder, and know what you are waiting for.",
    no_args_is_help=True,
    add_completion=True,
)


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
    """Run the command; every error becomes a sentence on stderr and an exit status.

    What nobody foresaw is one sentence too, with the file that holds the details; HOMEPATH_TRACEBACK=1 shows them.
    """
    _open_what_is_closed()
    for stream in (sys.stdout, sys.stderr):
        if stream is not None and hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="backslashreplace")  # a terminal that knows only ASCII
    if not sys.warnoptions:
        warnings.simplefilter("ignore")  # what libraries have to tell their users is nothing to ours
    try:
        app()
        if sys.stdout is not None:
            sys.stdout.flush()
    except BrokenPipeError:
        _silence()
        sys.exit(141)
    except SystemExit:
        _flushed()
        raise
    except Exception as error:
        sys.exit(_failed(error))


def _open_what_is_closed() -> None:
    """Whoever started us may have closed a standard stream; Python then has none, and nothing could ask it anything."""
    sys.stdin = sys.stdin or open(os.devnull, encoding="utf-8")  # noqa: PTH123, SIM115 - for as long as we run
    sys.stdout = sys.stdout or open(os.devnull, "w", encoding="utf-8")  # noqa: PTH123, SIM115
    sys.stderr = sys.stderr or open(os.devnull, "w", encoding="utf-8")  # noqa: PTH123, SIM115


def _flushed() -> None:
    """Whatever was written is out, or it is said why not: a full disk must not pass for success."""
    try:
        if sys.stdout is not None:
            sys.stdout.flush()
    except BrokenPipeError:
        _silence()
        sys.exit(141)
    except OSError as error:
        sys.exit(_failed(error))


def _silence() -> None:
    """Nobody reads any more; the interpreter's own last flush must not complain either."""
    with contextlib.suppress(Exception):
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
        sys.stderr.close()


def _failed(error: Exception) -> int:
    from homepath.core.model.problems import HomePathError

    if isinstance(error, HomePathError):
        from homepath.cli.failures import report_failure

        return report_failure(error)
    if os.environ.get("HOMEPATH_TRACEBACK"):
        raise error
    from homepath.cli.failures import report_unforeseen

    return report_unforeseen(error)
