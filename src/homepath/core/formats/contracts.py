"""The machine-readable contracts: plan, survey, watch, visit, next as plain JSON values.

Names absolute with the final dot, TTLs in seconds, times RFC 3339 in UTC. Schemas: docs/schemas/.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from homepath.core.model.findings import Finding
from homepath.core.model.path import Next
from homepath.core.model.plan import Change, Plan, Purpose, Step
from homepath.core.model.readings import Reading, RecordSpread, Spread
from homepath.core.model.records import RecordSet
from homepath.core.model.survey import Delegation, Seen, ServerSeen, Survey
from homepath.core.model.times import from_rfc3339, rfc3339
from homepath.core.model.visits import Certificate, Hop, Visit, Way

Json = dict[str, Any]
PurposeOf = Callable[[RecordSet], Purpose]


def finding_json(finding: Finding) -> Json:
    return {
        "code": finding.code,
        "level": finding.level,
        "name": finding.name,
        "type": finding.type,
        "message": finding.message,
        "cure": finding.cure,
        "standard": finding.standard,
    }


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
        "changes": [_change(change) for change in plan.changes],
        "findings": [finding_json(finding) for finding in plan.findings],
        "steps": [_step(step) for step in plan.steps],
    }


def _seen(seen: Seen, purpose: Purpose) -> Json:
    record = seen.record
    return {
        "name": record.name,
        "type": record.type,
        "ttl": record.ttl,
        "values": list(record.values),
        "purpose": purpose,
        "sources": list(seen.sources),
    }


def survey_json(survey: Survey, purpose_of: PurposeOf, findings: tuple[Finding, ...] = ()) -> Json:
    """The survey; sets outside the domain (CAA above it or at alias targets) come last among the records."""
    delegation = survey.delegation
    return {
        "format": "homepath.survey/1",
        "domain": survey.domain,
        "at": rfc3339(survey.at),
        "servers": [
            {"name": each.name, "address": each.address, "state": each.state, "serial": each.serial}
            for each in survey.servers
        ],
        "delegation": {
            "parent": delegation.parent,
            "servers": list(delegation.servers),
            "ttl": delegation.ttl,
            "signed": delegation.signed,
        }
        if delegation
        else None,
        "registration": None,
        "records": [_seen(seen, purpose_of(seen.record)) for seen in survey.records]
        + [_seen(seen, "certificates") for seen in survey.outside],
        "blind_spots": list(survey.blind_spots),
        "findings": [finding_json(finding) for finding in findings],
    }


def survey_from_json(data: Json) -> Survey:
    """The survey that `survey_json` wrote. Raises KeyError, TypeError or ValueError on anything else."""
    domain = data["domain"]
    seen = [
        Seen(RecordSet(r["name"], r["type"], r["ttl"], tuple(r["values"])), tuple(r["sources"]))
        for r in data["records"]
    ]
    inside = [each for each in seen if each.record.name == domain or each.record.name.endswith("." + domain)]
    d = data["delegation"]
    return Survey(
        domain,
        from_rfc3339(data["at"]),
        tuple(ServerSeen(s["name"], s["address"], s["state"], s["serial"]) for s in data["servers"]),
        Delegation(d["parent"], tuple(d["servers"]), d["ttl"], d["signed"]) if d else None,
        tuple(inside),
        tuple(each for each in seen if each not in inside),
        tuple(data["blind_spots"]),
    )


def _moment(at: float | None) -> str | None:
    return None if at is None else rfc3339(at)


def _reading(reading: Reading) -> Json:
    return {
        "vantage": reading.vantage,
        "role": reading.role,
        "state": reading.state,
        "values": list(reading.values),
        "ttl": reading.ttl,
        "at": rfc3339(reading.at),
    }


def _record_spread(spread: RecordSpread) -> Json:
    return {
        "name": spread.name,
        "type": spread.type,
        "verdict": spread.verdict,
        "settled_by": _moment(spread.settled_by),
        "readings": [_reading(reading) for reading in spread.readings],
    }


def watch_json(spread: Spread) -> Json:
    return {
        "format": "homepath.watch/1",
        "domain": spread.domain,
        "verdict": spread.verdict,
        "settled_by": _moment(spread.settled_by),
        "records": [_record_spread(record) for record in spread.records],
        "findings": [finding_json(finding) for finding in spread.findings],
    }


def _certificate(seen: Certificate | None) -> Json | None:
    if seen is None:
        return None
    return {
        "state": seen.state,
        "covers": seen.covers,
        "names": list(seen.names),
        "issuer": seen.issuer,
        "not_after": _moment(seen.not_after),
    }


def _hop(hop: Hop) -> Json:
    return {"url": hop.url, "status": hop.status, "location": hop.location, "address": hop.address}


def _way(way: Way) -> Json:
    return {
        "url": way.url,
        "final_url": way.final_url,
        "state": way.state,
        "hops": [_hop(hop) for hop in way.hops],
        "certificate": _certificate(way.certificate),
    }


def visit_json(visit: Visit) -> Json:
    return {
        "format": "homepath.visit/1",
        "domain": visit.domain,
        "primary_url": visit.primary_url,
        "verdict": visit.verdict,
        "ways": [_way(way) for way in visit.ways],
        "findings": [finding_json(finding) for finding in visit.findings],
    }


def next_json(thing: Next) -> Json:
    return {
        "format": "homepath.next/1",
        "domain": thing.domain,
        "stage": thing.stage,
        "do": thing.do,
        "where": thing.where,
        "wait_until": _moment(thing.wait_until),
        "because": [finding_json(finding) for finding in thing.because],
    }
