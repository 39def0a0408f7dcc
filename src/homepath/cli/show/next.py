"""The next thing as text: where I stand, the one act, its place, and the next word to type."""

from __future__ import annotations

from dataclasses import replace

from homepath.cli.show.paper import Paper, show_noticed
from homepath.core.model.steps import Assessment
from homepath.core.wording.overview import Overview, overview
from homepath.core.wording.times import until

_TONES = {"done": "good", "now": "strong", "waiting": "wait", "ahead": "dim", "undone": "bad"}


def show_next(sheet: Paper, assessment: Assessment, builder: str, host: str, now: float) -> None:
    """Where the domain stands, the steps, the act, and why; what is only worth knowing comes last."""
    top = overview(assessment, builder, host)
    spelled = f" (in DNS: {top.spelled})" if top.spelled else ""
    sheet.say(
        f"{top.name}{spelled} {top.arrived}"
        if top.arrived
        else f"{top.name}{spelled}: step {top.number} of {top.count}"
    )
    if top.site:
        sheet.say(top.site)
    show_noticed(sheet, top.danger, "This is in the way")
    sheet.blank()
    for line in top.steps:
        title = line.title[:1].lower() + line.title[1:]
        head = f"{line.word.ljust(6)} {line.number:>2} "
        sheet.item(head, _TONES.get(line.step.state, "dim"), title + (", as you said" if line.told else ""))
    _show_act(sheet, top, now)
    show_noticed(sheet, top.why, "Why")
    show_noticed(sheet, top.notes)
    _show_last(sheet, top)


def show_moment(sheet: Paper, assessment: Assessment, builder: str, host: str, now: float, brief: bool = False) -> None:
    """The one thing now, without the list of steps. `brief`: the same step goes on, only what is wrong is new."""
    top = overview(assessment, builder, host)
    if not brief:
        sheet.say(f"{top.name} {top.arrived}" if top.arrived else f"{top.name}: step {top.number} of {top.count}")
        if top.site:
            sheet.say(top.site)
    show_noticed(sheet, top.danger, "This is in the way")
    show_noticed(sheet, top.why, "Why")
    if not brief:
        _show_act(sheet, replace(top, copy="", done=""), now)


def _show_act(sheet: Paper, top: Overview, now: float) -> None:
    if top.arrived:
        return
    sheet.blank()
    if top.until is not None:
        sheet.say(f"Nothing to do. This wait lasts {until(top.until, now)}.")
    else:
        sheet.say(f"Do this, {top.place}:")
    for part in top.act:
        if not part.text:
            sheet.blank()
        elif part.copy:
            sheet.value(part.text, 2 * part.level)
        else:
            sheet.say(part.text, 2 * part.level)
    if top.copy:
        sheet.say("To see what to copy, run:", 2)
        sheet.value(top.copy, 4)
    if top.note:
        sheet.blank()
        sheet.say(top.note, 2)
    if top.done:
        sheet.blank()
        sheet.say("Done already? Home Path cannot see that from outside. Then type")
        sheet.value(top.done, 2)


def _show_last(sheet: Paper, top: Overview) -> None:
    sheet.blank()
    if top.arrived:
        sheet.say("Nothing to do. Check again whenever you like: homepath next")
    elif top.until is not None:
        sheet.say("Then type: homepath next     (homepath watch shows which caches hold an old record)")
    else:
        sheet.say("Afterwards type: homepath next")
