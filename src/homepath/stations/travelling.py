"""Following ways over the network: names looked up once, pages fetched as the core asks."""

from __future__ import annotations

import asyncio
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from homepath.core.asking.walk import Found
from homepath.core.model.names import Name, absolute
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.questions import Question, Server
from homepath.core.model.visits import AddressTried, Hop
from homepath.core.web.hops import Came, Fetch, Fetched, Resolve, Resolved, follow
from homepath.net.asker import Asker
from homepath.net.fetch import fetch, load_anchors
from homepath.net.network_file import Network
from homepath.net.walker import Walker

if TYPE_CHECKING:
    from cryptography.x509 import Certificate as X509

MOST_ADDRESSES = 8
"""Addresses of one name that are tried."""
AT_ONCE = 32
"""Pages asked for at one moment."""
Looked = tuple[tuple[str, ...], Found | None, str]
"""Addresses, what was found on the way, and why there is none."""


@dataclass(slots=True)
class Traveller:
    """Follows ways: looks names up once, fetches as asked.

    `through`: a resolver to ask instead of the authoritative servers. `builders`: a name of the builder's own.
    """

    network: Network
    walker: Walker
    anchors: list[X509]
    builders: str | None = None
    through: Server | None = None
    _known: dict[Name, asyncio.Task[Looked]] = field(default_factory=dict)
    _walks: dict[str, asyncio.Task[tuple[Hop, ...]]] = field(default_factory=dict)
    _limit: asyncio.Semaphore = field(default_factory=lambda: asyncio.Semaphore(AT_ONCE))

    async def names(self, name: Name) -> Looked:
        """The addresses of a name, IPv4 first."""
        if name not in self._known:
            look = self.walker.addresses(name) if self.through is None else self._by_resolver(name, self.through)
            self._known[name] = asyncio.ensure_future(look)
        return await self._known[name]

    async def _by_resolver(self, name: Name, server: Server) -> Looked:
        asks = [(Question(name, rrtype), server) for rrtype in ("A", "AAAA")]
        answers = await self.walker.asker.ask_all(asks, recurse=True)
        if not any(answer.usable for answer in answers):
            return (), None, f"{server.place} gives no answer ({answers[0].detail or answers[0].rcode})"
        sets = [each for answer in answers for each in answer.answer]
        chain = tuple(dict.fromkeys(each for each in sets if each.type == "CNAME"))
        end = name
        for _ in chain:
            end = next((each.values[0] for each in chain if each.name == end), end)
        found = tuple(each for each in sets if each.type in ("A", "AAAA") and each.name == end)
        addresses = tuple(value for record in found for value in record.values)
        rcode = answers[0].rcode
        missing = "the name does not exist" if rcode == "NXDOMAIN" else "the name has no address"
        return addresses, Found(chain, found, end, rcode), "" if addresses else missing

    async def walk(self, url: str, first_address: str | None = None) -> tuple[Hop, ...]:
        """The hops from `url` on; with `first_address` the first name is not looked up. Each way is walked once."""
        if first_address is not None:
            return await self._walk(url, first_address)
        if url not in self._walks:
            self._walks[url] = asyncio.ensure_future(self._walk(url))
        return await self._walks[url]

    async def _walk(self, url: str, first_address: str | None = None) -> tuple[Hop, ...]:
        way = follow(url, first_address)
        came: Came | None = None
        while True:
            try:
                want = next(way) if came is None else way.send(came)
            except StopIteration as done:
                hops: tuple[Hop, ...] = done.value
                return hops
            came = await self._answer(want)

    async def walk_all(self, urls: Sequence[str]) -> dict[str, tuple[Hop, ...]]:
        """All ways at the same time, none knowing of the other."""
        found = await asyncio.gather(*(self.walk(url) for url in urls))
        return dict(zip(urls, found, strict=True))

    async def addresses(self, url: str, host: str) -> tuple[AddressTried, ...]:
        """Every address of the host of `url`, each asked for the page; empty when there is only one."""
        addresses, _, _ = await self.names(absolute(host))
        if len(addresses) < 2:
            return ()
        secure = url.startswith("https:")
        wants = [Fetch(url, host, 443 if secure else 80, secure, each) for each in addresses[:MOST_ADDRESSES]]
        came = await asyncio.gather(*(self._fetch(want) for want in wants))
        return tuple(
            AddressTried(want.address, each.status, each.detail, each.certificate)
            for want, each in zip(wants, came, strict=True)
        )

    async def _answer(self, want: Resolve | Fetch) -> Came:
        if isinstance(want, Fetch):
            return await self._fetch(want)
        addresses, _, why = await self.names(want.name)
        return Resolved(addresses, why)

    async def _fetch(self, want: Fetch) -> Fetched:
        async with self._limit:
            return await fetch(want, self.network, self.anchors, self.builders)


def traveller(network: Network, builders: Name | None = None, through: Server | None = None) -> Traveller:
    """A traveller for one visit. Raises BadInput when the certificate bundle cannot be read."""
    try:
        anchors = load_anchors(network.certificates)
    except (OSError, ValueError) as error:
        raise BadInput(
            Problem("this certificate bundle cannot be read", str(network.certificates), hint="it should be PEM text")
        ) from error
    own = builders.removesuffix(".") if builders else None
    return Traveller(network, Walker(Asker(network)), anchors, own, through)


def chosen_resolver(network: Network, words: str) -> Server:
    """The resolver of the network file that goes by this label or address. Raises BadInput."""
    for each in network.resolvers:
        if words in (each.label, each.server.address, each.server.place):
            return each.server
    known = ", ".join(each.label for each in network.resolvers[:12]) or "none"
    raise BadInput(
        Problem("no such resolver is in the network file", key="--through", seen=words, hint=f"it has: {known}")
    )
