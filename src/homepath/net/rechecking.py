"""Queries whose answers are known from an earlier check: only what is different is read."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from homepath.core.dns.answers import Answer, Question, Server, Trouble
from homepath.net.asker import Asker, Asking
from homepath.net.fingerprints import fingerprint as fingerprint_of
from homepath.net.network_file import is_quiet
from homepath.net.vantages import Place


class Known(NamedTuple):
    """A question to one server, and the fingerprint (`net/fingerprints.py`) of the answer that it should give."""

    question: Question
    server: Server
    fingerprint: str


class Rechecker(Asker):
    """Sends such queries and takes their results."""

    def spares(self, place: Place, go_on: Callable[[bool], None]) -> bool:
        """Whether the query is held back; `go_on` gets True if the place turns out to be silent."""
        raise NotImplementedError

    def leaves(self, place: Place) -> None:
        """A query goes out."""
        raise NotImplementedError

    def answered_as_before(self, checking: Checking, octets: bytes) -> None:
        raise NotImplementedError

    def observed(self, checking: Checking, answer: Answer) -> None:
        """What came is not the known answer."""
        raise NotImplementedError


class Checking(Asking):
    """A question whose answer is known from an earlier check, on its way. The response is only read where it says
    something else, because reading takes longer than everything else that is done about it.

    `report`: called with the answer, or with None where it is the known one.
    """

    __slots__ = ("fingerprint", "report", "sharing")

    def __init__(self, sharing: Rechecker, known: Known, place: Place, report: Callable[[Answer | None], None]) -> None:
        super().__init__(sharing, known.question, known.server, place, report)
        self.recurse = self.dnssec = self.unchecked = False
        self.sharing, self.fingerprint, self.report = sharing, known.fingerprint, report

    def go_or_begin(self) -> None:
        """Its turn: sent, or, to a dead place, given the fate of this check's query that is there already."""
        if not self.sharing.spares(self.place, self._tried):
            self._go()

    def _tried(self, silent: bool) -> None:
        if not silent:
            self._go()
            return
        trouble = Trouble("silent", self.server.name, self.server.place)
        self.report(Answer(self.question, self.server, "silent", self.sharing.network.clock.now(), trouble=trouble))

    def _go(self) -> None:
        self.sharing.leaves(self.place)
        self.sharing.by_datagram(self, self.place)

    def finish(self, octets: bytes) -> None:
        if not self.fingerprint or fingerprint_of(octets, len(self.asked)) != self.fingerprint:
            super().finish(octets)
            return
        if not is_quiet(self.sharing.network):
            self.say("as before")
        self.sharing.answered_as_before(self, octets)
        self.report(None)

    def tell(self, answer: Answer) -> None:
        self.sharing.observed(self, answer)
        super().tell(answer)
