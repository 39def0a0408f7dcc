"""What is kept of a site of a list, what one look at it gives, and the run that it belongs to."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.bulk.lists import Listed
from homepath.core.contracts.many import Verdict
from homepath.core.dns.names import Name


@dataclass(frozen=True, slots=True)
class Kept:
    """What the state knows of one site. `site`: its site file as decided meanwhile, "" where the list says it all;
    `line`: as `homepath.many/1`, "" before the first look."""

    listed: Listed
    turn: int
    line: str
    site: str
    journal: bytes | None
    recheck: bytes | None


@dataclass(frozen=True, slots=True)
class Result:
    """What one look at one site gave, as it is kept. `turn`: the turn that it was looked at from, so that what a person
    did meanwhile is not written over."""

    domain: Name
    turn: int
    line: str
    verdict: Verdict
    changed: bool
    looked_at: float
    next_look: float
    journal: bytes | None
    recheck: bytes | None
    asked: int = 0
    as_it_was: bool = False
    """Nothing changed, so the journal and the marks stay as they are."""


@dataclass(frozen=True, slots=True)
class Run:
    """One run over the list. `resumed`: it was begun earlier and broken off."""

    id: int
    began: float
    resumed: bool
