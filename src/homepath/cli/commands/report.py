"""`homepath report`: one page to keep or send."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli.common import Common, about_a_site

if TYPE_CHECKING:
    from homepath.cli.show.paper import Paper

READERS = ("owner", "support")


@about_a_site("plain", "verbose")
def report(
    common: Common,
    to: Annotated[
        Path | None,
        typer.Option("--to", metavar="FILE", help="The page. Default: DOMAIN-report.html.", show_default=False),
    ] = None,
    reader: Annotated[str, typer.Option("--for", metavar="READER", help="owner, or support.")] = "owner",
    listed: Annotated[
        Path | None,
        typer.Option("--many", metavar="LIST", help="All domains of this list on one page.", show_default=False),
    ] = None,
) -> None:
    """Write one page to keep or send.

    Where the domain stands, what comes next, what to hold on to. Reads what was seen last and asks nobody. The page
    opens from a file, loads nothing, and prints.
    """
    from homepath.core.model.problems import BadInput, Problem

    if reader not in READERS:
        raise BadInput(Problem("there is no such reader", key="--for", seen=reader, hint="owner or support"))
    if listed is not None:
        _many(listed, to, common.network)
        return
    from homepath.app.decide import assess_site
    from homepath.app.forecast import gather
    from homepath.report.page import render
    from homepath.report.records import report_json
    from homepath.report.telling import for_support, told

    project, clock = common.offline()
    facts = gather(project, clock.now())
    assessment = assess_site(project, clock.now(), facts.assessment)
    page, goal = told(facts), to or Path(f"{project.site.domain}-report.html")

    def written(sheet: Paper) -> None:
        given = {"page": page} if reader == "owner" else {"page": page, "support": for_support(facts)}
        _write(goal, render(reader, given))
        who = "the owner" if reader == "owner" else "support"
        sheet.say(f"The page for {who} is {goal}. It opens in any browser.")
        sheet.say("Next: homepath next")

    common.end(assessment, lambda: report_json(facts), written)


def _many(listed: Path, to: Path | None, network: Path | None) -> None:
    from homepath.bulk.state import open_state, state_file
    from homepath.core.model.problems import BadInput, Problem
    from homepath.net.network_file import load_network
    from homepath.report.page import many_page

    if not state_file(listed).exists():
        hint = f"run it first: homepath many {listed}"
        raise BadInput(Problem("nothing is known of this list yet", str(listed), hint=hint))
    goal = to or Path(f"{listed.stem}-report.html")
    with open_state(listed) as state:
        text = many_page(listed.name, (line for _, line in state.lines()), load_network(network).clock.now())
    _write(goal, text)
    typer.echo(f"The page is {goal}. It opens in any browser.")


def _write(goal: Path, text: str) -> None:
    """The page, in the place of an earlier one; no other file is written over. Raises BadInput."""
    from homepath.core.model.problems import BadInput, Problem
    from homepath.files import read_octets, write_text
    from homepath.report.page import MARK

    if goal.exists() and goal.is_file() and MARK.encode() not in read_octets(goal, "the page")[:4000]:
        raise BadInput(
            Problem("this file is there and is no report of ours", str(goal), key="--to", hint="name another one")
        )
    write_text(goal, text)
