"""`homepath log`: what was looked at and changed."""

from __future__ import annotations

from homepath.cli.options import DomainOption, PlainOption, SiteOption


def log(site: SiteOption = None, domain: DomainOption = None, plain: PlainOption = False) -> None:
    """Every look and every change, oldest first."""
    from homepath.cli.show.paper import paper
    from homepath.journal.journal import open_journal
    from homepath.stations.project import open_project

    project = open_project(site, None, domain)
    with open_journal(project.folder) as journal:
        entries = journal.entries(project.domain)
        past = journal.contents(project.domain)
    sheet = paper(plain)
    if not entries:
        sheet.say("Nothing has been recorded yet.")
        return
    sheet.heading("Looks and changes")
    sheet.table([(_moment(entry.at), entry.kind, entry.words) for entry in entries])
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
        if each.record.type not in ("SOA", "NS") and each.record.key in ever
    ]
    sheet.table(rows, header=("from", "to", "record", "values"))


def _moment(at: float) -> str:
    from datetime import datetime

    return f"{datetime.fromtimestamp(at).astimezone():%Y-%m-%d %H:%M}"
