"""Builders that order certificates in batches on fixed days."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


def next_issuing_day(days: Sequence[str], now: float) -> str:
    """`; certificates are issued on Tuesday and Friday, next on Tue 24 Nov`, or nothing without fixed days."""
    known = [
        at for at, day in enumerate(DAYS) if any(day.lower().startswith(each.strip().lower()[:3]) for each in days)
    ]
    if not days or not known:
        return ""
    today = datetime.fromtimestamp(now, UTC)
    ahead = min((at - today.weekday()) % 7 for at in known)
    then = today + timedelta(days=ahead)
    when = "today" if not ahead else f"on {then:%a %d %b}"
    return f"; certificates are issued on {' and '.join(DAYS[at] for at in known)}, next {when}"
