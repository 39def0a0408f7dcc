"""Many questions over UDP at once: a lane for each place, with sockets on random ports, and on it a line for each who
asks, with a window of its own: what one domain is not answered holds up no other.

Written with callbacks, because a task, a socket and a timer for every question would take most of the time.
"""

from __future__ import annotations

import asyncio
import socket
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass, field
from weakref import WeakKeyDictionary

from homepath.core.dns.answers import TroubleCause
from homepath.net import octets as wire
from homepath.net.vantages import Place
from homepath.net.wire import Chance, cause_of

WINDOW = 32
"""Questions under way on one line at first; halved when the place falls silent, grown again with its answers."""
NARROWEST, WIDEST = 4.0, 64
GIVE_UP = 24
"""So many questions in a row unanswered, and those that still wait on the same line are not sent any more."""
RETIRE_AFTER = 48
"""Questions on one socket, then a new random port is taken (RFC 5452 section 9.2)."""
SOCKETS = 4
"""Sockets open to one place at one moment; which one a question takes is random too."""
UNFIT = 3
"""After this many datagrams that fit no query, a server that did not answer is called broken, not silent."""


class Sending:
    """One question on its way, through as many tries as it takes; an answer to any of its tries is taken.

    `asked`: its question section, sent with the letters of the name in random cases until the place is known not to
    repeat them. `by`: who asks, and so which line it takes. `late`: the first try had run out. A subclass says what
    goes out and what becomes of it.
    """

    __slots__ = ("asked", "by", "deadline", "late", "line", "sent", "tries")
    line: Line

    def __init__(self, asked: bytes, tries: int, by: object) -> None:
        self.asked, self.tries, self.by = asked, tries, by
        self.late = False
        self.deadline = 0.0
        self.sent: list[tuple[_Socket, int]] = []

    def compose(self, asked: bytes, number: int) -> bytes:
        """The query, with the question section as it is sent this time and its id."""
        raise NotImplementedError

    def arrived(self, octets: bytes) -> None:
        """The response came; its id and its question were checked."""
        raise NotImplementedError

    def failed(self, cause: TroubleCause, broken: bool) -> None:
        """No response will come; the place is broken, or else silent."""
        raise NotImplementedError

    def before_last_try(self) -> None:
        """All other tries ran out."""


@dataclass(slots=True, eq=False)
class _Socket:
    """`pending`: by id, what was asked and with which question section; `answered`: ids that are done with."""

    sock: socket.socket
    lane: Lane
    pending: dict[int, tuple[Sending, bytes]] = field(default_factory=dict)
    sent: int = 0
    answered: set[int] = field(default_factory=set)


@dataclass(slots=True, eq=False)
class Line:
    """The questions that one asker has for one place."""

    waiting: deque[Sending] = field(default_factory=deque)
    under_way: int = 0
    window: float = WINDOW
    unanswered: int = 0


@dataclass(slots=True, eq=False)
class Lane:
    """All that goes to one place. `sockets`: those that take questions; `retired`: those that wait for answers only.
    `lines`: by who asks, forgotten with them."""

    place: Place
    sockets: list[_Socket] = field(default_factory=list)
    retired: list[_Socket] = field(default_factory=list)
    lines: WeakKeyDictionary[object, Line] = field(default_factory=WeakKeyDictionary)
    under_way: int = 0
    unfit: int = 0
    folds_case: bool = False


