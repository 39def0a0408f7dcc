"""Places that answer no one: counted for each place, across domains, so that a dead server stalls no run.

That a server keeps silent about some domains says nothing about the others. So a place counts as dead only after it was
silent to several domains in a row, and each further domain still sends it one query: what comes of that counts for the
rest of this domain's queries to it.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field

from homepath.core.dns.answers import TroubleCause
from homepath.core.dns.names import Name
from homepath.net.vantages import Place

DEAD_AFTER = 3
"""Domains in a row to which a place was silent."""
SILENT: tuple[TroubleCause, ...] = ("silent", "no-connection")


@dataclass(slots=True)
class Silences:
    """What the checks of a run know together."""

    _silent_to: dict[Place, set[Name]] = field(default_factory=dict)

    def is_dead(self, place: Place) -> bool:
        return len(self._silent_to.get(place, ())) >= DEAD_AFTER

    def kept_silent(self, place: Place, domain: Name) -> bool:
        """Note that a query about `domain` was not answered; whether the place counts as dead only now."""
        before = self.is_dead(place)
        self._silent_to.setdefault(place, set()).add(domain)
        return self.is_dead(place) and not before

    def answered(self, place: Place) -> None:
        self._silent_to.pop(place, None)


@dataclass(slots=True)
class OwnSilence:
    """What one check knows of the places that it queries. `under_way`: its queries to each; `waits`: what it will ask a
    dead place, once it is known whether that answers this domain."""

    silent: set[Place] = field(default_factory=set)
    under_way: Counter[Place] = field(default_factory=Counter)
    waits: dict[Place, list[Callable[[bool], None]]] = field(default_factory=dict)

    def settled(self, place: Place, silent: bool) -> None:
        """A query of this check was answered or not: what waits for that goes on."""
        (self.silent.add if silent else self.silent.discard)(place)
        for go_on in self.waits.pop(place, ()):
            go_on(silent)
