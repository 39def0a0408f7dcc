"""`homepath.plan/2`"""

from __future__ import annotations

from homepath.core.contracts.finding import Json, finding_json
from homepath.core.contracts.steps import step_json
from homepath.core.model.plan import Change, Plan
from homepath.core.model.steps import Assessment


def change_json(change: Change) -> Json:
    return {
        "move": change.move,
        "name": change.name,
        "type": change.type,
        "ttl": change.ttl,
        "values": list(change.values),
        "before": list(change.before),
        "purpose": change.purpose,
        "reason": change.reason,
    }


def plan_json(plan: Plan, assessment: Assessment) -> Json:
    return {
        "format": "homepath.plan/2",
        "domain": plan.domain,
        "primary": plan.primary,
        "route": plan.route,
        "reasons": list(plan.reasons),
        "open": list(plan.open),
        "redirects": None
        if plan.redirects is None
        else {
            "place": plan.redirects.place,
            "names": list(plan.redirects.names),
            "https": plan.redirects.secure,
            "reason": plan.redirects.reason,
            "others": list(plan.redirects.others),
        },
        "changes": [change_json(change) for change in plan.changes],
        "findings": [finding_json(finding) for finding in plan.findings],
        "steps": [step_json(step) for step in assessment.steps],
    }
