"""A sheet in other forms: Markdown, a page that stands alone, CSV, a master file."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from html import escape

from homepath.core.formats.master_file import write_master_lines
from homepath.core.formats.sheet import Entry
from homepath.core.model.brief import Notation
from homepath.core.model.names import shown
from homepath.core.model.plan import Plan
from homepath.core.model.records import RecordSet, Zone
from homepath.core.model.visible import visible

_HEADER = ("do", "type", "name", "value", "ttl", "why")
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def as_markdown(plan: Plan, entries: Sequence[Entry], notation: Notation) -> str:
    """Two lists; each value in a code span of its own, so that nothing in it is taken as Markdown."""
    lines = [f"# DNS entries for {shown(plan.domain)}", "", _introduction(notation), ""]
    for deed, title in (("delete", "First delete"), ("enter", "Then enter")):
        chosen = [entry for entry in entries if entry.deed == deed]
        if chosen:
            lines += [f"## {title}", ""]
        for entry in chosen:
            ttl = f", TTL {entry.ttl}" if deed == "enter" else ""
            lines += [f"- {entry.type}{ttl}", f"  - Name: {_code(entry.name)}", f"  - Value: {_code(entry.value)}"]
        lines += [""] if chosen else []
    return "\n".join([*lines, _ending(notation), ""])


def _code(text: str) -> str:
    """A code span with more backticks than the text has in a row."""
    marks = "`"
    while marks in text:
        marks += "`"
    pad = " " if text[:1] == "`" or text[-1:] == "`" else ""
    return f"{marks}{pad}{visible(text)}{pad}{marks}" if text else "(leave the field empty)"


def as_page(plan: Plan, entries: Sequence[Entry], notation: Notation) -> str:
    """One HTML page for a support desk: it opens without a network and holds no script."""
    tables = "".join(
        _table(title, deed, entries) for deed, title in (("delete", "First delete"), ("enter", "Then enter"))
    )
    name = escape(shown(plan.domain))
    return f"""<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>DNS entries for {name}</title>
<meta name="viewport" content="width=device-width, initial-scale=1">
<style>
body {{ font: 16px/1.5 system-ui, sans-serif; color: #22262b; background: #fbfaf7;
  max-width: 62rem; margin: 2rem auto; padding: 0 1rem }}
table {{ border-collapse: collapse; width: 100%; margin: .5rem 0 1.5rem }}
th, td {{ text-align: left; vertical-align: top; padding: .45rem .8rem .45rem 0; border-bottom: 1px solid #d9d5cb }}
th {{ font-weight: 600; color: #5a5f66 }}
code {{ font: 15px ui-monospace, monospace; user-select: all; overflow-wrap: anywhere }}
.why {{ color: #5a5f66; font-size: 14px }}
</style></head><body>
<h1>DNS entries for {name}</h1>
<p>{escape(_introduction(notation))}</p>
{tables}<p>{escape(_ending(notation))}</p>
</body></html>
"""


def _table(title: str, deed: str, entries: Sequence[Entry]) -> str:
    chosen = [entry for entry in entries if entry.deed == deed]
    if not chosen:
        return ""
    ttl = deed == "enter"
    rows, before = "", ""
    for e in chosen:
        why = "" if e.reason == before else f"<div class=why>{escape(_why(e.reason))}</div>"
        before = e.reason
        rows += f"<tr><td>{escape(e.type)}</td><td>{_cell(e.name)}</td><td>{_cell(e.value)}{why}</td>"
        rows += f"<td>{e.ttl}</td></tr>\n" if ttl else "</tr>\n"
    head = f"<tr><th>Type</th><th>Name</th><th>Value</th>{'<th>TTL</th>' if ttl else ''}</tr>"
    return f"<h2>{title} ({len(chosen)})</h2>\n<table>{head}\n{rows}</table>\n"


def _why(reason: str) -> str:
    """The reason without the place in a file that a support desk does not have."""
    return visible(re.sub(r" \([^()]*, line [0-9]+\)", "", reason))


def _cell(text: str) -> str:
    return f"<code>{escape(visible(text))}</code>" if text else "(leave the field empty)"


def as_csv(entries: Sequence[Entry]) -> str:
    """Rows for a spreadsheet; a cell that would be taken as a formula is led by an apostrophe."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(_HEADER)
    for e in entries:
        cells = (e.deed, e.type, e.name, e.value, str(e.ttl), e.reason)
        writer.writerow([f"'{cell}" if cell.startswith(_FORMULA) else visible(cell) for cell in cells])
    return out.getvalue()


def as_zone(after: Zone) -> str:
    """The whole zone as it is to be, as a master file (RFC 1035 section 5): SOA first, then in order of names."""
    sets: list[RecordSet] = sorted(after, key=lambda r: (r.type != "SOA", r.name != after.origin, r.name, r.type))
    plain = [record for record in sets if record.type not in ("ALIAS", "RRSIG", "NSEC", "NSEC3")]
    return write_master_lines(plain)


def _introduction(notation: Notation) -> str:
    dot = {
        "required": " Targets end with a dot; the dot belongs to the value.",
        "forbidden": " Targets are written without a dot at the end.",
    }.get(notation.final_dot, "")
    return f"For the form of {notation.host}. Copy the values, do not retype them.{dot}"


def _ending(notation: Notation) -> str:
    where = f" To delete: {notation.delete}." if notation.delete else ""
    return f"Leave every other entry as it is.{where}"
