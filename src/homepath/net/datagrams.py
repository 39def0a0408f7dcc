"""Many questions over UDP at once: a lane for each place, with sockets on random ports and a pace of its own.

Written with callbacks, because a task, a socket and a timer for every question would take most of the time.
"""

from __future__ import annotations

import asyncio
import random
import socket
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial

from homepath.core.model.trouble import TroubleCause
from homepath.net import octets as wire
from homepath.net.troubles import cause_of
from homepath.net.vantages import Place

WINDOW = 32
"""Questions under way to one place at first; halved when it falls silent, grown again with its answers."""
NARROWEST, WIDEST = 4.0, 64
GIVE_UP = 24
"""So many questions in a row unanswered, and those that still wait for the same place are not sent any more."""
RETIRE_AFTER = 48
"""Questions on one socket, then a new random port is taken (RFC 5452 section 9.2)."""
SOCKETS = 4
"""Sockets open to one place at one moment; which one a question takes is random too."""
UNFIT = 3
"""So many datagrams that fit no question, and a place that gave no answer is called broken, not silent."""
_random = random.SystemRandom()

Arrived = Callable[[bytes], None]
Failed = Callable[..., None]
"""Called with the reason, and whether the place is broken (else it is silent)."""


@dataclass(slots=True, eq=False)
class Sending:
    """One query on its way. `asked`: its question section as it went out."""

    asked: bytes
    compose: Callable[[int], bytes]
    arrived: Arrived
    failed: Failed
    exactly: bool = False
    number: int = 0
    deadline: float = 0.0
    socket: _Socket | None = None


@dataclass(slots=True, eq=False)
class _Socket:
    sock: socket.socket
    lane: Lane
    pending: dict[int, Sending] = field(default_factory=dict)
    sent: int = 0


@dataclass(slots=True, eq=False)
class Lane:
    """All that goes to one place."""

    place: Place
    sockets: list[_Socket] = field(default_factory=list)
    waiting: deque[Sending] = field(default_factory=deque)
    under_way: int = 0
    window: float = WINDOW
    unanswered: int = 0
    unfit: int = 0