class Datagrams:
    """Sends queries and hands each its answer, its silence or its failure. `patience`: real seconds for one try."""

    def __init__(self, patience: float, dropped: Callable[[], None]) -> None:
        self._patience, self._dropped = patience, dropped
        self._lanes: dict[Place, Lane] = {}
        self._by_deadline: deque[Sending] = deque()
        self._timer: asyncio.TimerHandle | None = None
        self._loop: asyncio.AbstractEventLoop | None = None
        self._count = 0
        self._chance = Chance()

    def send(self, sending: Sending, place: Place) -> None:
        """Put one query on its line; it leaves when the line's window allows."""
        loop = asyncio.get_running_loop()
        if self._loop is not loop:
            self._loop, self._timer = loop, None
        lane = self._lanes.get(place)
        if lane is None:
            lane = self._lanes[place] = Lane(place)
        line = lane.lines.get(sending.by)
        if line is None:
            line = lane.lines[sending.by] = Line()
        sending.line = line
        self._count += 1
        if line.under_way < line.window:
            self._put(sending, lane)
        else:
            line.waiting.append(sending)

    def _put(self, sending: Sending, lane: Lane) -> None:
        lane.under_way += 1
        sending.line.under_way += 1
        self._try(sending, lane)

    def _try(self, sending: Sending, lane: Lane) -> None:
        """Send the question once more, with a new id and maybe from another port."""
        assert self._loop is not None
        sending.tries -= 1
        if not sending.tries and sending.late:
            sending.before_last_try()
        chance = self._chance.take(len(sending.asked) + 3)
        try:
            taken = self._socket(lane, chance[0])
        except OSError as error:
            cause = cause_of(error)
            if sending.sent:
                self._loop.call_soon(self._fail, sending, lane, cause)
            else:
                lane.under_way -= 1
                sending.line.under_way -= 1
                self._refuse([sending], cause)
            return
        number = chance[1] << 8 | chance[2]
        while number in taken.pending:
            number = int.from_bytes(self._chance.take(2))
        asked = sending.asked if lane.folds_case else wire.in_mixed_case(sending.asked, chance[3:])
        sending.sent.append((taken, number))
        taken.pending[number] = sending, asked
        taken.sent += 1
        if taken.sent >= RETIRE_AFTER:
            lane.sockets.remove(taken)
            lane.retired.append(taken)
        sending.deadline = self._loop.time() + self._patience
        self._by_deadline.append(sending)
        try:
            taken.sock.send(sending.compose(asked, number))
        except BlockingIOError:
            pass  # the machine's buffer is full: as if lost on the way
        except OSError as error:
            self._loop.call_soon(self._fail, sending, lane, cause_of(error))
            return
        if self._timer is None:
            self._timer = self._loop.call_at(sending.deadline, self._too_late)

    def _refuse(self, sendings: list[Sending], cause: TroubleCause) -> None:
        """Answered later, never inside `send`: the caller may still be putting questions together."""
        assert self._loop is not None

        def tell() -> None:
            for sending in sendings:
                self._count -= 1
                sending.failed(cause, False)
            if not self._count:
                self._rest()

        self._loop.call_soon(tell)

    def _socket(self, lane: Lane, chance: int) -> _Socket:
        """One of the lane's sockets, by chance (an octet), or a new one while there are few."""
        assert self._loop is not None
        count = len(lane.sockets)
        if count >= SOCKETS or (count and lane.under_way <= count):
            return lane.sockets[chance % count]
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
        lane = of.lane
        for _ in range(WIDEST):
            try:
                octets = of.sock.recv(65535)
            except (BlockingIOError, InterruptedError):
                return
            except OSError as error:
                for each, _ in list(of.pending.values()):
                    self._fail(each, lane, cause_of(error))
                return
            number = octets[0] << 8 | octets[1] if len(octets) >= 12 else -1
            waiting = of.pending.get(number)
            if waiting is None and number in of.answered:
                continue  # the answer to another try of a question that has been answered
            if waiting is None or not wire.answers(octets, waiting[1], True):
                if waiting is not None and not lane.folds_case and wire.answers(octets, waiting[1], False):
                    lane.folds_case = True  # it does not repeat capitals: the other guards must do
                    waiting[0].tries += 1
                    self._try(waiting[0], lane)
                    continue
                lane.unfit += 1
                self._dropped()
                continue
            sending = waiting[0]
            line = sending.line
            wider = max(line.window * 2, WINDOW / 2) if sending.late else line.window + 1 / line.window
            line.window = min(WIDEST, wider)
            line.unanswered = 0
            self._take_off(sending, lane)
            sending.arrived(octets)
            self._go_on(line, lane)
            if of.sock.fileno() < 0:
                return

    def _fail(self, sending: Sending, lane: Lane, cause: TroubleCause, broken: bool = False) -> None:
        """No answer to this question will be waited for any more."""
        if sending.sent:
            self._take_off(sending, lane)
            sending.failed(cause, broken)
            self._go_on(sending.line, lane)

    def _take_off(self, sending: Sending, lane: Lane) -> None:
        """The query is not under way any more; the caller tells whoever asked."""
        sent, sending.sent = sending.sent, []
        for of, number in sent:
            of.pending.pop(number, None)
            of.answered.add(number)
            if of.sent >= RETIRE_AFTER and not of.pending and of in lane.retired:
                self._close(of)
        lane.under_way -= 1
        sending.line.under_way -= 1
        self._count -= 1
        due = self._by_deadline
        while due and not due[0].sent:
            due.popleft()

    def _go_on(self, line: Line, lane: Lane) -> None:
        """There is room on the line for those that wait."""
        while line.waiting and line.under_way < line.window:
            self._put(line.waiting.popleft(), lane)
        if not self._count:
            self._rest()

    def _too_late(self) -> None:
        assert self._loop is not None
        self._timer = None
        now = self._loop.time()
        expired: list[Sending] = []
        while self._by_deadline and (not self._by_deadline[0].sent or self._by_deadline[0].deadline <= now):
            sending = self._by_deadline.popleft()
            if sending.sent and sending.deadline <= now:  # neither answered nor tried again since
                expired.append(sending)
        if self._by_deadline:
            self._timer = self._loop.call_at(self._by_deadline[0].deadline, self._too_late)
        for sending in expired:
            self._expire(sending)

    def _expire(self, sending: Sending) -> None:
        """One try ran out; the next one is sent, if there is one left."""
        if not sending.sent:
            return
        lane, line = sending.sent[-1][0].lane, sending.line
        line.window = max(NARROWEST, line.window / 2)
        line.unanswered += 1
        sending.late = True
        if line.unanswered >= GIVE_UP and line.waiting and not sending.tries:
            self._refuse(list(line.waiting), "not-asked")
            line.waiting.clear()
        if sending.tries > 0:
            self._try(sending, lane)
        else:
            broken = lane.unfit >= UNFIT
            self._fail(sending, lane, "not-dns" if broken else "silent", broken)

    def _rest(self) -> None:
        """Nothing is under way: close everything, so that nothing stays open behind anyone who asked."""
        for lane in self._lanes.values():
            for of in (*lane.sockets, *lane.retired):
                self._close(of)
        self._by_deadline.clear()
        if self._timer:
            self._timer.cancel()
            self._timer = None

    def _close(self, of: _Socket) -> None:
        if self._loop is not None and not self._loop.is_closed():
            self._loop.remove_reader(of.sock)
        of.sock.close()
        (of.lane.retired if of in of.lane.retired else of.lane.sockets).remove(of)
