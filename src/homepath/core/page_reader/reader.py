"""One pass over the rows: each is read in the first way that fits it, given what is above it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import zip_longest

from homepath.core.message import Text, msg
from homepath.core.page_reader.assembling import Around, Assembler, Told, is_value
from homepath.core.page_reader.atoms import atoms_of
from homepath.core.page_reader.columns import Column, by_columns, columns_of
from homepath.core.page_reader.hosts import plain_host, stands_for_own
from homepath.core.page_reader.kinds import is_button, is_fqdn, is_status, is_sure_host, type_by_value, type_of
from homepath.core.page_reader.labels import labelled, named_rest
from homepath.core.page_reader.leads import Lead, lead_of
from homepath.core.page_reader.loose import loose, loose_words
from homepath.core.page_reader.moods import NOT_WANTED, Mood, Title, has_verb, title_of
from homepath.core.page_reader.pieces import Piece, Reading, fits, mood_of_note, role_of, value_text
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.sentences import sentence
from homepath.core.page_reader.words import fold, is_phrase, stems


@dataclass(frozen=True, slots=True)
class Found:
    """What the rows tell. `uses`: what each line was read as."""

    told: Sequence[Told]
    servers: Sequence[tuple[str, Mood, int, str]]
    losses: Sequence[tuple[int, Text]]
    uses: dict[int, str]


def read_rows(rows: Sequence[Row], own: Sequence[str] = ()) -> Found:
    """Read all rows, each once. `own`: names that are the reader's own domain."""
    reader = _Reader(_domain_headings(rows, own))
    for row, below in zip_longest(rows, rows[1:]):
        if row.kind in ("blank", "rule"):
            reader.gap()
        else:
            reader.uses[row.line] = reader.read(row, below)
    made = reader.made
    made.close()
    return Found(made.told, made.servers, made.losses, reader.uses)


def _domain_headings(rows: Sequence[Row], own: Sequence[str]) -> Sequence[str]:
    """Where the reader's own domain stands alone over its records, another one that stands alone is such a heading."""
    lone = [
        row.text.lower().strip(" :.") for row in rows if len(row.text.split()) == 1 and is_fqdn(row.text.strip(" :"))
    ]
    mine = [each for each in lone if each in own]
    return (*own, *(each for each in lone if mine and each.count(".") == mine[0].count(".")))


