"""So many questions a second to one server, and fewer where it refuses or slows: courtesy towards those
servers."""

from __future__ import annotations

import asyncio
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass, field
from weakref import WeakKeyDictionary

from homepath.net.vantages import Place

SLOWEST = 1.0
"""Questions a second to a server that refuses or does not answer, at least."""
FAST = 200.0
CATCH_UP = 0.02
"""Seconds of a pace that may go at once where a timer woke up late, at a pace above `FAST` a second; below it questions
keep their distance, so that no second ever sees more than the pace."""
MARGIN = 1.005
"""A little slower than the pace, so that no rounding makes it faster."""
MOST_DOUBTS = 2
"""How often one asker can slow a server down: a domain that it does not answer for says little about the others."""
MOST_LANES = 20_000
"""Servers whose pace is remembered; idle ones are dropped first."""


@dataclass(frozen=True, slots=True)
class Paces:
    """Questions a second to one address: of a nameserver, and of a resolver."""

    server: float = 20.0
    resolver: float = 50.0

    def shared_by(self, workers: int) -> Paces:
        """What each of several workers may ask, so that all of them together keep the pace."""
        return Paces(self.server / max(1, workers), self.resolver / max(1, workers))


@dataclass(slots=True)
class _Lane:
    most: float
    rate: float
    free_at: float = 0.0
    waiting: deque[Callable[[], None]] = field(default_factory=deque)
    timer: asyncio.TimerHandle | None = None
    doubts: WeakKeyDictionary[object, int] = field(default_factory=WeakKeyDictionary)


class Pace:
    """Lets questions go at the pace of their server. `resolvers`: the places that have the pace of a resolver."""

    def __init__(self, paces: Paces, resolvers: frozenset[Place] = frozenset()) -> None:
        self._paces, self._resolvers = paces, resolvers
        self._lanes: dict[Place, _Lane] = {}

    def become(self, paces: Paces) -> None:
        """Another pace from now on, as when the number of workers that share it changed."""
        if paces == self._paces:
            return
        self._paces = paces
        for place, lane in self._lanes.items():
            lane.most = self._most(place)
            lane.rate = min(lane.rate, lane.most)

    def _most(self, place: Place) -> float:
        return self._paces.resolver if place in self._resolvers else self._paces.server

    def when_free(self, place: Place, go: Callable[[], None]) -> bool:
        """Call `go` when the next question to `place` may leave; whether that was at once."""
        lane = self._lane(place)
        now = asyncio.get_running_loop().time()
        if not lane.waiting and now >= lane.free_at:
            self._take(lane, now)
            go()
            return True
        lane.waiting.append(go)
        self._wake(lane)
        return False

    def again(self, place: Place) -> None:
        """A question was sent once more: it counts as well."""
        lane = self._lane(place)
        self._take(lane, asyncio.get_running_loop().time())

    def went(self, place: Place, well: bool, by: object) -> None:
        """What became of a question: a server that refuses, fails or stays silent is asked half as fast, and faster
        again with its answers. `by`: who asked."""
        lane = self._lanes.get(place)
        if lane is None:
            return
        if not well:
            doubts = lane.doubts[by] = lane.doubts.get(by, 0) + 1
            if doubts > MOST_DOUBTS:
                return
            lane.rate = max(min(SLOWEST, lane.most), lane.rate / 2)
        elif lane.rate < lane.most:
            lane.rate = min(lane.most, lane.rate * 1.1)

    def flush(self, place: Place) -> None:
        """Let everything go that waits for `place`: it will not be sent there after all."""
        lane = self._lane(place)
        waiting, lane.waiting = lane.waiting, deque()
        for go in waiting:
            go()

    def rate(self, place: Place) -> float:
        """Questions a second to `place` now."""
        return self._lane(place).rate

    def _lane(self, place: Place) -> _Lane:
        lane = self._lanes.get(place)
        if lane is None:
            if len(self._lanes) >= MOST_LANES:
                self._forget()
            lane = self._lanes[place] = _Lane(self._most(place), self._most(place))
        return lane

    def _forget(self) -> None:
        now = asyncio.get_running_loop().time()
        for place in [each for each, lane in self._lanes.items() if not lane.waiting and lane.free_at < now]:
            del self._lanes[place]

    @staticmethod
    def _take(lane: _Lane, now: float) -> None:
        late = CATCH_UP if lane.rate > FAST else 0.0
        lane.free_at = max(lane.free_at, now - late) + MARGIN / lane.rate

    def _wake(self, lane: _Lane) -> None:
        if lane.timer is None and lane.waiting:
            lane.timer = asyncio.get_running_loop().call_at(lane.free_at, self._let_go, lane)

    def _let_go(self, lane: _Lane) -> None:
        lane.timer = None
        now = asyncio.get_running_loop().time()
        while lane.waiting and now >= lane.free_at:
            self._take(lane, now)
            lane.waiting.popleft()()
        self._wake(lane)
