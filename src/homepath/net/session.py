"""What the parts of one command use together, so that each question is asked once and each wait happens once."""

from __future__ import annotations

import asyncio
import secrets
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field, replace
from functools import partial
from typing import TYPE_CHECKING

from homepath.core.dns.answers import Answer, Question, Server
from homepath.core.dns.names import Name
from homepath.core.dns.records import Key
from homepath.core.dns.walk import Cut
from homepath.net.asker import Asker
from homepath.net.network_file import Network, OffLimits
from homepath.net.pace import Pace, Paces
from homepath.net.vantages import Place

if TYPE_CHECKING:
    from cryptography.x509 import Certificate as X509

    from homepath.core.web.hops import Fetch, Fetched
from collections.abc import Generator
from typing import TypeVar

from homepath.core.dns.answers import Trouble
from homepath.core.dns.walk import Ask, Budget, Found, LostWay, find_cut, look_up

Result = TypeVar("Result")


@dataclass(slots=True)
class Walker:
    """Finds servers and addresses from the root down; what one walk learns of zone cuts, the next one uses."""

    asker: Asker
    cuts: dict[Name, Cut] = field(default_factory=dict)
    spread: tuple[Name, int] | None = None

    async def cut(self, name: Name) -> Cut:
        """The zone that holds `name`. Raises LostWay."""
        cut = await self._drive(find_cut(name, self.asker.network.roots, self._budget()))
        return replace(cut, servers=self._usable(cut.servers), parents=self._usable(cut.parents))

    def _usable(self, servers: tuple[Server, ...]) -> tuple[Server, ...]:
        usable = set(self.asker.network.usable(each.address for each in servers))
        return tuple(each for each in servers if each.address in usable)

    async def look_up(self, name: Name, *types: str) -> Found:
        """The sets of `types` at `name` from its authoritative servers, aliases followed. Raises LostWay."""
        return await self._drive(look_up(name, types, self.asker.network.roots, self._budget()))

    async def addresses(self, name: Name) -> tuple[tuple[str, ...], Found | None, Trouble | None]:
        """The addresses of `name`, IPv4 first; what was found on the way; and why there is none."""
        try:
            found = await self.look_up(name, "A", "AAAA")
        except LostWay as error:
            return (), None, error.trouble
        addresses = tuple(value for record in found.sets for value in record.values)
        missing = Trouble("no-such-name" if found.rcode == "NXDOMAIN" else "no-address", name)
        return addresses, found, None if addresses else missing

    def _budget(self) -> Budget:
        return Budget(self.asker.network.dns_port, known=self.cuts, spread=self.spread)

    async def _drive(self, walk: Generator[list[Ask], list[Answer], Result]) -> Result:
        try:
            asks = next(walk)
            while True:
                asks = walk.send(await self.asker.ask_all(asks))
        except StopIteration as done:
            result: Result = done.value
            return result


AT_ONCE = 32
"""Pages asked for at one moment."""
LONGEST = 60.0
"""Seconds of real time after which a command asks nothing new, whatever servers do; what is under way ends by
itself."""


@dataclass(slots=True)
class Store:
    """What was read once and holds for every session: `anchors`, the trusted authorities; `texts`, what registries say
    of themselves, by its place. `pages`: how many pages are fetched at the same time; `of_one_site`: how many of them
    from one site."""

    pages: asyncio.Semaphore = field(default_factory=lambda: asyncio.Semaphore(AT_ONCE))
    of_one_site: int = AT_ONCE
    anchors: list[X509] | None = None
    texts: dict[str, asyncio.Task[str]] = field(default_factory=dict)


@dataclass(slots=True)
class Session:
    """One command at one moment. `cuts`: the zones found so far; `spread`: with which server of a zone walks begin;
    `fetched`: each page of each address, with the name by which a builder's own certificate is known; `label`:
    one that no one can have entered, by which wildcards show; `differing`: what a short check saw to differ before, or
    None where its servers hold different zones, so that anything may."""

    asker: Asker
    cuts: dict[Name, Cut] = field(default_factory=dict)
    spread: tuple[Name, int] | None = None
    store: Store = field(default_factory=Store)
    fetched: dict[tuple[Fetch, str | None], asyncio.Task[Fetched]] = field(default_factory=dict)
    label: str = field(default_factory=lambda: random_label())
    differing: tuple[Key, ...] | None = ()

    @property
    def walker(self) -> Walker:
        return Walker(self.asker, self.cuts, self.spread)

    def begin(self) -> None:
        """From now on the command's time runs, if it does not yet."""
        if self.asker.ends is None:
            self.asker.ends = asyncio.get_running_loop().time() + LONGEST

    @property
    def over(self) -> bool:
        return self.asker.ends is not None and asyncio.get_running_loop().time() > self.asker.ends


def random_label() -> str:
    """A label that no one can have entered."""
    return f"hp-{secrets.token_hex(6)}"


def session(network: Network) -> Session:
    """A session in which no question is sent twice."""
    return Session(RememberingAsker(network))


def pace_of(network: Network, workers: int = 1) -> Pace:
    """The pace that a network file sets, for one of so many workers."""
    resolvers = set()
    for each in network.resolvers:
        with suppress(OffLimits):
            resolvers.add(network.place(each.server.address, each.server.port))
    return Pace(network.paces.shared_by(workers), frozenset(resolvers))


_Key = tuple[str, str, tuple[str, int, str, str, str], bool, bool, bool]


class RememberingAsker(Asker):
    """Asks each question once: anyone who asks it again is given the same answer, silence included."""

    def __init__(self, network: Network) -> None:
        super().__init__(network)
        self._known: dict[_Key, Answer] = {}
        self._waiting: dict[_Key, list[tuple[Server, Callable[[Answer], None]]]] = {}
        # a practice world or a laboratory on this machine has to be spared only where its file says so
        unsaid = network.closed and network.paces == Paces()
        self._pace = None if unsaid else pace_of(network)

    def _begin(
        self,
        question: Question,
        server: Server,
        recurse: bool,
        dnssec: bool,
        unchecked: bool,
        done: Callable[[Answer], None],
    ) -> None:
        # one machine may go by several names; where its certificate is checked, the name is part of the question
        name = "" if server.transport == "udp" else server.name
        where = (server.address, server.port, server.transport, server.path, name)
        key = (*question.key, where, recurse, dnssec, unchecked)
        known = self._known.get(key)
        if known is not None:
            asyncio.get_running_loop().call_soon(done, _as_of(known, server))
        elif key in self._waiting:
            self._waiting[key].append((server, done))
        else:
            self._waiting[key] = [(server, done)]
            go = partial(super()._begin, question, server, recurse, dnssec, unchecked, partial(self._told, key))
            place = self._place(server)
            if self._pace is None or isinstance(place, OffLimits):
                go()
            else:
                self._pace.when_free(place, go)

    def again(self, place: Place) -> None:
        if self._pace is not None:
            self._pace.again(place)

    def _told(self, key: _Key, answer: Answer) -> None:
        if answer.trouble is None or answer.trouble.cause not in (
            "no-time",
            "not-asked",
        ):  # what was not asked is not known
            self._known[key] = answer
        for server, done in self._waiting.pop(key):
            done(_as_of(answer, server))


def _as_of(answer: Answer, server: Server) -> Answer:
    return answer if answer.server == server else replace(answer, server=server)
