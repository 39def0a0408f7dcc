"""`homepath log`: what was looked at and changed."""

from __future__ import annotations

from typing import TYPE_CHECKING

import typer

from homepath.cli.common import Common, about_a_site

if TYPE_CHECKING:
    from homepath.core.dns.records import Key


@about_a_site("json", "verbose")
def log(common: Common) -> None:
    """List every check and every change, oldest first."""
    from homepath.app.decide import assess_site
    from homepath.cli import status
    from homepath.cli.show.findings import show_site
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
    show_site(sheet, assessment)
    sheet.heading("Checks and changes")
    sheet.table([(_moment(entry.at), entry.kind, entry.words) for entry in entries])
    if verdicts:
        sheet.heading("Verdicts, as they changed")
        known: dict[Key, str] = {}
        lines = []
        for each in verdicts:
            before = known.get(each.key, "")
            lines.append((_moment(each.at), f"{shown(each.key[0])} {each.key[1]}", before, str(each.verdict)))
            known[each.key] = each.verdict
        sheet.table(lines, header=("when", "record", "before", "then"))
    ever = {each.record.key for each in past if each.record.values}
    sheet.heading("What the authoritative servers gave")
    rows = [
        (
            _moment(each.first_at),
            _moment(each.last_at),
            f"{each.record.name.removesuffix('.')} {each.record.type}",
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
