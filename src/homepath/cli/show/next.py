"""The next thing as text: whether the site is up, the one act and its place, and the next command."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import groupby

from homepath.cli.show.paper import Paper, show_noticed
from homepath.core.files.sheet import Job
from homepath.core.findings.registry import KINDS
from homepath.core.model.steps import Assessment
from homepath.core.model.visible import visible
from homepath.core.wording.overview import Overview, StepLine, overview
from homepath.core.wording.times import clock_words, nothing_to_do

_TONES = {"done": "good", "now": "strong", "waiting": "wait", "ahead": "dim", "undone": "bad"}


def show_next(
    sheet: Paper, assessment: Assessment, builder: str, host: str, now: float, short: bool = False, notes: bool = False
) -> None:
    """Whether the site is up, the one thing to do, why, and all steps. `short`: without the steps; `notes`: with those
    about resolvers and each step that is done, which change nothing for the reader."""
    top = overview(assessment, builder, host)
    _show_head(sheet, top)
    _show_act(sheet, top, now)
    show_noticed(sheet, top.why, "Why")
    _show_last(sheet, top)
    if not short:
        _show_steps(sheet, top.steps, notes)
    odd = [each for each in top.notes if KINDS[each.code].who == "resolver"]
    show_noticed(sheet, [each for each in top.notes if notes or each not in odd])
    show_noticed(sheet, top.planned if notes else (), "What a step above takes care of")
    if odd and not notes and not top.arrived:
        sheet.blank()
        sheet.say("Notes about resolvers: homepath next --verbose")


def _show_steps(sheet: Paper, steps: Sequence[StepLine], every: bool) -> None:
    """Steps that are done, one after the other, share a line."""
    if all(line.step.state == "done" for line in steps) and not every:
        sheet.blank()
        sheet.say(f"All {len(steps)} steps are done." if len(steps) > 1 else "Its one step is done.")
        return
    sheet.heading("All steps")
    for done, group in groupby(steps, lambda line: not every and line.step.state == "done"):
        lines = list(group)
        if done and len(lines) > 2:
            sheet.item(f"done   {lines[0].number:>2}", "good", f"to {lines[-1].number}")
            continue
        for line in lines:
            title = line.title[:1].lower() + line.title[1:]
            head = f"{line.word.ljust(6)} {line.number:>2} "
            sheet.item(head, _TONES.get(line.step.state, "dim"), title + (", as you said" if line.confirmed else ""))


def _show_head(sheet: Paper, top: Overview) -> None:
    spelled = f" (in DNS: {top.spelled})" if top.spelled else ""
    state = f" {top.arrived}" if top.arrived else f": step {top.number} of {top.count}"
    sheet.say(f"{top.name}{spelled}{state}")
    if top.site:
        sheet.say(top.site)
    show_noticed(sheet, top.danger, "This is in the way")


def show_reply(sheet: Paper, assessment: Assessment, builder: str, host: str, jobs: Sequence[Job]) -> None:
    """A paragraph for the owner of the domain, with its own values; records to copy follow on lines of their own."""
    top = overview(assessment, builder, host)
    parts = [f"We checked {top.name} on {clock_words(assessment.at)}", top.site]
    parts += [text for each in (*top.danger, *top.why) for text in (each.words, each.cure)]
    if top.until is not None:
        parts.append(f"You have nothing to do until {clock_words(top.until)}")
    elif not top.arrived:
        parts.append(f"Please do this {top.place}:")
    parts += [part.text.strip() for part in top.act if part.text and not part.copy]
    sheet.say(" ".join(text if text[-1] in ".:!?" else f"{text}." for text in parts if text))
    for part in top.act:
        if part.copy:
            sheet.value(part.text)
    for line in (line for job in jobs for line in job.lines):
        sheet.blank()
        sheet.say(f"{line.deed.capitalize()}: type {line.type}, name {line.name or '(empty)'}, value")
        sheet.value(visible(line.value))


def show_moment(sheet: Paper, assessment: Assessment, builder: str, host: str, now: float, brief: bool = False) -> None:
    """The one thing now, without the list of steps. `brief`: the same step goes on, only what is wrong is new."""
    top = overview(assessment, builder, host)
    if brief:
        show_noticed(sheet, top.danger, "This is in the way")
    else:
        _show_head(sheet, top)
        _show_act(sheet, replace(top, copy="", done=""), now)
    show_noticed(sheet, top.why, "Why")


def _show_act(sheet: Paper, top: Overview, now: float) -> None:
    if top.arrived:
        return
    sheet.blank()
    if top.until is not None:
        sheet.say(nothing_to_do(top.until, now, top.bounded))
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
        sheet.say("Home Path cannot see this step from outside. When you have done it, run:")
        sheet.value(top.done, 2)


def _show_last(sheet: Paper, top: Overview) -> None:
    if top.done:
        return
    sheet.blank()
    if top.arrived:
        sheet.say("Nothing to do. Check again whenever you like: homepath next")
    elif top.until is not None:
        sheet.say("Then run: homepath next     (homepath next --follow waits for you)")
    else:
        sheet.say("Then run: homepath next")