@dataclass(slots=True)
class _Reader:
    """What is known from the rows above. `waiting`: fields named on lines of their own, whose values are to come;
    `turn`: which of them is next; `rested`: a blank line stands behind a record that was whole."""

    heads: Sequence[str]
    made: Assembler = field(default_factory=Assembler)
    columns: tuple[Column, ...] | None = None
    waiting: tuple[Title, ...] = ()
    turn: int = 0
    rested: bool = False
    uses: dict[int, str] = field(default_factory=dict)

    def gap(self) -> None:
        """A blank line: a record that has all it needs ends; what a lead-in said in passing is over."""
        made, around = self.made, self.made.around
        self.rested = self.turn == 0
        if made.values and (made.hosts or around.hosts or made.types or around.types):
            made.close()
        elif made.fresh == {"host"} and not around.types and not is_sure_host(made.hosts[0]):
            made.leave_host()  # a lone word that may have been anything
        if not around.firm:
            made.around = replace(around, types=(), hosts=())

    def read(self, row: Row, below: Row | None) -> str:
        """Read one row; what it was read as."""
        if row.mark == "long":
            return "not understood"
        row = _without_aside(row)
        single = len([cell for cell in row.cells if cell.text]) <= 1
        lead = None if row.kind == "card" else lead_of(row, below is not None and _holds(below))
        if lead and ((row.kind == "heading" and lead.says) or self._is_own_name(row, lead)):
            return self._lead(row, lead)
        if columns := columns_of(row):
            return self._begin_table(columns)
        named = labelled(row)
        whole = named is not None and bool(named.pieces) and not named.lost
        table = by_columns(row, self.columns) if self.columns and row.kind != "card" else None
        if table and not (whole and named and len(named.pieces) > 1):
            return self._reading(row, table)
        if named and (row.kind == "card" or whole):
            return self._labels(row, named)
        if single and (title := self._label_alone(row, lead)):
            return self._label(title)
        if self._awaited(row) or self._rest(row):
            return "value below its name"
        readings = _readings(row, single, self.heads)
        parts = [each for each in readings if each.layout != "sentence" and not each.closes]
        covered = any(not each.lost for each in parts)
        opens = lead is not None and row.text.endswith((":", "："))
        full = [each for each in readings if self._is_full(each, covered or lead is not None, opens)]
        if named and named.pieces and (not full or len(named.pieces) >= _count(_fullest(full))):
            return self._labels(row, named)
        if full:
            return self._reading(row, _fullest(full))
        if lead and not (covered and self._is_part(row, lead, below)):
            return self._lead(row, lead)
        if parts and (part := self._as_host(row, below)):
            parts = [part]
        if parts:
            return self._reading(row, _fullest(parts))
        return "not understood" if _holds(row) else "passed"

    def _is_own_name(self, row: Row, lead: Lead) -> bool:
        """The reader's own name alone on a line: what follows is for it."""
        name = row.text.rstrip(" :")
        return bool(lead.hosts) and is_fqdn(name) and stands_for_own(name, self.heads)

    def _begin_table(self, columns: tuple[Column, ...]) -> str:
        self.made.forget()
        self._stop_waiting()
        self.columns = columns
        return "heading of a table"

    def _stop_waiting(self) -> None:
        """The fields named on lines of their own get no value any more."""
        self.waiting, self.turn = (), 0

    def _is_full(self, reading: Reading, beside: bool, opens: bool) -> bool:
        """Whether a reading is a record, or ends the one that is open: a lone name among words is neither. `beside`:
        the row can be a part of a record, or a lead-in, too; `opens`: it ends with a colon."""
        values = [piece for piece in reading.pieces if piece.role in ("value", "nameserver")]
        roles = {piece.role for piece in reading.pieces}
        told = reading.layout == "sentence"
        if not values or not reading.closes:
            return False
        if roles & {"type", "nameserver"}:
            return True
        if opens or (beside and told):
            return False
        if told and ("host" in roles or self.made.waits_for_value):
            return True
        bound = self.made.around.types or any(type_by_value(piece.text) for piece in values)
        return bool(bound) or not (told or reading.lost >= 1)

    def _reading(self, row: Row, reading: Reading) -> str:
        made, told = self.made, reading.layout == "sentence"
        pieces = _as_servers(reading.pieces, made.around)
        roles = {piece.role for piece in pieces}
        if reading.closes and not told and {"type", "host"} & roles:
            made.end_row()
        if told and ("host" in roles or not made.waits_for_value):
            made.forget()  # a sentence has no name of the record before it
        if reading.layout == "row" and reading.lost >= 1 and "type" not in roles:
            made.forget()  # words that are no part of a record are in it: it takes nothing from the row above
        option = made.around.option
        if told and not option and _conditional(row.text):
            made.around = replace(made.around, option="if")
        made.put_all(pieces, reading.mood or _mark(row))
        if told and "value" in roles:
            made.forget()  # the next sentence says its own name
        elif not told and reading.closes:
            made.close()
        if made.around.option != option:
            made.close()
            made.around = replace(made.around, option=option)
        if reading.layout != "table" and len(pieces) > 1:
            self._stop_waiting()
        if reading.unsaid:
            made.lose(row.line, reading.unsaid)
        return reading.layout

    def _labels(self, row: Row, named: Reading) -> str:
        made, pieces = self.made, named.pieces
        if not any(piece.role == "nameserver" for piece in pieces):
            pieces = _as_servers(pieces, replace(made.around, servers=False))
        if row.kind == "card" and row.mark == "item":
            made.forget()
        if crossed := _mark(row):  # what is crossed out is this line, not the rest of its card
            pieces = tuple(replace(piece, mood=crossed) for piece in pieces)
        made.put_all(pieces, named.mood)
        self._stop_waiting()
        self.waiting = (named.waiting,) if named.waiting else ()
        if pieces:
            self.columns = None
        return "labels"

    def _label_alone(self, row: Row, lead: Lead | None) -> Title | None:
        """The name of a field alone on its line; not a verb, a state, a button or a type."""
        text = row.text.rstrip(":： ")
        title = title_of(text) if len(row.text) < 60 else None
        if title is None or type_of(text) or has_verb(text):
            return None
        if title.guessed and (is_status(text) or (lead and lead.firm and lead.mood)):
            return None
        if any(atom.kind in ("address", "special", "text") for atom in atoms_of(text)):
            return None
        if is_button(text) or (title.roles[0] == "other" and not (self.waiting and self.turn == 0)):
            return None
        return title

    def _label(self, title: Title) -> str:
        """Its value comes below; several in a row name the columns of a list."""
        if self.waiting and self.turn == 0:
            self.waiting = (*self.waiting, title)
        else:
            self.waiting, self.turn = (title,), 0
        return "label"

    def _awaited(self, row: Row) -> bool:
        """A line that is the value of a field named above: of the one next in turn, or of the one after it."""
        text, begun = row.text, self.turn > 0 or len(self.waiting) == 1
        for skip in range(min(2 if begun else 1, len(self.waiting) - self.turn)) if len(text) < 600 else ():
            title = self.waiting[self.turn + skip]
            role = role_of(title, text)
            if not _can_stand_below(role, text):
                continue
            self.turn += skip + 1
            if role != "other":
                shown = value_text(text) if role == "value" else text
                self.made.put(Piece(role, shown, row.line, title.mood, len(text.split()) == 1), _mark(row))
            if self.turn >= len(self.waiting):
                self.turn = 0
                if len(self.waiting) == 1:
                    self.waiting = ()
                else:
                    self.made.forget()
            self.rested = False
            return True
        return False

    def _rest(self, row: Row) -> bool:
        """A line that only goes on with a value that was cut at the end of the line above."""
        made = self.made
        if not made.values or " " in row.text or is_fqdn(row.text) or not made.lines or row.line != made.lines[-1] + 1:
            return False
        text, mood = made.values[-1]
        if not text.endswith(("-", "=", "_", ".")) or (text.endswith(".") and is_fqdn(text)):
            return False
        made.values[-1] = (text + row.text, mood)
        made.lose(row.line, msg("page.part.rest", line=made.lines[-1]))
        made.lines = (*made.lines, row.line)
        return True

    def _is_part(self, row: Row, lead: Lead, below: Row | None) -> bool:
        """A line that is one part of a record and no more, not the heading of others."""
        if row.kind == "heading" or row.text.endswith((":", "：")) or lead.mood or lead.option or lead.servers:
            return False
        server = self.made.around.servers or _like_server(row.text)
        if below is None or lead.types or (server and is_fqdn(row.text)):
            return True
        named = labelled(below)
        title = None if is_button(below.text) else title_of(below.text.rstrip(":："))
        return not (columns_of(below) or (named and named.pieces) or (title and not title.guessed))

    def _as_host(self, row: Row, below: Row | None) -> Reading | None:
        """A full name alone on its line, where a value stands below it and no name is known yet: it is the name."""
        made = self.made
        known = "host" in made.fresh or made.values or made.around.hosts or made.around.servers
        if not is_fqdn(row.text) or known or below is None:
            return None
        lone = len(below.text.split()) == 1 and is_value(below.text)
        return Reading("row", (Piece("host", row.text, row.line),), False) if lone else None

    def _lead(self, row: Row, lead: Lead) -> str:
        made = self.made
        says = lead.speaks
        if not says and not lead.firm and (made.waits_for_value or self.waiting):
            return "words"  # an explanation inside a card
        made.forget()
        if lead.both and len(lead.types) == 1:
            made.give_type(lead.types[0])
        if (not says or lead.mood in NOT_WANTED) and not lead.firm:
            return "words"
        if lead.firm or lead.heading:
            self._stop_waiting()
            if says:
                self.columns = None
        made.around = around_after(made.around, lead)
        return "words"


