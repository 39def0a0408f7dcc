"""What the checks of a run remember of servers: answers until their TTL ends, and places that answer no one."""

from __future__ import annotations

from collections import Counter, OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field

from homepath.core.dns.answers import Answer, Server, TroubleCause
from homepath.core.dns.names import Name
from homepath.core.dns.soa import negative_ttl
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


MOST_ANSWERS = 20_000
"""Answers kept for all; the one that was not used for longest goes first."""
LONGEST_KEPT = 86400
"""Seconds that an answer is kept, whatever its TTL says."""
TROUBLE_KEPT = 60
"""Seconds that no one else asks what a server did not answer."""

Key = tuple[str, str, Server, bool, bool, bool]


@dataclass(slots=True)
class AnswerCache:
    """Answers until their TTL ends, bounded. Times are those of the network's clock."""

    most: int = MOST_ANSWERS
    _answers: OrderedDict[Key, tuple[float, Answer]] = field(default_factory=OrderedDict)

    def get(self, key: Key, now: float) -> Answer | None:
        found = self._answers.get(key)
        if found is None:
            return None
        if found[0] <= now:
            del self._answers[key]
            return None
        self._answers.move_to_end(key)
        return found[1]

    def keep(self, key: Key, answer: Answer) -> None:
        self._answers[key] = (answer.at + _lasts(answer), answer)
        while len(self._answers) > self.most:
            self._answers.popitem(last=False)

    def __len__(self) -> int:
        return len(self._answers)


def _lasts(answer: Answer) -> float:
    """Seconds for which an answer is valid: its shortest TTL."""
    if not answer.usable:
        return TROUBLE_KEPT
    if not answer.answer and answer.soa is not None:
        return min(negative_ttl(answer.soa), LONGEST_KEPT)
    ttls = [each.ttl for each in (*answer.answer, *answer.authority)]
    return min([*ttls, LONGEST_KEPT])
