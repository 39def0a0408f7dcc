"""One pass over the rows: each is read in the first way that fits it, given what is above it."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import zip_longest

from homepath.core.message import Text
from homepath.core.page_reader.assembling import Assembler, RawRecord
from homepath.core.page_reader.beside_record import (
    as_host,
    as_text,
    instead_of_the_one_above,
    is_part,
    is_record,
    is_rest,
    same_for,
)
from homepath.core.page_reader.cards import Waiting, head_of_card, label_alone
from homepath.core.page_reader.columns import Column, by_columns, columns_of
from homepath.core.page_reader.hosts import stands_for_own
from homepath.core.page_reader.kinds import FQDN, is_button, is_fqdn, is_sure_host, type_by_value
from homepath.core.page_reader.labels import labelled
from homepath.core.page_reader.leads import Lead, is_for_some, lead_of, own_words, settled, speaks_of_reader
from homepath.core.page_reader.moods import NOT_WANTED, Mood, events, half_of_replacing, has_verb, mood_of_lead
from homepath.core.page_reader.pieces import Piece, Reading, mood_of_answer, says_nothing, value_text
from homepath.core.page_reader.prose.atoms import atoms_of
from homepath.core.page_reader.row_parts import (
    NAME_ASIDE,
    condition_apart,
    conditional,
    holds,
    option_apart,
    sentence_apart,
    without_aside,
    without_former,
    without_remark,
)
from homepath.core.page_reader.row_readings import (
    around_after,
    as_servers,
    fullest,
    mood_of_mark,
    parts_in,
    possible_readings,
)
from homepath.core.page_reader.rows import Row, cells_of
from homepath.core.page_reader.titles import title_of
from homepath.core.page_reader.words import fold, stems

_SORTS_OF_TEXT = ("SPF", "DKIM", "DMARC")
"""Alone on a line, these are over records of any type: the value tells which."""


@dataclass(frozen=True, slots=True)
class Found:
    """What the rows tell. `uses`: what each line was read as."""

    records: Sequence[RawRecord]
    servers: Sequence[tuple[str, Mood, int, str]]
    losses: Sequence[tuple[int, Text]]
    uses: dict[int, str]


def read_rows(rows: Sequence[Row], own: Sequence[str] = ()) -> Found:
    """Read all rows, each once. `own`: names that are the reader's own domain."""
    reader = _Reader(_domain_headings(rows, own))
    filled = [row for row in rows if row.kind not in ("blank", "rule")]
    count = Counter(row.text for row in filled)
    reader.once = frozenset(text for text in count if count[text] == 1 and is_button(text) and mood_of_lead(text))
    reader.ahead = dict(zip((row.line for row in filled), filled[1:], strict=False))
    for row, below in zip_longest(rows, rows[1:]):
        if row.kind in ("blank", "rule"):
            reader.gap()
        else:
            reader.uses[row.line] = reader.read(row, below)
    made = reader.made
    made.close()
    reader.uses |= dict.fromkeys(made.idle, "not understood")
    return Found(settled(made.records), made.servers, made.losses, reader.uses)


def _domain_headings(rows: Sequence[Row], own: Sequence[str]) -> Sequence[str]:
    """Where the reader's own domain is a heading over its records, another domain alone on a line is a heading too."""
    lone = [
        row.text.lower().strip(" :.") for row in rows if len(row.text.split()) == 1 and is_fqdn(row.text.strip(" :"))
    ]
    mine = [each for each in lone if each in own]
    return (*own, *(each for each in lone if mine and each.count(".") == mine[0].count(".")))


