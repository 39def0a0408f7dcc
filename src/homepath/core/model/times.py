"""Moments are Unix times (seconds, float); people and JSON get RFC 3339 in UTC."""

from __future__ import annotations

from datetime import UTC, datetime

from homepath.core.message import msg

EARLIEST, LATEST = 0.0, 253370764800.0
"""1970 and the year 9999: anything outside is no valid time, and libraries fail on it."""


def bounded(at: float) -> float:
    """The moment, or the nearest one that can be shown."""
    return min(max(at, EARLIEST), LATEST) if at == at else EARLIEST


def rfc3339(at: float) -> str:
    """Such as `2026-11-23T08:18:00Z`, whole seconds (RFC 3339 section 5.6)."""
    return datetime.fromtimestamp(round(bounded(at)), UTC).isoformat().replace("+00:00", "Z")


def moment(at: float | None) -> str | None:
    """The same for a moment that may be unknown."""
    return None if at is None else rfc3339(at)


def from_rfc3339(text: str) -> float:
    """The moment of an RFC 3339 text; without an offset it is UTC. Raises ValueError, also for one out of bounds."""
    read = datetime.fromisoformat(text.strip().replace("Z", "+00:00").replace("z", "+00:00"))
    at = (read if read.tzinfo else read.replace(tzinfo=UTC)).timestamp() if read.year > 1 else EARLIEST - 1
    if not EARLIEST <= at <= LATEST:
        raise ValueError(msg("times.from-rfc3339", text=text))
    return at


_UNITS = {"s": 1, "sec": 1, "min": 60, "m": 60, "h": 3600, "hour": 3600, "d": 86400, "day": 86400, "w": 604800}


def seconds_in(text: str) -> int:
    """The seconds in `30 min`, `48 h`, `2 days`, `1h30m` or a plain number. Raises ValueError."""
    import re

    parts = re.findall(r"([0-9]+)\s*([a-z]*)", text.strip().lower())
    if not parts or re.sub(r"[0-9]+\s*[a-z]*", "", text.strip().lower()).strip():
        raise ValueError(msg("times.seconds-in", text=text))
    total = 0
    for number, unit in parts:
        base = unit if unit in _UNITS else unit.removesuffix("s")
        if base not in _UNITS and unit:
            raise ValueError(msg("times.seconds-in-2", unit=unit))
        total += int(number) * _UNITS.get(base, 1)
    return total
