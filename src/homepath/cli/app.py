"""The `homepath` command: its sub-commands, and the one place where errors become sentences and exit statuses.

Only the module of the command that runs is imported, so that `homepath --version` is as quick as a bare program.
"""

from __future__ import annotations

import contextlib
import errno
import importlib
import os
import stat
import sys
import warnings
from typing import Annotated, Any

import typer
from typer.core import TyperGroup

from homepath import __version__
from homepath.cli.common import quiet_app

GROUPS: dict[str, dict[str, str]] = {
    "Every day": {
        "start": "start", "next": "next", "sheet": "sheet", "plan": "plan", "send": "send", "undo": "plan",
        "leave": "plan",
    },
    "While you wait": {"watch": "checks", "visit": "checks", "report": "report", "log": "report", "explain": "report"},
    "Before you change something": {"survey": "checks", "compare": "checks", "forecast": "plan"},
    "Many domains": {"many": "many"},
    "Files and servers": {"brief": "brief", "notation": "notation", "forwarder": "forwarder"},
    "Practice": {"demo": "practice_pages", "practice": "practice"},
}  # fmt: skip
"""The commands as the help groups them, each with its module in `homepath.cli.commands`: a function of the command's
name there, or, for those with commands of their own, a typer app."""
COMMANDS = {name: module for group in GROUPS.values() for name, module in group.items()}


_COMPLETES = "_HOMEPATH_COMPLETE"
"""Set by a shell that asks how a word may go on; only then what completes words is loaded."""


class _OnDemand(TyperGroup):
    """Finds a command by importing its module."""

    def list_commands(self, ctx: Any) -> list[str]:
        return list(COMMANDS)

    def format_commands(self, ctx: Any, formatter: Any) -> None:
        for title, group in GROUPS.items():
            rows = [(name, self.get_command(ctx, name).get_short_help_str(100)) for name in group]
            with formatter.section(title):
                formatter.write_dl([(name.ljust(9), words) for name, words in rows])

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
    help="Connect your domain to a site builder, and know what you are waiting for.",
    invoke_without_command=True,
    add_completion=True,
)


def _version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"homepath {__version__}")
        raise typer.Exit


FIRST = """\
Home Path connects your domain to your site builder, and tells you what you are waiting for.

To begin:
  1  Copy the list of records from your builder's page, and save it as page.txt.
  2  homepath start YOURDOMAIN --page page.txt
     (Without --page, paste the list, or answer questions.)
  3  homepath next

To see the whole story first, in about a minute:  homepath demo
All commands:  homepath --help
"""
AGAIN = """\
Home Path knows your domain already ({file}).

The one thing to do now:  homepath next
All commands:  homepath --help
"""


@app.callback()
def _main(
    context: typer.Context,
    version: Annotated[
        bool, typer.Option("--version", callback=_version, is_eager=True, help="Show the version and end.")
    ] = False,
) -> None:
    if context.invoked_subcommand is None:
        from pathlib import Path

        here = Path.cwd()
        known = next(
            (each / "homepath.toml" for each in (here, *here.parents) if (each / "homepath.toml").exists()), None
        )
        typer.echo(AGAIN.format(file=known) if known else FIRST, nl=False)


def main() -> None:
    """Run the command; every error becomes a sentence on stderr and an exit status.

    What no one foresaw is one sentence too, with the file that holds the details; HOMEPATH_TRACEBACK=1 shows them.
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
        if isinstance(error, OSError) and error.errno == errno.EIO and _on_terminal():
            _silence()
            sys.exit(129)  # the terminal was closed while something was written, as after SIGHUP
        sys.exit(_failed(error))


def _on_terminal() -> bool:
    """Whether output goes to a terminal; one that was closed does not say so any more."""
    with contextlib.suppress(OSError):
        return any(stat.S_ISCHR(os.fstat(number).st_mode) for number in (1, 2))
    return False


def _open_what_is_closed() -> None:
    """Anyone who started us may have closed a standard stream; Python then has none, and nothing could ask it
    anything."""
    sys.stdin = sys.stdin or open(os.devnull, encoding="utf-8")  # noqa: PTH123, SIM115 - for as long as we run
    sys.stdout = sys.stdout or open(os.devnull, "w", encoding="utf-8")  # noqa: PTH123, SIM115
    sys.stderr = sys.stderr or open(os.devnull, "w", encoding="utf-8")  # noqa: PTH123, SIM115


def _flushed() -> None:
    """All output is written, or an error says why not: a full disk must not pass for success."""
    try:
        if sys.stdout is not None:
            sys.stdout.flush()
    except BrokenPipeError:
        _silence()
        sys.exit(141)
    except OSError as error:
        sys.exit(_failed(error))


def _silence() -> None:
    """No one reads any more; the interpreter's own last flush must not complain either."""
    with contextlib.suppress(Exception):
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
        sys.stderr.close()


def _failed(error: Exception) -> int:
    from homepath.core.model.problems import HomePathError

    if isinstance(error, HomePathError):
        from homepath.cli.status import report_failure

        return report_failure(error)
    if os.environ.get("HOMEPATH_TRACEBACK"):
        raise error
    from homepath.cli.status import report_unforeseen

    return report_unforeseen(error)
