"""Moments, lengths of time and counts in words."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import UTC, datetime

from homepath.core.model.brief import Notation
from homepath.core.model.times import bounded


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


def nothing_to_do(at: float, now: float, bounded: bool) -> str:
    """What a wait says first. `bounded`: it is over by then; else that is when to check again."""
    left = f"until {clock_time(at, now)} (in {lasting(at - now)})"
    return f"Nothing to do. This wait lasts {until(at, now)}." if bounded else f"Nothing to do {left}."


def utc_words(at: float) -> str:
    """`2026-03-02 14:05 UTC`."""
    return f"{_utc(at):%Y-%m-%d %H:%M} UTC"


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


_NUMBERS = {0: "no", 1: "one", 2: "two", 3: "three", 4: "four", 5: "five", 6: "six", 7: "seven", 8: "eight"}


def many(count: int, one: str, more: str) -> str:
    """`one entry`, `six entries`."""
    return f"{spelled(count)} {one if count == 1 else more}"


def anded(parts: Iterable[str]) -> str:
    """`one, two and three`."""
    some = list(parts)
    return " and ".join([", ".join(some[:-1]), some[-1]] if len(some) > 1 else some)


def sentence_start(text: str) -> str:
    """With a capital, unless the first word is a host name, a command or an option: those keep their spelling."""
    word = text.split(" ", 1)[0].rstrip(".,:;")
    return text[:1].upper() + text[1:] if re.fullmatch(r"[^\W\d_]+([-'][^\W\d_]+)*", word) else text


def spelled(count: int) -> str:
    """`six`; from nine on, `9`."""
    return _NUMBERS.get(count, str(count))


def ttl_words(ttl: int, notation: Notation) -> str:
    """The TTL as the form says it: `1 h` where it offers choices, seconds where one types a number."""
    return (
        lasting(ttl) if notation.ttl_choices else f"{ttl} seconds ({lasting(ttl)})" if ttl >= 90 else f"{ttl} seconds"
    )
