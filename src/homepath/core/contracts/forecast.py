"""`homepath.forecast/1`"""

from __future__ import annotations

from homepath.core.contracts.steps import Json
from homepath.core.model.forecast import Forecast, Outlook
from homepath.core.wording.say import say


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
