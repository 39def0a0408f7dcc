"""An event loop whose clock goes only while nothing happens, so that no busy machine makes anything late."""

from __future__ import annotations

import asyncio
import selectors
from collections.abc import Coroutine
from typing import Any, TypeVar

Result = TypeVar("Result")
STEP = 0.02
"""Seconds by which the clock moves at most, after so long without an event."""
REAL = 0.002


class _Idle(selectors.DefaultSelector):
    """Moves the clock of its loop where no socket has anything to say."""

    now = 0.0

    def select(self, timeout: float | None = None) -> list[tuple[selectors.SelectorKey, int]]:
        if timeout is None:
            return super().select(None)
        events = super().select(0) or (super().select(REAL) if timeout > 0 else [])
        if not events:
            self.now += min(max(timeout, 0.0), STEP)
        return events


class IdleClockLoop(asyncio.SelectorEventLoop):
    def __init__(self) -> None:
        self._idle = _Idle()
        super().__init__(self._idle)

    def time(self) -> float:
        return self._idle.now


def run(work: Coroutine[Any, Any, Result]) -> Result:
    with asyncio.Runner(loop_factory=IdleClockLoop) as runner:
        return runner.run(work)
