"""A DNS host's form: how it writes records, told from a few rows pasted out of it; and its whole table, in which every
record exists."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import BadName, Name, is_within, shown
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.values import BadValue
from homepath.core.files.exports import form_value, owner
from homepath.core.message import msg, reason
from homepath.core.model.problems import BadInput, Problem
from homepath.core.page_reader.assembling import RawRecord
from homepath.core.page_reader.hosts import Registrable, last_two, plain_host
from homepath.core.page_reader.judge import read_page
from homepath.core.page_reader.page import PastedRecord, reason_of
from homepath.core.page_reader.reader import read_rows
from homepath.core.page_reader.rows import Hidden
from homepath.core.page_reader.sources import rows_in
from homepath.core.page_reader.words import ttl_seconds
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting

Told3 = Literal["required", "forbidden", "tolerated"]
Unknown = Literal["apex", "names", "final-dot", "quotes", "ttls", "types", "alias", "forwarding"]
"""What rows may not show of a form."""


@dataclass(frozen=True, slots=True)
class Hints:
    """What the rows show. None: they do not show it. `ttls`: those seen, in seconds; `types`: those seen; `unknown`:
    what has to be asked for."""

    apex: Literal["@", "blank", "full"] | None
    names: Literal["relative", "full"] | None
    final_dot: Told3 | None
    quotes: Told3 | None
    ttls: tuple[int, ...]
    types: tuple[str, ...]
    apex_alias: str | None
    unknown: tuple[Unknown, ...]


def form_hints(text: str, domain: str) -> Hints:
    """What rows of a form, or its export, tell of how it writes names, targets, texts and times."""
    records = read_rows(rows_in(text, Hidden()), (domain,)).records
    apex = _apex(records, domain)
    names = _names(records, domain)
    dot = _dot(records)
    quotes = _quotes(text, records)
    ttls = tuple(sorted({seconds for each in records if each.ttl and (seconds := ttl_seconds(each.ttl)) is not None}))
    types = tuple(sorted({each.type for each in records if each.type}))
    alias = re.search(r"\b(ALIAS|ANAME)\b", text)
    shown: dict[Unknown, bool] = {
        "apex": apex is not None,
        "names": names is not None,
        "final-dot": dot is not None,
        "quotes": quotes is not None,
        "ttls": False,
        "types": False,
        "alias": alias is not None,
        "forwarding": False,
    }
    left = tuple(each for each, there in shown.items() if not there)
    return Hints(apex, names, dot, quotes, ttls, types, alias[1] if alias else None, left)


def to_ask(hints: Hints) -> list[str]:
    """What the rows do not show, in words."""
    return [say(msg(f"form-unknown.{each}", ttls=" and ".join(map(lasting, hints.ttls)))) for each in hints.unknown]


def _apex(records: Sequence[RawRecord], domain: str) -> Literal["@", "blank", "full"] | None:
    seen: set[Literal["@", "blank", "full"]] = set()
    for each in records:
        host = None if each.host is None else each.host.strip().lower().rstrip(".")
        if host == domain:
            seen.add("full")
        elif host is not None and host.startswith("@"):
            seen.add("@")
        elif host is not None and plain_host(host) == "@":
            seen.add("blank")
    return seen.pop() if len(seen) == 1 else None


def _names(records: Sequence[RawRecord], domain: str) -> Literal["relative", "full"] | None:
    others = [
        each.host.strip().lower().rstrip(".")
        for each in records
        if each.host and plain_host(each.host) not in ("@", None)
    ]
    others = [host for host in others if host != domain]
    if not others:
        return None
    full = [host.endswith(f".{domain}") for host in others]
    return "full" if all(full) else "relative" if not any(full) else None


def _dot(records: Sequence[RawRecord]) -> Told3 | None:
    dots = {each.value.rstrip().endswith(".") for each in records if each.type in ("CNAME", "MX", "NS", "SRV", "ALIAS")}
    return None if not dots else "tolerated" if len(dots) == 2 else "required" if dots.pop() else "forbidden"


def _quotes(text: str, records: Sequence[RawRecord]) -> Told3 | None:
    quoted = {f'"{each.value}' in text for each in records if each.type == "TXT"}
    return None if not quoted else "tolerated" if len(quoted) == 2 else "required" if quoted.pop() else "forbidden"


Forwarding = Literal["none", "http", "https", "unknown"]


def notation_text(
    host: str,
    hints: Hints,
    servers: Sequence[str],
    lacks: Sequence[str],
    ttls: Sequence[str],
    forwarding: Forwarding = "unknown",
) -> str:
    """A notation file with what is known; what is not is named in a comment. `forwarding`: what the host can do."""
    import tomlkit

    document = tomlkit.document()
    document.add(tomlkit.comment("Read from rows of the form. What they did not show is left out:"))
    for each in to_ask(hints):
        document.add(tomlkit.comment(f"  {each}"))
    document["format"] = "homepath.notation/1"
    document["host"] = host
    document["complete"] = not hints.unknown
    if servers:
        document["servers"] = list(servers)
    form = tomlkit.table()
    known = {"apex": hints.apex, "names": hints.names, "final_dot": hints.final_dot, "quotes": hints.quotes}
    for key, value in known.items():
        if value is not None:
            form[key] = value
    if hints.apex_alias:
        form["apex_alias"] = hints.apex_alias
    if ttls:
        form["ttl_choices"] = list(ttls)
    if lacks:
        form["lacks"] = list(lacks)
    document["form"] = form
    if forwarding != "unknown":
        part = tomlkit.table()
        part["available"] = forwarding != "none"
        part["https"] = forwarding == "https"
        document["forwarding"] = part
    return tomlkit.dumps(document)


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
