"""What the search found becomes records, and what remains doubtful is said."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

from homepath.core.dns.records import LED_TO
from homepath.core.message import Text
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.visible import visible
from homepath.core.page_reader.assembling import Told, type_by_value
from homepath.core.page_reader.hosts import Registrable, last_two, own_domains, plain_host, relative_host
from homepath.core.page_reader.kinds import (
    OTHER_TYPES,
    RECORD_TYPES,
    digits_read,
    glued_button,
    is_fqdn,
    is_host_label,
    type_of,
)
from homepath.core.page_reader.moods import NOT_WANTED
from homepath.core.page_reader.page import Line, LineUse, Page, PastedRecord, Server, Why
from homepath.core.page_reader.primary import primary_of_page
from homepath.core.page_reader.reader import Found, read_rows
from homepath.core.page_reader.record_values import has_whole_key, mixed_alphabets, trouble_of, value_of
from homepath.core.page_reader.rows import MOST_LINES, MOST_TEXT, Hidden, Row, too_long
from homepath.core.page_reader.sources import rows_in
from homepath.core.page_reader.words import is_phrase, ttl_seconds

_STRAY = ("address", "special", "text", "part", "token", "fqdn", "quoted")
"""Kinds of words that can be a value."""


@dataclass(slots=True)
class Judge:
    """Turns what the search found into records, and says what remains doubtful."""

    found: Found
    rows: Sequence[Row]
    hidden: Hidden
    domain: str | None
    registrable: Registrable

    def page(self) -> Page:
        notes: list[str] = []
        hosts = [host for told in self.found.told if told.host and (host := plain_host(told.host))]
        own, likely = own_domains(hosts, self.domain, self.registrable)
        if likely and not self.domain:
            notes.append(f"if {likely[0]} is your own domain, say so: --domain {likely[0]}")
        if own and not self.domain:
            notes.append(f"{own[0]} stands for your own domain")
        zones = {told.zone.lower().rstrip(".") for told in self.found.told if told.zone}
        mine = {zone for zone in zones if any(f".{zone}".endswith(f".{each}") for each in own)}
        strange = zones - mine if mine else set()
        primary, said = primary_of_page(self.rows, own)
        told = [each for each in self.found.told if each.type or not said.issuperset(each.lines)]
        read = [self._record(each, own, {*likely, *strange}) for each in told]
        away = [record for record in read if record.mood in NOT_WANTED]
        kept = _once([record for record in read if record.mood not in NOT_WANTED])
        torn = {row.line for row in self.rows if row.mark == "torn"}
        kept = [self._doubted(record, kept, torn) for record in kept]
        servers, unsure = self._servers(own)
        servers += tuple(_as_server(record) for record in kept if record.why is None and _is_delegation(record))
        others = [*(record for record in kept if record.why is not None), *unsure]
        kept = [record for record in kept if record.why is None and not _is_delegation(record)]
        others += self._parts([*kept, *away, *others])
        others += self._strays([*kept, *others], own)
        notes += self._forwards()
        lines = tuple(self._lines())
        return Page(tuple(kept), tuple(away), servers, lines, tuple(others), tuple(notes), tuple(own), primary)

    def _record(self, told: Told, own: Sequence[str], strange: Collection[str]) -> PastedRecord:
        """The record as it is told, and why it is not taken as it stands."""
        host = plain_host(told.host) if told.host is not None else ""
        relative = relative_host(host, own) if host else ""
        rrtype = told.type or ""
        value = value_of(rrtype, told.value, own)
        why: Why | None = None
        detail: Text = ""
        if told.trouble and not (rrtype in ("A", "AAAA") and digits_read(value)):
            why, detail = "bad-value", told.trouble
        elif told.mood == "unsure":
            why = "unsure"
        elif told.host is None:
            why = "no-name"
        elif host is None:
            why, detail = "bad-name", told.host
        elif not told.type or told.bare:
            why = "no-type"
        elif rrtype in OTHER_TYPES or rrtype not in RECORD_TYPES:
            why = "unplannable"
        elif any(f".{relative}".endswith(f".{each}") for each in strange):
            why = "other-domain"
        elif rrtype == "NS" and relative != "@":
            why = "handed-over"
        trouble = trouble_of(rrtype, value) if rrtype in RECORD_TYPES else None
        if trouble and (shorter := glued_button(told.value)):
            again = value_of(rrtype, shorter, own)
            value, trouble = (again, None) if not trouble_of(rrtype, again) else (value, trouble)
        elif rrtype == "TXT" and glued_button(value):
            why = why or "button"
        if trouble and rrtype in ("A", "AAAA") and (better := digits_read(value)):
            why, value = "misread", better
        elif trouble and why is None:
            why, detail = "bad-value", trouble
        mood = told.mood
        if told.zone.lower().rstrip(".") in strange:
            mood, why = "example", "other-domain"
        ttl = ttl_seconds(told.ttl) if told.ttl else None
        return PastedRecord(rrtype, relative, value, ttl, told.lines, mood, told.option, why, detail)

    def _doubted(self, record: PastedRecord, kept: Sequence[PastedRecord], torn: set[int]) -> PastedRecord:
        """A record that can be entered as it stands, with what still speaks against that."""
        if record.why is not None:
            return record
        chars = "".join(self.hidden.inside.get(line, "") for line in record.lines)
        if torn & set(record.lines):
            return replace(record, why="two-readings")
        if chars:
            return replace(record, why="hidden", detail=visible(chars))
        if mixed := mixed_alphabets([record.host, *([] if record.type == "TXT" else record.value.split())]):
            return replace(record, why="lookalike", detail=mixed)
        if record.option == "if" and (record.mood == "optional" or not _has_other(record, kept)):
            return replace(record, why="condition")
        if record.type == "TXT" and not has_whole_key(record.value):
            return replace(record, why="bad-key")
        if record.type == "ALIAS" and record.host != "@":
            return replace(record, why="alias")
        return record

    def _servers(self, own: Sequence[str]) -> tuple[tuple[Server, ...], list[PastedRecord]]:
        """The nameservers, and those of which it cannot be told whether they are new or old."""
        found = [Server(name.lower().strip("."), line, mood, option) for name, mood, line, option in self.found.servers]
        found = [each for each in found if each.name not in own]  # `the nameservers of own.test`
        unsure = [
            PastedRecord("NS", "@", f"{each.name}.", None, (each.line,), "", each.option, "unsure")
            for each in found
            if each.mood == "unsure"
        ]
        unique = {each.name: each for each in reversed(found) if each.mood not in (*NOT_WANTED, "unsure")}
        gone = {each.name: each for each in found if each.mood in NOT_WANTED}
        rest = [each for name, each in gone.items() if name not in unique]
        return (*reversed(unique.values()), *rest), unsure

    def _parts(self, read: Sequence[PastedRecord]) -> list[PastedRecord]:
        """What looks like a part of a record."""
        held = {line for record in read for line in record.lines}
        told = {line for each in self.found.told for line in each.lines} | {each[2] for each in self.found.servers}
        found = [_part(line, "part", what) for line, what in self.found.losses]
        found += [
            _part(row.line, "no-value", _spaced(row.text)[:80])
            for row in self.rows
            if row.line not in told | held
            and self.found.uses.get(row.line) != "heading of a table"
            and (_typed_row(row) or (self.found.uses.get(row.line) == "words" and _broken_row(row)))
        ]
        return found

    def _strays(self, read: Sequence[PastedRecord], own: Sequence[str]) -> list[PastedRecord]:
        """Values on lines that no record came from."""
        from homepath.core.page_reader.atoms import atoms_of

        used = {line for record in read for line in record.lines}
        found = []
        for row in self.rows:
            if row.line in used or self.found.uses.get(row.line) != "not understood":
                continue
            if not self._matters(row, read, own):
                continue
            atoms = atoms_of(row.text)
            every = [atom for atom in atoms if atom.kind in _STRAY]
            names = [f".{atom.value.lower().rstrip('.')}" for atom in every]
            mine = [any(name.endswith(f".{each}") for each in own) for name in names]
            values = [atom for atom, is_own in zip(every, mine, strict=True) if not is_own]
            if every and not values:
                continue  # it names the reader's own names only
            types = [atom.value for atom in atoms if atom.kind == "type"]
            types += [type_by_value(atom.value) or "" for atom in values[:1]]
            rrtype = next((each for each in types if each), "")
            value = value_of(rrtype, values[0].value, own) if values else ""
            found.append(PastedRecord(rrtype, "", value, None, (row.line,), "", "", "stray"))
        return found

    def _forwards(self) -> list[str]:
        return [
            f"line {row.line} asks for a redirect, which a brief cannot hold: {visible(_spaced(row.text)[:80])}"
            for row in self.rows
            if "://" in row.text and any(is_phrase("FORWARDS", cell.text) for cell in row.cells)
        ]

    def _matters(self, row: Row, kept: Sequence[PastedRecord], own: Sequence[str]) -> bool:
        """A line that only repeats what other lines say needs no question."""
        from homepath.core.page_reader.atoms import atoms_of

        known = {
            word.rstrip(".")
            for record in kept
            for word in (record.value.lower(), record.host, *record.value.lower().split())
        }
        strong = [atom for atom in atoms_of(row.text) if atom.kind in ("address", "special", "text", "part", "type")]
        if row.mark == "long":
            return True
        kinds = {atom.kind for atom in atoms_of(row.text)}
        if "type" in kinds and kinds & {"fqdn", "token", "quoted"}:
            return True
        words = row.text.split()
        if len(words) <= 4 and any(word.isupper() and type_of(word) for word in words):
            return True
        parts = [atom for atom in strong if atom.kind != "type"]
        if parts:
            return any(atom.value.lower().rstrip(".") not in known for atom in parts)
        texts = [cell.text for cell in row.cells if cell.text]
        if len(texts) == 2 and is_fqdn(texts[1]) and is_host_label(texts[0]):
            return True
        alone = len(row.text.split()) == 1 and is_fqdn(row.text)
        plain = row.text.strip().lower().rstrip(".")
        return alone and plain not in known and plain not in own and not any(plain.endswith(f".{each}") for each in own)

    def _lines(self) -> list[Line]:
        uses: dict[str, LineUse] = {
            "table": "record", "row": "record", "sentence": "record", "labels": "record",
            "value below its name": "record", "heading of a table": "heading", "label": "name of a field",
            "not understood": "not understood",
        }  # fmt: skip
        told = {line for each in self.found.told for line in each.lines} | {each[2] for each in self.found.servers}
        found = []
        for row in self.rows:
            if row.kind == "blank" or (row.kind == "rule" and not any(char.isalnum() for char in row.text)):
                continue
            use = uses.get(self.found.uses.get(row.line, ""), "words")
            if use == "record" and row.line not in told:
                use = "words"
            found += [Line(line, _spaced(row.text), use) for line in (row.line, *row.more)]
        return found


def _typed_row(row: Row) -> bool:
    """A row of several cells of which one is a type."""
    texts = [cell.text for cell in row.cells if cell.text]
    return len(texts) > 1 and any(text.isupper() and type_of(text) for text in texts)


def _broken_row(row: Row) -> bool:
    """`shop A 1`: a row like that of a table, whose value is none."""
    words = row.text.split()
    if not 3 <= len(words) <= 5 or not any(word.isupper() and type_of(word) for word in words[:2]):
        return False
    return bool(re.search(r"[0-9]", words[-1])) and all(re.fullmatch(r"[A-Za-z0-9_.*@-]+", word) for word in words)


def _spaced(text: str) -> str:
    """The words of a row for people: a tab is only a gap."""
    return text.replace("\t", "  ")


def _once(records: Sequence[PastedRecord]) -> list[PastedRecord]:
    """A record that the page says twice is one; its lines come together."""
    found: dict[tuple[str, str, str], PastedRecord] = {}
    for each in records:
        key = (each.type, each.host, each.value.lower() if each.type != "TXT" else each.value)
        before = found.get(key)
        if before is None:
            found[key] = each
            continue
        option = before.option if before.option == each.option else ""
        lines = tuple(dict.fromkeys((*before.lines, *each.lines)))
        mood = before.mood if before.mood == each.mood else ""
        found[key] = replace(
            before, lines=lines, option=option, mood=mood, ttl=before.ttl if before.ttl is not None else each.ttl
        )
    return list(found.values())


def _part(line: int, why: Why, what: Text) -> PastedRecord:
    return PastedRecord("", "", "", None, (line,), "", "", why, what)


def _is_delegation(record: PastedRecord) -> bool:
    return record.type == "NS" and record.host == "@"


def _as_server(record: PastedRecord) -> Server:
    return Server(record.value.rstrip("."), record.lines[0], record.mood, record.option)


def _has_other(record: PastedRecord, kept: Sequence[PastedRecord]) -> bool:
    """Another way for the same name is on the page, so that a condition chooses between two."""
    return any(
        each.host == record.host
        and (each.option != record.option or (each.type == "ALIAS") != (record.type == "ALIAS"))
        and each.type in (*LED_TO, "ALIAS")
        for each in kept
    )


BIGGEST = 4_000_000
"""Characters; more is no page."""


def read_page(text: str, domain: str | None = None, registrable: Registrable = last_two) -> Page:
    """Read a text. `domain`: the reader's own, where it is known. Raises BadInput for what is no page at all."""
    text = text.removeprefix("\ufeff")
    _check(text)
    hidden = Hidden()
    rows = rows_in(text, hidden)
    filled = [row for row in rows if row.kind not in ("blank", "rule")]
    if len(filled) > MOST_LINES or sum(len(row.text) for row in filled) > MOST_TEXT:
        raise too_long()
    own = (domain.lower().strip("."),) if domain else ()
    return Judge(read_rows(rows, own), rows, hidden, domain, registrable).page()


def _check(text: str) -> None:
    if len(text) > BIGGEST:
        hint = "copy only the part with the records"
        raise BadInput(Problem(f"this text has {len(text)} characters, which is no page", hint=hint))
    if "\0" in text:
        raise BadInput(Problem("this is not text: it holds NUL characters", hint="copy the words of the page"))
    if not any(char.isalnum() for char in text):
        raise BadInput(Problem("there is nothing to read: the text is empty", hint="copy the page's list of records"))
    odd = sum(
        1 for char in text[:20000] if unicodedata.category(char) in ("Cc", "Co", "Cn") and char not in "\t\n\r\f\v"
    )
    if odd * 10 > min(len(text), 20000):
        raise BadInput(Problem("this is not text: most of it cannot be shown", hint="copy the words of the page"))
