"""Moments as people read them, in their own time zone."""

from __future__ import annotations

from datetime import datetime

from homepath.core.model.times import bounded


def clock_words(at: float) -> str:
    """Such as `Wed 04 Mar 10:00`, in local time."""
    return f"{datetime.fromtimestamp(bounded(at)).astimezone():%a %d %b %H:%M}"
