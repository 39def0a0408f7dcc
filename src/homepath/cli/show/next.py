"""The next thing as text: where I stand, the one act, its place, and the next word to type."""

from __future__ import annotations

from homepath.cli.show.paper import Paper, show_notes, show_site
from homepath.core.dns.names import shown
from homepath.core.model.acts import Act, BuilderStep, Enter, Nothing, TellBuilder, Wait
from homepath.core.model.domain import shown_unicode
from homepath.core.model.steps import Assessment, Step
from homepath.core.wording.act_words import ENDS, act_parts, place_words, wait_words
from homepath.core.wording.say import say
from homepath.core.wording.times import until
from homepath.core.wording.words import only_told

_WORDS = {"done": "done", "now": "now", "waiting": "wait", "ahead": "later", "undone": "undone"}
_TONES = {"done": "good", "now": "strong", "waiting": "wait", "ahead": "dim", "undone": "bad"}


def show_next(sheet: Paper, assessment: Assessment, builder: str, host: str, now: float) -> None:
    """The steps, the act, and why; what is only worth knowing comes last."""
    name = shown_unicode(assessment.domain)
    spelled = f" (in DNS: {shown(assessment.domain)})" if name != shown(assessment.domain) else ""
    counted_steps = [step for step in assessment.steps if step.number is not None]
    if assessment.step is None:
        sheet.say(f"{name}{spelled} {ENDS[assessment.going]}")
    else:
        sheet.say(f"{name}{spelled}: step {assessment.step.number} of {len(counted_steps)}")
    show_site(sheet, assessment)
    danger = [finding for finding in assessment.because if finding.level == "blocker"]
    if danger:
        show_notes(sheet, danger, "This is in the way")
    sheet.blank()
    for step in counted_steps:
        _show_step(sheet, step)
    _show_act(sheet, assessment, builder, host, now)
    show_notes(sheet, [finding for finding in assessment.because if finding.level != "blocker"], "Why")
    show_notes(sheet, assessment.notes)
    _show_last(sheet, assessment)


def _show_step(sheet: Paper, step: Step) -> None:
    word = _WORDS[step.state]
    title = say(step.title)
    title = title[:1].lower() + title[1:]
    told = ", as you said" if step.by == "told" else ""
    number = str(step.number).rjust(2)
    sheet.item(f"{word.ljust(6)} {number} ", _TONES[step.state], f"{title}{told}")


def _show_act(sheet: Paper, assessment: Assessment, builder: str, host: str, now: float) -> None:
    act, step = assessment.act, assessment.step
    if step is None or isinstance(act, Nothing):
        return
    sheet.blank()
    if isinstance(act, Wait):
        sheet.say(f"Nothing to do. This wait lasts {until(act.until, now)}.")
        sheet.say(wait_words(act, step, builder), 2)
        return
    sheet.say(f"Do this, {place_words(step, builder, host)}:")
    _show_details(sheet, act, step)
    if step.why and step.kind != "put-back" and not isinstance(act, BuilderStep):
        sheet.blank()
        sheet.say(step.why, 2)
    if isinstance(act, TellBuilder):
        sheet.blank()
        sheet.say(step.expect, 2)
    if only_told(act):
        sheet.blank()
        sheet.say("Done already? Home Path cannot see that from outside. Then type")
        sheet.value(f"homepath next --done {step.id}", 2)


def _show_details(sheet: Paper, act: Act, step: Step) -> None:
    for part in act_parts(act, step):
        if not part.text:
            sheet.blank()
        elif part.copy:
            sheet.value(part.text, 2 * part.level)
        else:
            sheet.say(part.text, 2 * part.level)
    if isinstance(act, Enter):
        sheet.say("What to copy stands in:", 2)
        sheet.value("homepath sheet", 4)


def _show_last(sheet: Paper, assessment: Assessment) -> None:
    sheet.blank()
    if assessment.step is None:
        sheet.say("Nothing has to be done. Look again whenever you like: homepath next")
    elif isinstance(assessment.act, Wait):
        sheet.say("Then type: homepath next     (homepath watch shows who still holds an old answer)")
    else:
        sheet.say("Afterwards type: homepath next")
