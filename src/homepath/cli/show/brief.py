"""Briefs, and what was read from a page, as text."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from homepath.cli.show.paper import Paper
from homepath.core.model.brief import Brief, BriefRecord
from homepath.core.page_reader.brief_text import BriefText, Row, away_words
from homepath.core.page_reader.page import Page
from homepath.core.wording.times import lasting, many


def show_brief(sheet: Paper, brief: Brief) -> None:
    """Everything that the builder asks for, by its use."""
    sheet.say(f"{brief.builder} asks for this. Your own values replace the words in braces.")
    for asked in brief.asked:
        sheet.say(f"{{{asked.name}}}: {asked.ask}" + (f" (such as {asked.example})" if asked.example else ""), 2)
    groups = {
        "Verification record, one of": brief.ownership,
        "For the domain itself": brief.apex,
        "For www": tuple(replace(each, host="www") if each.host == "@" else each for each in brief.www),
        "For any other label": tuple(replace(each, host="LABEL") if each.host == "@" else each for each in brief.label),
        "For www, where a CNAME is not possible": tuple(replace(each, host="www") for each in brief.www_by_address),
        "For a label, where a CNAME is not possible": tuple(
            replace(each, host="LABEL") for each in brief.label_by_address
        ),
        "Besides": (*brief.further, *brief.redirect_records),
    }
    for title, records in groups.items():
        if records:
            sheet.heading(title)
            sheet.table(_rows(records), header=("name", "type", "value"))
    if brief.apex_alias:
        sheet.heading("For the domain itself, where the DNS host has an alias for that")
        sheet.value(brief.apex_alias, 2)
    if brief.nameservers:
        sheet.heading("Or: switch the domain to these nameservers")
        for server in brief.nameservers:
            sheet.value(server, 2)
    sheet.heading("What follows")
    said = {
        "unknown": "The brief does not say who redirects the second name to the primary address.",
        "builder": f"{brief.builder} redirects the second name to the primary address.",
        "record": "A record of its own points the second name to the primary address.",
        "nobody": f"{brief.builder} does not redirect the second name to the primary address.",
    }
    sheet.say(said[brief.redirects_by], 2)
    issuers = f"issued by {', '.join(brief.https.issuers)}" if brief.https.issuers else "the issuer is not given"
    known = brief.https.waits_said
    waits = f"usually {lasting(brief.https.usual_wait)}, at most {lasting(brief.https.longest_wait)}"
    waits = (
        waits
        if known
        else f"how long it takes is not given (Home Path assumes {lasting(brief.https.longest_wait)} at most)"
    )
    days = f", only on {', '.join(brief.https.issuing_days)}" if brief.https.issuing_days else ""
    sheet.say(f"Certificates: {issuers}; {waits}{days}.", 2)
    for limit in brief.limits:
        sheet.say(limit, 2)


def _rows(records: Sequence[BriefRecord]) -> list[tuple[str, str, str]]:
    return [(each.host, each.type, value) for each in records for value in each.values]


_PARTS = {
    "apex": "the domain itself",
    "apex_alias": "the domain itself, by an alias",
    "www": "www",
    "www_by_address": "www, where no CNAME can be",
    "label": "the site's name",
    "label_by_address": "the site's name, where no CNAME can be",
    "ownership": "verification record",
    "further": "also",
}
_MOST_LINES = 60


def show_reading(sheet: Paper, page: Page, found: BriefText | None) -> None:
    """What was read with its lines, what is not wanted, what is doubtful, and what every other line was taken for."""
    servers = [server for server in page.nameservers if server.mood in ("", "want", "optional")]
    if found:
        counted = many(len(servers), "nameserver", "nameservers")
        sheet.say(f"Read {many(len(found.rows), 'record', 'records')} and {counted}.")
        if found.rows:
            sheet.table(
                [(row.lines, row.record.host, row.record.type, _taken(row), row.record.value) for row in found.rows],
                header=("from", "name", "type", "taken for", "value"),
            )
    else:
        sheet.say("No record to enter was found in this text.")
    for server in servers:
        sheet.say(f"line {server.line}  nameserver {server.name}", 2)
    if away := away_words(page):
        sheet.heading("Not to be entered, according to the page")
        sheet.table([(said, record) for said, record in away])
    doubts = found.doubts if found else page.doubts
    if doubts:
        sheet.heading("Doubtful")
        for doubt in doubts:
            sheet.say(doubt, 2)
    if notes := found.notes if found else page.notes:
        sheet.heading("Worth knowing")
        for note in notes:
            sheet.say(note, 2)
    others = [line for line in page.lines if line.use != "record"]
    if others:
        sheet.heading("The other lines")
        sheet.table([(f"line {line.number}", line.use, line.text[:70]) for line in others[:_MOST_LINES]])
        if len(others) > _MOST_LINES:
            sheet.say(f"and {len(others) - _MOST_LINES} more; `homepath brief read --json` lists them all.", 2)


def _taken(row: Row) -> str:
    said = _PARTS.get(row.part, row.part)
    option = f", way {row.record.option.removeprefix('or')}" if row.record.option not in ("", "if") else ""
    return said + (", optional" if row.record.mood == "optional" else "") + option
