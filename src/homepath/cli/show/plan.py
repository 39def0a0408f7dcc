"""A plan as text."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from homepath.cli.show.findings import show_findings
from homepath.cli.show.paper import TONES, Paper
from homepath.core.model.names import shown
from homepath.core.model.plan import PURPOSES, Change, Plan
from homepath.core.model.times import lasting
from homepath.core.wanted.redirects import WORDS


def show_plan(
    sheet: Paper, plan: Plan, surveyed_at: float, done: frozenset[str] = frozenset(), also: Sequence[str] = ()
) -> None:
    """What changes, what is kept, what was found, and the steps in their order."""
    counts = {
        move: sum(change.move == move for change in plan.changes) for move in ("add", "replace", "remove", "keep")
    }
    when = datetime.fromtimestamp(surveyed_at).astimezone()
    if plan.work:
        work = ", ".join(f"{count} to {move}" for move, count in counts.items() if count and move != "keep")
        sheet.say(
            f"To bring {shown(plan.domain)} to its primary address {shown(plan.primary)}, "
            f"these record sets change: {work}. {counts['keep']} are kept as they are."
        )
    else:
        sheet.say(f"Nothing has to be changed: {shown(plan.domain)} has every record that is wanted.")
    sheet.say(f"Made from the survey of {when:%Y-%m-%d %H:%M}.")
    for purpose in PURPOSES:
        changes = [change for change in plan.work if change.purpose == purpose]
        if changes:
            sheet.heading(f"To change: {purpose}")
        for change in changes:
            _show_change(sheet, change)
    _show_kept(sheet, plan)
    show_findings(sheet, plan.findings)
    for domain in also:
        sheet.blank()
        sheet.say(f"{domain} is to lead there too: homepath survey --domain {domain}, then plan it the same way.")
    _show_way(sheet, plan)
    if plan.redirects:
        names = " and ".join(shown(name) for name in plan.redirects.names)
        sheet.heading(f"Where {names} is led to the primary address: {WORDS[plan.redirects.place]}")
        limit = "" if plan.redirects.secure else " Browsers that try https first will meet an error there."
        sheet.say(f"{plan.redirects.reason}.{limit}", 2)
        if plan.redirects.others:
            sheet.say(f"It could also be done {'; or '.join(plan.redirects.others)}.", 2)
    sheet.heading("Steps")
    for step in plan.steps:
        place = "" if step.place == "here" else f"At the {step.place}: "
        sheet.say(f"{step.number}. {place}{step.title}" + (" (done)" if step.kind in done else ""), 2)
        if step.kind in done:
            continue
        sheet.say(step.instruction, 5)
        wait = f" Longest wait: {lasting(step.longest_wait)}." if step.longest_wait else ""
        sheet.say(f"Then: {step.expect}{wait}", 5)


def _show_way(sheet: Paper, plan: Plan) -> None:
    """Why this way, and which others stay open."""
    if plan.reasons or plan.open:
        sheet.heading("The way chosen: " + {"records": "edit records", "nameservers": "new name servers"}[plan.route])
        for reason in plan.reasons:
            sheet.say(reason, 2)
        for route in plan.open:
            sheet.say(f"Still open: homepath plan --route {route}", 2)


def _show_change(sheet: Paper, change: Change) -> None:
    word = "add to" if change.before and not change.deleted else change.move
    sheet.out.write(f"  {sheet.toned(word, TONES.get(change.move))} {change.type} at {shown(change.name)}\n")
    sheet.say(f"because {change.reason}", 4)
    if change.deleted:
        sheet.say("goes:" if change.values else "now:", 4)
        for value in change.deleted:
            sheet.value(value)
    if change.entered:
        sheet.say(f"comes (TTL {change.ttl}):", 4)
        for value in change.entered:
            sheet.value(value)


def _show_kept(sheet: Paper, plan: Plan) -> None:
    kept = [change for change in plan.changes if change.move == "keep" and change.type != "SOA"]
    if kept:
        sheet.heading("Kept as it is")
        sheet.table([(shown(c.name), c.type, c.purpose, c.reason.removeprefix("not touched: ")) for c in kept])
