"""Any sequence of changes, by following a sample of caches (NumPy).

Only the copy that a cache holds when the zone changes can be other than what the zone returns, so each cache is
followed from change to change: until its copy expires visitors get the copy, then what the zone returns. At the next
change it is brought up to date by as many fetches as fit in between. Minute by minute only counting is left.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np

from homepath.core.model.forecast import GIVES, Caches, Course, Minute, Moved, Phase


def held(ttl: float, rate: float) -> float:
    """The share of caches that hold a name at a random moment; `rate` in requests per second."""
    return rate * ttl / (1 + rate * ttl)


def before_share(after: float, before: Phase, caches: Caches) -> float:
    """The share of visitors that still get the old content, `after` seconds after the only change."""
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
    """When caches that respect TTLs have expired, counted from the change: a share p of all of them is through when no
    more than 1 - p still holds a copy."""

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


SAMPLE = 200_000
_SEED = 20
_CAREFUL = 6.0
"""Standard deviations: so far from the next change many fetches are taken in one step."""
Floats = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(slots=True)
class _Sample:
    """One entry for each cache. `dies`: the death of its copy; `asked`: the first request after that."""

    rate: Floats
    floor: Floats
    stale: np.ndarray[Any, np.dtype[np.bool_]]
    kind: np.ndarray[Any, np.dtype[np.int8]]
    dies: Floats
    asked: Floats


def simulate(
    phases: Sequence[Phase], caches: Caches, seconds: float, sample: int = SAMPLE, step: float = 60.0
) -> Course:
    """Follow `sample` caches through `phases` for so many seconds, counted every `step` seconds.

    The first phase has lasted long enough for a steady state. The same input returns the same course.
    """
    random = np.random.default_rng(_SEED)
    state = _steady(phases[0], caches, sample, random)
    moments = np.arange(0.0, seconds + step / 2, step)
    shares = np.zeros((len(moments), len(GIVES)))
    last = np.zeros(sample)
    for number, phase in enumerate(phases):
        end = phases[number + 1].at if number + 1 < len(phases) else seconds + step
        within = (moments >= phase.at) & (moments < end)
        gives = GIVES.index(phase.gives)
        until = np.where(state.stale, np.minimum(state.asked, state.dies + caches.stale_for), state.dies)
        for kind in range(len(GIVES)):
            mine = state.kind == kind
            if kind == gives:
                continue
            ends = np.sort(until[mine])
            left = len(ends) - np.searchsorted(ends, moments[within], side="right")
            shares[within, kind] = left / sample
            final = number + 1 == len(phases)
            last[mine] = np.maximum(last[mine], state.dies[mine] if final else np.minimum(state.dies[mine], end))
        shares[within, gives] = 1 - shares[within].sum(axis=1) + shares[within, gives]
        if number + 1 < len(phases):
            _advance(state, phase, end, random)
    minutes = tuple(Minute(float(at), *map(float, row)) for at, row in zip(moments, shares, strict=True))
    change = phases[-1].at
    plain = (~state.stale) & (state.floor == 0)
    return Course(minutes, _moved(phases, last[plain], change), float(shares[:, 2].sum() * step / 60))


def _steady(phase: Phase, caches: Caches, sample: int, random: np.random.Generator) -> _Sample:
    shares = np.array([each.share for each in caches.busy])
    rates = np.array([each.per_hour / 3600 for each in caches.busy])
    # even spacing instead of dice: the classes and kinds have exactly their shares
    place = (np.arange(sample) + 0.5) / sample
    rate = rates[np.searchsorted(np.cumsum(shares / shares.sum()), place, side="left").clip(max=len(rates) - 1)]
    place = random.permutation(place)
    clamped, stale = place < caches.clamped, place > 1 - caches.stale
    floor = np.where(clamped, float(caches.floor), 0.0)
    ttl = np.maximum(float(phase.ttl), floor)
    holds = _even(sample, random) < rate * ttl / (1 + rate * ttl)
    pause = random.exponential(1.0, sample) / rate
    dies = np.where(holds, _even(sample, random) * ttl, -random.exponential(1.0, sample) / rate)
    if phase.servers_ttl:  # old copies are fetched again until the old servers' NS records expire
        knows = random.random(sample) < rate * phase.servers_ttl / (1 + rate * phase.servers_ttl)
        forgets = np.where(knows, random.random(sample) * phase.servers_ttl, 0.0)
        dies = np.where(holds, dies + forgets, forgets)
        holds = holds | knows
    asked = np.where(holds, dies + pause, pause)
    kind = np.full(sample, GIVES.index(phase.gives), np.int8)
    return _Sample(rate, floor, stale, kind, dies + phase.at, asked + phase.at)


def _even(count: int, random: np.random.Generator) -> Floats:
    """Numbers from 0 to 1 in random order, evenly spaced: less noise than dice, and without it the same."""
    return random.permutation((np.arange(count) + 0.5) / count)


def _advance(state: _Sample, phase: Phase, end: float, random: np.random.Generator) -> None:
    """Bring every cache to the moment `end`: those asked before have fetched what `phase` returns, maybe many times."""
    active = np.flatnonzero(state.asked < end)
    gives = GIVES.index(phase.gives)
    while len(active):
        rate = state.rate[active]
        ttl = np.maximum(float(phase.ttl), state.floor[active])
        mean = ttl + 1 / rate
        # so many whole rounds surely fit: their pauses sum up to a gamma distributed time
        fit = np.maximum((end - state.asked[active]) / mean, 0.0)
        rounds = np.floor(fit - _CAREFUL * np.sqrt(fit) - 1.0)
        many = rounds >= 1
        jump = np.zeros(len(active))
        if many.any():
            jump[many] = rounds[many] * ttl[many] + random.gamma(rounds[many]) / rate[many]
        asked = state.asked[active] + jump
        dies = asked + ttl
        state.kind[active] = gives
        state.dies[active] = dies
        state.asked[active] = dies + random.exponential(1.0, len(active)) / rate
        active = active[state.asked[active] < end]


def _moved(phases: Sequence[Phase], last: Floats, change: float) -> Moved:
    """Quantiles over the rule-keeping caches, and the bound that no such cache can pass."""
    bound = max(
        (after.at + before.ttl + before.servers_ttl for before, after in pairwise(phases) if before.gives != "new"),
        default=change,
    )
    bound = float(max(bound, change))
    if not len(last):  # no cache respects TTLs
        return Moved(bound, bound, bound, bound)
    half, most, nearly = (float(max(change, np.quantile(last, share))) for share in (0.5, 0.9, 0.99))
    return Moved(half, most, nearly, bound)
