"""What was read becomes records in their bins, each doubt with its reason."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from homepath.core.dns.records import LED_TO
from homepath.core.message import Text, msg
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.visible import visible
from homepath.core.page_reader.assembling import RawRecord
from homepath.core.page_reader.doubts import (
    called_differently,
    crowded,
    has_rival,
    in_two_sets,
    odd_now,
    shares_name,
    torn_apart,
    with_several_targets,
)
from homepath.core.page_reader.hosts import (
    Registrable,
    is_sole_address,
    last_two,
    own_domains,
    plain_host,
    relative_host,
)
from homepath.core.page_reader.kinds import RECORD_TYPES, clean, digits_read, glued_button
from homepath.core.page_reader.leftovers import (
    is_within_own,
    left_over,
    parts,
    primary_of_page,
    spaced,
    strays,
    told_lines,
)
from homepath.core.page_reader.moods import NOT_WANTED, Mood, events
from homepath.core.page_reader.page import Line, LineUse, Page, PastedRecord, Server, Why
from homepath.core.page_reader.prose.atoms import atoms_of
from homepath.core.page_reader.reader import Found, read_rows
from homepath.core.page_reader.record_values import has_whole_key, mixed_alphabets, trouble_of, value_of
from homepath.core.page_reader.rows import MOST_LINES, MOST_TEXT, Hidden, Row, too_long
from homepath.core.page_reader.sources import rows_in
from homepath.core.page_reader.words import is_phrase, ttl_seconds

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
    found = read_rows(rows, own)
    hosts = [host for raw in found.records if raw.host and (host := plain_host(raw.host))]
    mine, likely = own_domains(hosts, domain, registrable)
    named = frozenset(raw.type for raw in found.records if raw.host is not None)
    return _Judge(
        found, rows, hidden, tuple(mine), tuple(likely), bool(domain), named, {row.line: row for row in rows}
    ).page()


def _check(text: str) -> None:
    odd = sum(
        1 for char in text[:20000] if unicodedata.category(char) in ("Cc", "Co", "Cn") and char not in "\t\n\r\f\v"
    )
    why = (
        "too-large" if len(text) > BIGGEST
        else "nul" if "\0" in text
        else "empty" if not any(char.isalnum() for char in text)
        else "no-text" if odd * 10 > min(len(text), 20000)
        else ""
    )  # fmt: skip
    if why:
        raise BadInput(Problem(msg(f"page.refused.{why}", size=len(text)), hint=msg("page.copy-the-part")))


_NAME = re.compile(r"@|(?:\*|[\w{}-]+)(?:\.[\w{}-]+)*")
"""What can be the name of a record, with stand-ins such as `{code}`."""


@dataclass(frozen=True, slots=True)
class _Judge:
    """Turns what was read into a page. `own`: the reader's domains; `likely`: those that may be; `given`: the reader
    said which; `named`: the types of which a record has a name; `by_line`: the rows."""

    found: Found
    rows: Sequence[Row]
    hidden: Hidden
    own: tuple[str, ...]
    likely: tuple[str, ...]
    given: bool
    named: frozenset[str | None]
    by_line: Mapping[int, Row]

    def page(self) -> Page:
        """Every record in its bin, and every line accounted for."""
        zones = {raw.zone.lower().rstrip(".") for raw in self.found.records if raw.zone}
        mine = {zone for zone in zones if is_within_own(zone, self.own)}
        strange = (zones - mine if mine else set()) | set(self.likely)
        primary, lines_of_primary = primary_of_page(self.rows, self.own)
        records = [each for each in self.found.records if each.type or not lines_of_primary.issuperset(each.lines)]
        records = [each for each in records if not self._is_its_own_name(each)]
        read = [self._record(each, strange) for each in records]
        away = [record for record in read if record.mood in NOT_WANTED]
        elsewhere = list(odd_now(self.found, [each for each in away if each.mood == "current"], read, self.own))
        away = [each for each in away if each not in elsewhere]
        to_enter = _once([record for record in read if record.mood not in NOT_WANTED])
        to_enter = self._doubted(to_enter)
        servers, others = self._servers()
        if not (to_enter or servers or elsewhere):  # a page that says only what is there may say it of what is wanted
            told = [
                each for each in away if each.why == "no-type" or (each.mood == "current" and self._is_spoken(each))
            ]
            elsewhere = [replace(each, why=each.why or "unsure") for each in told]
            away = [each for each in away if each not in told]
        others += elsewhere
        delegated = [each for each in to_enter if each.why is None and (each.type, each.host) == ("NS", "@")]
        if any(each.why is None and each not in delegated for each in to_enter):  # a zone's own, not the ones to choose
            others += [replace(each, why="unsure") for each in delegated if not each.mood]
            to_enter = [each for each in to_enter if each.mood or each not in delegated]
            delegated = [each for each in delegated if each.mood]
        servers += [Server(each.value.rstrip("."), each.lines[0], each.mood, each.option) for each in delegated]
        others = [*(record for record in to_enter if record.why is not None), *others]
        to_enter = [record for record in to_enter if record.why is None and record not in delegated]
        others = [each for each in others if not (each.why == "no-name" and self._is_said_again(each, to_enter))]
        lost = parts(self.found, self.rows, [*to_enter, *away, *others])
        others += [part for part in lost if not lines_of_primary.issuperset(part.lines)]
        others += strays(self.found, self.rows, [*to_enter, *away, *others], servers, self.own)
        others += torn_apart(self.found, self.rows, [*to_enter, *away, *others], servers, self.own)
        others += left_over(self.found, self.rows, [*to_enter, *away, *others], servers, self.own)
        return Page(
            self._with_all_lines(to_enter), self._with_all_lines(away), tuple(servers), tuple(self._lines()),
            self._with_all_lines(others), tuple(self._notes()), self.own, primary,
        )  # fmt: skip

    def _with_all_lines(self, records: Sequence[PastedRecord]) -> tuple[PastedRecord, ...]:
        """The records, each with the lines that its sentence goes on in."""
        more = {row.line: (row.line, *row.more) for row in self.rows}
        return tuple(
            replace(each, lines=tuple(dict.fromkeys(line for at in each.lines for line in more.get(at, (at,)))))
            for each in records
        )

    def _is_said_again(self, record: PastedRecord, to_enter: Sequence[PastedRecord]) -> bool:
        """A value in passing, which a record with its name has, too: `Our server: 192.0.2.10`."""
        row = self.by_line[record.lines[0]]
        same = [each for each in to_enter if each.value == record.value and record.type in ("", each.type)]
        typed = any(atom.kind == "type" for atom in atoms_of(row.text))
        beside = any(row.line in each.lines for each in same)
        return len(record.lines) == 1 and bool(same) and (beside or not typed)

    def _is_its_own_name(self, raw: RawRecord) -> bool:
        """`Shop: shop.own.test`: only the name, once more."""
        host = plain_host(raw.host) if raw.host else None
        name = raw.value.lower().rstrip(".")
        same = host is not None and name in {".".join(filter(None, (host.removeprefix("@"), own))) for own in self.own}
        return same and raw.type in (None, "A", "AAAA")

    def _is_spoken(self, record: PastedRecord) -> bool:
        return self.found.uses.get(record.lines[0]) == "sentence"

    def _is_stated(self, record: PastedRecord) -> bool:
        """An address in a sentence that only says what is so: beside one that asks for another, it may be old."""
        if record.type not in ("A", "AAAA") or record.mood or len(record.lines) > 1:
            return False
        row = self.by_line[record.lines[0]]
        said = next((part for part in re.split(r"[.!?]\s+", row.text) if record.value in part), "")
        asks = events(said) or any(atom.kind == "type" for atom in atoms_of(said))
        return self._is_spoken(record) and bool(said) and not asks

    def _notes(self) -> Iterator[Text]:
        if not self.given:
            yield from [msg("page.note.likely", name=self.likely[0])] if self.likely else ()
            yield from [msg("page.note.own", name=self.own[0])] if self.own else ()
        for row in self.rows:
            if "://" in row.text and any(is_phrase("FORWARDS", cell.text) for cell in row.cells):
                yield msg("page.note.redirect", line=row.line, text=visible(spaced(row.text)[:80]))

    def _record(self, raw: RawRecord, strange: Collection[str]) -> PastedRecord:
        """The record, and why it is not taken as it is."""
        nameless = raw.host is None and raw.type in ("A", "AAAA") and raw.type not in self.named
        if nameless and is_sole_address(self.rows, self.by_line[raw.lines[0]], raw.value):
            raw = replace(raw, host="@")
        host = plain_host(raw.host) if raw.host is not None else ""
        relative = relative_host(host, self.own) if host else ""
        rrtype, mood = raw.type or "", raw.mood
        value = value_of(rrtype, raw.value, self.own)
        trouble = trouble_of(rrtype, value) if rrtype in RECORD_TYPES else None
        better, how = _better(rrtype, value) if trouble else ("", "misread")
        why: Why | None = None
        detail: Text = ""
        if raw.trouble and not better:
            why, detail = "bad-value", raw.trouble
        elif mood == "unsure":
            why = "unsure"
        elif raw.host is None:
            why = "no-name"
        elif host is None or not _NAME.fullmatch(host):
            why, detail = "bad-name", raw.host
        elif not raw.type or raw.bare:
            why = "no-type"
        elif rrtype not in RECORD_TYPES:
            why = "unplannable"
        elif any(f".{relative}".endswith(f".{each}") for each in strange):
            why = "other-domain"
        elif rrtype == "NS" and relative != "@":
            why = "handed-over"
        shorter = glued_button(raw.value) if trouble else glued_button(value) if rrtype == "TXT" else None
        again = value_of(rrtype, shorter, self.own) if shorter else ""
        if better:
            why, value = how, better
        elif trouble and shorter and not trouble_of(rrtype, again):
            value = again
        elif shorter and not trouble:
            why = why or "button"
        elif trouble and why is None:
            why, detail = "bad-value", trouble
        if raw.zone.lower().rstrip(".") in strange:
            mood, why = "example", "other-domain"
        ttl = ttl_seconds(raw.ttl) if raw.ttl else None
        return PastedRecord(rrtype, relative, value, ttl, raw.lines, mood, raw.option, why, detail)

    def _doubted(self, records: Sequence[PastedRecord]) -> list[PastedRecord]:
        """The records, each that can be entered as it is with any doubt about it."""
        aliases, options = with_several_targets(records), crowded(records)
        two_sets = in_two_sets(records, aliases) | called_differently(records, self.rows)
        torn = {row.line for row in self.rows if row.mark == "torn"}
        # a condition for all of several records only says for whom the page is
        some = len(records) == 1 or any(each.option != "if" for each in records)
        changed = {(each.type, each.host, each.option) for each in records if each.mood == "want"}

        def doubted(record: PastedRecord) -> PastedRecord:
            if record.why is not None:
                return record
            chars = "".join(self.hidden.inside.get(line, "") for line in record.lines)
            names = [record.host, *([] if record.type == "TXT" else record.value.split())]
            alias, root = record.type == "CNAME", record.host == "@"
            reasons: list[tuple[Why, object, Text]] = [
                ("two-readings", not torn.isdisjoint(record.lines), ""),
                ("hidden", chars, visible(chars)),
                ("lookalike", mixed_alphabets(names), mixed_alphabets(names)),
                ("condition", record.option == "if" and some and _is_only(record, records), ""),
                ("bad-key", record.type == "TXT" and not has_whole_key(record.value), ""),
                ("two-targets", alias and (record.host, record.option) in aliases, ""),
                ("unsure", (record.type, record.host, record.value) in two_sets, ""),
                ("unsure", (record.type, record.host, record.option) in changed and self._is_stated(record), ""),
                ("unsure", record.type == "TXT" and has_rival(record, records), ""),
                ("unsure", self._is_spoken(record) and shares_name(record, records), ""),
                ("beside-alias", alias and root and record.option in options, ""),
                ("alias", record.type == "ALIAS" and not root, ""),
            ]
            why, detail = next(((why, detail) for why, holds, detail in reasons if holds), (None, ""))
            return replace(record, why=why, detail=detail)

        return [doubted(record) for record in records]

    def _servers(self) -> tuple[list[Server], list[PastedRecord]]:
        """The nameservers, and those of which it cannot be told whether they are new or old."""
        said = self.found.servers
        new: Mood = "unsure" if any(mood == "want" for _, mood, _, _ in said) else "want"  # below `Change these:`
        found = [
            Server(clean(name).lower().strip("."), line, new if mood == "change" else mood, option)
            for name, mood, line, option in said
        ]
        found = [each for each in found if each.name not in self.own]  # `the nameservers of own.test`
        if any(each.mood == "want" for each in found):  # of others in a sentence nothing is said
            spoken = [each for each in found if self.found.uses.get(each.line) == "sentence" and not each.mood]
            found = [replace(each, mood="unsure") if each in spoken else each for each in found]
        beside = any(each.mood not in NOT_WANTED and each.host is not None for each in self.found.records)
        said_of = [each for each in found if not (beside and not each.mood and not each.option)]
        found = said_of + [replace(each, mood="unsure") for each in found if each not in said_of]
        unsure = [
            PastedRecord("NS", "@", f"{each.name}.", None, (each.line,), "", each.option, "unsure")
            for each in found
            if each.mood == "unsure"
        ]
        wanted = {each.name: each for each in reversed(found) if each.mood not in (*NOT_WANTED, "unsure")}
        gone = {each.name: each for each in found if each.mood in NOT_WANTED and each.name not in wanted}
        return [*reversed(wanted.values()), *gone.values()], unsure

    def _lines(self) -> Iterator[Line]:
        uses: dict[str, LineUse] = {
            "heading of a table": "heading", "label": "name of a field", "words": "words", "passed": "words",
            "not understood": "not understood",
        }  # fmt: skip
        raw = told_lines(self.found)
        for row in self.rows:
            if row.kind == "blank" or (row.kind == "rule" and not any(char.isalnum() for char in row.text)):
                continue
            use = uses.get(self.found.uses.get(row.line, "words"), "record" if row.line in raw else "words")
            yield from (Line(line, spaced(row.text), use) for line in (row.line, *row.more))


def _better(rrtype: str, value: str) -> tuple[str, Why]:
    """What the value would be if letters are read as digits, or if a scanner tore it."""
    if rrtype in ("A", "AAAA") and (digits := digits_read(value)):
        return digits, "misread"
    whole = "".join(value.split())
    torn = rrtype != "TXT" and whole != value and not trouble_of(rrtype, whole)
    return whole if torn else "", "two-readings"


def _once(records: Sequence[PastedRecord]) -> list[PastedRecord]:
    """A record that the page says twice is one; its lines come together."""
    found: dict[tuple[str, str, str], PastedRecord] = {}
    for each in records:
        key = (each.type, each.host, each.value.lower() if each.type != "TXT" else each.value)
        before = found.get(key, each)
        found[key] = replace(
            before,
            lines=tuple(dict.fromkeys((*before.lines, *each.lines))),
            option=before.option if before.option == each.option else "",
            mood=before.mood if before.mood == each.mood else "",
            ttl=before.ttl if before.ttl is not None else each.ttl,
        )
    return list(found.values())


def _is_only(record: PastedRecord, to_enter: Sequence[PastedRecord]) -> bool:
    """No other way for the same name is on the page between which a condition could choose."""
    return record.mood == "optional" or not any(
        each.host == record.host
        and each.type != record.type
        and (each.option != record.option or "ALIAS" in (each.type, record.type))
        and each.type in (*LED_TO, "ALIAS")
        for each in to_enter
    )
