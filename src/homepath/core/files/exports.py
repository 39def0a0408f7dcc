"""Zones as people get them out of a DNS host: master files, CSV exports, record tables copied from a page."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, Any

from homepath.core.dns.names import BadName, Name, absolute, is_within
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.values import BadValue, canonical, text_value
from homepath.core.message import msg, reason
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import seconds_in

if TYPE_CHECKING:
    import dns.rdata


class NoMasterFile(BadInput):
    """The text is not written as a master file: one of its lines cannot be read as such."""


def read_master_file(text: str, origin: Name, file: str) -> Zone:
    """Read an exported zone. `$INCLUDE` is refused: an export is one file.

    Raises BadInput with the line, also for a file that holds no record of the domain.
    """
    import dns.exception
    import dns.name
    import dns.rdataclass
    import dns.tokenizer
    import dns.zonefile

    text = text.removeprefix("\ufeff")
    if "\0" in text:
        raise BadInput(Problem(msg("exports.read-export"), file, hint=msg("exports.read-export.hint")))
    found: list[tuple[Name, int, dns.rdata.Rdata]] = []

    class Everything(dns.zonefile.RRsetsReaderTransaction):
        """Takes each record as it comes: what no zone may hold, such as two aliases, is judged later."""

        def add(self, *args: Any) -> None:
            name, ttl, rdata = args
            found.append((name.to_text().lower(), ttl, rdata))

        def check_put_rdataset(self, check: Any) -> None:
            pass

    try:
        manager = dns.zonefile.RRSetsReaderManager(dns.name.from_text(origin), relativize=False)
        tokens = dns.tokenizer.Tokenizer(_plain(text, file), "<string>")
        taking = Everything(manager, True, False)  # type: ignore[no-untyped-call]
        reader = dns.zonefile.Reader(tokens, dns.rdataclass.IN, taking)
        reader.read()
    except dns.exception.SyntaxError as error:
        place, _, words = str(error).partition(": ")
        line = int(place.rpartition(":")[2]) if place.rpartition(":")[2].isdigit() else None
        if line and "newline in quoted string" in words:
            line -= 1  # the tokenizer has already passed the end of the line
        raise NoMasterFile(Problem(msg("master-file.read-master-file", words=words or place), file, line)) from error
    except (dns.exception.DNSException, ValueError) as error:
        raise BadInput(Problem(msg("master-file.read-master-file-2", error=reason(error)), file)) from error
    try:
        read = Zone.of(origin, (_record_set(*each) for each in found))
    except BadValue as error:
        raise BadInput(Problem(reason(error), file)) from error
    if not any(is_within(each.name, origin) for each in read):
        raise BadInput(
            Problem(msg("exports.read-export-3", origin=origin), file, hint=msg("master-file.read-master-file.hint"))
        )
    return read


_DIRECTIVES = {"$INCLUDE": msg("master-file.directives"), "$GENERATE": msg("master-file.directives-2")}


def _plain(text: str, file: str) -> str:
    """The text, if it holds nothing but records, `$ORIGIN` and `$TTL`."""
    for number, line in enumerate(text.splitlines(), 1):
        word = line.lstrip().split(None, 1)[0].upper() if line.lstrip()[:1] == "$" else ""
        if word in _DIRECTIVES:
            raise BadInput(Problem(_DIRECTIVES[word], file, number, word))
    return text


def _record_set(name: Name, ttl: int, rdata: dns.rdata.Rdata) -> RecordSet:
    import dns.rdatatype

    rrtype = dns.rdatatype.to_text(rdata.rdtype)
    return RecordSet(name, rrtype, ttl, (canonical(rrtype, rdata.to_text()),))


def write_master_lines(sets: list[RecordSet]) -> str:
    """Record sets as master-file lines, one value a line, owner names absolute."""
    return "".join(f"{each.name}\t{each.ttl}\tIN\t{each.type}\t{value}\n" for each in sets for value in each.values)


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
