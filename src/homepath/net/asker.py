"""The one seam to nameservers: questions go out, answer values come back, whatever happens."""

from __future__ import annotations

import asyncio
from collections import deque
from collections.abc import AsyncIterator, Callable, Iterable, Sequence
from dataclasses import replace

import dns.rcode

from homepath.core.dns.answers import Answer, Question, Server, Trouble, TroubleCause
from homepath.core.dns.walk import Ask
from homepath.net import octets as wire
from homepath.net.datagrams import Datagrams, Sending
from homepath.net.fingerprints import fingerprint as fingerprint_of
from homepath.net.network_file import Network, OffLimits, is_quiet
from homepath.net.streams import NoAnswer, Streams
from homepath.net.vantages import Place
from homepath.net.wire import read_rare_answer, trouble_of

AT_ONCE = 512
"""Questions under way at one moment, over all servers."""


class Asker:
    """Asks over UDP, over TCP when truncated, over TLS or HTTPS where the server is given so.

    `patience`: seconds of real time for one try; `tries`: how often, the last time without EDNS (RFC 6891 section 7).
    Over UDP names are sent in random capitals and must come back so; a server that does not repeat them is
    queried plainly. An answer that comes late, to an earlier try, is taken as long as the question is open.
    After `ends`, a moment of the event loop's clock, nothing new is asked. `asked` counts what was sent, `dropped` what
    came unasked. `over`: another asker whose sockets are used.
    """

    fingerprints = False
    """Whether answers carry digests of their bytes."""

    def __init__(self, network: Network, patience: float = 2.0, tries: int = 2, over: Asker | None = None) -> None:
        self.network = network
        self.patience, self.tries = patience, tries
        self.asked = 0
        self.ends: float | None = None
        self._unfit = 0
        self._datagrams: Datagrams = over._datagrams if over else Datagrams(patience, self._drop)
        self._streams: Streams = over._streams if over else Streams(network)
        self._places: dict[Server, Place | OffLimits] = over._places if over else {}
        self._tasks: set[asyncio.Task[None]] = set()

    @property
    def dropped(self) -> int:
        """Answers that did not match a question, an id or a server."""
        return self._unfit + self._streams.unfit

    def _drop(self) -> None:
        self._unfit += 1

    async def ask(
        self, question: Question, server: Server, recurse: bool = False, dnssec: bool = False, unchecked: bool = False
    ) -> Answer:
        """The answer, or an answer value that says `silent` or `broken`. Never raises for what a server does."""
        waiting: asyncio.Future[Answer] = asyncio.get_running_loop().create_future()

        def done(answer: Answer) -> None:
            if not waiting.done():
                waiting.set_result(answer)

        self._begin(question, server, recurse, dnssec, unchecked, done)
        return await waiting

    async def ask_all(
        self,
        asks: Sequence[Ask],
        recurse: bool = False,
        dnssec: bool = False,
        unchecked: bool = False,
        at_once: int | None = None,
    ) -> list[Answer]:
        """All answers, in the order of the questions, asked at the same time: at most `at_once` of them."""
        if len(asks) == 1:
            return [await self.ask(*asks[0], recurse, dnssec, unchecked)]
        found: list[Answer | None] = [None] * len(asks)
        waiting = deque(enumerate(asks))
        finished: asyncio.Future[None] = asyncio.get_running_loop().create_future()
        left = len(asks)
        if not left:
            return []

        def begin() -> None:
            at, (question, server) = waiting.popleft()

            def done(answer: Answer) -> None:
                nonlocal left
                found[at] = answer
                left -= 1
                if waiting:
                    begin()
                elif not left and not finished.done():
                    finished.set_result(None)

            self._begin(question, server, recurse, dnssec, unchecked, done)

        for _ in range(min(at_once or AT_ONCE, left)):
            begin()
        await finished
        return [answer for answer in found if answer is not None]

    async def each(self, asks: Iterable[Ask], recurse: bool = False, dnssec: bool = False) -> AsyncIterator[Answer]:
        """Answers as they come, for any number of questions: memory holds only what is under way."""
        loop = asyncio.get_running_loop()
        ready: deque[Answer] = deque()
        wake: asyncio.Future[None] = loop.create_future()
        under_way = 0

        def done(answer: Answer) -> None:
            nonlocal under_way
            under_way -= 1
            ready.append(answer)
            if not wake.done():
                wake.set_result(None)

        source = iter(asks)
        more = True
        while more or under_way or ready:
            while more and under_way + len(ready) < AT_ONCE:
                ask = next(source, None)
                if ask is None:
                    more = False
                    break
                under_way += 1
                self._begin(*ask, recurse, dnssec, False, done)
            while ready:
                yield ready.popleft()
                if more and under_way < AT_ONCE // 2:
                    break
            if under_way and not ready:
                wake = loop.create_future()
                await wake

    def _begin(
        self,
        question: Question,
        server: Server,
        recurse: bool,
        dnssec: bool,
        unchecked: bool,
        done: Callable[[Answer], None],
    ) -> None:
        loop = asyncio.get_running_loop()
        place = self._place(server)
        if isinstance(place, OffLimits) or (self.ends is not None and loop.time() > self.ends):
            late = Trouble("no-time", server.name, server.place)
            trouble = trouble_of(place, server) if isinstance(place, OffLimits) else late
            nothing = Answer(question, server, "silent", self.network.clock.now(), trouble=trouble)
            loop.call_soon(done, nothing)
            return
        one = Asking(self, question, server, place, done)
        one.recurse, one.dnssec, one.unchecked = recurse, dnssec, unchecked
        if server.transport == "udp":
            self._datagrams.send(one, place)
        else:
            self.in_background(one.over_stream())

    def _place(self, server: Server) -> Place | OffLimits:
        """Where to send, or why nothing may be sent."""
        known = self._places.get(server)
        if known is None:
            try:
                known = self.network.place(server.address, server.port)
            except OffLimits as error:
                known = error
            if len(self._places) < 10_000:
                self._places[server] = known
        return known

    def in_background(self, work: object) -> None:
        task = asyncio.ensure_future(work)  # type: ignore[call-overload]
        self._tasks.add(task)
        task.add_done_callback(self._tasks.discard)

    def again(self, place: Place) -> None:
        """A question is sent to `place` once more; for anyone who keeps a pace."""

    def by_datagram(self, sending: Sending, place: Place) -> None:
        self._datagrams.send(sending, place)

    async def by_stream(self, query: bytes, asked: bytes, server: Server, place: Place) -> bytes:
        return await self._streams.exchange(query, asked, server, place)


