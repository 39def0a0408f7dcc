"""`homepath.many/1`: one line for one domain of a list."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from homepath.core.contracts.assessment import Json, act_json, assessment_json, finding_json
from homepath.core.dns.names import Name
from homepath.core.findings.registry import KINDS
from homepath.core.model.findings import worst_first
from homepath.core.model.steps import Assessment
from homepath.core.model.times import moment, rfc3339
from homepath.core.wording.words import sentence, stage, where

FORMAT = "homepath.many/1"
UNKNOWN = "unknown"
"""The stage and the verdict of a domain that could not be checked."""
Verdict = Literal["as-wanted", "not-yet", "bad-input", "wrong", "unknown"]
OF_EXIT: dict[int, Verdict] = {0: "as-wanted", 1: "not-yet", 3: "wrong", 4: "unknown"}


def standing_json(assessment: Assessment, looked_at: float, next_look: float, host: str, builder: str) -> Json:
    """One domain's line. `host`: who runs its nameservers, "" where that is not known."""
    verdict = OF_EXIT[assessment.exit]
    act = assessment.act
    findings = worst_first([*assessment.because, *assessment.notes])
    return {
        "format": FORMAT,
        "domain": assessment.domain,
        "stage": stage(assessment),
        "do": sentence(assessment),
        "where": where(assessment),
        "host": host,
        "builder": builder,
        "act": act_json(act),
        "wait_until": moment(assessment.wait_until),
        "verdict": verdict,
        "worst": finding_json(findings[0]) if findings else None,
        "changed": True,
        "since": rfc3339(looked_at),
        "looked_at": rfc3339(looked_at),
        "next_look": rfc3339(next_look),
        "trouble": "",
        "assessment": assessment_json(assessment),
    }


def unknown_json(
    domain: Name, trouble: str, verdict: Verdict, looked_at: float, next_look: float, host: str = "", builder: str = ""
) -> Json:
    """A domain of which nothing can be said now, and why; `act` and `assessment` are null then."""
    return {
        "format": FORMAT,
        "domain": domain,
        "stage": UNKNOWN,
        "do": "",
        "where": "here",
        "host": host,
        "builder": builder,
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


def summary_of(line: Mapping[str, Any]) -> Json:
    """What there is to say of a change: the line's state, without its moments and sentences."""
    act, worst = line["act"] or {}, line["worst"] or {}
    return {
        "verdict": line["verdict"],
        "stage": line["stage"],
        "act": act.get("kind"),
        "finding": worst.get("code"),
        "level": worst.get("level"),
    }


def cause_of(line: Mapping[str, Any]) -> Json | None:
    """What domains may have in common that are in a bad state at the same moment, and at whom; None for good news."""
    if line["verdict"] not in ("wrong", UNKNOWN):
        return None
    worst = line["worst"] or {}
    code = str(worst.get("code") or UNKNOWN)
    who = KINDS[code].who if code in KINDS else "dns-host"
    at = {"builder": line["builder"], "registrar": "the registrar"}.get(who, line["host"])
    first = str(line["trouble"]).split(". ")[0].removesuffix(".")
    answer = first.replace(str(line["domain"]).removesuffix("."), "the domain") if code == UNKNOWN else ""
    return {"code": code, "at": at or "", "who": who, "said": answer}


@dataclass(frozen=True, slots=True)
class Cause:
    """What several domains have in common that broke together. `code`: the finding, or `unknown`, and then `answer`:
    why they could not be checked, without their names; `at`: at whom, "" where that is not known."""

    code: str
    at: str
    who: str
    answer: str
    lines: tuple[Json, ...]


def by_cause(lines: Iterable[Json]) -> tuple[list[Cause], list[Json]]:
    """Causes with more than one domain, the largest first; and the lines that stand alone."""
    groups: dict[tuple[str, str, str, str], list[Json]] = {}
    alone: list[Json] = []
    for line in lines:
        cause = cause_of(line)
        if cause is None:
            alone.append(line)
        else:
            groups.setdefault((cause["code"], cause["at"], cause["who"], cause["said"]), []).append(line)
    causes = [Cause(*key, tuple(some)) for key, some in groups.items() if len(some) > 1]
    alone += [some[0] for some in groups.values() if len(some) == 1]
    return sorted(causes, key=lambda each: (-len(each.lines), each.code, each.at)), alone


def differs(before: Json | None, after: Json) -> bool:
    """Whether someone who knows the one line wants to hear of the other: anything but its moments."""
    return before is None or _said(before) != _said(after)


def _said(line: Json) -> list[Any]:
    act = {key: value for key, value in (line["act"] or {}).items() if key != "until"}
    worst = line["worst"] or {}
    return [line["stage"], line["verdict"], act, [worst.get(key) for key in ("code", "name", "type")]]