def _can_stand_below(role: str, text: str) -> bool:
    """Whether a line can be the value of a field whose name stands above it."""
    if role == "other":
        return True
    if not fits(role, text) or title_of(text) or is_button(text):
        return False
    if role == "host":
        return len(text.split()) <= 3 or plain_host(text) is not None
    return role != "value" or len(text.split()) == 1 or is_value(value_text(text))


def _readings(row: Row, single: bool, own: Sequence[str]) -> list[Reading]:
    """The ways in which a row can be read that names none of its parts, the surest first."""
    if _about_itself(row):
        return []
    cells = [cell.text for cell in row.cells if cell.text]
    found = [loose(cells, row.line)]
    if rest := named_rest(row):
        found.append(loose(rest, row.line))
    if single or (found[0] and found[0].lost):
        found.append(loose_words(row.text, row.line))
    found.append(_by_commas(row))
    if (single or row.kind != "table") and (told := sentence(row.text, row.line, own)):
        found.append(replace(told, lost=told.lost + (1.5 if len(cells) > 2 else 0.0)))
    return [each for each in found if each is not None]


def _count(reading: Reading) -> int:
    return sum(1 for piece in reading.pieces if piece.role in ("type", "host", "value", "nameserver"))


def _fullest(readings: Sequence[Reading]) -> Reading:
    """The one that leaves the least unexplained."""
    return max(readings, key=lambda reading: _count(reading) - reading.lost)


