"""`homepath.plan/1`"""

from __future__ import annotations

from homepath.core.formats.contracts.finding import Json, finding_json
from homepath.core.model.plan import Change, Plan, Step


def _change(change: Change) -> Json:
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


def _step(step: Step) -> Json:
    return {
        "number": step.number,
        "kind": step.kind,
        "place": step.place,
        "title": step.title,
        "instruction": step.instruction,
        "expect": step.expect,
        "longest_wait_s": step.longest_wait,
        "way_back": step.way_back,
    }


def plan_json(plan: Plan) -> Json:
    return {
        "format": "homepath.plan/1",
        "domain": plan.domain,
        "primary": plan.primary,
        "route": plan.route,
        "redirects": None
        if plan.redirects is None
        else {
            "place": plan.redirects.place,
            "names": list(plan.redirects.names),
            "https": plan.redirects.secure,
            "reason": plan.redirects.reason,
            "others": list(plan.redirects.others),
        },
        "changes": [_change(change) for change in plan.changes],
        "findings": [finding_json(finding) for finding in plan.findings],
        "steps": [_step(step) for step in plan.steps],
    }
