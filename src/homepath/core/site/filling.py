"""The brief's records with the site's values in their places."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from homepath.core.dns.names import BadName, Name, child
from homepath.core.dns.records import RecordSet
from homepath.core.dns.values import BadValue, canonical, text_value
from homepath.core.model.brief import Brief, BriefRecord
from homepath.core.model.meant import Meant
from homepath.core.model.plan import Purpose
from homepath.core.model.problems import BadInput, Problem

USUAL_TTL = 3600
"""Seconds; used where a brief names no TTL."""
ALIAS = "ALIAS"
"""Stands for the DNS host's own kind of alias at the apex; on the wire it is seen as the target's addresses."""


@dataclass(frozen=True, slots=True)
class Want:
    """A record set that must be there. Of a joined type, the values must be among others, else they are all.

    An `optional` one may be missing, but if it is there it must be this one.
    """

    record: RecordSet
    purpose: Purpose
    reason: str
    optional: bool = False

    @property
    def meant(self) -> Meant:
        return Meant(*self.record.key, self.record.values, (), self.optional)

    @property
    def joined(self) -> bool:
        return self.meant.joined

    def met_by(self, present: RecordSet | None) -> bool:
        return self.meant.met_by(present)


@dataclass(frozen=True, slots=True)
class Filler:
    """Puts the site's values into the places of the brief."""

    values: Mapping[str, str]
    brief: Brief

    def fill(self, text: str) -> str:
        for name, value in self.values.items():
            text = text.replace("{" + name + "}", value.strip())
        return text

    def want(self, record: BriefRecord, base: Name, purpose: Purpose) -> Want:
        filled = [self.fill(value) for value in record.values]
        rrtype = "CNAME" if record.type == ALIAS else record.type
        try:
            name = child(self.fill(record.host), base)
            canonicals = tuple(text_value(value) if rrtype == "TXT" else canonical(rrtype, value) for value in filled)
        except (BadName, BadValue) as error:
            raise BadInput(
                Problem(
                    f"with its values filled in, a record of the brief cannot be written: {error}",
                    self.brief.file,
                    record.line or None,
                    seen=", ".join(filled),
                    hint="look at [values] in homepath.toml",
                )
            ) from error
        place = f"{self.brief.file}, line {record.line}" if record.line else self.brief.file
        ttl = USUAL_TTL if record.ttl is None else record.ttl
        reason = f"{self.brief.builder} asks for it ({place})"
        return Want(RecordSet(name, record.type, ttl, canonicals), purpose, reason, record.optional)
