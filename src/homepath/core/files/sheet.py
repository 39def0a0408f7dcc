"""Records to type into a form, in one DNS host's notation: jobs, one for each name and what it is for."""

from __future__ import annotations

from collections.abc import Callable, Sequence, Set
from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import Name, relative, shown
from homepath.core.dns.records import JOINED_TYPES, Key, Zone
from homepath.core.dns.values import meaning, strings
from homepath.core.message import Message, Text, msg
from homepath.core.model.acts import Enter, Entry
from homepath.core.model.brief import Notation
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Purpose

Deed = Literal["delete", "enter"]
TARGET_TYPES = ("CNAME", "NS", "MX", "SRV", "PTR", "DNAME", "ALIAS")


@dataclass(frozen=True, slots=True)
class Line:
    """One line of the form. `name` and `value` exactly as they are to be typed; `ttl` in seconds, None where it does
    not matter. `dotted`: the final dot belongs to the value."""

    deed: Deed
    type: str
    name: str
    value: str
    ttl: int | None
    dotted: bool = False


@dataclass(frozen=True, slots=True)
class Job:
    """What is done at one name without a pause. `stays`: texts of the same set that are not touched.

    `retimed`: only the TTL changes. `at`: the name that it is about. `risks`: what to know before doing it.
    """

    title: Text
    lines: tuple[Line, ...]
    stays: tuple[str, ...] = ()
    retimed: bool = False
    at: Name = ""
    risks: tuple[Finding, ...] = ()

    def deeds(self, deed: Deed) -> tuple[Line, ...]:
        return tuple(line for line in self.lines if line.deed == deed)


def jobs(
    act: Enter, domain: Name, notation: Notation, zone: Zone, purpose_of: Callable[[Key], Purpose]
) -> tuple[Job, ...]:
    """The act's records in the order of typing: set by set, each old value next to the new one.

    What goes and what comes at one website name is one job, also where an alias takes the place of addresses.
    """
    groups: dict[tuple[Name, str], list[tuple[Deed, Entry]]] = {}
    pairs: list[tuple[Deed, Entry]] = [("delete", each) for each in act.delete]
    pairs += [("enter", each) for each in act.enter]
    for deed, entry in pairs:
        key = entry.type if entry.type in JOINED_TYPES else ""
        groups.setdefault((entry.name, key), []).append((deed, entry))
    return tuple(_job(entries, act.retimed, domain, notation, zone, purpose_of) for entries in groups.values())


def what_it_is_for(purpose: Purpose, name: Name, builder: str = "") -> Message:
    """The headline of a record set at `name`; `builder`: who asks for it, where that helps."""
    return msg(f"job.{purpose.replace(' ', '-')}", name=name, builder=builder)


def _job(
    entries: Sequence[tuple[Deed, Entry]],
    same: Set[Key],
    domain: Name,
    notation: Notation,
    zone: Zone,
    purpose_of: Callable[[Key], Purpose],
) -> Job:
    first = entries[-1][1]
    lines = tuple(_line(deed, entry, domain, notation) for deed, entry in entries)
    gone = {entry.value for deed, entry in entries if deed == "delete"}
    retimed = all((entry.name, entry.type) in same for _, entry in entries)
    there = zone.get(first.name, first.type)
    stays = () if there is None or first.type not in JOINED_TYPES or retimed else _stays(first.type, there.values, gone)
    title = what_it_is_for(purpose_of((first.name, first.type)), first.name)
    return Job(title, lines, stays, retimed, first.name)


def _stays(rrtype: str, values: Sequence[str], gone: set[str]) -> tuple[str, ...]:
    return tuple(meaning(rrtype, value) for value in values if value not in gone)


def _line(deed: Deed, entry: Entry, domain: Name, notation: Notation) -> Line:
    value = form_value(entry.type, entry.value, notation)
    return Line(
        deed,
        notation.apex_alias or entry.type if entry.type == "ALIAS" else entry.type,
        form_name(entry.name, domain, notation),
        value,
        entry.ttl,
        entry.type in TARGET_TYPES and value.endswith(".") and notation.final_dot == "required",
    )


def form_name(name: Name, domain: Name, notation: Notation) -> str:
    """The name as the form wants it: the apex as `@`, blank or in full, others with or without the domain."""
    if name == domain:
        return {"@": "@", "blank": "", "full": shown(domain)}[notation.apex]
    return relative(name, domain) if notation.names == "relative" else shown(name)


def form_value(rrtype: str, value: str, notation: Notation) -> str:
    """The value as the form wants it: targets with or without final dot, texts without quotes."""
    if rrtype in ("TXT", "SPF"):
        content = "".join(strings(value))
        return f'"{content}"' if notation.quotes == "required" else content
    if rrtype in TARGET_TYPES and notation.final_dot == "forbidden":
        return value.removesuffix(".")
    return value


def form_ttl(ttl: int, notation: Notation) -> int:
    """The nearest TTL the form offers, in seconds; the smaller one of two equally near."""
    return min(notation.ttl_choices, key=lambda choice: (abs(choice - ttl), choice), default=ttl)
