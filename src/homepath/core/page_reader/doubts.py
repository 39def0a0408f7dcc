"""Records that can be doubted: several of which one may be the old one, and sentences that a line end tore apart."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Collection, Iterator, Sequence
from dataclasses import replace
from itertools import pairwise

from homepath.core.page_reader.kinds import is_button, is_fqdn, is_status
from homepath.core.page_reader.leads import own_words
from homepath.core.page_reader.leftovers import is_within_own
from homepath.core.page_reader.moods import events
from homepath.core.page_reader.page import PastedRecord, Server
from homepath.core.page_reader.prose.atoms import VALUES, atoms_of
from homepath.core.page_reader.reader import Found
from homepath.core.page_reader.record_values import value_of
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.sources.broken_lines import ENDED


def with_several_targets(records: Sequence[PastedRecord]) -> set[tuple[str, str]]:
    """Aliases of which the page names several targets, where there may be only one (RFC 1034 section 3.6.2), and no
    choice between them: their hosts and options."""
    targets: dict[tuple[str, str], set[str]] = {}
    for each in records:
        if each.type == "CNAME":
            targets.setdefault((each.host, each.option), set()).add(each.value)
    return {key for key, values in targets.items() if len(values) > 1}


def in_two_sets(records: Sequence[PastedRecord], aliases: Collection[tuple[str, str]]) -> set[tuple[str, str, str]]:
    """Addresses of a name that has several, each in a line with one of several targets of an alias: one set may be the
    old one."""
    doubtful = [each for each in records if each.type == "CNAME" and (each.host, each.option) in aliases]
    lines = {line for each in doubtful for line in each.lines}
    held = [each for each in records if each.type in ("A", "AAAA")]
    count = Counter((each.type, each.host) for each in held)
    return {
        (each.type, each.host, each.value)
        for each in held
        if count[each.type, each.host] > 1 and not lines.isdisjoint(each.lines)
    }


def crowded(records: Sequence[PastedRecord]) -> set[str]:
    """The options in which the domain itself has a record that is no alias. An alias beside it cannot be (RFC 1034
    section 3.6.2): its name may have been misread."""
    there = [each for each in records if each.host == "@" and each.type != "CNAME"]
    return {each.option for each in there if each.why is None and each.mood != "optional"}


def called_differently(records: Sequence[PastedRecord], rows: Sequence[Row]) -> set[tuple[str, str, str]]:
    """Addresses of one name, or texts with one key, that have different words beside them: `Foo: A @ 198.51.100.7`,
    `New: A @ 192.0.2.10`. An unknown word may mean that its record is the current one."""
    by_line = {row.line: row for row in rows if row.kind != "card"}
    said: dict[tuple[str, str, str], dict[PastedRecord, str]] = {}
    for each in records:
        key, coded, _ = each.value.partition("=") if each.type == "TXT" else ("", "", "")
        row = by_line.get(each.lines[0]) if len(each.lines) == 1 else None
        if row and (each.type in ("A", "AAAA") or coded):
            said.setdefault((each.type + key, each.host, each.option), {})[each] = _beside(row, each.value)
    several = [told for told in said.values() if len({own_words(text) for text in told.values()}) > 1]
    tables = {row.line for row in rows if len(row.cells) > 2}
    several = [  # in a column, words such as `Europe` and `America` only tell the rows apart
        told
        for told in several
        if not tables.issuperset(each.lines[0] for each in told) or any(events(text) for text in told.values())
    ]
    return {
        (each.type, each.host, each.value)
        for told in several
        for each, text in told.items()
        if each.mood != "want" or not any(event.kind in ("ADD", "REQUIRED", "REPLACE") for event in events(text))
    }


def _beside(row: Row, value: str) -> str:
    """The words of a row, or of the one of its sentences that has the value; without buttons and states."""
    cells = [cell.text for cell in row.cells if not (is_status(cell.text) or is_button(cell.text))]
    text = " ".join(cells) if len(row.cells) > 1 else row.text
    said = next((part for part in re.split(r"(?<=[.!?。！？])\s+", text) if value in part), text)
    for atom in reversed(atoms_of(said)):
        said = f"{said[: atom.at]} {said[atom.end :]}" if atom.kind in VALUES else said
    return said


def shares_name(record: PastedRecord, records: Sequence[PastedRecord]) -> bool:
    """Whether one sentence has an alias and an address for the same name: the name is likely that of one alone."""
    types = {"A": ["CNAME"], "AAAA": ["CNAME"], "CNAME": ["A", "AAAA"]}.get(record.type, [])
    same = [each for each in records if (each.host, each.option) == (record.host, record.option)]
    return any(each.type in types and each.lines == record.lines and len(each.lines) == 1 for each in same)


def has_rival(record: PastedRecord, records: Sequence[PastedRecord]) -> bool:
    """Whether another text of the same sentence has the same key with another code: one of them may be the old one."""
    key, mark, _ = record.value.strip('"').partition("=")
    others = [each for each in records if (each.type, each.host) == ("TXT", record.host)]
    others = [each for each in others if set(each.lines) & set(record.lines)]
    codes = {each.value for each in others if each.value.strip('"').partition("=")[0] == key}
    return bool(mark) and " " not in record.value and len(codes) > 1


def torn_apart(
    found: Found, rows: Sequence[Row], read: Sequence[PastedRecord], servers: Sequence[Server], own: Sequence[str]
) -> Iterator[PastedRecord]:
    """Names beside a sentence about an alias, in the line before or behind it, that no record has: the sentence goes on
    there, or the next one says what the alias should be."""
    told = {word.strip(".").lower() for each in read for word in (each.host, *each.value.split())}
    told |= {each.name for each in servers}
    held = {line for each in read for line in each.lines}
    aliases = [each for each in read if each.type in ("CNAME", "ALIAS")]
    about = {
        line
        for a in aliases
        for line in a.lines
        if found.uses.get(line) == "sentence" or a.mood in ("current", "unsure")
    }
    about |= {row.line for row in rows if row.line not in held and _lacks_target(row, own)}
    for one, other in (pair for near in pairwise(rows) for pair in (near, near[::-1])):
        prose = one.kind == other.kind == "text" and len(other.cells) == 1 and len(one.text.split()) > 2
        if not prose or one.line not in about or other.line in held or abs(other.line - one.line) != 1:
            continue
        first = one if one.line < other.line else other
        if ENDED.search(first.text) and not {e.kind for e in events(other.text)} & {"REQUIRED", "REPLACE"}:
            continue
        for name in [atom.value for atom in atoms_of(other.text) if atom.kind == "fqdn"]:
            inside = any(name.lower().startswith(f"{each}.") for each in told if each)
            if not is_within_own(name, own) and not inside and name.lower().strip(".") not in told:
                yield PastedRecord("CNAME", "", value_of("CNAME", name, own), None, (other.line,), "", "", "stray")


def _lacks_target(row: Row, own: Sequence[str]) -> bool:
    """Whether a row speaks of an alias and names no target."""
    atoms = atoms_of(row.text)
    names = [atom.value for atom in atoms if atom.kind == "fqdn" and not is_within_own(atom.value, own)]
    return not names and any(atom.kind == "type" and atom.value == "CNAME" for atom in atoms)


def odd_now(
    found: Found, now: Sequence[PastedRecord], read: Sequence[PastedRecord], own: Sequence[str]
) -> Iterator[PastedRecord]:
    """What cannot be what is there now: an alias at a name of another domain, one of several values of which none is
    new (of addresses: in one row of a table), words that hold more than a value."""
    for each in now:
        host = each.host or ""
        ends = {name.rstrip(".").rpartition(".")[2] for name in (*own, each.value) if is_fqdn(name)}
        same = [other for other in read if (other.type, other.host) == (each.type, each.host)]
        in_row = found.uses.get(each.lines[0]) == "table" and all(other.lines == each.lines for other in same)
        spoken = " " in each.value and any(event.kind == "REQUIRED" for event in events(each.value))
        if spoken or (each.why == "bad-value" and " " in each.value):
            yield replace(each, why=each.why or "unsure")
        elif each.type == "CNAME" and is_fqdn(host) and "_" not in host and host.rpartition(".")[2] in ends:
            yield replace(each, why="other-domain")
        elif (
            (in_row or each.type == "CNAME" or (each.type == "TXT" and "=" in each.value and " " not in each.value))
            and all(other.mood == "current" for other in same)
            and len({other.value for other in same}) > 1
        ):
            yield replace(each, why="unsure")
