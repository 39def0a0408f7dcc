"""The steps of one domain with their states, and the assessment that holds them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

from homepath.core.dns.names import Name
from homepath.core.message import Text
from homepath.core.model.acts import Act, Enter, Nothing, Wait
from homepath.core.model.findings import Finding, worst_first
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
    title: Text
    instruction: Text
    expect: Text
    longest_wait: int
    way_back: Text
    state: StepState
    since: float | None = None
    by: By | None = None
    until: float | None = None
    why: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Assessment:
    """The one answer for one domain at one time, which every command shows a part of.

    `at`: Unix seconds. `site_up`: whether visitors reach the site at its primary address; None where that is not
    known, and while a change is undone or the domain leaves. `step`: the one that is now or waits, None only with
    `Nothing`. `findings`: all
    that are open, worst first, at their final levels; `because`: those that explain the act; `notes`: those worth
    knowing, with nothing to do. `unchecked`: no server of the domain answered at the last check, or what
    holds everything up is only that something was not answered.
    """

    domain: Name
    steps: tuple[Step, ...]
    step: Step | None
    act: Act
    at: float = 0.0
    primary_url: str = ""
    site_up: bool | None = None
    findings: tuple[Finding, ...] = ()
    unchecked: bool = False
    because: tuple[Finding, ...] = ()
    notes: tuple[Finding, ...] = ()
    open_acts: tuple[tuple[str, Act], ...] = ()
    """The act of every step that is still open, by its id, in their order."""
    going: Literal["there", "back", "away"] = "there"
    """Whether the way points to the builder, back, or out of it."""
    had_arrived: bool = False
    """Whether the site had arrived before: what is wrong now is a fault, not a step ahead."""
    visited_at: float | None = None
    """When the main domain's addresses were last tried, Unix seconds."""
    advice: Mapping[str, Text] = field(default_factory=dict)
    """The cure of what the step now takes care of, by the code of the finding."""
    further: Name | None = None
    """The further domain that the act is about, where it is not the main one."""

    @property
    def arrived(self) -> bool:
        return isinstance(self.act, Nothing)

    @property
    def blocked(self) -> bool:
        """Whether the act cures something that no waiting cures."""
        return bool(self.blockers)

    @property
    def undoing(self) -> bool:
        """Whether the change is undone, or the domain leaves the builder."""
        return self.going != "there"

    @property
    def held(self) -> bool:
        """Whether something is in the way that is not typed, and may change what is to be typed."""
        return self.blocked and not isinstance(self.act, Enter)

    @property
    def blockers(self) -> list[Finding]:
        """What is in the way, and explains the act."""
        return [each for each in self.because if each.level == "blocker"]

    @property
    def wait_until(self) -> float | None:
        """The one end of the wait that is now, Unix seconds; None where nothing is waited for."""
        return self.act.until if isinstance(self.act, Wait) else None

    @property
    def exit(self) -> int:
        """The exit status of every command that shows this: 0 all correct, 1 not yet, 3 something is wrong and the
        act fixes it, 4 it could not be checked."""
        if self.unchecked:
            return 4
        return 0 if self.arrived else 3 if self.blocked else 1

    def levelled(self, findings: Iterable[Finding]) -> tuple[Finding, ...]:
        """These findings at their final levels and with the cure that holds now, worst first: what one check found is
        judged by all that is known. What the step now takes care of, and is not open, is only worth knowing."""
        judged = self.judged

        def final(each: Finding) -> Finding:
            now = judged.get((each.code, each.name, each.type))
            if now is not None:
                return replace(each, level=now.level, cure=now.cure)
            return replace(each, level="note", cure=self.advice[each.code]) if each.code in self.advice else each

        return tuple(worst_first(list(map(final, findings))))

    @property
    def judged(self) -> dict[tuple[str, Name, str], Finding]:
        """Each open finding by its code, name and type."""
        return {(each.code, each.name, each.type): each for each in self.findings}

    def act_of(self, step_id: str) -> Act | None:
        """The act of a step that is still open."""
        return dict(self.open_acts).get(step_id)

    def find(self, step_id: str) -> Step | None:
        return next((step for step in self.steps if step.id == step_id), None)
