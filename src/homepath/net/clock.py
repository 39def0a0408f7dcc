"""The time as an argument: the machine's clock, or one that runs faster for practice."""

from __future__ import annotations

import asyncio
import time
from dataclasses import dataclass
from typing import Protocol


class Clock(Protocol):
    """Whoever waits or looks at the time takes one of these."""

    def now(self) -> float:
        """Unix time in seconds."""
        ...

    async def sleep(self, seconds: float) -> None:
        """Wait so long by this clock."""
        ...


class MachineClock:
    """Real time."""

    def now(self) -> float:
        return time.time()

    async def sleep(self, seconds: float) -> None:
        await asyncio.sleep(max(0.0, seconds))


@dataclass(frozen=True, slots=True)
class FastClock:
    """`story` was the time when the machine's clock showed `machine`; since then it runs `speed` times as fast."""

    story: float
    machine: float
    speed: float

    def now(self) -> float:
        return self.story + (time.time() - self.machine) * self.speed

    async def sleep(self, seconds: float) -> None:
        await asyncio.sleep(max(0.0, seconds) / self.speed)
