"""Letters to a support desk: what must come along when it takes a domain over, or what to delete and enter now."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Protocol

from homepath.core.dns.names import Name, shown
from homepath.core.dns.records import RecordSet
from homepath.core.files.sheet import Deed, Job, form_name, form_value, ttl_words
from homepath.core.model.brief import NO_NOTATION, Notation
from homepath.core.model.plan import PURPOSES, Purpose
from homepath.core.model.visible import visible
from homepath.core.wording.purpose_words import HEADINGS


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
            lines += ["", HEADINGS[purpose]]
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


_DEEDS: tuple[tuple[Deed, str, str], ...] = (
    ("delete", "Delete", "exactly these and no others"),
    ("enter", "Enter", "exactly as they stand here"),
)


def letter_of_jobs(domain: Name, jobs: Sequence[Job], notation: Notation) -> str:
    """Plain text: each entry to delete as exactly as each to enter, and what must stay beside them."""
    host = "" if notation.host == NO_NOTATION.host else f" of {visible(notation.host)}"
    lines = [
        f"To the support desk{host}",
        "",
        f"Subject: changes to the DNS entries of {shown(domain)}",
        "",
        f"Please make these changes for {shown(domain)}, each job without a pause, and tell me when they are done.",
    ]
    for number, job in enumerate(jobs, 1):
        lines += ["", f"Job {number} of {len(jobs)}: {visible(job.title)}"]
        for deed, title, how in _DEEDS:
            found = job.deeds(deed)
            if found:
                lines += [f"  {title}, {how}:"]
            for line in found:
                ttl = "" if line.ttl is None else f"   TTL {ttl_words(line.ttl, notation)}"
                lines += [
                    f"    type {line.type}   name {visible(line.name) or '(empty)'}{ttl}",
                    f"      {visible(line.value)}",
                ]
        lines += [f"  Leave as it is: {visible(text)}" for text in job.stays]
    lines += ["", "Please change nothing else, and nothing in these values.", ""]
    return "\n".join(lines)
