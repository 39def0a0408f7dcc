"""`homepath.next/1`"""

from __future__ import annotations

from homepath.core.formats.contracts.finding import Json, finding_json
from homepath.core.model.path import Next
from homepath.core.model.times import moment


def next_json(thing: Next) -> Json:
    return {
        "format": "homepath.next/1",
        "domain": thing.domain,
        "stage": thing.stage,
        "do": thing.do,
        "where": thing.where,
        "wait_until": moment(thing.wait_until),
        "because": [finding_json(finding) for finding in thing.because],
    }
