"""Zones as people get them out of a DNS host: master files, CSV exports, record tables copied from a page."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator, Sequence

from homepath.core.dns.names import BadName, Name, absolute
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.values import BadValue, canonical, text_value
from homepath.core.files.master_file import read_master_file
from homepath.core.message import msg, reason
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import seconds_in

_TYPES = "A AAAA CAA CNAME DNAME DS HTTPS MX NAPTR NS PTR SOA SPF SRV SSHFP SVCB TLSA TXT URI"
TYPES = frozenset(_TYPES.split())
_NAMES = {
    "name": ("name", "host", "hostname", "host name", "record name", "subdomain", "owner", "label", "record"),
    "type": ("type", "record type", "rr type", "rrtype", "kind"),
    "value": ("value", "data", "content", "points to", "target", "destination", "answer", "rdata", "address",
              "record value", "record data"),
    "ttl": ("ttl", "time to live", "ttl seconds", "ttl s"),
    "priority": ("priority", "prio", "preference", "pref", "mx priority", "mx level"),
}  # fmt: skip
_LONGEST_LINE = 70_000


def read_export(text: str, origin: Name, file: str) -> Zone:
    """Read whatever it is: a table with headers, a table without, or a master file. Raises BadInput with the line."""
    text = text.removeprefix("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    if "\0" in text:
        raise BadInput(Problem(msg("exports.read-export"), file, hint=msg("exports.read-export.hint")))
    for number, line in enumerate(text.split("\n"), 1):
        if len(line) > _LONGEST_LINE:
            raise BadInput(Problem(msg("exports.read-export-2", count_line=len(line)), file, number))
    table = _table(text)
    if table is None:
        return read_master_file(text, origin, file)
    sets, problems = [], []
    for number, cells in table:
        try:
            sets += list(_row(cells, origin))
        except (BadValue, BadName, ValueError) as error:
            problems.append(Problem(reason(error), file, number, seen=" ".join(cells.values())[:80]))
    if problems:
        raise BadInput(*problems)
    if not sets:
        raise BadInput(
            Problem(msg("exports.read-export-3", origin=origin), file, hint=msg("exports.read-export.hint-2"))
        )
    return Zone.of(origin, sets)


Cells = dict[str, str]


def _table(text: str) -> list[tuple[int, Cells]] | None:
    """The rows of a table, each with its line number; None when this is no table but a master file."""
    lines = [(number, line) for number, line in enumerate(text.split("\n"), 1) if line.strip()]
    if not lines or lines[0][1].lstrip().startswith((";", "$", "#")):
        return None
    for mark in (",", ";", "\t", "|"):
        header = _header(_split(lines[0][1], mark))
        if header:
            return [(n, _cells(header, _split(line, mark))) for n, line in lines[1:] if not _rule_line(line)]
    header = _header(re.split(r"\s{2,}", lines[0][1].strip()))
    if header:
        return [(n, _cells(header, re.split(r"\s{2,}", line.strip()))) for n, line in lines[1:] if not _rule_line(line)]
    return None


def _split(line: str, mark: str) -> list[str]:
    if mark == "|":
        return [cell.strip() for cell in line.strip().strip("|").split("|")]
    try:
        return [cell.strip() for cell in next(csv.reader(io.StringIO(line), delimiter=mark), [])]
    except csv.Error:
        return [cell.strip() for cell in line.split(mark)]


def _rule_line(line: str) -> bool:
    return not line.strip(" |+-=:\t")


def _header(cells: Sequence[str]) -> list[str] | None:
    """What each column means, when this row names at least type and value."""
    found = []
    for cell in cells:
        plain = re.sub(r"[^a-z ]+", " ", cell.lower().replace("_", " ")).strip()
        plain = re.sub(r"\s+", " ", plain)
        found.append(next((key for key, words in _NAMES.items() if plain in words), ""))
    return found if "type" in found and "value" in found else None


def _cells(header: Sequence[str], cells: Sequence[str]) -> Cells:
    return {key: cell for key, cell in zip(header, cells, strict=False) if key}


def _row(cells: Cells, origin: Name) -> Iterator[RecordSet]:
    rrtype = cells.get("type", "").upper()
    if rrtype not in TYPES:
        raise BadValue(msg("exports.row", get=cells.get("type", "")))
    name = owner(cells.get("name", ""), origin)
    value = cells.get("value", "")
    if rrtype in ("MX", "SRV") and cells.get("priority", "").isdigit() and len(value.split()) < (2, 4)[rrtype == "SRV"]:
        value = f"{cells['priority']} {value}"
    yield RecordSet(name, rrtype, ttl_of(cells.get("ttl", "")), (form_value(rrtype, value, origin),))


def owner(text: str, origin: Name) -> Name:
    """The name field of a form: `@`, blank, relative, or in full with or without final dot. Raises BadName."""
    host = text.strip().strip('"').lower()
    if host in ("", "@"):
        return origin
    name = absolute(host)
    return name if name == origin or name.endswith("." + origin) else absolute(host.removesuffix("."), origin)


def form_value(rrtype: str, text: str, origin: Name) -> str:
    """The value field of a form: targets are full names even without final dot, texts need no quotes."""
    if rrtype in ("TXT", "SPF"):
        return canonical(rrtype, text) if text.startswith('"') and text.endswith('"') else text_value(text)
    if rrtype in ("CNAME", "NS", "MX", "SRV", "PTR", "DNAME"):
        words = text.split()
        if words and words[-1] == "@":
            words[-1] = origin
        elif words and "." in words[-1] and not words[-1].endswith("."):
            words[-1] += "."
        text = " ".join(words)
    return canonical(rrtype, text, origin)


def ttl_of(text: str) -> int:
    """Seconds of a TTL cell; words such as `automatic` give the usual hour. Raises ValueError."""
    plain = text.strip().lower()
    if not any(char.isdigit() for char in plain):
        return 3600
    found = seconds_in(re.sub(r"\(.*?\)", "", plain).strip() or plain)
    if found > 2147483647:
        raise ValueError(msg("exports.ttl-of", found=found))
    return found
