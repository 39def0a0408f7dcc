"""Moments as people read them. Each names its time zone, the same one everywhere: a screen is often sent on."""

from __future__ import annotations

from datetime import UTC, datetime

from homepath.core.model.times import bounded, lasting


def _utc(at: float) -> datetime:
    return datetime.fromtimestamp(bounded(at), UTC)


def clock_words(at: float) -> str:
    """Such as `Wed 4 Mar 10:00 UTC`."""
    return f"{_utc(at):%a} {_utc(at).day} {_utc(at):%b %H:%M} UTC"


def clock_time(at: float, now: float) -> str:
    """`14:20 UTC`, or `Tue 24 Nov 14:20 UTC` on another day."""
    return f"{_utc(at):%H:%M} UTC" if _utc(at).date() == _utc(now).date() else clock_words(at)


def until(at: float | None, now: float) -> str:
    """`until 14:20 UTC at the latest (in 35 min)`."""
    if at is None:
        return "no end is known"
    return f"until {clock_time(at, now)} at the latest (in {lasting(at - now)})"


def utc_words(at: float) -> str:
    """`2026-03-02 14:05 UTC`."""
    return f"{_utc(at):%Y-%m-%d %H:%M} UTC"
