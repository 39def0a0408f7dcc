"""The commands that check something: `survey`, `compare`, `visit` and `watch`."""

from __future__ import annotations

import sys
from collections.abc import Coroutine
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, Literal, TypeVar

import typer

from homepath.cli.common import Common, about_a_site
from homepath.core.message import reason

if TYPE_CHECKING:
    from homepath.app.project import Project
    from homepath.app.survey import Surveyed
    from homepath.app.watch import Goal
    from homepath.core.files.sheet import Job
    from homepath.core.model.steps import Assessment
    from homepath.core.model.survey import Spread
    from homepath.net.network_file import Network

T = TypeVar("T")


@about_a_site()
def survey(
    common: Common,
    zone: Annotated[
        list[Path] | None,
        typer.Option(
            "--zone", help="The zone as a file: master file, CSV, or rows copied from the form. May be repeated."
        ),
    ] = None,
    transfer: Annotated[bool, typer.Option("--transfer", help="Also ask the servers for the whole zone.")] = False,
    ask: Annotated[
        list[str] | None, typer.Option("--ask", metavar="NAME", help="Also check this name. May be repeated.")
    ] = None,
    key: Annotated[Path | None, typer.Option("--key", help="A key file for --transfer.", show_default=False)] = None,
) -> None:
    """Check what the domain has now, and record it."""
    from homepath.app.decide import assess_after
    from homepath.app.project import purpose_in
    from homepath.app.survey import survey as station
    from homepath.app.visit import revisit
    from homepath.cli.common import run
    from homepath.cli.show.checks import show_survey
    from homepath.core.contracts.checks import survey_json
    from homepath.core.files.key_file import read_key_file
    from homepath.files import read_text
    from homepath.net.session import session

    project, where = common.online()
    secret = read_key_file(read_text(key, "the key file"), str(key)) if key else None
    mine = session(where)

    async def checking() -> Surveyed:
        found = await station(project, where, zone or (), transfer, secret, ask or (), mine)
        await revisit(found.project, where, mine)
        return found

    found = run(checking(), f"Checking the servers of {project.site.domain} ...")
    assessment = assess_after(project, where.clock.now())
    common.end(
        assessment,
        lambda: survey_json(found.survey, purpose_in(found.case), found.findings),
        lambda sheet: show_survey(sheet, found.case, found.survey, assessment.levelled(found.findings), assessment),
    )


def _checked(project: Project, where: Network, work: Coroutine[Any, Any, T], words: str = "") -> T:
    """Run a check. Where it cannot be made, and a survey of now shows why, such as a domain on hold, that is the
    answer."""
    from homepath.app.decide import assess_after
    from homepath.app.survey import is_fresh
    from homepath.cli.common import run
    from homepath.cli.show.paper import domain_causes
    from homepath.core.model.problems import CouldNotCheck, Refused

    try:
        return run(work, words)
    except CouldNotCheck as error:
        now = where.clock.now()
        causes = domain_causes(assess_after(project, now)) if is_fresh(project.fresh(now), now) else []
        if not causes:
            raise
        raise Refused(causes[0].message, causes[0].cure) from error


@about_a_site()
def compare(common: Common) -> None:
    """Check that new nameservers have everything before you switch.

    Before a switch, Home Path queries each one for every record that must move, and says what is missing."""
    from homepath.app.decide import assess_after
    from homepath.app.watch import compare as station
    from homepath.cli import status
    from homepath.cli.show.checks import show_compared
    from homepath.core.contracts.checks import compare_json

    project, where = common.surveyed()
    found = _checked(project, where, station(project, where), "Checking both sides ...")
    assessment = assess_after(project, where.clock.now())
    common.end(
        assessment,
        lambda: compare_json(found.compared),
        lambda sheet: show_compared(sheet, found.compared, assessment, found.former, project.brief.builder),
        status.of_compared(found.compared),
    )


@about_a_site()
def visit(
    common: Common,
    ahead: Annotated[
        bool, typer.Option("--ahead", help="Ask the builder's servers for the site, wherever DNS points.")
    ] = False,
    through: Annotated[
        str | None,
        typer.Option(
            "--through",
            metavar="RESOLVER",
            help="Resolve names with this resolver of the network file. Default: the authoritative servers.",
            show_default=False,
        ),
    ] = None,
) -> None:
    """Try every address of the site, and check its certificate.

    Over http and https, with a path and a query, and with the certificates that are shown."""
    from homepath.app.decide import assess_after
    from homepath.app.visit import ahead as check_ahead
    from homepath.app.visit import visit as station
    from homepath.cli.show.checks import show_visit
    from homepath.core.contracts.checks import visit_json
    from homepath.core.model.problems import BadInput, Problem

    if ahead and through:
        raise BadInput(Problem("--ahead queries the builder's servers and no resolver", key="--through", seen=through))
    project, where = common.surveyed()
    visiting = check_ahead(project, where) if ahead else station(project, where, through)
    found = _checked(project, where, visiting, "Visiting every address ...")
    assessment = assess_after(project, where.clock.now())
    common.end(
        assessment,
        lambda: visit_json(found),
        lambda sheet: show_visit(sheet, found, assessment, project.brief.builder, common.verbose),
    )


