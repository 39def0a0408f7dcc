"""What a rule is."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from homepath.core.dns.names import Name
from homepath.core.model.findings import Level
from homepath.core.site.case import Case


@dataclass(frozen=True, slots=True)
class Sighting:
    """A rule spoke: where, what was seen, what to do. `level` only where it differs from the rule's own."""

    name: Name
    type: str
    message: str
    cure: str
    level: Level | None = None


@dataclass(frozen=True, slots=True)
class Rule:
    """`check` finds the sightings of one kind of finding; what there is to say of the kind stands in the registry."""

    code: str
    check: Callable[[Case], Iterator[Sighting]]
