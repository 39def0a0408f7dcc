"""Drives the walks of the core over the asker."""

from __future__ import annotations

from collections.abc import Generator
from dataclasses import dataclass, field
from typing import TypeVar

from homepath.core.dns.answers import Answer
from homepath.core.dns.names import Name
from homepath.core.dns.trouble import Trouble
from homepath.core.dns.walk import Ask, Budget, Cut, Found, LostWay, find_cut, look_up
from homepath.net.asker import Asker

Result = TypeVar("Result")


@dataclass(slots=True)
class Walker:
    """Finds servers and addresses from the root down; what one walk learns of zone cuts, the next one uses."""

    asker: Asker
    cuts: dict[Name, Cut] = field(default_factory=dict)
    spread: tuple[Name, int] | None = None

    async def cut(self, name: Name) -> Cut:
        """The zone that holds `name`. Raises LostWay."""
        return await self._drive(find_cut(name, self.asker.network.roots, self._budget()))

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
