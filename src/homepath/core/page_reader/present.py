"""A DNS host's own table, pasted back: every record in it exists, whatever buttons are beside it."""

from __future__ import annotations

from homepath.core.dns.names import BadName, Name, is_within, shown
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.values import BadValue
from homepath.core.files.exports import form_value, owner
from homepath.core.message import reason
from homepath.core.model.problems import BadInput, Problem
from homepath.core.page_reader.hosts import Registrable, last_two
from homepath.core.page_reader.judge import read_page
from homepath.core.page_reader.page import PastedRecord, reason_of

USUAL_TTL = 3600
"""Seconds, where the table shows none."""


def read_table(text: str, origin: Name, file: str, registrable: Registrable = last_two) -> Zone:
    """The zone that a pasted table shows. Raises BadInput with every line that is doubtful."""
    page = read_page(text, shown(origin), registrable)
    if page.others:
        hint = "copy the whole table, with its headings"
        raise BadInput(*(Problem(reason_of(each), file, each.lines[0], hint=hint) for each in page.others))
    sets: list[RecordSet] = []
    problems: list[Problem] = []
    for record in (*page.records, *page.away):
        try:
            sets.append(_set(record, origin))
        except (BadName, BadValue) as error:
            problems.append(Problem(reason(error), file, record.lines[0], seen=record.value[:80]))
    sets += [RecordSet(origin, "NS", USUAL_TTL, (f"{server.name}.",)) for server in page.nameservers]
    if problems:
        raise BadInput(*problems)
    if not any(is_within(each.name, origin) for each in sets):
        raise BadInput(
            Problem(f"no record of {shown(origin)} was found in it", file, hint="is it that domain's table?")
        )
    return Zone.of(origin, sets)


def _set(record: PastedRecord, origin: Name) -> RecordSet:
    value = record.value.replace("{domain}.", origin)
    rrtype = "CNAME" if record.type == "ALIAS" else record.type
    ttl = USUAL_TTL if record.ttl is None else record.ttl
    return RecordSet(owner(record.host, origin), rrtype, ttl, (form_value(rrtype, value, origin),))