@dataclass(slots=True)
class _Reader:
    """What is known from the rows above. `replaced`: the first record below a lone `Replace`; `ahead`: the next row
    that is not blank, by line; `once`: words of a button with a verb that are there once; `at_prompt`: the rows right
    above are a command and its output."""

    heads: Sequence[str]
    made: Assembler = field(default_factory=Assembler)
    columns: tuple[Column, ...] | None = None
    waiting: Waiting = field(default_factory=Waiting)
    uses: dict[int, str] = field(default_factory=dict)
    replaced: int | None = None
    ahead: dict[int, Row] = field(default_factory=dict)
    once: frozenset[str] = frozenset()
    at_prompt: bool = False

    def gap(self) -> None:
        """A blank line: a record that has all it needs ends; what a lead-in said in passing is over."""
        made, around = self.made, self.made.around
        if made.values and (made.hosts or around.hosts or made.types or around.types):
            made.close()
        elif made.fresh == {"host"} and not around.types and not is_sure_host(made.hosts[0]):
            made.leave_host()  # a lone word that may have been anything
        if self.at_prompt:
            made.around, self.at_prompt = replace(around, mood=""), False
            return
        if not around.firm:
            made.around = replace(around, types=(), hosts=())

    def read(self, row: Row, below: Row | None) -> str:
        """Read one row; what it was read as."""
        if row.mark == "long":
            return "not understood"
        row = without_remark(row)
        if option := option_apart(row):
            self.read(option[0], option[1])
            row = option[1]
        if parted := sentence_apart(row):
            uses = self.read(parted[0], parted[1]), self.read(parted[1], below)
            return uses[0] if uses[1] in ("words", "passed") else uses[1]
        if (names := same_for(row.text)) and self.made.records:
            self.made.repeat(names, row.line)
            return "row"
        if (aside := NAME_ASIDE.search(row.text)) and (names := same_for(aside[1])):
            use = self.read(
                replace(row, text=row.text[: aside.start()], cells=cells_of(row.text[: aside.start()])), below
            )
            self.made.repeat(names, row.line)
            return use
        row, old = without_aside(row)
        if not old:
            row, old = without_former(row)
        rest = condition_apart(row)
        use = self._under_condition(rest, row, below) if rest else self._read(row, below)
        if old:
            self.made.close()
            mine = [each for each in self.made.records if row.line in each.lines]
            like = [each for each in mine if type_by_value(each.value) == type_by_value(old)]
            self.made.records += [replace(each, value=old, mood="current") for each in like[-1:]]
        return use

    def _under_condition(self, row: Row, whole: Row, below: Row | None) -> str:
        made = self.made
        before = made.around
        made.close()
        own = is_for_some(whole.text.removesuffix(row.text))
        begun = len(made.records)
        made.around = before if own else replace(before, option=before.option or "if")
        use = self._read(row, below)
        made.close()
        if own:
            new = made.records[begun:]
            made.records[begun:] = [
                replace(each, mood="optional") if each.mood in ("", "want") else each for each in new
            ]
        made.around = before
        return use

    def _read(self, row: Row, below: Row | None) -> str:
        single = len([cell for cell in row.cells if cell.text]) <= 1
        half = "" if holds(row) else half_of_replacing(row.text)
        if half == "old":
            self.made.close()
            self.replaced = len(self.made.records)
        elif half == "new" and self.replaced is not None and not atoms_of(row.text):
            self.made.close()
            gone = self.made.records[self.replaced :]
            self.made.records[self.replaced :] = [replace(each, mood="current") for each in gone]
            self.replaced = None
            return self._lead(row, Lead(mood="want", firm=True))
        if below is not None and (head := head_of_card(row, below, self.heads)):
            return self._lead(row, head)
        ahead = self.ahead.get(row.line)
        if ahead is not None and row.text in self.once and (holds(ahead) or columns_of(ahead)):
            return self._lead(
                row, Lead(mood=mood_of_lead(row.text), firm=True)
            )  # a real button is there once for each record
        lead = None if row.kind == "card" else lead_of(row, ahead is not None and holds(ahead))
        if lead is None and row.kind != "card" and has_verb(re.sub(r"\bbelong", "", row.text)):
            lead = self._lead_with_names(row, ahead is not None and holds(ahead))
        if lead and not lead.mood and self.made.around.mood == "example" and speaks_of_reader(row.text):
            lead = replace(lead, mood="want", firm=True)  # `Yours:`, below an example
        if lead and row.kind == "heading" and lead.says:
            return self._lead(row, lead)
        if lead and not self.waiting.fields and self._is_own_name(row, lead):
            if self.made.fresh != {"type"} or not is_fqdn(row.text):
                return self._lead(row, lead)
            self.made.put(Piece("host", row.text, row.line))  # the name of the record whose type is above
            return "row"
        over = ahead is not None and (holds(ahead) or title_of(ahead.text) is not None)
        if lead is None and self.made.around.mood in NOT_WANTED and over and not holds(row):
            lead = Lead(mood=mood_of_lead(row.text), firm=True)  # `REQUIRED` after `DETECTED` is no state
            if lead.mood == "want":
                return self._lead(row, lead)
            lead = None
        if columns := columns_of(row):
            return self._begin_table(columns)
        if row.text.strip(" :") in _SORTS_OF_TEXT and not self.waiting.fields:
            return self._lead(row, Lead(firm=True))
        named = labelled(row)
        whole = named is not None and bool(named.pieces) and not named.lost
        table = by_columns(row, self.columns) if self.columns and row.kind != "card" else None
        if table and not (whole and named and len(named.pieces) > max(1, parts_in(table) - table.lost)):
            return self._reading(row, table)
        if named and (row.kind == "card" or whole):
            return self._labels(row, named)
        if named and named.layout == "field" and not holds(row):
            return "passed"  # `TTL: leave the default`
        if named and not (named.lost or named.waiting) and says_nothing(row.text.partition(":")[2].strip() or row.text):
            return "passed"  # `Current value: (none)`
        if single and (title := label_alone(row, lead, ahead, self.waiting.begins, self._is_inside(row))):
            if lead and lead.servers and "nameserver" in title.roles:
                return self._lead(row, lead)  # `Old nameservers` is over all of them, whatever their number
            self.waiting.name(title)
            return "label"
        if self._awaited(row) or is_rest(self.made, row):
            return "value below its name"
        readings = possible_readings(row, single, self.heads)
        parts = [each for each in readings if each.layout != "sentence" and not each.closes]
        covered = any(not each.lost for each in parts)
        opens = lead is not None and row.text.endswith((":", "："))
        full = [each for each in readings if is_record(self.made, row, each, covered or lead is not None, opens)]
        if named and named.pieces and (not full or len(named.pieces) >= parts_in(fullest(full))):
            return self._labels(row, named)
        if full:
            use = self._reading(row, fullest(full))
            if lead and lead.servers and opens:  # `from a and b to these:`
                self._lead(row, lead)
            return use
        says_more = lead and lead.types and lead.hosts and not any(p.role == "host" for r in parts for p in r.pieces)
        if lead and (says_more or not (covered and is_part(self.made, row, lead, below))):  # `A record (@)`
            return self._lead(row, lead)
        if parts and (part := as_host(self.made, row, below) or as_text(self.made, row)):
            parts = [part]
        if parts:
            return self._reading(row, fullest(parts))
        return "not understood" if holds(row) else "passed"

    def _lead_with_names(self, row: Row, over: bool) -> Lead | None:
        """A lead-in with the reader's own domain (`Add a TXT record to own.test.` is what `to your domain` is), or one
        that says whose records below it are to go or to stay."""
        own = "|".join(map(re.escape, self.heads)) or "(?!)"
        spoken = re.sub(rf"(?<![\w.@-])(?:{own})(?=\.?(?!\S))", "it", row.text, flags=re.IGNORECASE)
        these = stems("FOLLOWING").find(fold(row.text))
        if spoken != row.text and (lead := lead_of(replace(row, text=spoken), over)):
            doubtful = lead.mood in NOT_WANTED and lead.types and not these  # others may be below it
            return replace(lead, mood="unsure") if doubtful else lead
        if not these:
            return None
        lead = lead_of(replace(row, text=re.sub(rf"{FQDN}(?=[\s.,;]|$)", "it", row.text)), over)
        return lead if lead and lead.mood in NOT_WANTED else None

    def _is_inside(self, row: Row) -> bool:
        """Whether a part of a record is right above."""
        made = self.made
        lines = made.lines or (made.records[-1].lines if made.records else ())
        return made.waits_for_value or row.line - 1 in lines

    def _is_own_name(self, row: Row, lead: Lead) -> bool:
        """The reader's own name alone on a line: what follows is for it."""
        name = row.text.rstrip(" :")
        return bool(lead.hosts) and is_fqdn(name) and stands_for_own(name, self.heads)

    def _begin_table(self, columns: tuple[Column, ...]) -> str:
        self.made.forget()
        self.waiting.stop()
        self.columns = columns
        return "heading of a table"

    def _reading(self, row: Row, reading: Reading) -> str:
        made, from_sentence = self.made, reading.layout == "sentence"
        pieces = as_servers(reading.pieces, made.around)
        if from_sentence:
            above, told = next(reversed(self.uses.items()), (0, ""))
            pieces = instead_of_the_one_above(made, row, pieces, above, told == "sentence")
        roles = {piece.role for piece in pieces}
        if from_sentence and "nameserver" in roles and any(event.kind == "REPLACE" for event in events(row.text)):
            before = made.servers  # `Replace the nameservers above with ...`
            made.servers = [(name, mood or "current", line, option) for name, mood, line, option in before]
        moods = {reading.mood, *(piece.mood for piece in pieces if piece.role == "value")}
        if made.values and "value" in roles and moods & {*NOT_WANTED}:
            made.close()  # `the old one was 198.51.100.7` is about another record
        if reading.closes and not from_sentence and {"type", "host"} & roles:
            made.end_row()
        if roles == {"host", "type"} and made.values and (made.types or made.hosts or made.around.types):
            made.close()  # `www CNAME` begins a record
        if roles == {"host"} and made.values and (row.mark == "item" or made.around.hosts):
            made.close()  # the next name, not that of the record above
        if from_sentence and ("host" in roles or not made.waits_for_value):
            made.forget()  # a sentence has no name of the record before it
        if reading.layout == "row" and reading.lost >= 1 and "type" not in roles:
            made.forget()  # words that are no part of a record are in it: it takes nothing from the row above
        option = made.around.option
        if from_sentence and not option and conditional(row.text):
            made.around = replace(made.around, option="if")
        made.put_all(pieces, reading.mood or mood_of_mark(row))
        if from_sentence and "value" in roles:
            made.forget()  # the next sentence says its own name
        elif not from_sentence and reading.closes:
            made.close()
        if made.around.option != option:
            made.close()
            made.around = replace(made.around, option=option)
        if reading.layout != "table" and len(pieces) > 1:
            self.waiting.stop()
        if reading.unsaid:
            made.lose(row.line, reading.unsaid)
        return reading.layout

    def _labels(self, row: Row, named: Reading) -> str:
        made, pieces = self.made, named.pieces
        if not any(piece.role == "nameserver" for piece in pieces):
            pieces = as_servers(pieces, replace(made.around, servers=False))
        roles = {piece.role for piece in pieces}
        if row.mark == "item" and (row.kind == "card" or (made.values and {"type", "value"} <= roles)):
            made.forget()
        if crossed := mood_of_mark(row):  # what is crossed out is this line, not the rest of its card
            pieces = tuple(replace(piece, mood=crossed) for piece in pieces)
        made.put_all(pieces, named.mood)
        self.waiting.stop()
        if named.waiting:
            self.waiting.name(named.waiting)
        if pieces:
            self.columns = None
        return "labels"

    def _awaited(self, row: Row) -> bool:
        """A line that is the value of a field named above."""
        text, taken = row.text, self.waiting.take(row.text)
        if taken is None:
            return False
        title, role = taken
        if mood := mood_of_answer(title, text):
            self.made.put(Piece("mood", text, row.line, mood))
        elif role != "other" and not (role == "value" and says_nothing(text)):
            shown = value_text(text) if role == "value" else text
            self.made.put(Piece(role, shown, row.line, title.mood, len(text.split()) == 1), mood_of_mark(row))
        if self.waiting.ends_record():
            self.made.forget()
        return True

    def _lead(self, row: Row, lead: Lead) -> str:
        made = self.made
        says = lead.speaks
        explains = row.text[-1] in ".。!！" and not (lead.types or lead.mood or lead.servers or lead.heading)
        if (explains or not (says or lead.firm)) and (made.waits_for_value or self.waiting.fields):
            return "words"  # an explanation inside a card
        made.forget()
        if lead.both and len(lead.types) == 1:
            made.give_type(lead.types[0])
        if (not says or lead.mood in NOT_WANTED) and not lead.firm:
            return "words"
        if lead.firm or lead.heading:
            self.waiting.stop()
            if says:
                self.columns = None
        self.at_prompt = row.text.startswith("$ ")
        made.around = replace(around_after(made.around, lead), words=own_words(row.text))
        return "words"
