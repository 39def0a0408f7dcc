"""A sheet in other forms: Markdown, CSV, a master file."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence

from homepath.core.dns.names import Name, shown
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.files.exports import write_master_lines
from homepath.core.files.sheet import Deed, Job, Line
from homepath.core.model.brief import Notation
from homepath.core.model.visible import visible, visible_in_table
from homepath.core.wording.say import say
from homepath.core.wording.times import ttl_words

_HEADER = ("job", "do", "type", "name", "value", "ttl", "what for")
_TITLES: tuple[tuple[Deed, str], ...] = (("delete", "Delete"), ("enter", "Enter"))


def as_markdown(domain: Name, jobs: Sequence[Job], notation: Notation) -> str:
    """Each value in a code span of its own, so that nothing in it is taken as Markdown."""
    lines = [f"# DNS entries for {shown(domain)}", "", introduction(notation, len(jobs)), ""]
    for number, job in enumerate(jobs, 1):
        lines += [f"## Job {number} of {len(jobs)}: {visible(say(job.title))}", ""]
        for deed, title in _TITLES:
            for line in job.deeds(deed):
                ttl = f", TTL {_ttl(line, notation)}" if deed == "enter" and line.ttl is not None else ""
                lines += [f"- {title}: type {line.type}{ttl}"]
                lines += [f"  - Name: {_code(line.name)}", f"  - Value: {_code(line.value)}"]
        for stays in job.stays:
            lines += [f"- Stays as it is: {_code(stays)}"]
        lines += [""]
    return "\n".join([*lines, ending(notation), ""])


def _ttl(line: Line, notation: Notation) -> str:
    return ttl_words(line.ttl or 0, notation)


def _code(text: str) -> str:
    """A code span with more backticks than the text has in a row."""
    marks = "`"
    while marks in text:
        marks += "`"
    pad = " " if text[:1] == "`" or text[-1:] == "`" else ""
    return f"{marks}{pad}{visible(text)}{pad}{marks}" if text else "(leave the field empty)"


def as_csv(jobs: Sequence[Job]) -> str:
    """Rows for a spreadsheet; a cell that would be taken as a formula is led by an apostrophe."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(_HEADER)
    for number, job in enumerate(jobs, 1):
        for line in job.lines:
            ttl = "" if line.ttl is None else str(line.ttl)
            cells = (str(number), line.deed, line.type, line.name, line.value, ttl, say(job.title))
            writer.writerow([visible_in_table(cell) for cell in cells])
    return out.getvalue()


def as_zone(after: Zone) -> str:
    """The whole zone as it is to be, as a master file (RFC 1035 section 5): SOA first, then in order of names."""
    sets: list[RecordSet] = sorted(after, key=lambda r: (r.type != "SOA", r.name != after.origin, r.name, r.type))
    plain = [record for record in sets if record.type not in ("ALIAS", "RRSIG", "NSEC", "NSEC3")]
    return write_master_lines(plain)


def introduction(notation: Notation, count: int) -> str:
    """How to go about it."""
    jobs = "one job" if count == 1 else f"{count} jobs"
    return (
        f"{notation.host}: {jobs}. Copy and paste the values, do not retype them. Do a job without a pause, then begin "
        "the next. If the form can change an entry, change the old one into the first new value instead of deleting it."
    )


def ending(notation: Notation) -> str:
    where = f" To delete: {notation.delete}." if notation.delete else ""
    return f"Leave every other entry as it is.{where}"
