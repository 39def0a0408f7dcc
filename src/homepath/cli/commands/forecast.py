"""`homepath forecast`: what visitors will meet, before anything is changed."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli.common import Common, about_a_site
from homepath.core.message import reason

if TYPE_CHECKING:
    from homepath.core.model.forecast import Caches


@about_a_site("verbose")
def forecast(
    common: Common,
    wait: Annotated[
        list[str] | None,
        typer.Option("--wait", metavar="DURATION", help="Also compare waiting only so long after lowering the TTL."),
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
        float, typer.Option("--stale", help="Percent of caches that give expired answers once.", min=0, max=100)
    ] = 0.0,
    figure: Annotated[
        Path | None, typer.Option("--figure", help="Draw it into this file, .png or .svg.", show_default=False)
    ] = None,
    route: Annotated[
        str | None, typer.Option("--route", help="Forecast this way: records or nameservers.", show_default=False)
    ] = None,
) -> None:
    """Say what visitors will meet, minute by minute.

    Which share of them meets the new site, the old one or nothing, for each order of the steps.

    Reads the last survey and asks nobody. Visitors' caches are modelled, not observed.
    """
    from homepath.app.decide import assess_site
    from homepath.app.forecast import forecast as station
    from homepath.cli.show.forecast import show_forecast
    from homepath.core.contracts.changes import forecast_json
    from homepath.core.model.problems import BadInput, Problem

    if figure:
        from homepath.report.canvas import check_figure

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
