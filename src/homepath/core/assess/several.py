"""The assessments of a site's domains as one: its main domain and those that only lead there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from homepath.core.dns.names import shown
from homepath.core.message import msg
from homepath.core.model.acts import Act, Decide, Nothing, Wait
from homepath.core.model.findings import worst_first
from homepath.core.model.steps import Assessment, Step


def joined(assessments: Sequence[Assessment]) -> Assessment:
    """One list of steps, one of them now. What can be done comes before what is waited for, the main domain first;
    of waits the one that ends first."""
    main = assessments[0]
    if len(assessments) == 1:
        return main
    chosen = _chosen(assessments)
    steps: list[Step] = []
    for assessment in assessments:
        steps += [_of(step, assessment, main, assessment is chosen) for step in assessment.steps]
    counted = [step for step in steps if step.state != "left-out"]
    numbers = {step.id: number for number, step in enumerate(counted, 1)}
    ordered = [*counted, *(step for step in steps if step.state == "left-out")]
    numbered = tuple(replace(step, number=numbers.get(step.id)) for step in ordered)
    current = None
    if chosen.step is not None:
        current = next(step for step in numbered if step.id == _id(chosen.step.id, chosen, main))
    notes = tuple(dict.fromkeys(note for assessment in assessments for note in assessment.notes))
    further = None if chosen is main else chosen.domain
    return Assessment(
        domain=main.domain,
        steps=numbered,
        step=current,
        act=_act_of(chosen, main),
        at=max(each.at for each in assessments),
        primary_url=main.primary_url,
        site_up=main.site_up,
        findings=tuple(worst_first([each for every in assessments for each in every.findings])),
        unchecked=main.unchecked,
        because=chosen.because,
        notes=notes,
        open_acts=tuple((_id(key, each, main), act) for each in assessments for key, act in each.open_acts),
        going=main.going,
        further=further,
    )


def _act_of(chosen: Assessment, main: Assessment) -> Act:
    """The act; what the owner says about a further domain is said with its name."""
    act = chosen.act
    if chosen is main or not isinstance(act, Decide):
        return act
    named = ("--domain", shown(chosen.domain))
    about_it = ("builder:", "none:")
    choices = [
        replace(each, then=(*each.then, *named)) if each.then[-1].startswith(about_it) else each for each in act.choices
    ]
    return replace(act, choices=tuple(choices))


def _chosen(assessments: Sequence[Assessment]) -> Assessment:
    blocked = [each for each in assessments if each.blocked]
    doing = [each for each in assessments if not isinstance(each.act, Wait | Nothing)]
    waiting = [each for each in assessments if isinstance(each.act, Wait)]
    waiting.sort(key=lambda each: each.act.until if isinstance(each.act, Wait) else 0.0)
    return next(iter([*blocked, *doing, *waiting, *assessments]))


def _id(step_id: str, assessment: Assessment, main: Assessment) -> str:
    """A further domain's steps carry its name, so that no id is there twice."""
    return step_id if assessment is main else f"{step_id}@{shown(assessment.domain)}"


def _of(step: Step, assessment: Assessment, main: Assessment, chosen: bool) -> Step:
    title = step.title if assessment is main else msg("of-domain", title=step.title, domain=assessment.domain)
    step = replace(step, id=_id(step.id, assessment, main), title=title)
    if step.state in ("now", "waiting") and not chosen:
        return replace(step, state="ahead", until=None)
    return step
