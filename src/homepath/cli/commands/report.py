"""The commands that tell what is known: `report`, `log` and `explain`."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli.common import Common, PlainOption, about_a_site
from homepath.core.wording.say import say

if TYPE_CHECKING:
    from homepath.core.dns.records import Key
if TYPE_CHECKING:
    from homepath.cli.show.paper import Paper


def explain(
    code: Annotated[str | None, typer.Argument(help="A finding's code; without one, all are listed.")] = None,
    reply: Annotated[
        bool, typer.Option("--reply", help="Print a paragraph to paste into a reply to a customer.")
    ] = False,
    plain: PlainOption = False,
) -> None:
    """Explain a finding, and how to fix it.

    Also why it hurts, and which standard says so."""
    import difflib

    from homepath.cli.show.paper import paper
    from homepath.core.findings.registry import KINDS
    from homepath.core.model.problems import BadInput, Problem

    sheet = paper(plain)
    if code is None:
        sheet.say("Every finding has a page: homepath explain CODE")
        sheet.blank()
        sheet.table([(page.code, say(page.means)) for page in KINDS.values()])
        return
    page = KINDS.get(code) or next((kind for kind in KINDS.values() if code == kind.formerly), None)
    if page is None:
        near = difflib.get_close_matches(code, KINDS, 1)
        hint = f"did you mean {near[0]}?" if near else "homepath explain lists them all"
        raise BadInput(Problem("this finding does not exist", key="CODE", seen=code, hint=hint))
    if reply:
        sheet.say(f"We checked your domain. {say(page.means)} {say(page.hurts)} What helps: {say(page.cure)}")
        return
    sheet.say(f"{page.code} ({page.level})")
    if code == page.formerly:
        sheet.say(f"Its old code was {code}.")
    for title, text in (("What it means", page.means), ("Why it hurts", page.hurts), ("How to fix it", page.cure)):
        sheet.heading(title)
        sheet.say(text, 2)
    sheet.heading("Standard")
    sheet.say(page.standard, 2)
    sheet.blank()
    sheet.say("Next: homepath next")


@about_a_site("json", "verbose")
def log(common: Common) -> None:
    """List every check and every change, the oldest first."""
    from homepath.app.decide import assess_site
    from homepath.cli import status
    from homepath.cli.show.paper import show_site
    from homepath.core.dns.names import shown

    project, clock = common.offline()
    with project.journal() as journal:
        entries = journal.entries(project.domain)
        past = journal.contents(project.domain)
        verdicts = journal.verdict_changes(project.domain)
    sheet = common.paper
    if project.evidence.survey is None:
        sheet.say("No check has been recorded yet. Next: homepath next")
        raise typer.Exit(status.NOT_YET)
    assessment = assess_site(project, clock.now())
    sheet.say(f"What Home Path checked and you changed for {shown(project.domain)}, the oldest first")
    show_site(sheet, assessment)
    sheet.heading("Checks and changes")
    sheet.table([(_moment(entry.at), entry.kind, entry.words) for entry in entries])
    if verdicts:
        sheet.heading("Results, as they changed")
        known: dict[Key, str] = {}
        lines = []
        for each in verdicts:
            before = known.get(each.key, "")
            lines.append((_moment(each.at), f"{shown(each.key[0])} {each.key[1]}", before, str(each.verdict)))
            known[each.key] = each.verdict
        sheet.table(lines, header=("when", "record", "before", "then"))
    ever = {each.record.key for each in past if each.record.values}
    sheet.heading("What the authoritative servers returned")
    rows = [
        (
            _moment(each.first_at),
            _moment(each.last_at),
            f"{shown(each.record.name)} {each.record.type}",
            ", ".join(each.record.values) or "nothing",
        )
        for each in past
        if each.record.type not in ("SOA", "NS", "DS") and each.record.key in ever and each.source == "zone"
    ]
    sheet.table(rows, header=("from", "to", "record", "values"))
    sheet.blank()
    sheet.say("Next: homepath next")
    raise typer.Exit(assessment.exit)


def _moment(at: float) -> str:
    from homepath.core.wording.times import utc_words

    return utc_words(at)


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

    How far the domain is, what comes next, what to keep. Uses the last check and sends no query. The page
    opens from a file, loads nothing, and prints.
    """
    from homepath.core.model.problems import BadInput, Problem

    if reader not in READERS:
        raise BadInput(Problem("this reader does not exist", key="--for", seen=reader, hint="owner or support"))
    if listed is not None:
        _many(listed, to, common.network)
        return
    from homepath.app.decide import assess_site
    from homepath.app.forecast import gather
    from homepath.report.content import for_owner, for_support
    from homepath.report.page import render
    from homepath.report.records import report_json

    project, clock = common.offline()
    facts = gather(project, clock.now())
    assessment = assess_site(project, clock.now(), facts.assessment)
    page, goal = for_owner(facts), to or Path(f"{project.site.domain}-report.html")

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
    goal = to or Path(f"{listed.resolve().stem}-report.html")
    with open_state(listed) as state:
        now = load_network(network).clock.now()
        days = list(state.changes.days(now - 90 * 86400))
        text = many_page(listed.resolve().name, state.lines(), now, days)
    _write(goal, text)
    typer.echo(f"The page is {goal}. It opens in any browser.")


def _write(goal: Path, text: str) -> None:
    """The page, in the place of an earlier one; no other file is written over. Raises BadInput."""
    from homepath.core.model.problems import BadInput, Problem
    from homepath.files import read_octets, write_text
    from homepath.report.page import MARK

    if goal.exists() and goal.is_file() and MARK.encode() not in read_octets(goal, "the page")[:4000]:
        raise BadInput(
            Problem("this file exists and is not a Home Path report", str(goal), key="--to", hint="name another one")
        )
    write_text(goal, text)