class Datagrams:
    """Sends queries and hands each its answer, its silence or its failure. `patience`: real seconds for one try."""

    def __init__(self, patience: float, dropped: Callable[[], None]) -> None:
        self._patience, self._dropped = patience, dropped
        self._lanes: dict[Place, Lane] = {}
        self._by_deadline: deque[Sending] = deque()
        self._timer: asyncio.TimerHandle | None = None
        self._loop: asyncio.AbstractEventLoop | None = None
        self._count = 0

    def send(self, sending: Sending, place: Place) -> None:
        """Put one query on its lane; it leaves when the lane's pace allows."""
        loop = asyncio.get_running_loop()
        if self._loop is not loop:
            self._loop, self._timer = loop, None
        lane = self._lanes.get(place)
        if lane is None:
            lane = self._lanes[place] = Lane(place)
        self._count += 1
        if lane.under_way < lane.window:
            self._put(sending, lane)
        else:
            lane.waiting.append(sending)

    def _put(self, sending: Sending, lane: Lane) -> None:
        assert self._loop is not None
        lane.under_way += 1
        try:
            taken = self._socket(lane)
        except OSError as error:
            lane.under_way -= 1
            self._refuse([sending], cause_of(error))
            return
        try:
            number = _random.getrandbits(16)
            while number in taken.pending:
                number = _random.getrandbits(16)
            sending.number, sending.socket = number, taken
            taken.pending[number] = sending
            taken.sent += 1
            sending.deadline = self._loop.time() + self._patience
            self._by_deadline.append(sending)
            taken.sock.send(sending.compose(number))
        except BlockingIOError:
            pass  # the machine's buffer is full: as if lost on the way
        except OSError as error:
            self._loop.call_soon(self._finish, sending, lane, partial(sending.failed, cause_of(error), False))
            return
        if self._timer is None:
            self._timer = self._loop.call_at(sending.deadline, self._too_late)

    def _refuse(self, sendings: list[Sending], cause: TroubleCause) -> None:
        """Told later, never inside `send`: whoever asks may still be putting questions together."""
        assert self._loop is not None

        def tell() -> None:
            for sending in sendings:
                self._count -= 1
                sending.failed(cause, False, True)
            if not self._count:
                self._rest()

        self._loop.call_soon(tell)

    def _socket(self, lane: Lane) -> _Socket:
        assert self._loop is not None
        fresh = [each for each in lane.sockets if each.sent < RETIRE_AFTER]
        if len(fresh) >= SOCKETS or (fresh and lane.under_way <= len(fresh)):
            return fresh[_random.getrandbits(8) % len(fresh)]
        sock = socket.socket(socket.AF_INET6 if ":" in lane.place[0] else socket.AF_INET, socket.SOCK_DGRAM)
        try:
            sock.setblocking(False)
            sock.connect(lane.place)  # the kernel picks a random port and drops datagrams from other addresses
        except OSError:
            sock.close()
            raise
        made = _Socket(sock, lane)
        lane.sockets.append(made)
        self._loop.add_reader(sock, self._readable, made)
        return made

    def _readable(self, of: _Socket) -> None:
        for _ in range(WIDEST):
            try:
                octets = of.sock.recv(65535)
            except (BlockingIOError, InterruptedError):
                return
            except OSError as error:
                for each in list(of.pending.values()):
                    self._finish(each, of.lane, partial(each.failed, cause_of(error), False))
                return
            sending = of.pending.get(octets[0] << 8 | octets[1]) if len(octets) >= 12 else None
            if sending is None or not wire.answers(octets, sending.asked, sending.exactly):
                of.lane.unfit += 1
                self._dropped()
                continue
            of.lane.window = min(WIDEST, of.lane.window + 1 / of.lane.window)
            of.lane.unanswered = 0
            self._finish(sending, of.lane, partial(sending.arrived, octets))
            if of.sock.fileno() < 0:
                return

    def _finish(self, sending: Sending, lane: Lane, tell: Callable[[], None]) -> None:
        """Take the query off its lane, let the next ones go, then tell whoever asked."""
        of = sending.socket
        if of is None or of.pending.pop(sending.number, None) is None:
            return
        sending.socket = None
        lane.under_way -= 1
        self._count -= 1
        while self._by_deadline and self._by_deadline[0].socket is None:
            self._by_deadline.popleft()
        if of.sent >= RETIRE_AFTER and not of.pending:
            self._close(of)
        tell()
        while lane.waiting and lane.under_way < lane.window:
            self._put(lane.waiting.popleft(), lane)
        if not self._count:
            self._rest()

    def _too_late(self) -> None:
        assert self._loop is not None
        self._timer = None
        now = self._loop.time()
        while self._by_deadline and (self._by_deadline[0].socket is None or self._by_deadline[0].deadline <= now):
            sending = self._by_deadline.popleft()
            of = sending.socket
            if of is None:
                continue
            of.lane.window = max(NARROWEST, of.lane.window / 2)
            of.lane.unanswered += 1
            if of.lane.unanswered >= GIVE_UP and of.lane.waiting:
                self._refuse(list(of.lane.waiting), "silent")
                of.lane.waiting.clear()
            broken = of.lane.unfit >= UNFIT
            self._finish(sending, of.lane, partial(sending.failed, "not-dns" if broken else "silent", broken))
        if self._by_deadline and self._timer is None:
            self._timer = self._loop.call_at(self._by_deadline[0].deadline, self._too_late)

    def _rest(self) -> None:
        """Nothing is under way: close everything, so that nothing stays open behind whoever asked."""
        for lane in self._lanes.values():
            for of in list(lane.sockets):
                self._close(of)
        self._by_deadline.clear()
        if self._timer:
            self._timer.cancel()
            self._timer = None

    def _close(self, of: _Socket) -> None:
        if self._loop is not None and not self._loop.is_closed():
            self._loop.remove_reader(of.sock)
        of.sock.close()
        of.lane.sockets.remove(of)
