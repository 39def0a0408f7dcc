"""The sheet as Markdown, CSV, zone file and letter; questions to a support team."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Protocol

from homepath.core.dns.names import Name, shown
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.files.exports import write_master_lines
from homepath.core.files.sheet import Deed, Job, Line, form_name, form_value
from homepath.core.message import Text
from homepath.core.model.brief import NO_NOTATION, Notation
from homepath.core.model.plan import PURPOSES, Purpose
from homepath.core.model.visible import visible, visible_in_table
from homepath.core.wording.overview import noticed
from homepath.core.wording.say import say
from homepath.core.wording.times import anded, ttl_words
from homepath.core.wording.words import HEADINGS

_HEADER = ("job", "do", "type", "name", "value", "ttl", "what for")
_TITLES: tuple[tuple[Deed, str], ...] = (("delete", "Delete"), ("enter", "Enter"))


def as_markdown(domain: Name, jobs: Sequence[Job], notation: Notation) -> str:
    """Each value in a code span of its own, so that nothing in it is taken as Markdown."""
    lines = [f"# DNS records for {shown(domain)}", "", introduction(notation, jobs), ""]
    lines += [*(f"- {words}" for words in how_to_type(notation, jobs)), ""]
    for number, job in enumerate(jobs, 1):
        lines += [f"## Change {number} of {len(jobs)}: {visible(say(job.title))}", ""]
        for deed, title in _TITLES:
            for line in job.deeds(deed):
                ttl = f", TTL {_ttl(line, notation)}" if deed == "enter" and line.ttl is not None else ""
                lines += [f"- {title}: type {line.type}{ttl}"]
                lines += [f"  - Name: {_code(line.name)}", f"  - Value: {_code(line.value)}"]
        for stays in job.stays:
            lines += [f"- Keep unchanged: {_code(stays)}"]
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


def introduction(notation: Notation, jobs: Sequence[Job]) -> str:
    """How to go about it."""
    changes = f"{len(jobs)} change{'s' * (len(jobs) != 1)}"
    edit = " If you can edit a record, change the old value instead of deleting it." if any(map(edits, jobs)) else ""
    return (
        f"{notation.host}: {changes}. Copy and paste the values, do not retype them. Finish each change before you "
        f"start the next.{edit}"
    )


def edits(job: Job) -> bool:
    """Whether a value can be changed in place: the old record and the new one are of the same type."""
    old, new = ({line.type for line in job.deeds(deed)} for deed in ("delete", "enter"))
    return bool(old & new) and not job.retimed


def before_typing(jobs: Sequence[Job]) -> list[str]:
    """What to know before anything is changed, and what to do about it."""
    risks = list(dict.fromkeys(risk for job in jobs for risk in job.risks))
    return [f"{each.words} {each.cure}" for each in noticed(risks)]


def how_to_type(notation: Notation, jobs: Sequence[Job]) -> list[str]:
    """What this form wants, where a mistake is easy: names, dots, quotes, the priority of mail servers."""
    lines = [line for job in jobs for line in job.lines]
    types = {line.type for line in lines}
    notes = [*before_typing(jobs), *(LEARNED[each] for each in notation.learned)]
    if notation.known and notation.names == "relative" and any(line.name for line in lines):
        notes.append("Type each name exactly as shown: this form adds your domain.")
    if any(line.dotted for line in lines):
        notes.append("A value that ends with a dot needs the dot.")
    if "TXT" in types and notation.known and notation.quotes != "tolerated":
        without = "without" if notation.quotes == "forbidden" else "with"
        notes.append(f"Type TXT values {without} quotes.")
    if "MX" in types:
        notes.append("If the form has a field for the priority, type the number there and only the name as the value.")
    known = {"names", "final_dot", "quotes", "apex", "ttl"} if notation.known else set(notation.learned)
    return [*dict.fromkeys(notes), *(f"Check first {words}." for key, words in LOOK_FOR.items() if key not in known)]


def ending(notation: Notation) -> str:
    where = f" To delete: {notation.delete}." if notation.delete else ""
    return f"Leave every other record unchanged.{where}"


LOOK_FOR = {
    "apex": "how a record for the domain itself is written: name @, an empty name, or the whole domain",
    "names": "whether names are typed with or without the domain behind them: after saving, check the record once",
    "final_dot": "whether a target needs the dot at its end: if the form adds your domain behind it, it does",
    "quotes": "whether TXT values are typed with quotes: usually without",
    "ttl": "which TTLs it offers: take the nearest",
}
"""What to search for in a form whose notation is not known."""


LEARNED = {
    "names": "This form adds your domain to every name: type the name without it.",
    "final_dot": "This form adds your domain to a target that does not end with a dot: type the dot.",
}
"""What a typing mistake showed of such a form."""


def _to_support(host: str) -> tuple[str, str]:
    return f"To the support team{'' if host == NO_NOTATION.host else f' of {visible(host)}'}", ""


def question_to_host(
    domain: Name, types: Iterable[str], alias: bool, forwards: Sequence[Name], notation: Notation
) -> str:
    """Plain text to send. `types`: of the records to add; `alias`: the domain itself needs one; `forwards`: names that
    would have to be forwarded."""
    lines = [
        *_to_support(notation.host),
        f"Subject: questions about the DNS records of {shown(domain)}",
        "",
        f"I am about to connect {shown(domain)} to a website builder and want to make no mistake in your form.",
        "Please tell me:",
        "",
        f"1. Can I add records of these types myself: {', '.join(sorted(set(types)))}? Which of them are missing?",
        f"2. What do I type as the name for {shown(domain)} itself: @, nothing, or the whole domain?",
        "3. Do targets (CNAME, MX) end with a dot in your form, and are TXT values in quotes?",
        "4. Which TTLs can I choose, and which is the shortest?",
    ]
    number = 5
    if alias:
        lines.append(
            f"{number}. Is there an alias for {shown(domain)} itself (an ALIAS or ANAME record), so that it can "
            "follow a host name?"
        )
        number += 1
    asked = anded(shown(name) for name in forwards) or shown(domain)
    lines += [
        f"{number}. Can you forward {asked} to another URL, permanently (301) and with the path kept?",
        "   Does the forwarding also answer https, with a certificate for that name?",
        f"{number + 1}. Does any setting of yours (parking, forwarding, mail) restore records that I delete?",
        "",
        "Thank you.",
        "",
    ]
    return "\n".join(lines)


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
    behind: Iterable[tuple[RecordSet, Text]],
    notation: Notation,
) -> str:
    """Plain text, each record exactly, grouped by what it is for, with what is left out on purpose."""
    wanted = [each for each in dues if each.record.values]
    count = sum(len(each.record.values) for each in wanted)
    lines = [
        *_to_support(host),
        f"Subject: records for {shown(domain)} before its nameservers change",
        "",
        f"The domain {shown(domain)} is about to switch to your nameservers{':' if servers else '.'}",
        *(f"  {shown(server)}" for server in servers),
        f"Before that happens, please enter these {count} records for it, exactly as they are here, and tell me when",
        "it is done. The nameservers will be switched only after your answer; until then nothing is lost.",
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
        lines += [f"  {record.type} at {shown(record.name)}: {say(why)}" for record, why in left]
    lines += ["", "Please do not leave any of them out, and change nothing in their values.", ""]
    return "\n".join(lines)


_DEEDS: tuple[tuple[Deed, str, str], ...] = (
    ("delete", "Delete", "exactly these and no others"),
    ("enter", "Enter", "exactly as they are here"),
)


def letter_of_jobs(domain: Name, jobs: Sequence[Job], notation: Notation) -> str:
    """Plain text: each record to delete and to enter, exactly, and what must stay."""
    lines = [
        *_to_support(notation.host),
        f"Subject: changes to the DNS records of {shown(domain)}",
        "",
        f"Please make these changes for {shown(domain)}, each one without a pause, and tell me when they are done.",
    ]
    for number, job in enumerate(jobs, 1):
        lines += ["", f"Change {number} of {len(jobs)}: {visible(say(job.title))}"]
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
        lines += [f"  Keep unchanged: {visible(text)}" for text in job.stays]
    lines += ["", "Please change nothing else, and nothing in these values.", ""]
    return "\n".join(lines)
