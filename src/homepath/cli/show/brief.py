"""Briefs, and what was read from a page, as text."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from homepath.cli.show.paper import Paper
from homepath.core.model.brief import Brief, BriefRecord
from homepath.core.model.visible import visible
from homepath.core.page_reader.brief_text import BriefText
from homepath.core.page_reader.page import Item, Page, reason_of, where
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting


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
    redirects = {
        "unknown": "The brief does not say who redirects the second name to the primary address.",
        "builder": f"{brief.builder} redirects the second name to the primary address.",
        "record": "A record of its own points the second name to the primary address.",
        "nobody": f"{brief.builder} does not redirect the second name to the primary address.",
    }
    sheet.say(redirects[brief.redirects_by], 2)
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


_MOODS = {"delete": "to be deleted", "current": "there now", "keep": "stays", "example": "an example"}


def show_reading(sheet: Paper, page: Page, found: BriefText | None) -> None:
    """The table: what is ticked is entered; each row with its lines of the page, and why one is not ticked."""
    texts = {line.number: " ".join(line.text.split()) for line in page.lines}
    sheet.table([_row(item, texts) for item in page.items])
    sheet.blank()
    for doubt in found.doubts if found else ():
        sheet.say(f"To decide: {say(doubt)}")
    for note in found.notes if found else page.notes:
        sheet.say(f"Note: {say(note)}")


def _row(item: Item, texts: Mapping[int, str]) -> tuple[str, ...]:
    record = item.record
    lines = sorted(set(record.lines))
    place = say(where(record))
    why = say(reason_of(record)) if record.why else ""
    if item.bin == "not" and record.mood != "example":
        why = _MOODS.get(record.mood, "left out")
    elif item.bin != "other" and not why:
        why = "optional" if record.mood == "optional" else _MOODS.get(record.mood, "")
    if item.bin != "enter" and (text := texts.get(lines[0], "")):
        place += f': "{_around(text, record.value.rstrip("."))}"'
    option = f"way {record.option.removeprefix('or')}" if record.option not in ("", "if") else ""
    notes = ", ".join(each for each in (place, why, option) if each)
    tick = "[x]" if item.bin == "enter" else "[ ]"
    return tick, str(item.number), record.type or "?", record.host or "?", visible(record.value or "?"), notes


def _around(text: str, value: str) -> str:
    """The words of a line around a value, in 50 characters."""
    begin = max(0, min(text.lower().find(value.lower()) - 20, len(text) - 50))
    return ("…" if begin else "") + text[begin : begin + 50] + ("…" if begin + 50 < len(text) else "")


def show_other_lines(sheet: Paper, page: Page) -> None:
    """What every line without a record was taken for."""
    others = [line for line in page.lines if line.use != "record"]
    if others:
        sheet.heading("The other lines")
        sheet.table([(f"line {line.number}", line.use, line.text[:70]) for line in others[:_MOST_LINES]])
        if len(others) > _MOST_LINES:
            sheet.say(f"and {len(others) - _MOST_LINES} more; `homepath brief read --json` lists them all.", 2)


_MOST_LINES = 60
