"""`homepath.next/2`"""

from __future__ import annotations

from homepath.core.formats.contracts.finding import Json, finding_json
from homepath.core.formats.contracts.journey import act_json, step_json
from homepath.core.formats.words import sentence, stage, where
from homepath.core.model.acts import Wait
from homepath.core.model.steps import Journey
from homepath.core.model.times import moment


def next_json(journey: Journey) -> Json:
    act = journey.act
    return {
        "format": "homepath.next/2",
        "domain": journey.domain,
        "stage": stage(journey),
        "do": sentence(journey),
        "where": where(journey),
        "act": act_json(act),
        "step": step_json(journey.step) if journey.step else None,
        "steps": [step_json(step) for step in journey.steps],
        "wait_until": moment(act.until) if isinstance(act, Wait) else None,
        "because": [finding_json(finding) for finding in journey.because],
        "worth_knowing": [finding_json(finding) for finding in journey.notes],
    }
