"""The next thing as text: where I stand, the one act, its place, and the next word to type."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.cli.show.findings import show_notes
from homepath.cli.show.paper import Paper
from homepath.cli.show.times import until
from homepath.core.formats.words import counted, only_told, sentence_start
from homepath.core.model.acts import (
    AddDs,
    BuilderStep,
    CheckAgain,
    Decide,
    Enter,
    Forward,
    HttpsOnly,
    NameServers,
    Nothing,
    PublishAgain,
    RemoveDs,
    TellBuilder,
    Wait,
)
from homepath.core.model.domain import shown_unicode
from homepath.core.model.names import shown
from homepath.core.model.steps import Journey, Step

_WORDS = {"done": "done", "now": "now", "waiting": "wait", "ahead": "later", "undone": "undone"}
_TONES = {"done": "good", "now": "strong", "waiting": "wait", "ahead": "dim", "undone": "bad"}


def show_next(sheet: Paper, journey: Journey, builder: str, host: str, now: float) -> None:
    """The steps, the act, and why; what is only worth knowing comes last."""
    name = shown_unicode(journey.domain)
    spelled = f" (in DNS: {shown(journey.domain)})" if name != shown(journey.domain) else ""
    counted_steps = [step for step in journey.steps if step.number is not None]
    if journey.step is None:
        sheet.say(f"{name}{spelled} {_ENDS[journey.going]}")
    else:
        sheet.say(f"{name}{spelled}: step {journey.step.number} of {len(counted_steps)}")
    danger = [finding for finding in journey.because if finding.level == "blocker"]
    if danger:
        show_notes(sheet, danger, "This is in the way")
    sheet.blank()
    for step in counted_steps:
        _show_step(sheet, step)
    _show_act(sheet, journey, builder, host, now)
    show_notes(sheet, [finding for finding in journey.because if finding.level != "blocker"], "Why")
    show_notes(sheet, journey.notes)
    _show_last(sheet, journey)


_ENDS = {
    "there": "has arrived: every address leads to your site.",
    "back": "is as it was before.",
    "away": "has left: no entry leads to the builder any more.",
}


def _show_step(sheet: Paper, step: Step) -> None:
    word = _WORDS[step.state]
    title = step.title[:1].lower() + step.title[1:]
    told = ", as you said" if step.by == "told" else ""
    number = str(step.number).rjust(2)
    sheet.item(f"{word.ljust(6)} {number} ", _TONES[step.state], f"{title}{told}")


def _show_act(sheet: Paper, journey: Journey, builder: str, host: str, now: float) -> None:
    act, step = journey.act, journey.step
    if step is None or isinstance(act, Nothing):
        return
    sheet.blank()
    if isinstance(act, Wait):
        sheet.say(f"Nothing to do. This wait lasts {until(act.until, now)}.")
        words = _WAITS[act.cause].format(builder=builder)
        if step.kind in ("new-zone", "compare"):
            words = f"{sentence_start(step.why)}. Do not change the name servers at the registrar before that."
        sheet.say(words, 2)
        return
    sheet.say(f"Do this, {_place(step, act, builder, host)}:")
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


_WAITS = {
    "caches": "Old answers are still kept between visitors and your domain (caches). Nobody can shorten that.",
    "absence": "Whoever asked too early remembers that nothing was there (caches). Nobody can shorten that.",
    "parent": "The old name servers are still remembered on the way between visitors and your domain (caches).",
    "certificate": "The padlock (certificate) is ordered by {builder} itself. Nobody has to be called.",
    "builder": "{builder} looks at the records by itself, now and then. Pressing its button again does not help.",
}


def _place(step: Step, act: object, builder: str, host: str) -> str:
    return {
        "builder": f"at {builder} (your website builder)",
        "DNS host": f"at {host} (where your domain's entries are)",
        "new DNS host": f"at {host} (who is to run your domain)",
        "registrar": "at the registrar (where you bought the domain)",
        "certificate authority": f"at {builder} (your website builder)",
        "here": "here",
    }[step.place]


def _show_details(sheet: Paper, act: object, step: Step) -> None:
    match act:
        case TellBuilder(names, primary):
            sheet.say(f"connect  {'  and  '.join(shown(name) for name in names)}", 2)
            if len(names) > 1:
                sheet.say(f"and make  {shown(primary)}  the main address.", 2)
        case Enter(delete, enter, _):
            if step.kind in ("lower-ttl", "raise-ttl"):
                sheet.say(step.instruction, 2)
            else:
                deeds = [counted(len(each), word) for each, word in ((delete, "delete"), (enter, "type")) if each]
                sheet.say(f"{', '.join(deeds).capitalize()}.", 2)
            sheet.say("What to copy stands in:", 2)
            sheet.value("homepath sheet", 4)
        case NameServers(servers):
            sheet.say("Replace all present name servers by exactly these, each on a line of its own:", 2)
            for server in servers:
                sheet.value(shown(server), 4)
            sheet.say("Do not delete the old zone for now: caches still ask it.", 2)
        case Forward(name, to):
            sheet.say(f"In the forwarding page, permanently (301) and with path, forward  {shown(name)}  to", 2)
            sheet.value(to, 4)
        case Decide(question, choices):
            sheet.say(question, 2)
            for choice in choices:
                sheet.blank()
                sheet.say(choice.say, 4)
                for entry in choice.loses:
                    sheet.say(f"this is lost: {entry.type} at {shown(entry.name)}", 6)
                    sheet.value(entry.value, 8)
                sheet.value(_command(choice.then), 6)
        case BuilderStep(title, instruction):
            sheet.say(title, 2)
            if instruction != title:
                sheet.say(instruction, 2)
        case CheckAgain() | PublishAgain() | HttpsOnly() | RemoveDs():
            sheet.say(step.instruction, 2)
        case AddDs(values):
            sheet.say("Enter as DS:", 2)
            for value in values:
                sheet.value(value, 4)


def _command(words: Sequence[str]) -> str:
    import shlex

    return f"homepath {shlex.join(words)}"


def _show_last(sheet: Paper, journey: Journey) -> None:
    sheet.blank()
    if journey.step is None:
        sheet.say("Nothing has to be done. Look again whenever you like: homepath next")
    elif isinstance(journey.act, Wait):
        sheet.say("Then type: homepath next     (homepath watch shows who still holds an old answer)")
    else:
        sheet.say("Afterwards type: homepath next")
