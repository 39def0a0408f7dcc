"""The steps of one domain, with their states: the journey."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.model.acts import Act, Nothing
from homepath.core.model.findings import Finding
from homepath.core.model.names import Name
from homepath.core.model.plan import Place

StepKind = Literal[
    "put-back",
    "decide",
    "mend",
    "claim",
    "builder-step",
    "take-back-hsts",
    "lower-ttl",
    "wait-ttl",
    "enter",
    "forward",
    "redirect",
    "spread",
    "inventory",
    "new-zone",
    "carry",
    "compare",
    "remove-ds",
    "wait-ds",
    "name-servers",
    "old-zone",
    "add-ds",
    "take-back",
    "let-go",
    "leave-builder",
    "left",
    "check-again",
    "certificate",
    "visit",
    "https-only",
    "raise-ttl",
]
"""All kinds there are. A step's id is its kind, and what it is about where there can be several."""
StepState = Literal["done", "now", "waiting", "ahead", "undone", "left-out"]
By = Literal["seen", "told"]
Stage = Literal["look", "decide", "claim", "enter", "mend", "spread", "secure", "web", "arrived"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One thing to do or await. `longest_wait` in seconds; moments in Unix seconds.

    `since`: of a step that is done or undone; `by`: whether that was seen or told. `until`: of one that waits. `why`:
    what is seen, where that needs a word. `number` is None only for one that is left out.
    """

    id: str
    number: int | None
    kind: StepKind
    place: Place
    title: str
    instruction: str
    expect: str
    longest_wait: int
    way_back: str
    state: StepState
    since: float | None = None
    by: By | None = None
    until: float | None = None
    why: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Journey:
    """Where one domain stands: all steps, the one that is now or waits, and its act.

    `step` is None only with `Nothing`. `because`: findings that explain the act; `notes`: worth knowing, nothing to do.
    """

    domain: Name
    steps: tuple[Step, ...]
    step: Step | None
    act: Act
    because: tuple[Finding, ...] = ()
    notes: tuple[Finding, ...] = ()
    open_acts: tuple[tuple[str, Act], ...] = ()
    """The act of every step that is still open, by its id, in their order."""
    going: Literal["there", "back", "away"] = "there"
    """Whether the way leads to the builder, back, or out of it."""
    further: Name | None = None
    """The further domain that the act is about, where it is not the main one."""

    @property
    def arrived(self) -> bool:
        return isinstance(self.act, Nothing)

    @property
    def blocked(self) -> bool:
        """Whether the act cures something that no waiting cures."""
        return any(finding.level == "blocker" for finding in self.because)

    def act_of(self, step_id: str) -> Act | None:
        """The act of a step that is still open."""
        return dict(self.open_acts).get(step_id)

    def find(self, step_id: str) -> Step | None:
        return next((step for step in self.steps if step.id == step_id), None)
