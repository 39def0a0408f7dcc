"""What the checks of many domains share: one set of sockets, one pace, and the answers that hold for all of them.

A question about a name outside the domain that is checked (the root, a top level, a host's nameservers, a builder's
edge) is asked once per TTL for all. A question about the domain itself is asked once in a check; and of servers that
gave the same serial of its SOA, one is asked, and its answer counts for the others (RFC 1034 section 4.3.5).
"""

from __future__ import annotations

import asyncio
import zlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import partial

from homepath.core.dns.answers import UNSENT, Answer, Question, Server, Trouble
from homepath.core.dns.names import Name, is_within
from homepath.core.dns.soa import serial_of
from homepath.core.dns.walk import Ask
from homepath.net.asker import Asker
from homepath.net.kept_answers import SILENT, AnswerCache, Key, OwnSilence, Silences
from homepath.net.network_file import Network, OffLimits, is_quiet
from homepath.net.pace import Pace
from homepath.net.rechecking import Checking, Known, Rechecker
from homepath.net.session import Session, Store
from homepath.net.vantages import Place

PAGES_AT_ONCE = 16
"""Pages asked for at one moment by one worker: about as many as its processor can open (TLS) while one answers."""
QUEUE_GRACE = 30.0
"""Seconds that a check has left, at least, after one of its queries waited in a queue."""

Report = Callable[[Answer], None]


@dataclass(slots=True)
class Commons:
    """Made once for a run, inside its event loop."""

    network: Network
    pace: Pace
    asker: Asker = field(init=False)
    answers: AnswerCache = field(default_factory=AnswerCache)
    under_way: dict[Key, list[Report]] = field(default_factory=dict)
    silences: Silences = field(default_factory=Silences)
    store: Store = field(default_factory=lambda: Store(asyncio.Semaphore(PAGES_AT_ONCE), of_one_site=1))

    def __post_init__(self) -> None:
        self.asker = Asker(self.network)

    def check_site(self, domain: Name) -> Shared:
        """What one check of one domain shares with the others."""
        return Shared(SharingAsker(self, domain), spread=(domain, zlib.crc32(domain.encode())), store=self.store)


@dataclass(slots=True)
class Shared(Session):
    """What the parts of one check of one domain use together."""

    asker: SharingAsker


