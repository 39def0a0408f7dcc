"""Findings, STEP and ACT, as the contracts hold them."""

from __future__ import annotations

from typing import Any

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
from homepath.core.model.steps import Step
from homepath.core.model.times import moment, rfc3339
from homepath.core.wording.say import say

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
        case BuilderStep(title, instruction):
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
