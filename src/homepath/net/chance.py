"""Unpredictable octets for ids, ports and letters: of the machine's own source, fetched many at a time."""

from __future__ import annotations

import os

POOL = 8192
"""Octets fetched at once; none is ever given twice."""


class Chance:
    """Random octets as `os.urandom` gives them. Belongs to one event loop of one process, and is never copied."""

    __slots__ = ("_at", "_octets")

    def __init__(self) -> None:
        self._octets, self._at = b"", 0

    def take(self, count: int) -> bytes:
        """So many octets that nobody was given before."""
        begin, end = self._at, self._at + count
        if end > len(self._octets):
            self._octets = os.urandom(max(POOL, count))
            begin, end = 0, count
        self._at = end
        return self._octets[begin:end]
