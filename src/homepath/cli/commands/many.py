"""`homepath many`: checks each domain of a list."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli import status
from homepath.cli.common import NetworkOption, PlainOption, VerboseOption

if TYPE_CHECKING:
    from homepath.bulk.state import State
    from homepath.bulk.views import Filter
    from homepath.core.dns.names import Name


def many(
    list_file: Annotated[
        Path, typer.Argument(metavar="LIST", help="A folder of site files, a CSV table, or a TOML list.")
    ],
    due: Annotated[bool, typer.Option("--due", help="Check only domains where something can have changed.")] = False,
    changed: Annotated[
        bool, typer.Option("--changed", help="Report only what changed and was not reported yet.")
    ] = False,
    only: Annotated[
        list[str] | None, typer.Option("--only", metavar="STAGE", help="Show only this stage; may be repeated.")
    ] = None,
    worst: Annotated[
        str | None,
        typer.Option("--worst", metavar="LEVEL", help="Show only findings from this level on.", show_default=False),
    ] = None,
    where: Annotated[
        list[str] | None,
        typer.Option(
            "--where",
            metavar="KEY=VALUE",
            help="Show only these: stage, verdict, level, act, finding, host, builder, or a column of yours.",
        ),
    ] = None,
    by: Annotated[
        str | None,
        typer.Option(
            "--by", metavar="KEY", help="Count domains by host, builder, stage, finding or a column of yours."
        ),
    ] = None,
    every: Annotated[bool, typer.Option("--all", help="Show all domains, also where they fill more than a screen.")] = (
        False
    ),
    history: Annotated[
        str | None,
        typer.Option("--history", metavar="DAYS", help="Show the counts of each day, such as 30d; checks nothing."),
    ] = None,
    json: Annotated[bool, typer.Option("--json", help="Print a JSON object for each domain, one on a line.")] = False,
    csv: Annotated[bool, typer.Option("--csv", help="Print a CSV table.")] = False,
    parquet: Annotated[
        Path | None,
        typer.Option("--parquet", metavar="FILE", help="Write a Parquet file (extra: cluster).", show_default=False),
    ] = None,
    metrics: Annotated[
        Path | None,
        typer.Option("--metrics", metavar="FILE", help="Write counts for a monitoring system.", show_default=False),
    ] = None,
    then: Annotated[
        str | None,
        typer.Option(
            "--then", metavar="COMMAND", help="Give the changed lines, as JSON, to this command.", show_default=False
        ),
    ] = None,
    alarm: Annotated[
        str | None,
        typer.Option(
            "--alarm",
            metavar="LEVEL",
            help="End with 3 only if a domain newly has a finding of this level or a worse one.",
            show_default=False,
        ),
    ] = None,
    decide: Annotated[
        str | None,
        typer.Option("--decide", metavar="WORD", help="Give this answer to all domains shown that ask for it."),
    ] = None,
    done: Annotated[
        str | None, typer.Option("--done", metavar="STEP", help="Say that this step is done, for all domains shown.")
    ] = None,
    yes: Annotated[bool, typer.Option("--yes", help="Do not ask before --decide or --done.")] = False,
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

    from homepath.bulk.intake import take_list
    from homepath.bulk.lists import check_list
    from homepath.bulk.processes import check_address
    from homepath.bulk.run import Asked, run
    from homepath.bulk.state import alone, open_state
    from homepath.bulk.views import check_filter, check_key, check_level
    from homepath.bulk.workers import run_context_of
    from homepath.cli.common import note
    from homepath.cli.show.many import ProgressLine, print_rows, say_stopped
    from homepath.net.network_file import load_network

    chosen = check_filter(tuple(only or ()), worst, changed, tuple(where or ()))
    check_level(alarm, "--alarm")
    if parquet is not None:
        from homepath.bulk.views import check_parquet

        check_parquet(parquet)
    command = status.words_of(then) if then is not None else None
    if cluster is not None:
        check_address(cluster)
    there = load_network(network)
    if verbose:
        there = replace(there, trace=note)
    check_list(list_file)
    if history is not None:
        _history(list_file, history, there.clock.now(), json, plain)
    if decide or done:
        _answer_all(list_file, decide or "", done or "", chosen, there.clock.now(), yes)
    ground = run_context_of(there)
    progress = ProgressLine(quiet=changed)
    with alone(list_file) as first, open_state(list_file) as state:
        if not first:  # the timer comes again
            there.trace("Another run is at work on this list, so this one ends.")
            raise typer.Exit(status.AS_WANTED)
        try:
            taken = take_list(state, list_file, there.clock.now(), progress.problem, progress.rows, due)
            new = taken.read and state.is_new("problems", progress.problems)
            if new:
                progress.say_held()
            ran = run(state, there, ground, Asked(due, workers, cluster or "", restart), taken.bad, progress)
            ran = replace(ran, named=new or (taken.read and not changed))
        except KeyboardInterrupt:
            say_stopped(progress)
            raise typer.Exit(130) from None
        progress.end()
        upto = state.changes.last()
        form = "json" if json else "csv" if csv else "table"
        if by is not None:
            from homepath.cli.show.many_views import print_groups

            print_groups(state, ran.run, chosen, check_key(by, state), form, plain)
        else:
            print_rows(state, ran, chosen, form, plain, list_file, upto, every)
        sys.stdout.flush()
        if parquet is not None:
            from homepath.bulk.views import write_parquet

            write_parquet(parquet, chosen.of(state, ran.run, upto))
        if metrics is not None:
            from homepath.bulk.views import write_metrics

            write_metrics(metrics, state, ran.run, there.clock.now())
        fresh = replace(chosen, changed=True)
        delivered = by is None
        if alarm is not None:
            outcome = _alarm(alarm, fresh, state, upto)
        else:
            outcome = status.worst(
                [status.of_lines(state.verdicts()), status.BAD_INPUT if ran.bad else status.AS_WANTED]
            )
        if command is not None:
            failed = _give(command, fresh, state, upto)
            outcome, delivered = status.worst([outcome, failed]), not failed
        if delivered:
            news = changed or command is not None or alarm is not None
            state.changes.delivered(upto, _shown(fresh, state, upto), first_only=not news)
    raise typer.Exit(outcome)


def _shown(fresh: Filter, state: State, upto: int) -> list[Name] | None:
    """The domains whose news were shown; None for all."""
    if not (fresh.only or fresh.worst or fresh.where):
        return None
    return [line["domain"] for line in fresh.of(state, upto=upto)]


def _give(words: list[str], fresh: Filter, state: State, upto: int) -> int:
    """Give the lines that changed to a command, if there are any; 4 where it failed."""
    lines = fresh.of(state, upto=upto)
    first = next(lines, None)
    return status.COULD_NOT_CHECK if first is not None and status.run_then(words, first, more=lines) else 0


def _alarm(level: str, fresh: Filter, state: State, upto: int) -> int:
    """3 where a change that was not delivered yet is as bad as that, 4 where a domain can newly not be checked."""
    from homepath.core.model.findings import LEVELS

    bad = LEVELS[: LEVELS.index(level) + 1]
    found = status.AS_WANTED
    for line in fresh.of(state, upto=upto):
        if line["verdict"] == "unknown":
            found = status.worst([found, status.COULD_NOT_CHECK])
        elif line["verdict"] != "as-wanted" and line["worst"] and line["worst"]["level"] in bad:
            return status.WRONG
    return found


def _history(list_file: Path, days: str, now: float, json: bool, plain: bool) -> None:
    from homepath.bulk.state import open_state
    from homepath.bulk.views import check_days
    from homepath.cli.show.many_views import print_history

    since = now - check_days(days) * 86400
    with open_state(list_file) as state:
        print_history(state, since, json, plain)
    raise typer.Exit(status.AS_WANTED)


def _answer_all(list_file: Path, decide: str, done: str, chosen: Filter, now: float, yes: bool) -> None:
    """One answer for many domains: shows what each would lose, asks once, and records it."""
    from homepath.bulk.opened import asking, record
    from homepath.bulk.state import open_state
    from homepath.cli.show.many_views import show_asking
    from homepath.cli.show.paper import paper
    from homepath.core.model.problems import BadInput, Problem
    from homepath.core.wording.say import say

    with open_state(list_file) as state:
        them = asking(state, chosen, decide, done)
    show_asking(paper(), them, decide or done)
    if not them:
        raise typer.Exit(status.NOT_YET)
    if not yes and not sys.stdin.isatty():
        raise BadInput(Problem("this command cannot ask without a terminal", key="--yes", hint="add --yes"))
    if not yes and not typer.confirm(f"Record this for {len(them)} domains?" if len(them) > 1 else "Record this?"):
        raise typer.Exit(status.NOT_YET)
    failed = record(list_file, them, decide, done, now)
    for problem in failed:
        typer.echo(say(problem), err=True)
    typer.echo(f"Recorded for {len(them) - len(failed)} of {len(them)}. Next: homepath many {list_file} --due")
    raise typer.Exit(status.BAD_INPUT if failed else status.AS_WANTED)
