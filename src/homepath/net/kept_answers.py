"""Answers that hold for every check of a run until their TTL ends."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, field

from homepath.core.dns.answers import Answer, Server
from homepath.core.dns.soa import negative_ttl

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
