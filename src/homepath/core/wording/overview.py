"""The assessment in words, once for terminal and page: the site, its steps, the act, and why."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from homepath.core.dns.names import shown
from homepath.core.findings.registry import KINDS
from homepath.core.model.acts import Act, BuilderStep, Enter, Nothing, TellBuilder, Wait
from homepath.core.model.domain import shown_unicode
from homepath.core.model.findings import Finding
from homepath.core.model.steps import Assessment, Step, StepState
from homepath.core.wording.act_words import ENDS, Part, act_parts, place_words, wait_words
from homepath.core.wording.say import say
from homepath.core.wording.words import by_cause, only_confirmed, sentence_of, site_words

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
    planned = _planned(assessment)
    waits, over = isinstance(act, Wait), step is None or isinstance(act, Nothing)
    return Overview(
        name=name,
        spelled=shown(assessment.domain) if name != shown(assessment.domain) else "",
        site=site_words(assessment),
        arrived=ENDS[assessment.going] if step is None else "",
        number=step.number or 0 if step else 0,
        count=len(counted),
        steps=tuple(_line(each) for each in counted),
        danger=noticed([each for each in assessment.because if each.level == "blocker"]),
        place=place_words(step, builder, host) if step and not waits and not over else "",
        until=act.until if isinstance(act, Wait) else None,
        act=tuple(_parts(act, step, builder)) if step else (),
        note=_note(act, step) if step else "",
        copy="homepath sheet" if isinstance(act, Enter) else "",
        done=f"homepath next --done {step.id}" if step and only_confirmed(act) else "",
        why=noticed(
            [each for each in assessment.because if each.level != "blocker" and not (waits and each in planned)]
        ),
        notes=noticed([each for each in assessment.notes if each not in planned]),
        planned=noticed(
            [each for each in (*(assessment.because if waits else ()), *assessment.notes) if each in planned]
        ),
    )


def _planned(assessment: Assessment) -> list[Finding]:
    """What a step of the list, ahead or waited for, says already; and what has time until the end."""
    there = {step.kind for step in assessment.steps if step.state != "left-out"}
    ahead = {step.kind for step in assessment.steps if step.state in ("waiting", "ahead")}
    return [
        each
        for each in (*assessment.because, *assessment.notes)
        if (kind := KINDS[each.code]).said_by in there
        or (kind.fixed_by in ahead and not kind.by_records)
        or (kind.at_the_end and not assessment.arrived)
    ]


def noticed(findings: Sequence[Finding]) -> tuple[Noticed, ...]:
    return tuple(Noticed(sentence_of(group), say(group[0].cure), code) for code, group in by_cause(findings))


def _line(step: Step) -> StepLine:
    return StepLine(step, step.number or 0, STEP_WORDS.get(step.state, ""), say(step.title), step.by == "told")


def _parts(act: Act, step: Step, builder: str) -> Iterator[Part]:
    if isinstance(act, Wait):
        yield Part(wait_words(act, step, builder))
    else:
        yield from act_parts(act, step)


def _note(act: Act, step: Step) -> str:
    """What was seen, or what to expect of an act that shows nothing; without what the act itself says already."""
    if isinstance(act, Wait | BuilderStep) or step.kind in ("put-back", "carry"):
        return ""
    return say(step.why) or (say(step.expect) if isinstance(act, TellBuilder) else "")
