"""A step before it is known which one is now."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeAlias

from homepath.core.model.acts import Act
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Place
from homepath.core.model.steps import By, StepKind


@dataclass(frozen=True, slots=True)
class Done:
    """`since`: None where the moment is not known."""

    since: float | None
    by: By = "seen"


@dataclass(frozen=True, slots=True)
class Undone:
    """Was done, and is no longer; a mending step of its own comes first."""

    since: float
    why: str


@dataclass(frozen=True, slots=True)
class LeftOut:
    why: str


@dataclass(frozen=True, slots=True)
class Open:
    """Still to do or to await. `urgent`: comes before whatever else is open."""

    act: Act
    why: str = ""
    because: tuple[Finding, ...] = ()
    urgent: bool = False


Standing: TypeAlias = Done | Undone | LeftOut | Open


@dataclass(frozen=True, slots=True, kw_only=True)
class Draft:
    """`about`: what the step is about, where there can be several of its kind."""

    kind: StepKind
    place: Place
    title: str
    instruction: str
    expect: str
    stands: Standing
    about: str = ""
    longest_wait: int = 0
    way_back: str = ""

    @property
    def id(self) -> str:
        return f"{self.kind}:{self.about}" if self.about else self.kind
