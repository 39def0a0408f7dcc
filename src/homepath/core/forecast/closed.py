"""One change, in closed form.

Before the change every cache is in its steady state: a copy lives τ seconds, then there is a pause of 1/λ on average,
so a cache holds a copy with probability λτ / (1 + λτ), and the copy's age is evenly spread over 0 to τ.
"""

from __future__ import annotations

import math

from homepath.core.model.forecast import Caches, Moved, Phase


def held(ttl: float, rate: float) -> float:
    """The share of caches that hold a name at a random moment; `rate` in requests per second."""
    return rate * ttl / (1 + rate * ttl)


def before_share(after: float, before: Phase, caches: Caches) -> float:
    """The share of visitors that still meet what the zone gave before, `after` seconds after the only change."""
    found = 0.0
    for busy in caches.busy:
        rate = busy.per_hour / 3600
        for weight, ttl, stale in _kinds(before.ttl, caches):
            found += busy.share * weight * _one(after, ttl, rate, caches.stale_for if stale else 0)
    return found


def _kinds(ttl: int, caches: Caches) -> list[tuple[float, float, bool]]:
    plain = 1 - caches.clamped - caches.stale
    return [(plain, ttl, False), (caches.clamped, max(ttl, caches.floor), False), (caches.stale, ttl, True)]


def _one(after: float, ttl: float, rate: float, stale_for: float) -> float:
    """The chance that a copy from before the change is given: its age must lie between `after` and its end.

    Ages of the copies in hand have the density P(interval > age) / mean interval, where the interval between two
    fetches is the TTL and an exponential pause; without stale answers the pause is no copy any more.
    """
    if rate <= 0 or after < 0:
        return 0.0
    mean = ttl + 1 / rate
    found = max(0.0, ttl - after) / mean
    if stale_for:
        begin = max(after, ttl)
        found += max(0.0, math.exp(-rate * (begin - ttl)) - math.exp(-rate * stale_for)) / (rate * mean)
    return found


def moved(before: Phase, caches: Caches) -> Moved:
    """When rule-keeping caches have let go, counted from the change: a share p of all of them is through when no more
    than 1 - p still holds a copy."""

    def still(after: float) -> float:
        return sum(b.share * _one(after, before.ttl, b.per_hour / 3600, 0) for b in caches.busy)

    def when(share: float) -> float:
        low, high = 0.0, float(before.ttl)
        if still(0.0) <= 1 - share:
            return 0.0
        for _ in range(60):
            middle = (low + high) / 2
            low, high = (middle, high) if still(middle) > 1 - share else (low, middle)
        return high

    return Moved(when(0.5), when(0.9), when(0.99), float(before.ttl))
