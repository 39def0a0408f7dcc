"""One domain as wanted and as found: what rules and plans look at."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from homepath.core.facts.purposes import purpose
from homepath.core.model.brief import Notation
from homepath.core.model.history import Content
from homepath.core.model.hsts import Hsts
from homepath.core.model.names import Name
from homepath.core.model.plan import Purpose
from homepath.core.model.records import RecordSet, Zone
from homepath.core.model.survey import Survey
from homepath.core.wanted.wanted import Wanted


@dataclass(frozen=True, slots=True)
class Case:
    """One domain as wanted and as found. `surroundings`: CAA sets above it and at alias targets.

    `survey`: the whole look, None where only records were looked at. `history`: all that the sources
    ever gave. `hsts`: what names told browsers when they were last visited (RFC 6797).
    """

    wanted: Wanted
    zone: Zone
    surroundings: Zone = field(default_factory=lambda: Zone("."))
    notation: Notation = field(default_factory=Notation)
    survey: Survey | None = None
    history: tuple[Content, ...] = ()
    hsts: Mapping[Name, Hsts] = field(default_factory=dict)

    @property
    def past(self) -> Zone:
        """All that the zone's servers ever gave, united."""
        return Zone.of(self.domain, (each.record for each in self.history if each.source == "zone"))

    @property
    def domain(self) -> Name:
        return self.wanted.domain

    def purpose(self, record: RecordSet) -> tuple[Purpose, str]:
        """What a record set is for, and why: the owner's word first."""
        said = self.wanted.purposes.get(record.key)
        return (said, "the site file says so") if said else purpose(record, self.domain, self.zone)
