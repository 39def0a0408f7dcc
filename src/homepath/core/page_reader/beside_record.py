"""What a row is beside the record that is open above it: a record of its own, a part of that one, or the rest of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from homepath.core.message import msg
from homepath.core.page_reader.assembling import Assembler
from homepath.core.page_reader.cards import roles_in
from homepath.core.page_reader.columns import columns_of
from homepath.core.page_reader.kinds import (
    addresses,
    is_button,
    is_fqdn,
    is_sure_host,
    is_usual_label,
    is_value,
    type_by_value,
)
from homepath.core.page_reader.labels import labelled
from homepath.core.page_reader.leads import Lead
from homepath.core.page_reader.moods import events
from homepath.core.page_reader.pieces import Piece, Reading, value_text
from homepath.core.page_reader.prose.atoms import atoms_of
from homepath.core.page_reader.prose.back_references import IT, is_same, says_it_changes
from homepath.core.page_reader.row_readings import led_to, like_server
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.titles import title_of
from homepath.core.page_reader.words import fold


def is_record(made: Assembler, row: Row, reading: Reading, beside: bool, opens: bool) -> bool:
    """Whether a reading is a record, or ends the one that is open: a lone name among words is neither. `beside`:
    the row can be a part of a record, or a lead-in, too; `opens`: it ends with a colon."""
    values = [piece for piece in reading.pieces if piece.role in ("value", "nameserver")]
    roles = {piece.role for piece in reading.pieces}
    from_sentence = reading.layout == "sentence"
    if not values or not reading.closes:
        return False
    if roles & {"type", "nameserver"}:
        return True
    if opens or (beside and from_sentence):
        return False
    if from_sentence and ("host" in roles or made.waits_for_value):
        return bool(events(row.text)) or led_to(row.text, values[0].text)
    bound = made.around.types or any(type_by_value(piece.text) for piece in values)
    name = next((piece.text for piece in reading.pieces if piece.role == "host"), "")
    if not bound and name.istitle() and name.isalpha() and not is_usual_label(name) and len(row.cells) == 1:
        return False  # `Connect quillfern.example`
    return bool(bound) or not (from_sentence or reading.lost >= 1)


def instead_of_the_one_above(
    made: Assembler, row: Row, pieces: tuple[Piece, ...], above: int, told: bool
) -> tuple[Piece, ...]:
    """`Find the line "@ A 198.51.100.7"` over `Change it to 192.0.2.10`: the record above is there now. `above`: the
    line above; `told`: it is a sentence."""
    values = [piece for piece in pieces if piece.role == "value"]
    if made.values:
        made.close()
    last = made.records[-1] if made.records else None
    if last is None or last.mood or len(values) != 1 or last.lines != (above,):
        return pieces
    said = {piece.role: piece.text for piece in pieces}
    same = said.get("type", last.type) == last.type and said.get("host", last.host) == last.host
    like = bool(addresses(last.value)) == bool(addresses(values[0].text)) and last.value != values[0].text
    ahead, kinds = row.text[: row.text.find(values[0].text)], {event.kind for event in events(row.text)}
    if not (IT.match(fold(row.text)) or "REPLACE" in kinds or told):
        return pieces
    if not (same and like and "," not in ahead and says_it_changes(row.text, 0, atoms_of(row.text))):
        return pieces
    made.records[-1] = replace(last, mood="current")
    missing = (("type", last.type), ("host", last.host))
    return (*(Piece(role, text, row.line) for role, text in missing if text and role not in said), *pieces)


def is_rest(made: Assembler, row: Row) -> bool:
    """A line that only goes on with a value that was cut at the end of the line above."""
    if not made.values or " " in row.text or is_fqdn(row.text) or not made.lines or row.line != made.lines[-1] + 1:
        return False
    text, mood = made.values[-1]
    if not text.endswith(("-", "=", "_", ".")) or is_button(row.text):
        return False
    if text.endswith(".") and is_fqdn(text.split()[-1]):
        return False
    made.values[-1] = (text + row.text, mood)
    made.lose(row.line, msg("page.part.rest", line=made.lines[-1]))
    made.lines = (*made.lines, row.line)
    return True


def is_part(made: Assembler, row: Row, lead: Lead, below: Row | None) -> bool:
    """A line that is one part of a record and no more, not the heading of others."""
    if row.kind == "heading" or row.text.endswith((":", "：")) or lead.mood or lead.option or lead.servers:
        return False
    if is_fqdn(row.text) and made.waits_for_value and {"type", "host"} <= made.fresh:
        return True
    if is_fqdn(row.text) and not made.fresh and made.types == ("CNAME",):
        return False  # an alias has one target (RFC 1034 section 3.6.2)
    server = made.around.servers or like_server(row.text)
    if below is not None and lead.types and " " in row.text:
        roles = roles_in(below)
        if "value" in roles and roles & {"host", "priority"}:
            return False  # `Mail servers (MX)` over `10 mx1.post.example`
    if below is None or lead.types or (server and is_fqdn(row.text)):
        return True
    named = labelled(below)
    title = None if is_button(below.text) else title_of(below.text.rstrip(":："))
    return not (columns_of(below) or (named and named.pieces) or (title and not title.guessed))


def as_host(made: Assembler, row: Row, below: Row | None) -> Reading | None:
    """A full name alone on its line, with a value below it and no name known yet: it is the name."""
    known = "host" in made.fresh or made.values or made.around.hosts or made.around.servers
    if not is_fqdn(row.text) or known or below is None:
        return None
    lone = len(below.text.split()) == 1 and is_value(below.text)
    return Reading("row", (Piece("host", row.text, row.line),), False) if lone else None


def as_text(made: Assembler, row: Row) -> Reading | None:
    """A code alone on its line, below the type and the name of a TXT record: it is the value."""
    due = made.waits_for_value and "host" in made.fresh and made.types == ("TXT",)
    code = " " not in row.text and any(c.isdecimal() for c in row.text) and not is_sure_host(row.text)
    return Reading("row", (Piece("value", value_text(row.text), row.line),), False) if due and code else None


def same_for(text: str) -> Sequence[str]:
    """The names for which a remark wants the record just named, too: `same for www`."""
    atoms = [atom for atom in atoms_of(text) if atom.kind != "and"]
    names = [atom.value for atom in atoms if atom.kind in ("host", "apex", "fqdn")]
    loud = any(event.kind in ("DELETE", "KEEP", "NOT", "CURRENT") for event in events(text))
    return names if is_same(text) and not loud and len(names) == len(atoms) and len(text.split()) <= 8 else ()
