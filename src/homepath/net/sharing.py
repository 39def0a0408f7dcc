"""What the checks of many domains share: one set of sockets, one pace, and the answers that hold for all of them.

A question about a name outside the domain that is checked (the root, a top level, a host's nameservers, a builder's
edge) is asked once per TTL for all. A question about the domain itself is asked once in a check; and of servers that
gave the same serial of its SOA, one is asked, and its answer counts for the others (RFC 1034 section 4.3.5).
"""

from __future__ import annotations

import asyncio
import zlib
from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import partial
from typing import NamedTuple

from homepath.core.dns.answers import UNSENT, Answer, Question, Server
from homepath.core.dns.names import Name, is_within
from homepath.core.dns.soa import negative_ttl, serial_of
from homepath.core.dns.walk import Ask
from homepath.net.asker import Asker, Asking
from homepath.net.marks import mark as mark_of
from homepath.net.network_file import Network, OffLimits, is_quiet
from homepath.net.pace import Pace
from homepath.net.session import Session, Store
from homepath.net.vantages import Place

MOST_ANSWERS = 20_000
"""Answers kept for all; the one that was not used for longest goes first."""
LONGEST_KEPT = 86400
"""Seconds that an answer is kept, whatever its TTL says."""
TROUBLE_KEPT = 60
"""Seconds that no one else asks what a server did not answer."""
PAGES_AT_ONCE = 16
"""Pages asked for at one moment by one worker: about as many as its processor can open (TLS) while one answers."""
QUEUE_GRACE = 30.0
"""Seconds that a check has left, at least, after one of its queries waited in a queue."""

Told = Callable[[Answer], None]
_Key = tuple[str, str, Server, bool, bool, bool]


@dataclass(slots=True)
class AnswerCache:
    """Answers until their TTL ends, bounded. Times are those of the network's clock."""

    most: int = MOST_ANSWERS
    _answers: OrderedDict[_Key, tuple[float, Answer]] = field(default_factory=OrderedDict)

    def get(self, key: _Key, now: float) -> Answer | None:
        found = self._answers.get(key)
        if found is None:
            return None
        if found[0] <= now:
            del self._answers[key]
            return None
        self._answers.move_to_end(key)
        return found[1]

    def keep(self, key: _Key, answer: Answer) -> None:
        self._answers[key] = (answer.at + _lasts(answer), answer)
        while len(self._answers) > self.most:
            self._answers.popitem(last=False)

    def __len__(self) -> int:
        return len(self._answers)


def _lasts(answer: Answer) -> float:
    """Seconds that an answer holds for everybody: its shortest TTL."""
    if not answer.usable:
        return TROUBLE_KEPT
    if not answer.answer and answer.soa is not None:
        return min(negative_ttl(answer.soa), LONGEST_KEPT)
    ttls = [each.ttl for each in (*answer.answer, *answer.authority)]
    return min([*ttls, LONGEST_KEPT])


@dataclass(slots=True)
class Commons:
    """Made once for a run, inside its event loop."""

    network: Network
    pace: Pace
    asker: Asker = field(init=False)
    kept: AnswerCache = field(default_factory=AnswerCache)
    under_way: dict[_Key, list[Told]] = field(default_factory=dict)
    store: Store = field(default_factory=lambda: Store(asyncio.Semaphore(PAGES_AT_ONCE)))

    def __post_init__(self) -> None:
        self.asker = Asker(self.network)

    def check_site(self, domain: Name) -> Shared:
        """What one check of one domain shares with the others."""
        return Shared(SharingAsker(self, domain), spread=(domain, zlib.crc32(domain.encode())), store=self.store)


@dataclass(slots=True)
class Shared(Session):
    """What the parts of one check of one domain use together."""

    asker: SharingAsker


class Known(NamedTuple):
    """A question to one server, and the mark (`net/marks.py`) of the answer that it is expected to give."""

    question: Question
    server: Server
    mark: str


