"""A letter to the support desk of whoever takes a domain over: everything that must come along, to be entered there."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Protocol

from homepath.core.formats.sheet import form_name, form_value, ttl_words
from homepath.core.model.brief import Notation
from homepath.core.model.names import Name, shown
from homepath.core.model.plan import PURPOSES, Purpose
from homepath.core.model.records import RecordSet
from homepath.core.model.visible import visible

_TITLES: dict[Purpose, str] = {
    "website": "The website",
    "mail": "Mail",
    "mail authentication": "Mail: who may send, and how it is signed",
    "proof of ownership": "Proofs of ownership",
    "certificates": "Permissions for certificates",
    "delegation": "Parts of the domain that other name servers run",
    "other": "Everything else",
}


class _Due(Protocol):
    @property
    def record(self) -> RecordSet: ...
    @property
    def purpose(self) -> Purpose: ...


def letter_to_support(
    domain: Name,
    host: str,
    servers: Sequence[Name],
    dues: Sequence[_Due],
    behind: Iterable[tuple[RecordSet, str]],
    notation: Notation,
) -> str:
    """Plain text, each entry exactly, grouped by what it is for, with what is left out on purpose."""
    wanted = [each for each in dues if each.record.values]
    count = sum(len(each.record.values) for each in wanted)
    lines = [
        f"To the support desk of {visible(host)}",
        "",
        f"Subject: entries for {shown(domain)} before its name servers change",
        "",
        f"The domain {shown(domain)} is about to be handed over to your name servers{':' if servers else '.'}",
        *(f"  {shown(server)}" for server in servers),
        f"Before that happens, please enter these {count} entries for it, exactly as they stand here, and tell me when",
        "it is done. The name servers will be changed only after your word; until then nothing is lost.",
    ]
    for purpose in PURPOSES:
        mine = [each.record for each in wanted if each.purpose == purpose]
        if mine:
            lines += ["", _TITLES[purpose]]
        for record in mine:
            name = form_name(record.name, domain, notation) or shown(domain)
            for value in record.values:
                lines += [f"  type {record.type}   name {visible(name)}   TTL {ttl_words(record.ttl, notation)}"]
                lines += [f"    {visible(form_value(record.type, value, notation))}"]
    left = list(behind)
    if left:
        lines += ["", "Left out on purpose:"]
        lines += [f"  {record.type} at {shown(record.name)}: {why}" for record, why in left]
    lines += ["", "Please do not leave any of them out, and change nothing in their values.", ""]
    return "\n".join(lines)
