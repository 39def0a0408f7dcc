"""The commands that plan: `plan`, `undo`, `leave` and `forecast`."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, NoReturn

import typer

from homepath.cli.common import Common, about_a_site
from homepath.core.message import reason

if TYPE_CHECKING:
    from collections.abc import Callable

    from homepath.app.project import Project
    from homepath.core.model.forecast import Caches


@about_a_site("verbose")
def undo(
    common: Common,
    to: Annotated[
        str | None,
        typer.Option("--to", metavar="TIME", help="Back to how it was seen at this moment.", show_default=False),
    ] = None,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Only show what would be restored.")] = False,
    stop: Annotated[bool, typer.Option("--stop", help="Stop undoing; continue as before.")] = False,
) -> None:
    """Plan how to restore the records from before the last change.

    Nothing is changed by it: `sheet`, `send` and `next` then do."""
    from homepath.app import decide

    def back(project: Project, now: float) -> Project:
        return decide.back(project, decide.moment_of(to, now) if to else None, now)

    _turn(common, "homepath undo", back, dry_run, stop, stop and bool(to or dry_run))


@about_a_site("verbose")
def leave(
    common: Common,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Only show what would be removed.")] = False,
    stop: Annotated[bool, typer.Option("--stop", help="Stay; continue as before.")] = False,
) -> None:
    """Plan how to leave the builder safely.

    Lists every name that points there. Nothing is changed by it."""
    from homepath.app import decide

    _turn(common, "homepath leave", decide.away, dry_run, stop, stop and dry_run)


def _turn(
    common: Common, command: str, turned: Callable[[Project, float], Project], dry_run: bool, stop: bool, too_many: bool
) -> None:
    """Show how to go back or leave and, unless it is a dry run, start it; or stop it again."""
    from homepath.app import decide
    from homepath.core.model.problems import BadInput, Problem

    project, clock = common.offline()
    if too_many:
        raise BadInput(Problem("--stop cannot be combined with other options", key="--stop"))
    if stop:
        typer.echo(decide.stopped(project))
        return
    going = turned(project, clock.now())
    if not dry_run:
        decide.keep(going)
    show_way(common, going, clock.now(), command if dry_run else "homepath next")


@about_a_site("verbose")
def forecast(
    common: Common,
    wait: Annotated[
        list[str] | None,
        typer.Option("--wait", metavar="DURATION", help="Also compare waiting only this long after lowering the TTL."),
    ] = None,
    gap: Annotated[
        str, typer.Option("--gap", metavar="DURATION", help="Between removing and adding, where those are compared.")
    ] = "10 min",
    requests: Annotated[
        float | None,
        typer.Option(
            "--requests",
            help="Requests per hour that each cache gets for a name. Default: half of the visitors behind caches "
            "with 600, 30 % with 20, 20 % with 1.",
            min=0.01,
            max=1e6,
            show_default=False,
        ),
    ] = None,
    clamped: Annotated[
        float, typer.Option("--clamped", help="Percent of caches that keep nothing for less than 1 h.", min=0, max=100)
    ] = 0.0,
    stale: Annotated[
        float, typer.Option("--stale", help="Percent of caches that return an expired answer once.", min=0, max=100)
    ] = 0.0,
    figure: Annotated[
        Path | None, typer.Option("--figure", help="Draw it into this file, .png or .svg.", show_default=False)
    ] = None,
    route: Annotated[
        str | None, typer.Option("--route", help="Forecast this route: records or nameservers.", show_default=False)
    ] = None,
) -> None:
    """Show what visitors will get, minute by minute.

    Which share of them gets the new site, the old site or nothing, for each order of the steps.

    Uses the last survey and sends no query. Visitors' caches are modelled, not observed.
    """
    from homepath.app.decide import assess_site
    from homepath.app.forecast import forecast as station
    from homepath.cli.show.plan import show_forecast
    from homepath.core.contracts.changes import forecast_json
    from homepath.core.model.problems import BadInput, Problem

    if figure:
        from homepath.report.pictures import check_figure

        check_figure(figure)
    if clamped + stale > 100:
        raise BadInput(Problem("--clamped and --stale together are more than all caches", key="--stale"))
    caches = _caches(requests, clamped, stale)
    project, clock = common.offline(route)
    made = station(
        project, caches, clock.now(), [_seconds(each, "--wait") for each in wait or ()], _seconds(gap, "--gap")
    )
    if figure:
        from homepath.report.figures import draw

        draw(made, figure)
    assessment = assess_site(project, clock.now())
    common.end(assessment, lambda: forecast_json(made), lambda sheet: show_forecast(sheet, made, assessment, figure))


def _caches(requests: float | None, clamped: float, stale: float) -> Caches:
    from homepath.core.model.forecast import Busy, Caches

    busy = Caches().busy if requests is None else (Busy(1.0, requests),)
    return Caches(busy, clamped / 100, 3600, stale / 100)


def _seconds(words: str, option: str) -> int:
    from homepath.core.model.problems import BadInput, Problem
    from homepath.core.model.times import seconds_in

    try:
        return seconds_in(words)
    except ValueError as error:
        raise BadInput(Problem(reason(error), key=option, seen=words)) from error


@about_a_site("verbose")
def plan(
    common: Common,
    route: Annotated[
        str | None,
        typer.Option("--route", help="Plan this route: records, nameservers, undo or leave.", show_default=False),
    ] = None,
) -> None:
    """Show every change, what stays, and all steps.

    Compares what the site needs with the last check, and sends no query."""
    project, clock = common.offline(route)
    show_way(common, project, clock.now())


def show_way(common: Common, project: Project, now: float, then: str = "homepath next") -> NoReturn:
    """The plan for the chosen route, with its steps; ends with its exit status. `then`: the next command."""
    from homepath.app.decide import assess_site
    from homepath.cli.show.plan import show_plan
    from homepath.core.contracts.assessment import plan_json

    made, own = project.plan(), project.assess(now)
    survey = project.evidence.survey
    assert survey is not None
    whole = assess_site(project, now, own)
    elsewhere = [each for each in whole.blockers if each not in own.blockers]
    common.end(
        whole,
        lambda: plan_json(made, own),
        lambda sheet: show_plan(sheet, made, own, project.case, survey.at, project.site.also, elsewhere, then),
    )
