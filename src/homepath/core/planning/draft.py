"""A step before it has its number."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.model.plan import Place


@dataclass(frozen=True, slots=True)
class Draft:
    kind: str
    place: Place
    title: str
    instruction: str
    expect: str
    longest_wait: int
    way_back: str
