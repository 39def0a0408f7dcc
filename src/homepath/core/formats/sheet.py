"""The plan as entries to type into a form, in one DNS host's notation."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from homepath.core.model.brief import Notation
from homepath.core.model.names import Name, relative, shown
from homepath.core.model.plan import Change, Plan
from homepath.core.model.values import strings

Deed = Literal["delete", "enter"]


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of the form. `name` and `value` exactly as they are to be typed; `ttl` in seconds."""

    deed: Deed
    type: str
    name: str
    value: str
    ttl: int
    reason: str


def entries(plan: Plan, notation: Notation) -> list[Entry]:
    """Everything to delete first, then everything to enter; a value that stays is in neither."""
    work = [change for change in plan.work if not (change.type == "NS" and change.name == plan.domain)]
    deleted = [entry for change in work for entry in _of(change, change.deleted, "delete", plan.domain, notation)]
    entered = [entry for change in work for entry in _of(change, change.entered, "enter", plan.domain, notation)]
    return [*deleted, *entered]


def _of(change: Change, values: tuple[str, ...], deed: Deed, domain: Name, notation: Notation) -> Iterator[Entry]:
    for value in values:
        yield Entry(
            deed,
            notation.apex_alias or change.type if change.type == "ALIAS" else change.type,
            form_name(change.name, domain, notation),
            form_value(change.type, value, notation),
            form_ttl(change.ttl, notation),
            change.reason,
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
    if rrtype in ("CNAME", "NS", "MX", "SRV", "PTR", "DNAME", "ALIAS") and notation.final_dot == "forbidden":
        return value.removesuffix(".")
    return value


def form_ttl(ttl: int, notation: Notation) -> int:
    """The nearest TTL the form offers, in seconds; the smaller one of two equally near."""
    return min(notation.ttl_choices, key=lambda choice: (abs(choice - ttl), choice), default=ttl)
