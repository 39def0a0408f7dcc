"""The journeys of a site's domains as one: its main domain and those that only lead there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from homepath.core.model.acts import Nothing, Wait
from homepath.core.model.names import shown
from homepath.core.model.steps import Journey, Step


def joined(journeys: Sequence[Journey]) -> Journey:
    """One list of steps, one of them now. What can be done comes before what is waited for, the main domain first;
    of waits the one that ends first."""
    main = journeys[0]
    if len(journeys) == 1:
        return main
    chosen = _chosen(journeys)
    steps: list[Step] = []
    for journey in journeys:
        steps += [_of(step, journey, main, journey is chosen) for step in journey.steps]
    counted = [step for step in steps if step.state != "left-out"]
    numbers = {step.id: number for number, step in enumerate(counted, 1)}
    ordered = [*counted, *(step for step in steps if step.state == "left-out")]
    numbered = tuple(replace(step, number=numbers.get(step.id)) for step in ordered)
    current = None
    if chosen.step is not None:
        current = next(step for step in numbered if step.id == _id(chosen.step.id, chosen, main))
    notes = tuple(dict.fromkeys(note for journey in journeys for note in journey.notes))
    further = None if chosen is main else chosen.domain
    return Journey(
        domain=main.domain,
        steps=numbered,
        step=current,
        act=chosen.act,
        because=chosen.because,
        notes=notes,
        open_acts=tuple((_id(key, each, main), act) for each in journeys for key, act in each.open_acts),
        going=main.going,
        further=further,
    )


def _chosen(journeys: Sequence[Journey]) -> Journey:
    blocked = [each for each in journeys if each.blocked]
    doing = [each for each in journeys if not isinstance(each.act, Wait | Nothing)]
    waiting = [each for each in journeys if isinstance(each.act, Wait)]
    waiting.sort(key=lambda each: each.act.until if isinstance(each.act, Wait) else 0.0)
    return next(iter([*blocked, *doing, *waiting, *journeys]))


def _id(step_id: str, journey: Journey, main: Journey) -> str:
    """A further domain's steps carry its name, so that no id is there twice."""
    return step_id if journey is main else f"{step_id}@{shown(journey.domain)}"


def _of(step: Step, journey: Journey, main: Journey, chosen: bool) -> Step:
    title = step.title if journey is main else f"{step.title} ({shown(journey.domain)})"
    step = replace(step, id=_id(step.id, journey, main), title=title)
    if step.state in ("now", "waiting") and not chosen:
        return replace(step, state="ahead", until=None)
    return step
