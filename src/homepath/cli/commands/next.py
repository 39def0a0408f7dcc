"""`homepath next`: the one thing to do now."""

from __future__ import annotations

import sys
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, NoReturn

import typer

from homepath.cli.common import Common, about_a_site
from homepath.core.wording.say import say

if TYPE_CHECKING:
    from homepath.app.next import NextResult
    from homepath.app.project import Project
    from homepath.cli.show.paper import Paper
    from homepath.core.model.steps import Assessment
    from homepath.net.network_file import Network


@about_a_site()
def next(
    common: Common,
    name: Annotated[
        str | None, typer.Argument(metavar="DOMAIN", help="With --from: a domain of the list.", show_default=False)
    ] = None,
    listed: Annotated[
        Path | None, typer.Option("--from", metavar="LIST", help="A domain of this list of many.", show_default=False)
    ] = None,
    done: Annotated[
        str | None,
        typer.Option("--done", metavar="STEP", help="Say that this step is done, by its id.", show_default=False),
    ] = None,
    decide: Annotated[
        str | None,
        typer.Option(
            "--decide", metavar="WORD", help="Give the answer to a question, as `next` offers it.", show_default=False
        ),
    ] = None,
    follow: Annotated[
        bool, typer.Option("--follow", help="Stay, check again when something can have changed, until it has arrived.")
    ] = False,
    then: Annotated[
        str | None,
        typer.Option(
            metavar="COMMAND",
            help="With --follow: run this each time it is your turn, with the JSON on its standard input. No shell.",
            show_default=False,
        ),
    ] = None,
    bell: Annotated[bool, typer.Option("--bell", help="With --follow: ring when it is your turn.")] = False,
    reply: Annotated[
        bool, typer.Option("--reply", help="Print a paragraph to paste into a reply to a customer.")
    ] = False,
    short: Annotated[bool, typer.Option("--short", help="Without the list of steps.")] = False,
    calendar: Annotated[
        Path | None,
        typer.Option(
            "--calendar",
            help="Put waits and expiry dates into this calendar file; run again, it is brought up to date.",
            show_default=False,
        ),
    ] = None,
) -> None:
    """Show the one thing to do now.

    Checks everything first: whether the site is up, what to do and where, and when a wait ends."""
    from homepath.app.decide import say_done
    from homepath.app.entering import entering, jobs_of
    from homepath.app.next import write_calendar
    from homepath.cli.show.next import show_next, show_reply
    from homepath.core.contracts.assessment import next_json
    from homepath.core.model.acts import Enter

    if listed or name:
        common = replace(common, site=_of_list(listed, name))
    project, where = common.online()
    if decide:
        from homepath.app.decide import decided

        project = decided(project, decide, where.clock.now())
    if done:
        if project.evidence.survey is None:  # the steps are known only after a check
            _look(project, where)
        say_done(project, done, where.clock.now())
    if follow or then or bell:
        _follow(project, common.live(where), common, follow, then, bell)
    seen = _look(project, where)
    if not common.json and not done and not reply and sys.stdin.isatty() and sys.stdout.isatty():
        seen = _ask(project, where, seen, common.plain)
    count = write_calendar(seen, calendar, where.clock.now()) if calendar else 0
    unheeded = _unheeded(seen.assessment, done)

    def show(sheet: Paper) -> None:
        if reply:
            own = project.fresh(where.clock.now())
            typed = entering(own.assess(where.clock.now()))
            jobs = jobs_of(own, typed) if typed and isinstance(seen.assessment.act, Enter) else []
            show_reply(sheet, seen.assessment, project.brief.builder, project.host_of(seen.assessment), jobs)
            return
        for words in (*seen.learned, *([unheeded] if unheeded else [])):
            sheet.say(words)
            sheet.blank()
        host, now = project.host_of(seen.assessment), where.clock.now()
        show_next(sheet, seen.assessment, project.brief.builder, host, now, short, common.verbose)
        if calendar:
            sheet.blank()
            sheet.say(f"{calendar} holds {count} appointment{'s' * (count != 1)} of {project.site.domain}.")
        if listed and not seen.assessment.arrived:
            sheet.blank()
            sheet.say("With every command for this domain:")
            sheet.value(f"--site {common.site}", 2)

    common.end(seen.assessment, lambda: next_json(seen.assessment), show)


def _of_list(listed: Path | None, name: str | None) -> Path:
    """One domain of a list, as `--site` takes it. Raises BadInput where one of both is missing."""
    from homepath.core.model.problems import BadInput, Problem

    if listed is None:
        raise BadInput(
            Problem("a domain is named only together with a list", key="DOMAIN", seen=name, hint="--from LIST")
        )
    if name is None:
        raise BadInput(Problem("which domain of the list is it?", key="DOMAIN", hint=f"--from {listed} DOMAIN"))
    if not listed.exists():
        raise BadInput(Problem("the list is not there", str(listed), key="--from"))
    return Path(f"{listed}:{name}")


def _follow(project: Project, where: Network, common: Common, follow: bool, then: str | None, bell: bool) -> NoReturn:
    """Stay until the domain has arrived; ends with its exit status, 4 where the command of --then failed."""
    import asyncio

    from homepath.app.decide import assess_site
    from homepath.cli.show.following import Signals, follow_on_screen
    from homepath.cli.status import COULD_NOT_CHECK, words_of
    from homepath.core.model.problems import BadInput, Problem

    if not follow:
        raise BadInput(Problem("--then and --bell go with --follow", key="--then" if then else "--bell"))
    signals = Signals(bell, words_of(then) if then is not None else None)
    try:
        found = asyncio.run(follow_on_screen(project, where, common, signals))
    except KeyboardInterrupt:
        found = assess_site(project.fresh(where.clock.now()), where.clock.now())
    raise typer.Exit(COULD_NOT_CHECK if signals.failed else found.exit)


def _look(project: Project, where: Network) -> NextResult:
    from homepath.app.next import find_next
    from homepath.cli.common import run

    return run(find_next(project, where), "Checking everything ...")


def _ask(project: Project, where: Network, seen: NextResult, plain: bool) -> NextResult:
    """On a terminal, asks whether a step that cannot be seen from outside is done already."""
    from homepath.app.decide import say_done
    from homepath.cli.show.next import show_next
    from homepath.cli.show.paper import paper
    from homepath.core.wording.words import only_confirmed

    step = seen.assessment.step
    if step is None or not only_confirmed(seen.assessment.act):
        return seen
    sheet = paper(plain)
    show_next(sheet, seen.assessment, project.brief.builder, project.host_of(seen.assessment), where.clock.now())
    sheet.blank()
    if not typer.confirm("Done already?", default=False):
        raise typer.Exit(seen.assessment.exit)
    say_done(project, step.id, where.clock.now())
    return _look(project, where)


def _unheeded(assessment: Assessment, done: str | None) -> str:
    """What Home Path sees of a step that was said to be done and is not."""
    step = assessment.find(done) if done else None
    if step is None or step.state == "done":
        return ""
    return f"{say(step.title)}: {say(step.why)}" if step.why else ""
