"""`homepath send`: the records of the current step, as one signed update."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Literal

import typer

from homepath.cli.common import Common, about_a_site
from homepath.core.wording.say import say

if TYPE_CHECKING:
    from collections.abc import Sequence

    from homepath.app.project import Project
    from homepath.cli.show.paper import Paper
    from homepath.core.dns.answers import Server
    from homepath.core.dns.names import Name
    from homepath.core.model.acts import Sent
    from homepath.core.model.plan import Change
    from homepath.net.network_file import Network


@about_a_site()
def send(
    common: Common,
    key: Annotated[
        Path | None, typer.Option("--key", help="The key file of the DNS host (TSIG).", show_default=False)
    ] = None,
    server: Annotated[
        str | None, typer.Option("--server", help="Where to send. Default: the primary named in the SOA.")
    ] = None,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Show what would be sent, and send nothing.")] = False,
    yes: Annotated[bool, typer.Option("--yes", help="Send without asking.")] = False,
    early: Annotated[bool, typer.Option("--early", help="Send even if another step or a wait comes first.")] = False,
) -> None:
    """Send the records to your DNS host as one signed update.

    For DNS hosts that take updates (RFC 2136): all records of the step at once, or none."""
    from homepath.app import send as station
    from homepath.app.decide import assess_after, assess_site
    from homepath.app.entering import to_send
    from homepath.cli import status
    from homepath.cli.common import print_json, run
    from homepath.core.contracts.changes import not_sent_json, send_json
    from homepath.core.dns.names import shown
    from homepath.core.files.key_file import read_key_file
    from homepath.core.model.acts import Enter
    from homepath.core.model.problems import BadInput, CouldNotCheck, Problem, Refused
    from homepath.core.wording.words import about
    from homepath.files import read_text

    project, where = common.online()
    secret = read_key_file(read_text(key, "the key file"), str(key)) if key else None
    sheet = common.paper
    project = _after_a_lost_answer(project, where, sheet, common.json)
    own = project.assess(where.clock.now())
    before = assess_site(project, where.clock.now(), own)
    found = to_send(project, own, early or dry_run)
    if found is None:
        then = about(before, "homepath send") if isinstance(before.act, Enter) else "homepath next"
        done = f"Nothing to send for {shown(project.domain)}. Next: {then}"
        common.end(before, lambda: not_sent_json(project.domain, "nothing"), lambda sheet: sheet.say(done))
    update, changes = station.prepare(project, found)
    now = own.step
    first = f" First: {say(now.title)}." if now is not None and now.id != found.step.id else ""
    side = found.act.where
    place = run(station.update_server(project, where, server, side))
    if not common.json:
        _show_update(sheet, say(found.step.title), update.zone, changes, place)
    if dry_run:
        common.end(
            before,
            lambda: not_sent_json(project.domain, "nothing", place.name, changes),
            lambda sheet: sheet.say(f"Dry run: nothing was sent.{first} Next: homepath next"),
        )
    if secret is None:
        raise BadInput(Problem("an update must be signed", key="--key", hint="name the DNS host's key file"))
    if not yes and not (sys.stdin.isatty() and not common.json and typer.confirm("Send these changes?")):
        if common.json or not sys.stdin.isatty():
            raise BadInput(
                Problem(
                    "this command cannot ask without a terminal", key="--yes", hint="add --yes to send without asking"
                )
            )
        sheet.say("Nothing was sent. Next: homepath next")
        raise typer.Exit(before.exit)
    try:
        sent = run(station.send(project, update, changes, secret, place, where, side))
    except (Refused, CouldNotCheck) as error:
        if common.json:
            state: Literal["refused", "unknown"] = "refused" if isinstance(error, Refused) else "unknown"
            print_json(not_sent_json(project.domain, state, place.name, changes), before)
        raise
    if sent.unrecorded:
        typer.echo(
            f"It was sent and accepted, but could not be written to the journal: {sent.unrecorded}\n"
            "  What to do: make the folder writable again; `homepath next` then checks what became of it.",
            err=True,
        )
    assessment = before if sent.unrecorded else assess_after(project, where.clock.now())
    common.end(
        assessment,
        lambda: send_json(project.domain, sent),
        lambda sheet: _show_sent(sheet, sent),
        status.WRONG if sent.differences else None,
    )


def _show_sent(sheet: Paper, sent: Sent) -> None:
    for difference in sent.differences:
        given = ", ".join(difference.given) or difference.why or "nothing"
        sheet.say(
            f"{difference.server.removesuffix('.')} does not return {difference.change.type} at "
            f"{difference.change.name.removesuffix('.')} as sent. It returns: {given}",
            2,
        )
    if sent.differences:
        sheet.say("It was sent and accepted, but not everything is there. Check again: homepath next")
    else:
        sheet.say("Sent, and checked at every authoritative server: everything is there. Next: homepath next")


def _after_a_lost_answer(project: Project, where: Network, sheet: Paper, quiet: bool) -> Project:
    """Where the answer to an earlier update was lost, first check what became of it, and say so."""
    from homepath.app.send import settle
    from homepath.app.survey import survey
    from homepath.cli.common import run
    from homepath.journal.schema import FILE

    if project.memory is None and not (project.folder / FILE).exists():
        return project
    with project.journal() as journal:
        if not journal.changes(project.domain, "about", "unknown"):
            return project
    run(survey(project, where), "Checking what became of the last update ...")
    project = project.fresh(where.clock.now())
    for words in settle(project, where.clock.now()):
        if not quiet:
            sheet.say(words)
    return project.fresh(where.clock.now())


def _show_update(sheet: Paper, title: str, zone: Name, changes: Sequence[Change], place: Server) -> None:
    from homepath.core.dns.names import shown
    from homepath.core.plan.plan import deleted, entered

    name = f"{shown(place.name)} ({place.place})" if place.name and place.name != place.place else place.place
    sheet.say(
        f"{title}: one update of {shown(zone)} for {name}. If the zone has changed since, the server refuses all of it."
    )
    for change in changes:
        sheet.say(f"{change.type} at {shown(change.name)}", 2)
        for value in deleted(change):
            sheet.value(f"out  {value}", 4)
        for value in entered(change):
            sheet.value(f"in   {value}   (TTL {change.ttl})", 4)