class SharingAsker(Rechecker):
    """Asks for one check of one domain, and only what no other check knows already."""

    fingerprints = True

    def __init__(self, commons: Commons, domain: Name) -> None:
        super().__init__(commons.network, over=commons.asker)
        self._commons, self._domain = commons, domain
        self._serials: dict[Server, int] = {}
        self._twins: dict[int, list[Server]] = {}
        self._under_way: dict[Key, list[Report]] = {}
        self._unread: list[tuple[Checking, bytes]] = []
        self.own: dict[Key, Answer] = {}
        """Every answer about the domain itself that this check was given."""
        self.spared = 0
        """Questions that were not sent to a server because its twin had answered them."""
        self._queued = False
        self._silence = OwnSilence()

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

    def _known(self, key: Key) -> Answer | None:
        if is_within(key[0], self._domain):
            return self.own.get(key)
        return self._commons.answers.get(key, self.network.clock.now())

    async def check_all(self, all_known: Sequence[Known]) -> list[Answer | None]:
        """Query what is known already: None for each answer that is the same, else the answer."""
        found: list[Answer | None] = [None] * len(all_known)
        finished: asyncio.Future[None] = asyncio.get_running_loop().create_future()
        left = len(all_known)

        def report(at: int, answer: Answer | None) -> None:
            nonlocal left
            found[at] = answer
            left -= 1
            if not left and not finished.done():
                finished.set_result(None)

        for at, known in enumerate(all_known):
            place = self._place(known.server)
            if isinstance(place, OffLimits):
                self._begin(known.question, known.server, False, False, False, partial(report, at))
            else:
                self._when_free(place, Checking(self, known, place, partial(report, at)).go_or_begin)
        if all_known:
            await finished
        return found

    def answered_as_before(self, checking: Checking, octets: bytes) -> None:
        self._went(checking.place, True, False)
        self._unread.append((checking, octets))

    def observed(self, checking: Checking, answer: Answer) -> None:
        self._told((*checking.question.key, checking.server, False, False, False), True, answer)

    def _begin(
        self, question: Question, server: Server, recurse: bool, dnssec: bool, unchecked: bool, done: Report
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
        if not self._when_free(place, partial(self._released, key, mine, question)) and self.ends:
            self._queued = True

    def _when_free(self, place: Place, go: Callable[[], None]) -> bool:
        """Call `go` when it is its turn at this place; whether that was at once. A dead place has no queue."""
        if self._commons.silences.is_dead(place):
            go()
            return True
        return self._commons.pace.when_free(place, go)

    def _released(self, key: Key, mine: bool, question: Question) -> None:
        """A query's turn. Its time in the queue is not the server's, so the check gets it back."""
        if self._queued and self.ends is not None:
            self.ends = max(self.ends, asyncio.get_running_loop().time() + QUEUE_GRACE)
        place = self._place(key[2])
        if not isinstance(place, OffLimits) and self.spares(place, partial(self._tried, key, mine, question)):
            return
        self._send(key, mine, question)

    def spares(self, place: Place, go_on: Callable[[bool], None]) -> bool:
        """Whether a query to a dead place is held back. `go_on` gets True if the place is silent to this domain too, as
        soon as another query of this check has shown it."""
        silence = self._silence
        if not self._commons.silences.is_dead(place):
            return False
        if place in silence.silent:
            asyncio.get_running_loop().call_soon(go_on, True)
        elif silence.under_way[place] > 0:
            silence.waits.setdefault(place, []).append(go_on)
        else:
            return False
        return True

    def _tried(self, key: Key, mine: bool, question: Question, silent: bool) -> None:
        """A query that waited for another one to a dead place: it has the same fate, or is sent after all."""
        server = key[2]
        place = self._place(server)
        if not silent and not isinstance(place, OffLimits):
            self._commons.pace.when_free(place, partial(self._send, key, mine, question))
            return
        trouble = Trouble("silent", server.name, server.place)
        self._tell(key, mine, Answer(question, server, "silent", self.network.clock.now(), trouble=trouble), False)

    def _send(self, key: Key, mine: bool, question: Question) -> None:
        _, _, server, recurse, dnssec, unchecked = key
        self.leaves(self._place(server))
        super()._begin(question, server, recurse, dnssec, unchecked, partial(self._told, key, mine))

    def leaves(self, place: Place | OffLimits) -> None:
        """A query of this check goes to a place now."""
        if not isinstance(place, OffLimits):
            self._silence.under_way[place] += 1

    def _went(self, place: Place, well: bool, silent: bool) -> None:
        """A query of this check has come back from a place."""
        self._commons.pace.went(place, well, self)
        self._silence.under_way[place] -= 1
        if not silent:
            self._commons.silences.answered(place)
        elif self._commons.silences.kept_silent(place, self._domain):
            self._commons.pace.flush(place)
        self._silence.settled(place, silent)

    def _told(self, key: Key, mine: bool, answer: Answer) -> None:
        place = self._place(key[2])
        cause = answer.trouble.cause if answer.trouble is not None else None
        if not isinstance(place, OffLimits):
            if cause in UNSENT:
                self._silence.under_way[place] -= 1
                self._silence.settled(place, place in self._silence.silent)
            else:
                well = answer.usable or answer.rcode not in ("", "REFUSED", "SERVFAIL")
                self._went(place, well, cause in SILENT)
        self._tell(key, mine, answer, cause not in UNSENT)

    def _tell(self, key: Key, mine: bool, answer: Answer, keep: bool) -> None:
        """Everyone who waits for the answer. `keep`: it is of use to other checks too."""
        if mine:
            self.own[key] = answer
            self._note_serial(answer)
        elif keep:  # that this check had no time left says nothing about the server
            self._commons.answers.keep(key, answer)
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
        """Another server with the same serial, which gets this query instead. Name and type choose it, so that all
        servers share the load."""
        serial = self._serials.get(server)
        if serial is None or question.type == "SOA":
            return None
        twins = self._twins[serial]
        one = twins[zlib.crc32(f"{question.name} {question.type}".encode()) % len(twins)]
        return None if one == server else one

    def _like(self, twin: Server, key: Key, question: Question, done: Report) -> None:
        """What the twin says counts for this server; where it says nothing of use, the server itself is asked."""
        _, _, server, recurse, dnssec, unchecked = key
        self.spared += 1

        def report(answer: Answer) -> None:
            if answer.usable:
                shared = replace(answer, server=server)
                self.own[key] = shared
                done(shared)
                return
            self._serials.pop(server, None)
            self._begin(question, server, recurse, dnssec, unchecked, done)

        self._begin(question, twin, recurse, dnssec, unchecked, report)

    def again(self, place: Place) -> None:
        self._commons.pace.again(place)

    def read_what_came(self) -> None:
        """What was answered as before is read after all, so that anyone who needs it need not ask for it."""
        for checking, octets in self._unread:
            key = (*checking.question.key, checking.server, False, False, False)
            self._tell(key, True, checking.read(octets), True)
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
