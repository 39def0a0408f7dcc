"""`homepath.many/1`: one line for one domain of a list."""

from __future__ import annotations

from typing import Any, Literal

from homepath.core.contracts.assessment import Json, act_json, assessment_json, finding_json
from homepath.core.dns.names import Name
from homepath.core.model.findings import worst_first
from homepath.core.model.steps import Assessment
from homepath.core.model.times import moment, rfc3339
from homepath.core.wording.words import sentence, stage, where

FORMAT = "homepath.many/1"
UNKNOWN = "unknown"
"""The stage and the verdict of a domain that could not be checked."""
Verdict = Literal["as-wanted", "not-yet", "bad-input", "wrong", "unknown"]
OF_EXIT: dict[int, Verdict] = {0: "as-wanted", 1: "not-yet", 3: "wrong", 4: "unknown"}


def standing_json(assessment: Assessment, looked_at: float, next_look: float) -> Json:
    """One domain's line."""
    verdict = OF_EXIT[assessment.exit]
    act = assessment.act
    told = worst_first([*assessment.because, *assessment.notes])
    return {
        "format": FORMAT,
        "domain": assessment.domain,
        "stage": stage(assessment),
        "do": sentence(assessment),
        "where": where(assessment),
        "act": act_json(act),
        "wait_until": moment(assessment.wait_until),
        "verdict": verdict,
        "worst": finding_json(told[0]) if told else None,
        "changed": True,
        "since": rfc3339(looked_at),
        "looked_at": rfc3339(looked_at),
        "next_look": rfc3339(next_look),
        "trouble": "",
        "assessment": assessment_json(assessment),
    }


def unknown_json(domain: Name, trouble: str, verdict: Verdict, looked_at: float, next_look: float) -> Json:
    """A domain of which nothing can be said now, and why; `act` and `assessment` are null then."""
    return {
        "format": FORMAT,
        "domain": domain,
        "stage": UNKNOWN,
        "do": "",
        "where": "here",
        "act": None,
        "wait_until": None,
        "verdict": verdict,
        "worst": None,
        "changed": True,
        "since": rfc3339(looked_at),
        "looked_at": rfc3339(looked_at),
        "next_look": rfc3339(next_look),
        "trouble": trouble,
        "assessment": None,
    }


def differs(before: Json | None, after: Json) -> bool:
    """Whether someone who knows the one line wants to hear of the other: anything but its moments."""
    return before is None or _said(before) != _said(after)


def _said(line: Json) -> list[Any]:
    act = {key: value for key, value in (line["act"] or {}).items() if key != "until"}
    worst = line["worst"] or {}
    return [line["stage"], line["verdict"], act, [worst.get(key) for key in ("code", "name", "type")]]
