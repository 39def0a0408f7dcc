"""`homepath.watch/1`"""

from __future__ import annotations

from homepath.core.contracts.steps import Json, finding_json
from homepath.core.model.readings import Reading, RecordSpread, Spread
from homepath.core.model.times import moment, rfc3339
from homepath.core.wording.say import say


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
