"""Moments as people read them, in their own time zone."""

from __future__ import annotations

from datetime import UTC, datetime

from homepath.core.model.times import bounded, lasting


def clock_words(at: float) -> str:
    """Such as `Wed 04 Mar 10:00`, in local time."""
    return f"{datetime.fromtimestamp(bounded(at)).astimezone():%a %d %b %H:%M}"


def clock_time(at: float, now: float) -> str:
    """`14:20`, or `Tue 24 Nov 14:20` on another day; local time."""
    then, today = datetime.fromtimestamp(bounded(at)).astimezone(), datetime.fromtimestamp(bounded(now)).astimezone()
    return f"{then:%H:%M}" if then.date() == today.date() else f"{then:%a %d %b %H:%M}"


def until(at: float | None, now: float) -> str:
    """`until 14:20 at the latest (in 35 min)`."""
    if at is None:
        return "no end is known"
    return f"until {clock_time(at, now)} at the latest (in {lasting(at - now)})"


def utc_words(at: float) -> str:
    """`2026-03-02 14:05 UTC`: for what is read elsewhere and later, so it names its zone."""
    return f"{datetime.fromtimestamp(bounded(at), UTC):%Y-%m-%d %H:%M} UTC"
