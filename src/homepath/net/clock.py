"""The time as an argument: the machine's clock, or one that runs faster for practice."""

from __future__ import annotations

import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

DIGITS = 3
"""Of a second: a journal keeps thousands of moments, and nothing that is waited for is shorter."""


class Clock(Protocol):
    """Everything that waits or reads the time takes one of these."""

    def now(self) -> float:
        """Unix time in seconds."""
        ...

    @property
    def slack(self) -> float:
        """Seconds by which two counts of the same moment may differ: TTLs are whole seconds, answers take time."""
        ...

    async def sleep(self, seconds: float) -> None:
        """Wait this many seconds by this clock."""
        ...


class MachineClock:
    """Real time. Within one command it only goes forward, even if someone sets the machine's clock back.

    A machine that slept does not count the time in between, its wall clock does: the later of both holds.
    """

    def __init__(self) -> None:
        self._began, self._counted = time.time(), time.monotonic()

    def __reduce__(self) -> tuple[type[MachineClock], tuple[()]]:
        return MachineClock, ()  # another process has a clock of its own

    def now(self) -> float:
        return round(max(time.time(), self._began + time.monotonic() - self._counted), DIGITS)

    @property
    def slack(self) -> float:
        return 3.0

    async def sleep(self, seconds: float) -> None:
        import asyncio

        await asyncio.sleep(max(0.0, seconds))


@dataclass(frozen=True, slots=True)
class FastClock:
    """`story` was the time when the machine's clock showed `machine`; since then it runs `speed` times as fast."""

    story: float
    machine: float
    speed: float

    def now(self) -> float:
        return round(self.story + (time.time() - self.machine) * self.speed, DIGITS)

    @property
    def slack(self) -> float:
        return 3.0 + 0.25 * self.speed

    async def sleep(self, seconds: float) -> None:
        import asyncio

        await asyncio.sleep(max(0.0, seconds) / self.speed)


@dataclass(slots=True)
class SetClock:
    """A clock that may be set while a command runs, as that of a practice world: `read` returns it again once its file
    has changed."""

    file: Path
    read: Callable[[], Clock]
    clock: Clock
    stamp: int = 0

    def now(self) -> float:
        with suppress(OSError):
            stamp = self.file.stat().st_mtime_ns
            if stamp != self.stamp:
                self.stamp, self.clock = stamp, self.read()
        return self.clock.now()

    @property
    def slack(self) -> float:
        return self.clock.slack

    async def sleep(self, seconds: float) -> None:
        import asyncio

        ends = self.now() + seconds
        while (left := ends - self.now()) > 0:
            with suppress(TimeoutError):
                await asyncio.wait_for(self.clock.sleep(left), 1.0)
