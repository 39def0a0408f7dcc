"""The records that a site needs, each with the line of the brief that asks for it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from homepath.core.model.brief import Brief, BriefRecord, HttpsFacts, Site
from homepath.core.model.names import BadName, Name, absolute, child, shown
from homepath.core.model.plan import Purpose
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.records import JOINED_TYPES, WEB_TYPES, Key, RecordSet
from homepath.core.model.values import BadValue, canonical, text_value

USUAL_TTL = 3600
"""Seconds; used where a brief names no TTL."""


@dataclass(frozen=True, slots=True)
class Want:
    """A record set that must be there. Of a joined type, the values must be among others, else they are all."""

    record: RecordSet
    purpose: Purpose
    reason: str

    @property
    def joined(self) -> bool:
        return self.record.type in JOINED_TYPES

    def met_by(self, present: RecordSet | None) -> bool:
        """True when `present` gives everything wanted and, unless joined, nothing else."""
        if present is None:
            return False
        if self.joined:
            return self.record.meanings <= present.meanings
        return self.record.meanings == present.meanings


@dataclass(frozen=True, slots=True)
class Wanted:
    """Everything one site wants. `names` are the addresses visitors may type, the primary first."""

    domain: Name
    primary: Name
    names: tuple[Name, ...]
    wants: tuple[Want, ...]
    builder: str
    https: HttpsFacts
    protected: frozenset[Key]
    free_address: Name | None = None

    def at(self, name: Name) -> list[Want]:
        return [want for want in self.wants if want.record.name == name]

    def get(self, name: Name, rrtype: str) -> Want | None:
        return next((want for want in self.wants if want.record.key == (name, rrtype)), None)

    @property
    def web_names(self) -> tuple[Name, ...]:
        """The names at which a web record is wanted, so that other web records there must go."""
        return tuple(name for name in self.names if any(want.record.type in WEB_TYPES for want in self.at(name)))

    @property
    def primary_url(self) -> str:
        return f"https://{shown(self.primary)}/"


def work_out(site: Site, brief: Brief) -> Wanted:
    """Fill the brief with the site's values. Raises BadInput with every value that is missing or wrong."""
    domain = absolute(site.domain)
    primary = domain if site.primary == "apex" else child(site.primary, domain)
    problems = _unfilled(site, brief)
    if problems:
        raise BadInput(*problems)
    parts = _parts(site, brief, domain, primary)
    missing = [name for name, records in parts if not records]
    if missing:
        raise BadInput(_no_records(brief, missing[0], domain, primary))
    values = {**site.values, "domain": shown(domain)}
    wants = [_want(record, name, values, "website", brief) for name, records in parts for record in records]
    wants += [_want(record, domain, values, "proof of ownership", brief) for record in brief.ownership[:1]]
    free = absolute(_fill(brief.free_address, values)) if brief.free_address else None
    return Wanted(
        domain,
        primary,
        tuple(sorted((name for name, _ in parts), key=lambda name: name != primary)),
        tuple(wants),
        brief.builder,
        brief.https,
        _protected(site, domain),
        free,
    )


def _parts(site: Site, brief: Brief, domain: Name, primary: Name) -> list[tuple[Name, tuple[BriefRecord, ...]]]:
    """Which names get which of the brief's records: apex and `www` together, or one label alone (N1)."""
    if site.primary in ("apex", "www"):
        return [(domain, brief.apex), (child("www", domain), brief.www)]
    return [(primary, brief.label)]


def _no_records(brief: Brief, name: Name, domain: Name, primary: Name) -> Problem:
    part = "apex" if name == domain else "www" if name == child("www", domain) else "label"
    return Problem(
        f"{brief.builder}'s brief has no records for {shown(name)}, so it cannot be reached",
        brief.file,
        key=f"routes.records.{part}",
        hint=f"add {part} = [...] to [routes.records], or choose another primary address",
    )


def _unfilled(site: Site, brief: Brief) -> list[Problem]:
    return [
        Problem(
            f"{brief.builder} needs a value that is not filled in: {asked.ask}",
            "homepath.toml",
            key=f"values.{asked.name}",
            hint=f'add under [values]: {asked.name} = "..."',
        )
        for asked in brief.asked
        if not site.values.get(asked.name, "").strip()
    ]


def _fill(text: str, values: Mapping[str, str]) -> str:
    for name, value in values.items():
        text = text.replace("{" + name + "}", value.strip())
    return text


def _want(record: BriefRecord, base: Name, values: Mapping[str, str], purpose: Purpose, brief: Brief) -> Want:
    filled = [_fill(value, values) for value in record.values]
    try:
        name = child(_fill(record.host, values), base)
        canonicals = tuple(
            text_value(value) if record.type == "TXT" else canonical(record.type, value) for value in filled
        )
    except (BadName, BadValue) as error:
        raise BadInput(
            Problem(
                f"with its values filled in, a record of the brief cannot be written: {error}",
                brief.file,
                record.line or None,
                seen=", ".join(filled),
                hint="look at [values] in homepath.toml",
            )
        ) from error
    place = f"{brief.file}, line {record.line}" if record.line else brief.file
    ttl = USUAL_TTL if record.ttl is None else record.ttl
    return Want(RecordSet(name, record.type, ttl, canonicals), purpose, f"{brief.builder} asks for it ({place})")


def _protected(site: Site, domain: Name) -> frozenset[Key]:
    found = set()
    for text in site.keep:
        host, _, rrtype = text.strip().rpartition(" ")
        if not host or not rrtype.isalnum():
            raise BadInput(
                Problem(
                    "a protected record is written as name and type",
                    "homepath.toml",
                    key="keep.records",
                    seen=text,
                    hint='for example "_sip._tcp SRV"',
                )
            )
        found.add((child(host, domain), rrtype.upper()))
    return frozenset(found)
