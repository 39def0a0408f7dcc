"""`homepath.visit/1`"""

from __future__ import annotations

from homepath.core.contracts.steps import Json, finding_json
from homepath.core.model.times import moment
from homepath.core.model.visits import AddressTried, Certificate, Hop, Visit, Way
from homepath.core.wording.say import say


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
