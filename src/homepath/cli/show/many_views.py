"""Many domains from further away: counted by a key, grouped by cause, and day by day."""

from __future__ import annotations

import csv
import json
import sys
from collections import Counter
from collections.abc import Sequence
from typing import TYPE_CHECKING

from homepath.bulk.views import Filter, grouped
from homepath.cli.show.paper import Paper, paper
from homepath.core.contracts.many import Cause
from homepath.core.dns.names import shown
from homepath.core.model.visible import visible, visible_in_table
from homepath.core.wording.times import many
from homepath.core.wording.words import STATES, cause_words

if TYPE_CHECKING:
    from homepath.bulk.opened import Asking
    from homepath.bulk.site_state import Run
    from homepath.bulk.state import State

NAMED = 3
"""Domains of a cause that are named on the terminal."""


def show_causes(sheet: Paper, causes: Sequence[Cause]) -> None:
    """One line for each cause, however many domains it has."""
    if causes:
        sheet.blank()
    for cause in causes:
        names = [shown(line["domain"]) for line in cause.lines]
        more = f" and {len(names) - NAMED} more" if len(names) > NAMED else ""
        what = cause_words(cause.code, cause.at, cause.answer)
        sheet.say(f"* {len(names)} domains: {what} ({', '.join(names[:NAMED])}{more})")


def print_groups(state: State, run: Run, chosen: Filter, key: str, form: str, plain: bool) -> None:
    """The domains counted by a key, worst first, with what is different since the last run."""
    lines = chosen.of(state, run, state.changes.last())
    groups = grouped(lines, state.changes.of(run=run.id), key)
    if form == "json":
        for group in groups:
            value = {"format": "homepath.many-by/1", "by": key, "value": group.value}
            sys.stdout.write(json.dumps({**value, "now": group.now, "before": +group.before}) + "\n")
        return
    if form == "csv":
        writer = csv.writer(sys.stdout, lineterminator="\n")
        writer.writerow([visible_in_table(key), "domains", *STATES.values()])
        for group in groups:
            numbers = [group.now[word] for word in STATES]
            writer.writerow([visible_in_table(group.value), group.now.total(), *numbers])
        return
    words = [word for word in STATES if any(group.now[word] or group.before[word] for group in groups)]
    rows = [[key, "domains", *(STATES[word] for word in words)]]
    for group in groups:
        total = _with_change(group.now.total(), group.before.total())
        rows.append([group.value or "-", total, *(_with_change(group.now[word], group.before[word]) for word in words)])
    widths = [max(len(visible(cell)) for cell in column) for column in zip(*rows, strict=True)]
    sheet = paper(plain)
    for number, (name, *cells) in enumerate(rows):
        counts = "".join(f"  {cell:>{width}}" for cell, width in zip(cells, widths[1:], strict=True))
        line = f"  {visible(name).ljust(widths[0])}{counts}"
        sheet.out.write((line if number else sheet.toned(line, "dim")) + "\n")


def _with_change(now: int, before: int) -> str:
    return f"{now} ({now - before:+d})" if now != before else str(now)


def print_history(state: State, since: float, as_json: bool, plain: bool) -> None:
    """A row for each day on which a run ended: the counts as the last run left them, and how many domains changed."""
    changes = Counter(_day(change.at) for change in state.changes.of(since=since) if change.was is not None)
    days = list(state.changes.days(since))
    if as_json:
        for day, counts in days:
            row = {"format": "homepath.many-history/1", "day": day, "counts": counts, "changes": changes[day]}
            sys.stdout.write(json.dumps(row) + "\n")
        return
    sheet = paper(plain)
    if not days:
        sheet.say("No run has ended in these days.")
        return
    shown_words = [word for word in STATES if word != "waiting"]
    rows = [[day, *(str(counts[word]) for word in shown_words), str(changes[day])] for day, counts in days]
    names = [{"not-yet": "not yet"}.get(word, STATES[word]) for word in shown_words]
    sheet.table(rows, header=["day", *names, "changes"])


def _day(at: float) -> str:
    from homepath.core.model.times import rfc3339

    return rfc3339(at)[:10]


def show_asking(sheet: Paper, them: Sequence[Asking], word: str) -> None:
    """What each domain loses by an answer, shown before the answer is recorded."""
    if not them:
        sheet.say(f"None of the domains shown asks for this now: {word}")
        return
    sheet.say(f"{word}: {many(len(them), 'domain', 'domains')}")
    for each in them:
        loses = "; ".join(f"{gone['type']} at {shown(gone['name'])}: {gone['value']}" for gone in each.loses)
        sheet.say(f"{shown(each.domain)}  {f'loses {loses}' if loses else 'loses nothing'}", 2)
    sheet.blank()
