"""`homepath many`: checks each domain of a list."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli import status
from homepath.cli.common import NetworkOption, PlainOption, VerboseOption

if TYPE_CHECKING:
    from homepath.bulk.run import Ran
    from homepath.bulk.state import State


def many(
    list_file: Annotated[
        Path, typer.Argument(metavar="LIST", help="A folder of site files, a CSV table, or a TOML list.")
    ],
    due: Annotated[bool, typer.Option("--due", help="Check only domains where something can have changed.")] = False,
    changed: Annotated[bool, typer.Option("--changed", help="Report only what changed since the last run.")] = False,
    only: Annotated[
        list[str] | None, typer.Option("--only", metavar="STAGE", help="Show only this stage; may be repeated.")
    ] = None,
    worst: Annotated[
        str | None,
        typer.Option("--worst", metavar="LEVEL", help="Show only findings from this level on.", show_default=False),
    ] = None,
    json: Annotated[bool, typer.Option("--json", help="Print a JSON object for each domain, one on a line.")] = False,
    csv: Annotated[bool, typer.Option("--csv", help="Print a CSV table.")] = False,
    parquet: Annotated[
        Path | None,
        typer.Option("--parquet", metavar="FILE", help="Write a Parquet file (extra: cluster).", show_default=False),
    ] = None,
    then: Annotated[
        str | None,
        typer.Option(
            "--then", metavar="COMMAND", help="Give the changed lines, as JSON, to this command.", show_default=False
        ),
    ] = None,
    workers: Annotated[int, typer.Option("--workers", help="The number of processes.", min=1, max=256)] = 1,
    cluster: Annotated[
        str | None,
        typer.Option("--cluster", metavar="ADDRESS", help="Run the checks on this Dask cluster.", show_default=False),
    ] = None,
    restart: Annotated[
        bool, typer.Option("--restart", help="Start again instead of continuing an interrupted run.")
    ] = False,
    network: NetworkOption = None,
    plain: PlainOption = False,
    verbose: VerboseOption = False,
) -> None:
    """Check many domains from a list.

    Checks each one and shows what comes next. From a timer, shows only what changed."""
    from dataclasses import replace

    from homepath.bulk.lists import check_list
    from homepath.bulk.processes import check_address
    from homepath.bulk.run import Asked, run, take_list
    from homepath.bulk.state import alone, open_state
    from homepath.bulk.workers import run_context_of
    from homepath.cli.common import said
    from homepath.cli.show.many import Filter, ProgressLine, check_filter, print_rows, say_stopped
    from homepath.net.network_file import load_network

    chosen = check_filter(Filter(tuple(only or ()), worst, changed))
    if parquet is not None:
        from homepath.bulk.tables import check_parquet

        check_parquet(parquet)
    command = status.words_of(then) if then is not None else None
    if cluster is not None:
        check_address(cluster)
    where = load_network(network)
    if verbose:
        where = replace(where, trace=said)
    ground = run_context_of(where)
    check_list(list_file)
    progress = ProgressLine(quiet=changed)
    with alone(list_file), open_state(list_file) as state:
        try:
            bad = take_list(state, list_file, where.clock.now(), progress.problem, progress.rows)
            if state.is_new("problems", progress.problems):
                progress.say_held()
            ran = run(state, where, ground, Asked(due, workers, cluster or "", restart), bad, progress)
        except KeyboardInterrupt:
            say_stopped(progress)
            raise typer.Exit(130) from None
        progress.end()
        form = "json" if json else "csv" if csv else "table"
        print_rows(state, ran, chosen, form, plain, list_file)
        if parquet is not None:
            from homepath.bulk.tables import write_parquet

            write_parquet(parquet, chosen.of(state, ran.run))
        outcome = status.worst([status.of_lines(state.verdicts()), status.BAD_INPUT if ran.bad else status.AS_WANTED])
        if command is not None:
            outcome = status.worst([outcome, _told(command, state, ran)])
    raise typer.Exit(outcome)


def _told(words: list[str], state: State, ran: Ran) -> int:
    """Give the lines that changed in this run to a command, if there are any; 4 where it failed."""
    lines = ({**line, "changed": True} for _, line in state.lines(ran.run, changed=True))
    first = next(lines, None)
    return status.COULD_NOT_CHECK if first is not None and status.run_then(words, first, more=lines) else 0
