"""`homepath.survey/1`, written and read back from the journal."""

from __future__ import annotations

from collections.abc import Callable

from homepath.core.formats.contracts.finding import Json, finding_json
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Purpose
from homepath.core.model.records import RecordSet
from homepath.core.model.survey import Delegation, Seen, ServerSeen, Survey

PurposeOf = Callable[[RecordSet], Purpose]


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


def survey_from_json(data: Json, at: float) -> Survey:
    """The survey of moment `at` that `survey_json` wrote. Raises KeyError, TypeError or ValueError on anything else."""
    domain = data["domain"]
    seen = [
        Seen(RecordSet(r["name"], r["type"], r["ttl"], tuple(r["values"])), tuple(r["sources"]))
        for r in data["records"]
    ]
    inside = [each for each in seen if each.record.name == domain or each.record.name.endswith("." + domain)]
    d = data["delegation"]
    return Survey(
        domain,
        at,
        tuple(ServerSeen(s["name"], s["address"], s["state"], s["serial"]) for s in data["servers"]),
        Delegation(d["parent"], tuple(d["servers"]), d["ttl"], d["signed"]) if d else None,
        tuple(inside),
        tuple(each for each in seen if each not in inside),
        tuple(data["blind_spots"]),
    )
