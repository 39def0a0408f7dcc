"""Questions whose answers are known from an earlier look: a response is only read where it says something else.

Reading a response takes longer than everything else that is done about it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, NamedTuple

from homepath.core.dns.answers import Answer, Question, Server
from homepath.net.asker import Asking
from homepath.net.marks import mark as mark_of
from homepath.net.network_file import is_quiet
from homepath.net.vantages import Place

if TYPE_CHECKING:
    from homepath.net.sharing import SharingAsker


class Known(NamedTuple):
    """A question to one server, and the mark (`net/marks.py`) of the answer that it is expected to give."""

    question: Question
    server: Server
    mark: str


class Checking(Asking):
    """One such question on its way. `told`: called with the answer, or with None where it is the known one."""

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
        self.sharing.heard_as_before(self, octets)
        self.told(None)

    def tell(self, answer: Answer) -> None:
        self.sharing.heard(self, answer)
        super().tell(answer)
