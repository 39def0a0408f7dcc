"""`homepath send`: the plan as one signed update."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli.options import DomainOption, NetworkOption, PlainOption, SiteOption, VerboseOption

if TYPE_CHECKING:
    from homepath.cli.show.paper import Paper
    from homepath.core.model.questions import Server
    from homepath.core.planning.update import Update
    from homepath.stations.plan import Planned


def send(
    key: Annotated[
        Path | None, typer.Option("--key", help="The key file of the DNS host (TSIG).", show_default=False)
    ] = None,
    server: Annotated[
        str | None, typer.Option("--server", help="Where to send. Default: the primary named in the SOA.")
    ] = None,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Show what would be sent, and send nothing.")] = False,
    yes: Annotated[bool, typer.Option("--yes", help="Send without asking.")] = False,
    site: SiteOption = None,
    domain: DomainOption = None,
    network: NetworkOption = None,
    plain: PlainOption = False,
    verbose: VerboseOption = False,
) -> None:
    """Send the plan to a DNS host that takes signed updates: all changes at once, or none."""
    from homepath.cli import status
    from homepath.cli.running import project_and_network, run
    from homepath.cli.show.paper import paper
    from homepath.core.formats.key_file import read_key_file
    from homepath.core.model.problems import BadInput, Problem
    from homepath.stations import send as station
    from homepath.stations.files import read_text
    from homepath.stations.plan import plan

    project, where = project_and_network(site, network, verbose, domain)
    secret = read_key_file(read_text(key, "the key file"), str(key)) if key else None
    planned = plan(project)
    sheet = paper(plain)
    if not planned.plan.work:
        sheet.say("Nothing has to be sent: every wanted record is there.")
        return
    update = station.prepare(project, planned)
    place = run(station.update_server(project, planned, where, server))
    _show_update(sheet, planned, update, place)
    if dry_run:
        sheet.say("Dry run: nothing was sent.")
        raise typer.Exit(status.NOT_YET)
    if secret is None:
        raise BadInput(Problem("an update must be signed", key="--key", hint="name the DNS host's key file"))
    if not yes and not (sys.stdin.isatty() and typer.confirm("Send these changes?")):
        if not sys.stdin.isatty():
            raise BadInput(Problem("nobody is there to ask", key="--yes", hint="add --yes to send without asking"))
        sheet.say("Nothing was sent.")
        raise typer.Exit(status.NOT_YET)
    sent = run(station.send(project, planned, secret, place, where))
    for difference in sent.differences:
        given = ", ".join(difference.given) or difference.detail or "nothing"
        sheet.say(
            f"{difference.server.removesuffix('.')} does not give {difference.change.type} at "
            f"{difference.change.name.removesuffix('.')} as it was sent. It gives: {given}",
            2,
        )
    if sent.differences:
        sheet.say("It was sent and accepted, but not everything is there. Look again: homepath watch --once")
        raise typer.Exit(status.WRONG)
    sheet.say("Sent, and read back from every authoritative server: all of it is there. Next: homepath watch")


def _show_update(sheet: Paper, planned: Planned, update: Update, place: Server) -> None:
    from homepath.core.model.names import shown

    name = f"{shown(place.name)} ({place.place})" if place.name and place.name != place.place else place.place
    sheet.say(f"One update of {shown(update.zone)} for {name}; it is refused whole if the zone has changed since.")
    for change in planned.plan.work:
        sheet.out.write(f"  {sheet.state(change.move)} {change.type} at {shown(change.name)}\n")
        for value in change.deleted:
            sheet.value(f"out  {value}", 4)
        for value in change.entered:
            sheet.value(f"in   {value}", 4)
