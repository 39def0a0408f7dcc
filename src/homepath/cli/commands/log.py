"""`homepath log`: what was looked at and changed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from homepath.cli.options import DomainOption, PlainOption, SiteOption

if TYPE_CHECKING:
    from homepath.core.dns.records import Key


def log(site: SiteOption = None, domain: DomainOption = None, plain: PlainOption = False) -> None:
    """List every look and every change, oldest first."""
    from homepath.cli.running import project_and_clock
    from homepath.cli.show.paper import paper
    from homepath.core.dns.names import shown

    project, _ = project_and_clock(site, None, domain)
    with project.journal() as journal:
        entries = journal.entries(project.domain)
        past = journal.contents(project.domain)
        verdicts = journal.verdict_changes(project.domain)
    sheet = paper(plain)
    if not entries:
        sheet.say("Nothing has been recorded yet. Next: homepath next")
        return
    sheet.heading("Looks and changes")
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


def _moment(at: float) -> str:
    from homepath.core.wording.times import utc_words

    return utc_words(at)
