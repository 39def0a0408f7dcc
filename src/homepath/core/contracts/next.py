"""`homepath.next/2`"""

from __future__ import annotations

from homepath.core.contracts.finding import Json, finding_json
from homepath.core.contracts.steps import act_json, step_json
from homepath.core.model.steps import Assessment
from homepath.core.model.times import moment
from homepath.core.wording.words import sentence, stage, where


def next_json(assessment: Assessment) -> Json:
    act = assessment.act
    return {
        "format": "homepath.next/2",
        "domain": assessment.domain,
        "stage": stage(assessment),
        "do": sentence(assessment),
        "where": where(assessment),
        "act": act_json(act),
        "step": step_json(assessment.step) if assessment.step else None,
        "steps": [step_json(step) for step in assessment.steps],
        "wait_until": moment(assessment.wait_until),
        "because": [finding_json(finding) for finding in assessment.because],
        "worth_knowing": [finding_json(finding) for finding in assessment.notes],
    }
