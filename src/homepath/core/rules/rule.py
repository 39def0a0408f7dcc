"""What a rule is, and what it looks at."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field

from homepath.core.model.brief import Notation
from homepath.core.model.findings import Finding, Level
from homepath.core.model.names import Name
from homepath.core.model.plan import Purpose
from homepath.core.model.promise import Promise
from homepath.core.model.records import RecordSet, Zone
from homepath.core.model.survey import Survey
from homepath.core.rules.purposes import purpose
from homepath.core.wanted.wanted import Wanted


@dataclass(frozen=True, slots=True)
class Case:
    """One domain as wanted and as found. `surroundings`: CAA sets above it and at alias targets.

    `survey`: the whole look, None where only records were looked at. `past`: all that the authoritative servers gave
    at any earlier look. `promises`: what names promised to browsers when they were last visited (RFC 6797).
    """

    wanted: Wanted
    zone: Zone
    surroundings: Zone = field(default_factory=lambda: Zone("."))
    notation: Notation = field(default_factory=Notation)
    survey: Survey | None = None
    past: Zone = field(default_factory=lambda: Zone("."))
    promises: Mapping[Name, Promise] = field(default_factory=dict)

    @property
    def domain(self) -> Name:
        return self.wanted.domain

    def purpose(self, record: RecordSet) -> tuple[Purpose, str]:
        """What a record set is for, and why: the owner's word first."""
        said = self.wanted.purposes.get(record.key)
        return (said, "the site file says so") if said else purpose(record, self.domain, self.zone)


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
    """`means`, `hurts` and `mend` make the rule's page; `check` finds the cases."""

    code: str
    level: Level
    standard: str
    means: str
    hurts: str
    mend: str
    check: Callable[[Case], Iterator[Sighting]]

    def find(self, case: Case) -> Iterator[Finding]:
        for seen in self.check(case):
            level = seen.level or self.level
            yield Finding(self.code, level, seen.name, seen.type, seen.message, seen.cure, self.standard)