class Asking(Sending):
    """One question on its way to one server, through as many tries as it takes."""

    __slots__ = ("asker", "dnssec", "done", "edns", "place", "question", "recurse", "sends", "server", "unchecked")
    recurse: bool
    dnssec: bool
    unchecked: bool

    def __init__(
        self, asker: Asker, question: Question, server: Server, place: Place, done: Callable[[Answer], None]
    ) -> None:
        super().__init__(wire.question_octets(question), asker.tries, asker)
        self.asker, self.question, self.server, self.place = asker, question, server, place
        self.done = done
        self.edns = True
        self.sends = 0

    def compose(self, asked: bytes, number: int) -> bytes:
        self.asker.asked += 1
        self.sends += 1
        if self.sends > 1:
            self.asker.again(self.place)
        return wire.query_octets(asked, number, self.recurse, self.edns, self.dnssec, self.unchecked)

    def before_last_try(self) -> None:
        """Some middle boxes drop what they do not know, so the last try goes without (RFC 6891 section 7)."""
        self.edns = self.dnssec

    def arrived(self, octets: bytes) -> None:
        if octets[2] & 0x02:  # truncated (RFC 7766 section 5)
            self.asker.in_background(self.over_stream())
            return
        if self.edns and wire.rcode(octets) in (dns.rcode.FORMERR, dns.rcode.NOTIMP):
            self.edns = False  # an old server may stumble over EDNS
            self.tries = self.asker.tries
            self.asker.by_datagram(self, self.place)
            return
        self.finish(octets)

    def failed(self, cause: TroubleCause, broken: bool) -> None:
        self.give_up(Trouble(cause), broken)

    async def over_stream(self) -> None:
        """Over a connection; whatever happens there becomes an answer value."""
        try:
            async with asyncio.timeout(self.asker.patience * max(2, self.asker.tries)):
                octets = await self.asker.by_stream(self.compose(self.asked, 0), self.asked, self.server, self.place)
        except NoAnswer as error:
            self.give_up(error.trouble, error.broken)
        except OSError as error:
            self.give_up(trouble_of(error), False)
        else:
            self.finish(octets)

    def finish(self, octets: bytes) -> None:
        self.tell(self.read(octets))

    def read(self, octets: bytes) -> Answer:
        """The answer of a response; whatever hostile octets do to a parser, the question gets its answer value."""
        at = self.asker.network.clock.now()
        fingerprint = fingerprint_of(octets, len(self.asked)) if self.asker.fingerprints else ""
        try:
            return wire.read_answer(octets, len(self.asked), self.question, self.server, at, self.late, fingerprint)
        except wire.Unusual:
            try:
                answer = read_rare_answer(octets, self.question, self.server, at)
            except Exception:
                return self.nothing(Trouble("not-dns"), True)
        return replace(answer, late=self.late, fingerprint=fingerprint)

    def give_up(self, trouble: Trouble, broken: bool) -> None:
        self.tell(self.nothing(trouble, broken))

    def nothing(self, trouble: Trouble, broken: bool) -> Answer:
        at = self.asker.network.clock.now()
        trouble = replace(trouble, server=self.server.name, address=self.server.place)
        return Answer(self.question, self.server, "broken" if broken else "silent", at, trouble=trouble)

    def tell(self, answer: Answer) -> None:
        if not is_quiet(self.asker.network):
            self.say(
                answer.rcode
                if answer.outcome == "answered"
                else f"{answer.outcome}, {answer.trouble and answer.trouble.cause}"
            )
        self.done(answer)

    def say(self, what: str) -> None:
        """For anyone who listens to what is asked."""
        where = f"{self.server.place} {self.question.name} {self.question.type}"
        self.asker.network.trace(f"dns {where}: {what}")