class SharingAsker(Asker):
    """Asks for one check of one domain, and only what no other check knows already."""

    marks = True

    def __init__(self, commons: Commons, domain: Name) -> None:
        super().__init__(commons.network, over=commons.asker)
        self._commons, self._domain = commons, domain
        self._serials: dict[Server, int] = {}
        self._twins: dict[int, list[Server]] = {}
        self._under_way: dict[_Key, list[Told]] = {}
        self._unread: list[tuple[Checking, bytes]] = []
        self.own: dict[_Key, Answer] = {}
        """Every answer about the domain itself that this check was given."""
        self.spared = 0
        """Questions that were not sent to a server because its twin had answered them."""
        self._queued = False

    async def ask_all(
        self,
        asks: Sequence[Ask],
        recurse: bool = False,
        dnssec: bool = False,
        unchecked: bool = False,
        at_once: int | None = None,
    ) -> list[Answer]:
        known = [self._known((*ask[0].key, ask[1], recurse, dnssec, unchecked)) for ask in asks]
        if None in known:
            return await super().ask_all(asks, recurse, dnssec, unchecked, at_once)
        return [answer for answer in known if answer is not None]

    def _known(self, key: _Key) -> Answer | None:
        if is_within(key[0], self._domain):
            return self.own.get(key)
        return self._commons.kept.get(key, self.network.clock.now())

    async def check_all(self, all_known: Sequence[Known]) -> list[Answer | None]:
        """Query what is known already: None for each answer that is the same, else the answer."""
        found: list[Answer | None] = [None] * len(all_known)
        finished: asyncio.Future[None] = asyncio.get_running_loop().create_future()
        left = len(all_known)

        def told(at: int, answer: Answer | None) -> None:
            nonlocal left
            found[at] = answer
            left -= 1
            if not left and not finished.done():
                finished.set_result(None)

        for at, known in enumerate(all_known):
            place = self._place(known.server)
            if isinstance(place, OffLimits):
                self._begin(known.question, known.server, False, False, False, partial(told, at))
            else:
                self._commons.pace.when_free(place, Checking(self, known, place, partial(told, at)).go)
        if all_known:
            await finished
        return found

    def answered_as_before(self, checking: Checking, octets: bytes) -> None:
        self._commons.pace.went(checking.place, True, self)
        self._unread.append((checking, octets))

    def observed(self, checking: Checking, answer: Answer) -> None:
        self._told((*checking.question.key, checking.server, False, False, False), True, answer)

    def _begin(
        self, question: Question, server: Server, recurse: bool, dnssec: bool, unchecked: bool, done: Told
    ) -> None:
        loop = asyncio.get_running_loop()
        key = (*question.key, server, recurse, dnssec, unchecked)
        mine = is_within(question.name, self._domain)
        known = self._known(key)
        if known is not None:
            loop.call_soon(done, known)
            return
        twin = self._twin(question, server) if mine and not recurse else None
        if twin is not None:
            self._like(twin, key, question, done)
            return
        under_way = self._under_way if mine else self._commons.under_way
        if key in under_way:
            under_way[key].append(done)
            return
        under_way[key] = [done]
        place = self._place(server)
        if isinstance(place, OffLimits):
            self._send(key, mine, question)
            return
        if not self._commons.pace.when_free(place, partial(self._released, key, mine, question)) and self.ends:
            self._queued = True

    def _released(self, key: _Key, mine: bool, question: Question) -> None:
        """A query's turn. Its time in the queue is not the server's, so the check gets it back."""
        if self._queued and self.ends is not None:
            self.ends = max(self.ends, asyncio.get_running_loop().time() + QUEUE_GRACE)
        self._send(key, mine, question)

    def _send(self, key: _Key, mine: bool, question: Question) -> None:
        _, _, server, recurse, dnssec, unchecked = key
        super()._begin(question, server, recurse, dnssec, unchecked, partial(self._told, key, mine))

    def _told(self, key: _Key, mine: bool, answer: Answer) -> None:
        server = key[2]
        place = self._place(server)
        unasked = answer.trouble is not None and answer.trouble.cause in UNSENT
        if not isinstance(place, OffLimits) and not unasked:
            self._commons.pace.went(place, answer.usable or answer.rcode not in ("", "REFUSED", "SERVFAIL"), self)
        if mine:
            self.own[key] = answer
            self._note_serial(answer)
        elif not unasked:  # that this check had no time left says nothing about the server
            self._commons.kept.keep(key, answer)
        for done in (self._under_way if mine else self._commons.under_way).pop(key, ()):
            done(answer)

    def _note_serial(self, answer: Answer) -> None:
        question = answer.question
        if question.type != "SOA" or question.name != self._domain or not answer.authoritative:
            return
        serial = serial_of([answer], self._domain)
        if serial is None or answer.server in self._serials:
            return
        self._serials[answer.server] = serial
        self._twins.setdefault(serial, []).append(answer.server)

    def _twin(self, question: Question, server: Server) -> Server | None:
        """Another server that holds the same zone, as far as its serial tells, and is asked this anyway."""
        serial = self._serials.get(server)
        if serial is None or question.type == "SOA":
            return None
        first = self._twins[serial][0]
        return None if first == server else first

    def _like(self, twin: Server, key: _Key, question: Question, done: Told) -> None:
        """What the twin says counts for this server; where it says nothing of use, the server itself is asked."""
        _, _, server, recurse, dnssec, unchecked = key
        self.spared += 1

        def told(answer: Answer) -> None:
            if answer.usable:
                said = replace(answer, server=server)
                self.own[key] = said
                done(said)
                return
            self._serials.pop(server, None)
            self._begin(question, server, recurse, dnssec, unchecked, done)

        self._begin(question, twin, recurse, dnssec, unchecked, told)

    def again(self, place: Place) -> None:
        self._commons.pace.again(place)

    def read_what_came(self) -> None:
        """What was answered as before is read after all, so that anyone who needs it need not ask for it."""
        for checking, octets in self._unread:
            self.observed(checking, checking.read(octets))
        self._unread.clear()

    def before_full_check(self) -> None:
        """What was answered stays good for it; what was not answered is asked again when it is wanted."""
        self.read_what_came()
        self.own = {key: answer for key, answer in self.own.items() if answer.usable}

    def after_check(self) -> None:
        """What was not read is not wanted any more; each response knows this asker, so they would keep each other."""
        self._unread.clear()

    def say_what_was_spared(self) -> None:
        """For anyone who listens: what was left out, and why."""
        if self.spared and not is_quiet(self.network):
            self.network.trace(f"dns {self._domain}: {self.spared} questions spared, as its servers' serials agree")


class Checking(Asking):
    """A question whose answer is known from an earlier check, on its way. The response is only read where it says
    something else, because reading takes longer than everything else that is done about it.

    `told`: called with the answer, or with None where it is the known one.
    """

    __slots__ = ("mark", "sharing", "told")

    def __init__(
        self, sharing: SharingAsker, known: Known, place: Place, told: Callable[[Answer | None], None]
    ) -> None:
        super().__init__(sharing, known.question, known.server, place, told)
        self.recurse = self.dnssec = self.unchecked = False
        self.sharing, self.mark, self.told = sharing, known.mark, told

    def go(self) -> None:
        self.sharing.by_datagram(self, self.place)

    def finish(self, octets: bytes) -> None:
        if not self.mark or mark_of(octets, len(self.asked)) != self.mark:
            super().finish(octets)
            return
        if not is_quiet(self.sharing.network):
            self.say("as before")
        self.sharing.answered_as_before(self, octets)
        self.told(None)

    def tell(self, answer: Answer) -> None:
        self.sharing.observed(self, answer)
        super().tell(answer)
