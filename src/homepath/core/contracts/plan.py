"""`homepath.plan/2` and `homepath.next/2`."""

from __future__ import annotations

from homepath.core.contracts.steps import Json, act_json, finding_json, step_json
from homepath.core.model.plan import Change, Plan
from homepath.core.model.steps import Assessment
from homepath.core.model.times import moment
from homepath.core.wording.say import say
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


def change_json(change: Change) -> Json:
    return {
        "move": change.move,
        "name": change.name,
        "type": change.type,
        "ttl": change.ttl,
        "values": list(change.values),
        "before": list(change.before),
        "purpose": change.purpose,
        "reason": say(change.reason),
    }


def plan_json(plan: Plan, assessment: Assessment) -> Json:
    return {
        "format": "homepath.plan/2",
        "domain": plan.domain,
        "primary": plan.primary,
        "route": plan.route,
        "reasons": [say(each) for each in plan.reasons],
        "open": list(plan.open),
        "redirects": None
        if plan.redirects is None
        else {
            "place": plan.redirects.place,
            "names": list(plan.redirects.names),
            "https": plan.redirects.secure,
            "reason": say(plan.redirects.reason),
            "others": [say(each) for each in plan.redirects.others],
        },
        "changes": [change_json(change) for change in plan.changes],
        "findings": [finding_json(finding) for finding in plan.findings],
        "steps": [step_json(step) for step in assessment.steps],
    }
