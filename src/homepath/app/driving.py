"""Drives a check of the core over the network: each list of requests is carried out at the same time."""

from __future__ import annotations

import asyncio
from collections.abc import Generator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, TypeVar

from homepath.core.dns.answers import Question, Server, Trouble
from homepath.core.dns.names import Name
from homepath.core.dns.walk import Found, LostWay
from homepath.core.files.key_file import TsigKey
from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.visits import Hop
from homepath.core.observe.names import LookedUp
from homepath.core.observe.requests import (
    Addresses,
    AskRegistry,
    Beside,
    CheckKeys,
    FetchOnce,
    FindZone,
    Follow,
    LookUp,
    Now,
    Questions,
    Request,
    Transfer,
)
from homepath.core.web.hops import Came, Fetch, Fetched, Resolved, follow
from homepath.net.connections import Connections
from homepath.net.fetch import fetch, load_anchors
from homepath.net.network_file import Network
from homepath.net.registry import ask_registry
from homepath.net.session import Session, Walker
from homepath.net.signatures import check_signatures
from homepath.net.update import NotGiven, transfer

Result = TypeVar("Result")


@dataclass(slots=True)
class Driver:
    """Carries out requests: names are looked up once, and each way is walked once. `session`: what the parts of one
    command use together.

    `through`: a resolver to look names up with, instead of the authoritative servers. `builders`: a name of the
    builder's own, by which its default certificate is known. `key`: for zone transfers.
    """

    network: Network
    session: Session
    through: Server | None = None
    builders: str | None = None
    key: TsigKey | None = None
    walker: Walker = field(init=False)
    _known: dict[Name, asyncio.Task[LookedUp]] = field(default_factory=dict)
    _walks: dict[str, asyncio.Task[tuple[Hop, ...]]] = field(default_factory=dict)
    _connections: Connections = field(init=False)

    def __post_init__(self) -> None:
        self.walker = self.session.walker
        self._connections = Connections(self.session.store.of_one_site)

    async def drive(self, steps: Generator[Sequence[Request], Sequence[Any], Result]) -> Result:
        """The result of a check. Raises what the check raises."""
        self.session.begin()
        try:
            result = await self._play(steps)
        finally:
            await self._connections.close()
        dropped = self.walker.asker.dropped
        if dropped:
            self.network.trace(f"dns {dropped} answers dropped: they fitted no question, id or server")
        return result

    async def follow_all(self, urls: Sequence[str]) -> list[tuple[Hop, ...]]:
        """The hops from each of these URLs on, walked at the same time."""
        try:
            return list(await asyncio.gather(*(self._follow(url, {}) for url in urls)))
        finally:
            await self._connections.close()

    async def _play(self, steps: Generator[Sequence[Request], Sequence[Any], Result]) -> Result:
        try:
            requests = next(steps)
            while True:
                requests = steps.send(await asyncio.gather(*(self._reply(each) for each in requests)))
        except StopIteration as done:
            result: Result = done.value
            return result

    async def _reply(self, request: Request) -> Any:
        match request:
            case Questions(asks, recurse, unchecked, at_once):
                return await self.walker.asker.ask_all(asks, recurse=recurse, unchecked=unchecked, at_once=at_once)
            case FindZone(name):
                return await self._or_trouble(self.walker.cut(name))
            case LookUp(name, types, to_ask):
                found = await self._or_trouble(self.walker.look_up(name, *types))
                return self._usable(found) if to_ask and isinstance(found, Found) else found
            case CheckKeys(cut):
                return await check_signatures(self.walker.asker, cut)
            case AskRegistry(domain):
                return await ask_registry(domain, self.network, self.walker, self.session.store.texts)
            case Transfer(domain, server):
                try:
                    return await transfer(domain, server, self.network, self.key)
                except NotGiven as error:
                    return error.trouble
            case Addresses(name, at_source):
                return await (self.walker.addresses(name) if at_source else self._addresses(name))
            case Follow(url, fixed):
                return await self._follow(url, fixed)
            case FetchOnce(want):
                if not self.network.has_route(want.address):
                    return Fetched(None, trouble=Trouble("not-asked", address=want.address))
                return await self._fetch(want)
            case Beside(steps):
                return await self._play(steps)
            case Now():
                return self.network.clock.now()

    def _usable(self, found: Found) -> Found:
        usable = set(self.network.usable(value for record in found.sets for value in record.values))
        return replace(found, sets=tuple(each for each in found.sets if usable & set(each.values)))

    async def _or_trouble(self, work: Any) -> Any:
        try:
            return await work
        except LostWay as error:
            return error.trouble

    async def _addresses(self, name: Name) -> LookedUp:
        """The addresses of a name, IPv4 first."""
        if name not in self._known:
            steps = self.walker.addresses(name) if self.through is None else self._by_resolver(name, self.through)
            self._known[name] = asyncio.ensure_future(steps)
        return await self._known[name]

    async def _by_resolver(self, name: Name, server: Server) -> LookedUp:
        asks = [(Question(name, rrtype), server) for rrtype in ("A", "AAAA")]
        answers = await self.walker.asker.ask_all(asks, recurse=True)
        if not any(answer.usable for answer in answers):
            return (), None, answers[0].trouble or Trouble("failed", server.name, server.place, answers[0].rcode)
        sets = [each for answer in answers for each in answer.answer]
        chain = tuple(dict.fromkeys(each for each in sets if each.type == "CNAME"))
        end = name
        for _ in chain:
            end = next((each.values[0] for each in chain if each.name == end), end)
        found = tuple(each for each in sets if each.type in ("A", "AAAA") and each.name == end)
        addresses = tuple(value for record in found for value in record.values)
        rcode = answers[0].rcode
        missing = Trouble("no-such-name" if rcode == "NXDOMAIN" else "no-address", name)
        return addresses, Found(chain, found, end, rcode), None if addresses else missing

    async def _follow(self, url: str, fixed: Mapping[Name, str]) -> tuple[Hop, ...]:
        """The hops from `url` on; the names in `fixed` are not looked up."""
        if fixed:
            return await self._walk(url, fixed)
        if url not in self._walks:
            self._walks[url] = asyncio.ensure_future(self._walk(url, fixed))
        return await self._walks[url]

    async def _walk(self, url: str, fixed: Mapping[Name, str]) -> tuple[Hop, ...]:
        way = follow(url, fixed)
        came: Came | None = None
        while True:
            try:
                want = next(way) if came is None else way.send(came)
            except StopIteration as done:
                hops: tuple[Hop, ...] = done.value
                return hops
            if isinstance(want, Fetch):
                came = await self._fetch(want)
            else:
                addresses, _, trouble = await self._addresses(want.name)
                came = Resolved(addresses, trouble)

    async def _fetch(self, want: Fetch) -> Fetched:
        """Each page of each address is fetched once, however many entry points redirect through it."""
        pages, key = self.session.fetched, (want, self.builders)
        if key not in pages:
            pages[key] = asyncio.ensure_future(self._fetch_once(want))
        return await pages[key]

    async def _fetch_once(self, want: Fetch) -> Fetched:
        store = self.session.store
        if store.anchors is None:
            try:
                store.anchors = load_anchors(self.network.certificates)
            except (OSError, ValueError) as error:
                raise BadInput(
                    Problem(
                        msg("driving.fetch-once"), str(self.network.certificates), hint=msg("driving.fetch-once.hint")
                    )
                ) from error
        site = self._connections.to(want)
        async with site.turns, store.pages:
            if self.session.over:
                return Fetched(None, trouble=Trouble("no-time", address=want.address))
            return await fetch(want, self.network, store.anchors, self.builders, site)


def chosen_resolver(network: Network, words: str) -> Server:
    """The resolver of the network file that goes by this label or address. Raises BadInput."""
    for each in network.resolvers:
        if words in (each.label, each.server.address, each.server.place):
            return each.server
    known = ", ".join(each.label for each in network.resolvers[:12]) or "none"
    raise BadInput(
        Problem(
            msg("driving.chosen-resolver"),
            key="--through",
            seen=words,
            hint=msg("driving.chosen-resolver.hint", known=known),
        )
    )
