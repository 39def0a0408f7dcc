"""What a sentence says of the record of the one before: `Change it to 192.0.2.10.`, `The same for www.`"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from functools import cache

from homepath.core.page_reader.kinds import addresses
from homepath.core.page_reader.pieces import Piece, is_later
from homepath.core.page_reader.prose.atoms import VALUES, Atom, atoms_of
from homepath.core.page_reader.prose.clauses import events_in
from homepath.core.page_reader.prose.replacing import leads_to_new
from homepath.core.page_reader.words import any_word, bare, fold, phrases_of


@cache
def _same() -> re.Pattern[str]:
    return any_word(phrases_of("SAME"))


def is_same(said: str) -> bool:
    """Whether a text speaks of the record just named."""
    return _same().search(bare(said)) is not None


def goes_on(before: Sequence[Piece], found: Sequence[Piece], said: str) -> bool:
    """Whether a sentence is about the record just named: `Leave the host empty.`, `The type is CNAME.`, `Set this as
    the A record of own.test.`"""
    had, has = {piece.role for piece in before}, {piece.role for piece in found}
    if "value" not in had or not has or had & has:
        return False
    if has == {"type"}:
        return "host" in had and any(atom.kind == "field" and atom.value == "type" for atom in atoms_of(said))
    about = any_word(phrases_of("THEM") | phrases_of("THIS")).search(bare(said)) is not None
    return (has == {"host"} and "type" in had) or (has <= {"host", "type"} and about)


def removes_one(text: str) -> bool:
    """`Delete the second one.`, behind the last value: it may be any of them."""
    words = set(re.findall(r"[^\W\d_]+", bare(text)))
    kinds = {event.kind for event in events_in(text)}
    return "DELETE" in kinds and "KEEP" not in kinds and bool(words & phrases_of("ONE_OF_THEM")) and not is_later(text)


_IT_TO = re.compile(r"\b(?:it|ihn|sie|es|le|la|lo|o|het|den|det|se|go|ho)\s+(?:to|auf|à|a|para|su|op|till|til|na)\s")
IT = re.compile(r"\W*(?:it|this|er|es|das|il|elle|esso|het|den|det|se)\s")
STOP = re.compile(r"[.!?](?:\s|$)|[。！？]")


def sentence_text(text: str, begin: int, atoms: Sequence[Atom]) -> str:
    """A sentence to its end: in some languages the verb comes last."""
    stop = STOP.search(text, atoms[-1].end - atoms[-1].value.endswith("."))
    return text[begin : stop.start() if stop else len(text)]


def says_it_changes(text: str, begin: int, atoms: Sequence[Atom]) -> bool:
    """`Change it to ...`, `It should be ...`; not `It replaces ...`."""
    said = sentence_text(text, begin, atoms)
    kinds, values = {event.kind for event in events_in(said)}, [atom for atom in atoms if atom.kind in VALUES]
    if "REPLACE" in kinds or ("ADD" in kinds and _IT_TO.search(fold(said))):
        return bool(values) and leads_to_new(text, values[-1])
    if "REQUIRED" not in kinds:
        told = not kinds & {"CURRENT", "DELETE", "KEEP"} and _IT_TO.search(fold(said))
        return bool(values) and bool(told) and leads_to_new(text, values[-1])
    alone = len(values) == 1 and not any(atom.kind in ("type", "host", "apex") for atom in atoms)
    return (alone and "ADD" not in kinds) or "it" in fold(said).split() or bool(IT.match(fold(said)))


def changed(before: list[Piece], found: list[Piece]) -> tuple[list[Piece], list[Piece]]:
    """`The A record of @ points to 198.51.100.7. Please change it to 192.0.2.10.`: the second sentence is about the
    record of the first, whose value is the old one."""
    values = [piece for piece in found if piece.role == "value"]
    last = list(since_end(before[:-1]))
    named = [piece for piece in last if piece.role in ("type", "host")]
    old = [piece for piece in last if piece.role == "value"]
    types = {piece.text for piece in last if piece.role == "type"}
    alone = len(values) == len(old) == 1 and all(piece.role in ("value", "end", "type") for piece in found)
    if any(piece.mood == "want" for piece in old):
        return before, found  # `Add 192.0.2.10. 192.0.2.11 is required too.`
    if not alone or not named or bool(addresses(values[0].text)) != bool(addresses(old[0].text)):
        return before, found
    gone = [replace(piece, mood="current") if piece is old[0] else piece for piece in before]
    found = [piece for piece in found if piece.role != "type" or piece.text not in types]
    return gone, [*named, *(replace(piece, mood="want") if piece is values[0] else piece for piece in found)]


def repeated(pieces: list[Piece], said: str) -> list[Piece]:
    """The pieces, with the record for another name, too: `192.0.2.10 for @, and the same for www`."""
    at = max((number for number, piece in enumerate(pieces) if piece.role == "value"), default=len(pieces))
    record, names = since_end(pieces[: at + 1]), pieces[at + 1 :]
    lone = names and all(piece.role == "host" for piece in names) and any(piece.role == "host" for piece in record)
    if not lone or not is_same(said):
        return pieces
    again = [piece for piece in record if piece.role in ("type", "value")]
    return [*pieces[: at + 1], *(each for name in names for each in (Piece("end", "", name.line), name, *again))]


def since_end(pieces: Sequence[Piece]) -> Sequence[Piece]:
    at = max((number for number, piece in enumerate(pieces) if piece.role == "end"), default=-1)
    return pieces[at + 1 :]
