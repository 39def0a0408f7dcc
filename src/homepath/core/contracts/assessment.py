"""The `assessment` that every contract carries, the same in all of them for one journal at one moment; and findings,
steps, acts, `homepath.next` and `homepath.plan` as JSON."""

from __future__ import annotations

from typing import Any

from homepath.core.findings.registry import kind_of
from homepath.core.model.acts import (
    Act,
    AddDs,
    BuilderStep,
    CheckAgain,
    Choice,
    Decide,
    Enter,
    Entry,
    Forward,
    HttpsOnly,
    NameServers,
    Nothing,
    PublishAgain,
    RemoveDs,
    TellBuilder,
    Wait,
)
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Change, Plan
from homepath.core.model.steps import Assessment, Step
from homepath.core.model.times import moment, rfc3339
from homepath.core.wording.say import say
from homepath.core.wording.words import sentence, stage, where

Json = dict[str, Any]


def finding_json(finding: Finding) -> Json:
    return {
        "code": finding.code,
        "level": finding.level,
        "name": finding.name,
        "type": finding.type,
        "message": say(finding.message),
        "cure": say(finding.cure),
        "standard": finding.standard,
    }


def step_json(step: Step) -> Json:
    return {
        "id": step.id,
        "number": step.number,
        "kind": step.kind,
        "place": step.place,
        "title": say(step.title),
        "instruction": say(step.instruction),
        "expect": say(step.expect),
        "longest_wait_s": step.longest_wait,
        "way_back": say(step.way_back),
        "state": step.state,
        "since": moment(step.since),
        "by": step.by,
        "until": moment(step.until),
        "why": say(step.why),
    }


def act_json(act: Act) -> Json:
    """One act; `kind` says which, and with it which further keys there are."""
    match act:
        case Enter(delete, enter, where):
            return {
                "kind": "enter",
                "where": where,
                "delete": [_gone(entry) for entry in delete],
                "enter": [{**_gone(entry), "ttl": entry.ttl} for entry in enter],
            }
        case TellBuilder(names, primary):
            return {"kind": "tell-builder", "names": list(names), "primary": primary}
        case CheckAgain():
            return {"kind": "check-again"}
        case PublishAgain():
            return {"kind": "publish-again"}
        case HttpsOnly():
            return {"kind": "https-only"}
        case NameServers(servers):
            return {"kind": "name-servers", "servers": list(servers)}
        case RemoveDs():
            return {"kind": "remove-ds"}
        case AddDs(values):
            return {"kind": "add-ds", "values": list(values)}
        case Forward(name, to):
            return {"kind": "forward", "name": name, "to": to}
        case BuilderStep(title, instruction, _):
            return {"kind": "builder-step", "title": say(title), "instruction": say(instruction)}
        case Wait(until, cause):
            return {"kind": "wait", "until": rfc3339(until), "for": cause}
        case Decide(question, choices):
            return {"kind": "decide", "question": say(question), "choices": [_choice(each) for each in choices]}
        case Nothing():
            return {"kind": "none"}


def _gone(entry: Entry) -> Json:
    return {"name": entry.name, "type": entry.type, "value": entry.value}


def _choice(choice: Choice) -> Json:
    return {"say": say(choice.say), "then": list(choice.then), "loses": [_gone(entry) for entry in choice.loses]}


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


def assessment_json(found: Assessment) -> Json:
    return {
        "at": moment(found.at),
        "site_up": found.site_up,
        "stage": stage(found),
        "step": found.step.id if found.step else None,
        "act": act_json(found.act)["kind"],
        "wait_until": moment(found.wait_until),
        "findings": [
            {"code": each.code, "level": each.level, "name": each.name, "type": each.type, "who": kind_of(each).who}
            for each in found.findings
        ],
        "exit": found.exit,
    }


def with_assessment(value: Json, found: Assessment) -> Json:
    """A contract's object with the assessment behind its first keys; findings in it are at their final levels, with
    the cure that holds now."""
    judged = found.judged
    lists = (value.get(key) for key in ("findings", "because", "worth_knowing"))
    for each in (each for some in lists if isinstance(some, list) for each in some):
        if now := judged.get((each["code"], each["name"], each["type"])):
            each.update(level=now.level, cure=say(now.cure))
    first: Json = {key: value[key] for key in ("format", "domain") if key in value}
    return {**first, "assessment": assessment_json(found), **value}
