"""What a check saw, as JSON: survey, watch, visit, compare."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from homepath.core.contracts.assessment import Json, finding_json
from homepath.core.dns.answers import Unanswered
from homepath.core.dns.records import RecordSet
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Purpose
from homepath.core.model.survey import (
    Compared,
    Reading,
    RecordCompared,
    RecordSpread,
    Registration,
    Seen,
    SideServer,
    Spread,
    Survey,
)
from homepath.core.model.times import moment, rfc3339
from homepath.core.model.visits import AddressTried, Certificate, Hop, Visit, Way
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
            "trouble": say(delegation.trouble),
        }
        if delegation
        else None,
        "registration": _registration(survey.registration),
        "records": [_seen(seen, purpose_of(seen.record)) for seen in survey.records]
        + [_seen(seen, "certificates") for seen in survey.outside],
        "unknown": _unanswered(survey.unknown),
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


def _reading(reading: Reading) -> Json:
    return {
        "vantage": reading.vantage,
        "role": reading.role,
        "state": reading.state,
        "values": list(reading.values),
        "ttl": reading.ttl,
        "at": rfc3339(reading.at),
        "detail": say(reading.detail),
    }


def _record_spread(spread: RecordSpread) -> Json:
    return {
        "name": spread.name,
        "type": spread.type,
        "verdict": spread.verdict,
        "settled_by": moment(spread.settled_by),
        "taken_back": moment(spread.taken_back),
        "because": say(spread.because),
        "readings": [_reading(reading) for reading in spread.readings],
    }


def watch_json(spread: Spread) -> Json:
    return {
        "format": "homepath.watch/1",
        "domain": spread.domain,
        "verdict": spread.verdict,
        "settled_by": moment(spread.settled_by),
        "records": [_record_spread(record) for record in spread.records],
        "findings": [finding_json(finding) for finding in spread.findings],
    }


def _unanswered(unseen: Sequence[Unanswered]) -> list[Json]:
    return [{"name": each.name, "type": each.type, "why": trouble_words(each.trouble)} for each in unseen]


def compare_json(found: Compared) -> Json:
    return {
        "format": "homepath.compare/1",
        "domain": found.domain,
        "at": moment(found.at),
        "verdict": found.verdict,
        "old": [_server(each) for each in found.old],
        "new": [_server(each) for each in found.new],
        "records": [_record(each) for each in found.records],
        "unknown": _unanswered(found.unanswered),
        "findings": [finding_json(each) for each in found.findings],
    }


def _server(each: SideServer) -> Json:
    return {
        "name": each.name,
        "address": each.address,
        "state": each.state,
        "serial": each.serial,
        "detail": say(each.detail),
    }


def _record(each: RecordCompared) -> Json:
    return {
        "name": each.name,
        "type": each.type,
        "state": each.state,
        "purpose": each.purpose,
        "old": list(each.old),
        "new": list(each.new),
        "old_ttl": each.old_ttl,
        "new_ttl": each.new_ttl,
        "wanted": list(each.wanted),
        "hinders": each.hinders,
        "at": list(each.at),
    }


def _certificate(seen: Certificate | None) -> Json | None:
    if seen is None:
        return None
    return {
        "state": seen.state,
        "covers": seen.covers,
        "names": list(seen.names),
        "issuer": seen.issuer,
        "not_after": moment(seen.not_after),
    }


def _hop(hop: Hop) -> Json:
    return {
        "url": hop.url,
        "status": hop.status,
        "location": hop.location,
        "address": hop.address,
        "protocol": hop.protocol,
        "by_page": hop.by_page,
        "hsts": hop.hsts,
        "detail": say(hop.detail),
    }


def _address(address: AddressTried) -> Json:
    return {"address": address.address, "status": address.status, "opens": address.opens, "detail": say(address.detail)}


def _way(way: Way) -> Json:
    return {
        "url": way.url,
        "final_url": way.final_url,
        "state": way.state,
        "hops": [_hop(hop) for hop in way.hops],
        "certificate": _certificate(way.certificate),
        "addresses": [_address(address) for address in way.addresses],
        "words": say(way.words),
    }


def visit_json(visit: Visit) -> Json:
    return {
        "format": "homepath.visit/1",
        "domain": visit.domain,
        "primary_url": visit.primary_url,
        "verdict": visit.verdict,
        "ahead": visit.ahead,
        "expected": visit.expected,
        "free_address": visit.free_address,
        "ways": [_way(way) for way in visit.ways],
        "may_wait_for": [
            {"what": say(each.what), "do": say(each.do), "until": moment(each.until)} for each in visit.may_wait_for
        ],
        "findings": [finding_json(finding) for finding in visit.findings],
    }
