"""`homepath.survey/1`."""

from __future__ import annotations

from collections.abc import Callable

from homepath.core.contracts.steps import Json, finding_json
from homepath.core.dns.records import RecordSet
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Purpose
from homepath.core.model.survey import Registration, Seen, Survey
from homepath.core.model.times import moment
from homepath.core.wording.say import say, trouble_words

PurposeOf = Callable[[RecordSet], Purpose]


def _seen(seen: Seen, purpose: Purpose) -> Json:
    record = seen.record
    return {
        "name": record.name,
        "type": record.type,
        "ttl": record.ttl,
        "values": list(record.values),
        "purpose": purpose,
        "sources": [say(each) for each in seen.sources],
    }


def survey_json(survey: Survey, purpose_of: PurposeOf, findings: tuple[Finding, ...] = ()) -> Json:
    """The survey; sets outside the domain (CAA above it or at alias targets) come last among the records."""
    delegation = survey.delegation
    return {
        "format": "homepath.survey/1",
        "domain": survey.domain,
        "servers": [
            {
                "name": each.name,
                "address": each.address,
                "state": each.state,
                "serial": each.serial,
                "detail": say(each.detail),
            }
            for each in survey.servers
        ],
        "delegation": {
            "parent": delegation.parent,
            "servers": list(delegation.servers),
            "ttl": delegation.ttl,
            "signed": delegation.signed,
            "signatures": delegation.signatures,
            "trouble": delegation.trouble,
        }
        if delegation
        else None,
        "registration": _registration(survey.registration),
        "records": [_seen(seen, purpose_of(seen.record)) for seen in survey.records]
        + [_seen(seen, "certificates") for seen in survey.outside],
        "unknown": [
            {"name": each.name, "type": each.type, "why": trouble_words(each.trouble)} for each in survey.unknown
        ],
        "blind_spots": [say(each) for each in survey.blind_spots],
        "findings": [finding_json(finding) for finding in findings],
    }


def _registration(found: Registration | None) -> Json | None:
    if found is None:
        return None
    return {
        "registrar": found.registrar,
        "statuses": list(found.statuses),
        "expires": moment(found.expires),
        "name_servers": list(found.name_servers),
        "source": found.source,
    }
