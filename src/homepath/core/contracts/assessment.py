"""The `assessment` that every contract carries: the same in all of them for one journal at one moment."""

from __future__ import annotations

from homepath.core.contracts.steps import Json, act_json
from homepath.core.findings.registry import kind_of
from homepath.core.model.steps import Assessment
from homepath.core.model.times import moment
from homepath.core.wording.words import stage


def assessment_json(found: Assessment) -> Json:
    return {
        "at": moment(found.at),
        "site_up": found.site_up,
        "stage": stage(found),
        "step": found.step.id if found.step else None,
        "act": act_json(found.act)["kind"],
        "wait_until": moment(found.wait_until),
        "findings": [
            {
                "code": each.code,
                "level": each.level,
                "name": each.name,
                "type": each.type,
                "who": kind_of(each).who,
            }
            for each in found.findings
        ],
        "exit": found.exit,
    }


def with_assessment(value: Json, found: Assessment) -> Json:
    """A contract's object with the assessment behind its first keys; findings in it are at their final levels."""
    levels = found.levels
    lists = (value.get(key) for key in ("findings", "because", "worth_knowing"))
    for each in (each for some in lists if isinstance(some, list) for each in some):
        each["level"] = levels.get((each["code"], each["name"], each["type"]), each["level"])
    first: Json = {key: value[key] for key in ("format", "domain") if key in value}
    return {**first, "assessment": assessment_json(found), **value}
