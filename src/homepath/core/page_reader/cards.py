"""Cards whose fields and values are on lines of their own, and the heads of cards."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from homepath.core.page_reader.columns import columns_of
from homepath.core.page_reader.hosts import plain_host, relative_host, stands_for_own
from homepath.core.page_reader.kinds import is_button, is_status, is_value, type_of
from homepath.core.page_reader.labels import labelled
from homepath.core.page_reader.leads import Lead
from homepath.core.page_reader.moods import NOT_WANTED, has_verb, mood_of_lead
from homepath.core.page_reader.pieces import role_of, value_text
from homepath.core.page_reader.prose.atoms import atoms_of
from homepath.core.page_reader.row_parts import holds
from homepath.core.page_reader.row_readings import can_stand_below, possible_readings
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.titles import Title, title_of
from homepath.core.page_reader.words import is_phrase


@dataclass(slots=True)
class Waiting:
    """Fields named on lines of their own, whose values are to come; `turn`: which of them is next."""

    fields: tuple[Title, ...] = ()
    turn: int = 0

    @property
    def begins(self) -> bool:
        """Fields were named, and none of them has a value yet."""
        return bool(self.fields) and self.turn == 0

    def stop(self) -> None:
        """The fields get no value any more."""
        self.fields, self.turn = (), 0

    def name(self, title: Title) -> None:
        """One more field: its value comes below; several in a row name the columns of a list."""
        if self.begins:
            self.fields = (*self.fields, title)
        else:
            self.fields, self.turn = (title,), 0

    def take(self, text: str) -> tuple[Title, str] | None:
        """The field that a line is the value of, and what it is there: the one next in turn, or the one after it."""
        begun = self.turn > 0 or len(self.fields) == 1
        for skip in range(min(2 if begun else 1, len(self.fields) - self.turn)) if len(text) < 600 else ():
            title = self.fields[self.turn + skip]
            role = role_of(title, text)
            if can_stand_below(role, text):
                self.turn += skip + 1
                return title, role
        return None

    def ends_record(self) -> bool:
        """After a value: whether a row of the list is over, so that the next value is for another record."""
        if self.turn < len(self.fields):
            return False
        self.turn = 0
        if len(self.fields) > 1:
            return True
        self.fields = ()
        return False


def label_alone(row: Row, lead: Lead | None, ahead: Row | None, begins: bool, inside: bool) -> Title | None:
    """The name of a field alone on its line; not a verb, a state, a button or a type, nor a heading over a whole
    record: `Before:`. `begins`: other fields were named right above; `inside`: a part of a record is right above."""
    if lead and lead.mood and ahead and ({"type", "value"} <= roles_in(ahead) or _begins_card(ahead)):
        return None
    text = row.text.rstrip(":： ")
    title = title_of(text) if len(row.text) < 60 else None
    if title is None or type_of(text) or has_verb(text) or text.startswith("_"):
        return None
    within = inside and title.roles[0] == "value" and ahead is not None and _is_lone_value(ahead.text)
    if title.guessed and not within and (is_status(text) or (lead and lead.firm and lead.mood)):
        return None
    if any(atom.kind in ("address", "special", "text", "fqdn") for atom in atoms_of(text)):
        return None
    if is_button(text) or (title.roles[0] == "other" and not begins):
        return None
    return title


def _begins_card(row: Row) -> bool:
    """`Type: A`"""
    named = labelled(row)
    return named is not None and bool(named.pieces) and named.pieces[0].role in ("type", "host")


def _is_lone_value(text: str) -> bool:
    """`192.0.2.10 ✗`, or a word for nothing in its place."""
    return is_phrase("BLANK", text) or is_value(value_text(text.strip(" ✗✘✓✔")))


def head_of_card(row: Row, below: Row, own: Sequence[str]) -> Lead | None:
    """`CNAME record for www.tidewick-kiln.example` over `Value: ...`, and `MX records for` the reader's own domain: the
    full name is where the record is."""
    if row.kind == "card" or len(row.text) > 120 or len(row.cells) > 2:
        return None
    atoms = [atom for atom in atoms_of(row.text) if atom.kind != "field"]
    types = [atom.value for atom in atoms if atom.kind == "type"]
    names = [atom.value for atom in atoms if atom.kind == "fqdn"]
    if len(row.text.split()) == 3 and any(atom.kind in ("host", "apex") for atom in atoms):
        return None  # `CNAME www x.example` is a whole record
    if len(types) != 1 or len(names) != 1 or any(atom.kind not in ("type", "fqdn", "host", "apex") for atom in atoms):
        return None
    mine = stands_for_own(names[0], own) and holds(below)
    if not (mine or _is_value_alone(below)) or labelled(row):
        return None
    mood = mood_of_lead(row.text)
    if mood in NOT_WANTED and not row.text.endswith((":", "：")) and ("type" in roles_in(below) or columns_of(below)):
        # `Delete the A record of www.own.test` is about that record: the one below it may be another
        return None if _is_another(below, types[0], relative_host(plain_host(names[0]) or "", own), own) else _UNSURE
    return Lead((types[0],), (names[0],), mood, firm=True)


_UNSURE = Lead(mood="unsure", firm=True)


def _is_another(row: Row, rrtype: str, host: str, own: Sequence[str]) -> bool:
    """Whether a row says another type, or another name, than these."""
    pieces = [piece for reading in possible_readings(row, True, ()) for piece in reading.pieces]
    types = {type_of(piece.text) for piece in pieces if piece.role == "type"}
    names = {relative_host(plain_host(piece.text) or "", own) for piece in pieces if piece.role == "host"}
    return bool(types and rrtype not in types) or bool(names and host not in names)


def _is_value_alone(row: Row) -> bool:
    """`Value: 192.0.2.10`, without a name or a type."""
    named = labelled(row)
    roles = {piece.role for piece in named.pieces} if named else set()
    return "value" in roles and not roles & {"host", "type"}


def roles_in(row: Row) -> set[str]:
    """The parts of a record that a row can hold."""
    return {piece.role for reading in possible_readings(row, True, ()) for piece in reading.pieces}
