"""What there is to say of one kind of finding, how every part of Home Path treats it, and the rule that finds it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import Name
from homepath.core.message import Message, Text, msg
from homepath.core.model.findings import Level
from homepath.core.model.plan import Place
from homepath.core.model.steps import StepKind
from homepath.core.site.case import Case


@dataclass(frozen=True, slots=True)
class Sighting:
    """A rule spoke: where, what was seen, what to do. `level` only where it differs from the rule's own."""

    name: Name
    type: str
    message: Text
    cure: Text
    level: Level | None = None


@dataclass(frozen=True, slots=True)
class Rule:
    """`check` finds the sightings of one kind of finding; what there is to say of the kind is in the registry."""

    code: str
    check: Callable[[Case], Iterator[Sighting]]


Offer = Literal[
    "drop", "accept-or-drop", "take-back", "find-out", "unprotect", "apex-way", "hand-over", "read-page", "ownership"
]
"""What the owner can choose where only they can decide."""
ANSWERS: tuple[Offer, ...] = ("find-out", "apex-way", "read-page")
"""Of these, the ones that are an answer: there is nothing to correct by hand."""
ABOUT_A_SET: tuple[Offer, ...] = ("drop", "accept-or-drop", "take-back", "unprotect")
"""Those about one record set, which the step's title names."""
Who = Literal["you", "dns-host", "builder", "registrar", "resolver", "nobody"]


@dataclass(frozen=True, slots=True)
class Kind:
    """One code with its usual level, the standard that says so, and its policy. `wording` has what `explain` prints."""

    code: str
    level: Level
    standard: str
    formerly: str = ""
    """The code that it had in an earlier version; `explain` still knows it."""
    who: Who = "you"
    """Who can fix it."""
    typed: bool = False
    """Only a typing mistake makes it: no domain has it before the job."""
    explains: bool = False
    """It explains what is wrong with a record, once that was typed."""
    fixed_by: StepKind | None = None
    """The step of the plan that fixes it, or that waits until it is over."""
    said_by: StepKind | None = None
    """The step that covers it: where the list has that step, the finding is not repeated."""
    at_the_end: bool = False
    """Not urgent: shown once everything else is done."""
    waited_for: bool = False
    """It goes by itself: the builder has to check, or the certificate has to arrive."""
    holds_up_builder: bool = False
    """While it is there, the builder's check or its certificate fails, however long one waits."""
    about_domain: bool = False
    """It matters whatever the website does, also when going back or leaving."""
    matters_before: bool = False
    """A visit before the change finds it, and it is about the change; what else that visit finds is the old site's."""
    builder_shows: bool = False
    """It is about what the builder's servers show; once the builder has moved, that explains it."""
    place: Place | None = None
    """Where it is fixed, if that does not follow from who can."""
    offers: tuple[Offer, ...] = ()
    """What the owner is asked to choose from, where it is in the way."""
    misplaced: bool = False
    """The right value is at a wrong name."""
    unseen: bool = False
    """Nothing answered, so it is not known to be a fault."""
    clash: bool = False
    """Two records that exclude each other; it is over once the plan has removed one of them."""

    harms_by_loss: bool = False
    """It does no harm by itself, only where something is lost by it."""
    titled: bool = False
    """Its step has a title of its own, `CODE.step`; else that is what was found."""
    faulty: bool = False
    """The record itself is wrong, whatever else is there."""

    @property
    def in_record(self) -> bool:
        """Whether it is a fault of the record itself: anyone who changes that has cured it, and no one wants it
        back."""
        return self.faulty or self.typed or self.clash

    @property
    def means(self) -> Message:
        """What it means, for `explain`."""
        return msg(f"{self.code}.means")

    @property
    def hurts(self) -> Message:
        """What happens where it stays."""
        return msg(f"{self.code}.hurts")

    @property
    def cure(self) -> Message:
        """How to fix it, where a sighting has no cure of its own."""
        return msg(f"{self.code}.cure-of-kind")

    @property
    def by_records(self) -> bool:
        """Whether entering or deleting the plan's records fixes it."""
        return self.fixed_by in ("enter", "let-go")

    @property
    def fixed_at(self) -> Place:
        return self.place or _PLACES[self.who]


_PLACES: dict[Who, Place] = {
    "you": "DNS host",
    "dns-host": "DNS host",
    "builder": "builder",
    "registrar": "registrar",
    "resolver": "here",
    "nobody": "here",
}
