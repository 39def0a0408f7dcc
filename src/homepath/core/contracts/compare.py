"""`homepath.compare/1`"""

from __future__ import annotations

from homepath.core.contracts.steps import Json, finding_json
from homepath.core.model.compared import Compared, RecordCompared, SideServer
from homepath.core.model.times import moment
from homepath.core.wording.say import say


def compare_json(found: Compared) -> Json:
    return {
        "format": "homepath.compare/1",
        "domain": found.domain,
        "at": moment(found.at),
        "verdict": found.verdict,
        "old": [_server(each) for each in found.old],
        "new": [_server(each) for each in found.new],
        "records": [_record(each) for each in found.records],
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
