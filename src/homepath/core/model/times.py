"""Moments are Unix times (seconds, float); people and JSON get RFC 3339 in UTC."""

from __future__ import annotations

from datetime import UTC, datetime


def rfc3339(at: float) -> str:
    """Such as `2026-11-23T08:18:00Z`, whole seconds (RFC 3339 section 5.6)."""
    return datetime.fromtimestamp(round(at), UTC).strftime("%Y-%m-%dT%H:%M:%SZ")


def moment(at: float | None) -> str | None:
    """The same for a moment that may be unknown."""
    return None if at is None else rfc3339(at)


def from_rfc3339(text: str) -> float:
    """The moment of an RFC 3339 text. Raises ValueError."""
    return datetime.fromisoformat(text.replace("Z", "+00:00")).timestamp()


def lasting(seconds: float) -> str:
    """A length of time in words, rounded up to what a person plans with: `40 s`, `5 min`, `2 h 10 min`."""
    whole = max(0, int(-(-seconds // 1)))
    if whole < 90:
        return f"{whole} s"
    minutes = -(-whole // 60)
    if minutes < 90 and minutes != 60:
        return f"{minutes} min"
    hours, rest = divmod(minutes, 60)
    if hours < 48:
        return f"{hours} h {rest} min" if rest else f"{hours} h"
    days, hours = divmod(hours + (rest > 0), 24)
    return f"{days} days {hours} h" if hours else f"{days} days"


_UNITS = {"s": 1, "sec": 1, "min": 60, "m": 60, "h": 3600, "hour": 3600, "d": 86400, "day": 86400, "w": 604800}


def seconds_in(text: str) -> int:
    """The seconds in `30 min`, `48 h`, `2 days`, `1h30m` or a plain number. Raises ValueError."""
    import re

    parts = re.findall(r"([0-9]+)\s*([a-z]*)", text.strip().lower())
    if not parts or re.sub(r"[0-9]+\s*[a-z]*", "", text.strip().lower()).strip():
        raise ValueError(f"{text!r} is not a length of time such as '30 min' or '48 h'")
    total = 0
    for number, unit in parts:
        base = unit if unit in _UNITS else unit.removesuffix("s")
        if base not in _UNITS and unit:
            raise ValueError(f"{unit!r} is not a unit of time: use s, min, h or days")
        total += int(number) * _UNITS.get(base, 1)
    return total