@about_a_site()
def watch(
    common: Common,
    once: Annotated[bool, typer.Option("--once", help="Check once and stop.")] = False,
    until: Annotated[
        Literal["settled", "entered"] | None,
        typer.Option(
            help="Continue until then, even if something is wrong. Default: until settled, or waiting cannot help.",
            show_default=False,
        ),
    ] = None,
    lasting: Annotated[
        str | None, typer.Option("--for", metavar="DURATION", help="Continue for at most this long, such as '2 h'.")
    ] = None,
    then: Annotated[
        str | None,
        typer.Option(
            metavar="COMMAND", help="Run this at the end, with the JSON on its standard input. No shell is involved."
        ),
    ] = None,
    bell: Annotated[bool, typer.Option("--bell", help="Ring the terminal's bell at the end.")] = False,
    resolvers: Annotated[
        Path | None, typer.Option("--resolvers", help="Ask the resolvers of this list instead.", show_default=False)
    ] = None,
    figure: Annotated[
        Path | None,
        typer.Option("--figure", help="Draw the spread so far into this file, .png or .svg.", show_default=False),
    ] = None,
) -> None:
    """See which caches still hold an old record, and until when.

    Queries parent zone, nameservers and resolvers for every record of the plan, once or until all is settled."""
    from dataclasses import replace

    from homepath.app.decide import assess_after, assess_site
    from homepath.app.watch import check
    from homepath.cli import status
    from homepath.cli.status import ring, run_then, words_of
    from homepath.core.contracts.assessment import with_assessment
    from homepath.core.contracts.checks import watch_json
    from homepath.net.vantages import load_list, without_doubles

    goal = _goal(once, until, lasting)
    command = words_of(then) if then is not None else None
    if figure:
        from homepath.report.pictures import check_figure

        check_figure(figure)
    project, where = common.surveyed()
    if resolvers:
        where = replace(where, resolvers=without_doubles(load_list(resolvers)))
    if once:
        spread = _checked(project, where, check(project, where), "Checking ...")
    else:
        try:
            spread = _checked(project, where, _follow(project, common.live(where), goal, common))
        except KeyboardInterrupt:
            raise typer.Exit(assess_site(project, where.clock.now()).exit) from None
    assessment = assess_after(project, where.clock.now())
    if figure:
        from homepath.app.forecast import draw_spread

        draw_spread(project, where, figure)
    if bell:
        ring()
    if once or common.json:
        _show(common, project, where, spread, assessment)
    failed = 0
    if command and spread.verdict in ("settled", "spreading") and goal.reached(spread):
        failed = run_then(command, with_assessment(watch_json(spread), assessment))
    raise typer.Exit(status.COULD_NOT_CHECK if failed else assessment.exit)


def _show(common: Common, project: Project, where: Network, spread: Spread, assessment: Assessment) -> None:
    from homepath.cli.common import print_json
    from homepath.cli.show.watch import show_spread
    from homepath.core.contracts.checks import watch_json

    if common.json:
        print_json(watch_json(spread), assessment)
    else:
        show_spread(common.paper, spread, assessment, *_left(project, where))


def _goal(once: bool, until: Literal["settled", "entered"] | None, lasting: str | None) -> Goal:
    from homepath.app.watch import Goal
    from homepath.core.model.problems import BadInput, Problem
    from homepath.core.model.times import seconds_in

    if once and (until or lasting):
        raise BadInput(Problem("--once checks once; it cannot be combined with --until or --for", key="--once"))
    try:
        seconds = seconds_in(lasting) if lasting else None
    except ValueError as error:
        raise BadInput(Problem(reason(error), key="--for", seen=lasting or "")) from error
    return Goal(until, seconds)


async def _follow(project: Project, network: Network, goal: Goal, common: Common) -> Spread:
    """Until the goal, or until something is wrong that waiting cannot fix."""
    if sys.stdout.isatty() and not common.plain and not common.json:
        from homepath.cli.show.live import follow_live

        return await follow_live(project, network, goal)
    from homepath.app.decide import assess_after
    from homepath.app.watch import follow
    from homepath.cli.show.watch import show_changes, show_spread

    sheet = common.paper
    last: Spread | None = None
    async for spread, _ in follow(project, network, goal):
        if not common.json:
            show_changes(sheet, last, spread)
        last = spread
    assert last is not None
    if not common.json:
        sheet.blank()
        show_spread(sheet, last, assess_after(project, network.clock.now()), *_left(project, network))
    return last


def _left(project: Project, network: Network) -> tuple[list[Job], str, str]:
    """What is left to type, and where, by the same assessment that `next` and `sheet` have; and the builder's name."""
    from homepath.app.entering import entering, jobs_of

    now, builder = network.clock.now(), project.brief.builder
    project = project.fresh(now)
    found = entering(project.assess(now)) if project.evidence.survey is not None else None
    return (jobs_of(project, found), project.notation_at(found.act.where).host, builder) if found else ([], "", builder)
