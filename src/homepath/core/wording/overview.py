"""The assessment in words, once for terminal and page: the site, its steps, the act and its records, and why."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from homepath.core.dns.names import shown
from homepath.core.findings.registry import KINDS
from homepath.core.message import Text
from homepath.core.model.acts import (
    Act,
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
from homepath.core.model.brief import NO_NOTATION
from homepath.core.model.domain import shown_unicode
from homepath.core.model.findings import Finding
from homepath.core.model.steps import Assessment, Step, StepState
from homepath.core.wording.say import say
from homepath.core.wording.times import sentence_start
from homepath.core.wording.words import (
    UNNAMED_BUILDER,
    about,
    by_cause,
    only_confirmed,
    sentence_of,
    site_words,
    to_enter,
)

ENDS = {
    "there": "has arrived: every address ends at your site.",
    "back": "is back to the records from before the change.",
    "away": "has left: no record points to the builder any more.",
}


WAITS = {
    "caches": "Some caches can still hold the old records. Nothing can speed that up.",
    "absence": "Some caches can still remember that there was no record. Nothing can speed that up.",
    "parent": "Some caches can still use the old nameservers. Nothing can speed that up.",
    "certificate": "{builder} requests the certificate automatically.",
    "builder": "{builder} checks the records automatically, now and then. Pressing its button again does not help.",
}


WAIT_FOR_DS = "Some caches can still hold the DS record. Nothing can speed that up."


def wait_words(act: Wait, step: Step, builder: str) -> str:
    """Why there is nothing to do but wait."""
    if step.kind in ("new-zone", "compare"):
        return f"{full_sentence(step.why)} Do not change the nameservers at the registrar before that."
    if step.kind == "check-again" and step.why:
        held = "" if act.cause == "builder" else f" {WAITS[act.cause]}"
        return f"{full_sentence(step.why)}{held}"
    return WAIT_FOR_DS if step.kind == "wait-ds" else WAITS[act.cause].format(builder=builder)


def place_words(assessment: Assessment, step: Step, builder: str, host: str) -> str:
    """Where the step of now is done, and for which domain where it is not the main one, as someone would say it."""
    at_builder = f"at {builder} (your site builder)" if builder != UNNAMED_BUILDER else "at your site builder"
    place = {
        "builder": at_builder,
        "DNS host": f"at {host} (your DNS host)" if host != NO_NOTATION.host else "at your DNS host",
        "new DNS host": f"at {host} (your new DNS host)",
        "registrar": "at the registrar (where you bought the domain)",
        "certificate authority": at_builder,
        "here": "here",
    }[step.place]
    return f"{place}, for {shown(assessment.further)}" if assessment.further else place


@dataclass(frozen=True, slots=True)
class Part:
    """One line of what to do. `copy`: a value to copy, alone on its line, never wrapped or changed;
    `level`: how far it is in."""

    text: str
    copy: bool = False
    level: int = 1


def act_parts(act: Act, step: Step, said: Sequence[Text] = ()) -> Iterator[Part]:
    """What is to be done, line by line. `said`: what the same screen says already."""
    match act:
        case TellBuilder(names, primary):
            yield Part(f"connect  {'  and  '.join(shown(name) for name in names)}")
            if len(names) > 1:
                yield Part(f"and make  {shown(primary)}  the primary address.")
        case Enter():
            if step.kind in ("lower-ttl", "raise-ttl"):
                yield Part(say(step.instruction))
            else:
                yield Part(f"{sentence_start(to_enter(*act.counts))}.")
        case NameServers(servers):
            yield Part("Replace all nameservers with exactly these, one per line:")
            for server in servers:
                yield Part(shown(server), True, 2)
            yield Part("Do not delete the old zone yet: caches still query it.")
        case Forward(name, to):
            yield Part(f"On the forwarding page, forward  {shown(name)}  permanently (301), with the path, to")
            yield Part(to, True, 2)
        case Decide(question, choices):
            yield Part(say(question) if question not in said else "Choose one of these.")
            for choice in choices:
                yield Part("")
                yield Part(say(choice.say), level=2)
                for entry in choice.loses:
                    yield Part(f"you lose {entry.type} at {shown(entry.name)}", level=3)
                    yield Part(entry.value, True, 4)
                yield Part(command(choice.then), True, 3)
        case BuilderStep(title, instruction, _):
            yield Part(full_sentence(title))
            if instruction != title:
                yield Part(say(instruction))
        case CheckAgain() | PublishAgain() | HttpsOnly() | RemoveDs():
            yield Part(say(step.instruction))
        case AddDs(values):
            yield Part("Enter this DS record:")
            for value in values:
                yield Part(value, True, 2)


def full_sentence(text: Text) -> str:
    """With a capital and a final dot."""
    words = sentence_start(say(text))
    return words if words.endswith((".", "?", "!", ":")) else f"{words}."


def command(words: Sequence[str]) -> str:
    """A command as it is typed."""
    import shlex

    return f"homepath {shlex.join(words)}"


STEP_WORDS: dict[StepState, str] = {
    "done": "done",
    "now": "now",
    "waiting": "wait",
    "ahead": "later",
    "undone": "undone",
}


@dataclass(frozen=True, slots=True)
class StepLine:
    """`confirmed`: that it is done is what the person said."""

    step: Step
    number: int
    word: str
    title: str
    confirmed: bool


@dataclass(frozen=True, slots=True)
class Noticed:
    """One cause, for all names that show it."""

    words: str
    cure: str
    code: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Overview:
    """`spelled`: the name in DNS, where it is not the one shown. `place`: where the act is done, empty for a wait and
    at the end. `until`: the end of the wait. `command`: what to run once the act is done, where that cannot be seen, or
    to see what to copy."""

    name: str
    spelled: str
    site: str
    arrived: str
    number: int
    count: int
    steps: tuple[StepLine, ...]
    danger: tuple[Noticed, ...]
    place: str
    until: float | None
    bounded: bool
    act: tuple[Part, ...]
    note: str
    copy: str
    done: str
    why: tuple[Noticed, ...]
    notes: tuple[Noticed, ...]
    planned: tuple[Noticed, ...]
    """What is worth knowing too, and what a step of the list says already."""


def overview(assessment: Assessment, builder: str, host: str) -> Overview:
    """`host`: who runs the form in which records are entered now."""
    act, step = assessment.act, assessment.step
    name = shown_unicode(assessment.domain)
    counted = [each for each in assessment.steps if each.number is not None]
    planned = planned_of(assessment, (*assessment.because, *assessment.notes))
    waits, over = isinstance(act, Wait), step is None or isinstance(act, Nothing)
    return Overview(
        name=name,
        spelled=shown(assessment.domain) if name != shown(assessment.domain) else "",
        site=site_words(assessment),
        arrived=ENDS[assessment.going] if step is None else "",
        number=step.number or 0 if step else 0,
        count=len(counted),
        steps=tuple(_line(each) for each in counted),
        danger=noticed(assessment.blockers),
        place=place_words(assessment, step, builder, host) if step and not waits and not over else "",
        until=act.until if isinstance(act, Wait) else None,
        bounded=isinstance(act, Wait) and act.bounded,
        act=tuple(_parts(act, step, builder, [each.message for each in assessment.blockers])) if step else (),
        note=_note(act, step) if step else "",
        copy=about(assessment, "homepath sheet") if isinstance(act, Enter) else "",
        done=f"homepath next --done {step.id}" if step and only_confirmed(act) else "",
        why=noticed(
            [each for each in assessment.because if each.level != "blocker" and not (waits and each in planned)]
        ),
        notes=noticed([each for each in assessment.notes if each not in planned]),
        planned=noticed(
            [each for each in (*(assessment.because if waits else ()), *assessment.notes) if each in planned]
        ),
    )


def planned_of(assessment: Assessment, findings: Iterable[Finding]) -> list[Finding]:
    """What a step of the list, ahead or waited for, says already; and what has time until the end."""
    there = {step.kind for step in assessment.steps if step.state != "left-out"}
    ahead = {step.kind for step in assessment.steps if step.state in ("waiting", "ahead")}
    return [
        each
        for each in findings
        if (kind := KINDS[each.code]).said_by in there
        or (kind.fixed_by in ahead and not kind.by_records)
        or (kind.at_the_end and not assessment.arrived)
    ]


def noticed(findings: Sequence[Finding]) -> tuple[Noticed, ...]:
    return tuple(Noticed(sentence_of(group), say(group[0].cure), code) for code, group in by_cause(findings))


def _line(step: Step) -> StepLine:
    return StepLine(step, step.number or 0, STEP_WORDS.get(step.state, ""), say(step.title), step.by == "told")


def _parts(act: Act, step: Step, builder: str, said: Sequence[Text]) -> Iterator[Part]:
    if isinstance(act, Wait):
        yield Part(wait_words(act, step, builder))
    else:
        yield from act_parts(act, step, said)


def _note(act: Act, step: Step) -> str:
    """What was seen, or what to expect of an act that shows nothing; without what the act itself says already."""
    if isinstance(act, Wait | BuilderStep) or step.kind in ("put-back", "carry"):
        return ""
    if isinstance(act, Decide) and step.kind == "check-again":
        return ""  # the question is what would show it
    return full_sentence(step.why) if step.why else say(step.expect) if isinstance(act, TellBuilder) else ""
