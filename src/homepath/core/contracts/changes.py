"""What is to be changed, as JSON: `homepath.sheet/1`, `homepath.send/1`, and `homepath.forecast/1`."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

from homepath.core.contracts.assessment import Json, change_json
from homepath.core.dns.names import Name
from homepath.core.files.sheet import Job, Line
from homepath.core.model.acts import Difference, Sent
from homepath.core.model.forecast import Forecast, Outlook
from homepath.core.model.plan import Change
from homepath.core.model.times import moment
from homepath.core.wording.say import say

State = Literal["sent", "nothing", "refused", "partly", "unknown"]


def send_json(domain: Name, sent: Sent) -> Json:
    """What was sent, and what every server returns that differs from it."""
    state: State = "partly" if sent.differences else "sent"
    return not_sent_json(domain, state, sent.server.name, sent.changes, sent.differences)


def not_sent_json(
    domain: Name,
    state: State,
    server: Name = "",
    changes: Sequence[Change] = (),
    differences: Sequence[Difference] = (),
) -> Json:
    """Nothing was sent (there was nothing, or it was only shown), it was refused, or that is not known."""
    return {
        "format": "homepath.send/1",
        "domain": domain,
        "state": state,
        "server": server,
        "changes": [change_json(change) for change in changes],
        "read_back": [
            {
                "server": each.server,
                "name": each.change.name,
                "type": each.change.type,
                "values": list(each.given),
                "why": each.why,
            }
            for each in differences
        ],
        "findings": [],
    }


def _outlook(outlook: Outlook) -> Json:
    moved = outlook.course.moved
    return {
        "order": outlook.order.key,
        "title": say(outlook.order.title),
        "change_at_s": round(outlook.order.change_at),
        "moved_s": {
            "50": round(moved.half),
            "90": round(moved.most),
            "99": round(moved.nearly_all),
            "100": round(moved.all),
        },
        "outage_min": round(outlook.course.outage, 1),
        "certificate_error_min": round(outlook.warned_minutes, 1),
        "minutes": [
            [round(each.at / 60), round(each.new, 4), round(each.old, 4), round(each.nothing, 4)]
            for each in outlook.course.minutes
        ],
    }


def forecast_json(forecast: Forecast) -> Json:
    """`minutes`: minute, and the shares of visitors that meet the new site, the old one, nothing."""
    caches = forecast.caches
    return {
        "format": "homepath.forecast/1",
        "domain": forecast.domain,
        "in_use": {"in-use": True, "unknown": None}.get(forecast.use, False),
        "caches": {
            "busy": [{"share": each.share, "per_hour": each.per_hour} for each in caches.busy],
            "clamped": caches.clamped,
            "floor_s": caches.floor,
            "stale": caches.stale,
        },
        "names": [
            {
                "name": each.name,
                "old_ttl": each.old_ttl,
                "new_ttl": each.new_ttl,
                "absent_ttl": each.absent_ttl,
                "servers_ttl": each.servers_ttl,
            }
            for each in forecast.situations
        ],
        "orders": [_outlook(each) for each in forecast.outlooks],
        "certificate": None
        if forecast.gap is None
        else {
            "usual_wait_s": forecast.gap.usual,
            "longest_wait_s": forecast.gap.longest,
            "binding": forecast.gap.binding,
        },
        "recommended": forecast.recommended,
        "because": say(forecast.because),
    }


def sheet_json(domain: Name, host: str, where: str, jobs: Iterable[tuple[str, Job]], wait: float | None) -> Json:
    """`jobs` with the id of the step that each belongs to; `not_before`: until when not to type yet, Unix seconds."""
    return {
        "format": "homepath.sheet/1",
        "domain": domain,
        "host": host,
        "where": where,
        "not_before": moment(wait),
        "jobs": [
            {
                "step": step,
                "name": job.at,
                "title": say(job.title),
                "only_ttl": job.retimed,
                "delete": [_line(each) for each in job.deeds("delete")],
                "enter": [{**_line(each), "ttl": each.ttl} for each in job.deeds("enter")],
                "stays": list(job.stays),
            }
            for step, job in jobs
        ],
    }


def _line(line: Line) -> Json:
    """A record as the form wants it: name and value in its spelling."""
    return {"type": line.type, "name": line.name, "value": line.value}