def _by_commas(row: Row) -> Reading | None:
    for mark in (",", ";", " - ", " – ", " / "):
        parts = [part.strip() for part in row.text.split(mark)]
        if 3 <= len(parts) <= 9 and all(len(part.split()) <= 3 for part in parts):
            found = loose(parts, row.line)
            if found and found.lost == 0 and found.closes:
                return found
    return None


_ASIDE = re.compile(r"\s*[(（]([^()（）]{8,})[)）]\s*\.?$")


def _without_aside(row: Row) -> Row:
    """A row without a remark in brackets at its end that is about other records: `(delete any other www record)`."""
    match = _ASIDE.search(row.text)
    if match is None or not match.start() or not has_verb(match[1]) or mood_of_note(match[1])[0]:
        return row
    if not row.cells or not (aside := _ASIDE.search(row.cells[-1].text)) or not aside.start():
        return row
    cells = (*row.cells[:-1], replace(row.cells[-1], text=row.cells[-1].text[: aside.start()]))
    return replace(row, text=row.text[: match.start()], cells=cells)


def _about_itself(row: Row) -> bool:
    """`Domain: own.test`, a button, a state: nothing in it is for a record."""
    head, mark, rest = row.text.partition(":")
    if is_button(row.text) or is_status(row.text):
        return True
    return bool(mark) and is_phrase("OWN_LABEL", head) and is_fqdn(rest.strip())


def _holds(row: Row) -> bool:
    """Whether something in the row can be a part of a record."""
    if not row.text or _about_itself(row):
        return False
    kinds = [atom.kind for atom in atoms_of(row.text)]
    if any(kind in ("address", "special", "text", "part", "type") for kind in kinds):
        return True
    lone = len(row.text.split()) == 1 and (is_fqdn(row.text) or is_sure_host(row.text))
    return lone or sum(kind in ("token", "fqdn", "host") for kind in kinds) > 1


def _conditional(text: str) -> bool:
    found = stems("IF").find(fold(text))
    return bool(found) and found[0][0] <= 3


def _mark(row: Row) -> Mood:
    return {"+": "want", "-": "delete", "struck": "delete", "comment": "example"}.get(row.mark, "")  # type: ignore[return-value]


def _as_servers(pieces: tuple[Piece, ...], around: Around) -> tuple[Piece, ...]:
    """Full names under a heading about nameservers, and names that can only be such."""
    parts = [piece for piece in pieces if piece.role != "end"]
    names = [piece for piece in parts if piece.role in ("value", "host") and is_fqdn(piece.text)]
    if not names:
        return pieces
    typed = [piece.text for piece in parts if piece.role == "type"]
    hosts = [piece.text for piece in parts if piece.role == "host"]
    if typed == ["NS"] and all(plain_host(host) == "@" or stands_for_own(host) for host in hosts):
        return tuple(replace(piece, role="nameserver") for piece in names if piece.role == "value")
    if len(names) != len(parts) or typed:
        return pieces
    if around.servers or all(_like_server(piece.text) for piece in names):
        return tuple(replace(piece, role="nameserver") for piece in names)
    return pieces


def _like_server(text: str) -> bool:
    return bool(re.fullmatch(r"(?:ns|dns(?=[0-9-])|n(?=[0-9-]))[0-9a-d-]*\.[^.]+\.[^.]+(?:\.[^.]+)*\.?", text.lower()))


def around_after(around: Around, lead: Lead) -> Around:
    """What holds for the records below a heading or lead-in."""
    section, mood, option = around.section + 1, around.mood, around.option
    if lead.firm and lead.mood:
        mood = lead.mood
    elif mood in NOT_WANTED and (lead.servers or lead.option or (lead.heading and not (lead.types or lead.hosts))):
        mood = "unsure"
    if lead.option:
        count = option.removeprefix("or") if option.startswith("or") else ""
        option = lead.option if lead.option != "or" else f"or{int(count) + 1 if count.isdecimal() else 2}"
    elif lead.conditional and lead.firm and (lead.types or lead.mood == "want"):
        option = "if"
    elif option == "if" and (lead.heading or lead.mood):
        option = ""
    if not lead.speaks:
        doubtful = lead.opens and mood in NOT_WANTED  # something else begins, and no one said what
        return replace(around, option=option, mood="unsure" if doubtful else around.mood)
    types = lead.types or (around.types if lead.hosts and not lead.mood else ())
    servers = lead.servers or (around.servers and not lead.types and not lead.hosts and not lead.heading)
    return Around(types, lead.hosts, mood, option, servers, section, lead.firm)
