"""Sentences: `Create a CNAME record for www that points to edge.bricklark.example`, in any order of words."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from homepath.core.page_reader.kinds import addresses, type_by_value
from homepath.core.page_reader.leads import names_servers
from homepath.core.page_reader.moods import Event, Mood
from homepath.core.page_reader.pieces import Piece, Reading
from homepath.core.page_reader.prose.announced import named_atoms
from homepath.core.page_reader.prose.atoms import VALUES, Atom
from homepath.core.page_reader.prose.back_references import (
    STOP,
    changed,
    goes_on,
    is_same,
    removes_one,
    repeated,
    says_it_changes,
    sentence_text,
    since_end,
)
from homepath.core.page_reader.prose.clauses import MOST_VALUES, events_in, moods_of, only_mood, ors
from homepath.core.page_reader.prose.roles import role_of_atom
from homepath.core.page_reader.prose.told_fields import bare_host, bare_value, is_behind, no_host, told_host
from homepath.core.page_reader.words import any_word, bare, fold, phrases_of, stems

_OF_SAME = re.compile(r"\s*[(（]\s*(?:[^\W\d_]+\s+){0,2}")


def sentence(text: str, line: int, own: Sequence[str] = ()) -> Reading | None:
    """The row as sentences; None where it tells of no record. `own`: names of the reader's own domain."""
    pieces: list[Piece] = []
    lost = 0.0
    begin = 0
    named: list[Piece] = []  # by the sentence before, without a value
    topic: list[Piece] = []
    for atoms in _sentences(named_atoms(text, tuple(own))):
        found, trouble = _one_sentence(text, atoms, line, own)
        whole = sentence_text(text, begin, atoms)
        roles = {piece.role for piece in found}
        if named and "value" in roles and not roles & {"type", "host"} and _adds_it(named, found, whole):
            found = [*named, *found]
        elif topic and {"type", "value"} <= roles and "host" not in roles:
            found = [*topic, *found]
        named = [] if "value" in roles else _named_only(atoms, whole, line)
        if not begin and roles >= {"host", "value"} and text[atoms[0].end : atoms[0].end + 1] == ":":
            topic = [
                each for each in found if each.role == "host" and each.text == atoms[0].value
            ]  # `Mail for own.test:`
        if says_it_changes(text, begin, atoms):
            pieces, found = changed(pieces, found)
        above = since_end(pieces[:-1])
        if pieces and pieces[-1].role == "end" and goes_on(above, found, whole):
            found.append(pieces.pop())
        elif is_same(whole) and {piece.role for piece in found} == {"host"}:
            last = [piece for piece in above if piece.role in ("type", "value")]
            found += [*last, Piece("end", "", line)] if last else []  # `The same goes for www.`
        begin = atoms[-1].end
        pieces += found
        lost += trouble
    if not any(piece.role in ("value", "nameserver") for piece in pieces):
        return None
    if removes_one(text[begin:]):
        only = sum(piece.role == "value" for piece in pieces) == 1
        pieces = [replace(p, mood="delete" if only else "unsure") if p.role == "value" else p for p in pieces]
    return Reading("sentence", tuple(pieces), True, lost)


def _named_only(atoms: Sequence[Atom], said: str, line: int) -> list[Piece]:
    """The type and the name of the one record that a sentence says is missing: `There is no CNAME record for www.`"""
    found = [
        Piece("type" if atom.kind == "type" else "host", atom.value, line) for atom in atoms if atom.kind in _NAMES
    ]
    whole = [piece.role for piece in found] in (["type", "host"], ["host", "type"])
    kinds, denied = {event.kind for event in events_in(said)}, bool(stems("NOT").find(fold(said)))
    lost = not kinds - {"CURRENT"} if denied else kinds == {"REQUIRED"}  # not `You do not need the A record of @.`
    return found if whole and lost else []


_NAMES = ("type", "host", "apex", "fqdn")


def _adds_it(named: Sequence[Piece], found: Sequence[Piece], said: str) -> bool:
    """Whether a sentence asks for the record named before: `Add one that points to x.example.`"""
    rrtype = next(piece.text for piece in named if piece.role == "type")
    fits = all((type_by_value(each.text) or rrtype) == rrtype for each in found if each.role == "value")
    return fits and any(event.kind in ("ADD", "REPLACE") for event in events_in(said))


def _sentences(atoms: Sequence[Atom]) -> list[list[Atom]]:
    parts: list[list[Atom]] = [[]]
    for atom in atoms:
        if atom.kind == "stop":
            parts.append([])
        else:
            parts[-1].append(atom)
    return [part for part in parts if part]


def _one_sentence(text: str, atoms: Sequence[Atom], line: int, own: Sequence[str]) -> tuple[list[Piece], float]:
    if sum(atom.kind in VALUES for atom in atoms) > MOST_VALUES:
        return [], 0.0
    start = max(text.rfind(mark, 0, atoms[0].at) for mark in (". ", "。", "! ", "? ")) + 1
    last = atoms[-1]
    stop = STOP.search(text, last.end - last.value.endswith("."))
    end = stop.start() if stop else len(text)
    events = [Event(e.at + start, e.end + start, e.kind) for e in events_in(text[start:end])]
    atoms, swapped = _without_replaced(text, atoms, events)
    only = only_mood(text[start : end + 1], events)
    kinds = {atom.kind for atom in atoms}
    if only == "current" and not events and {"host", "fqdn"} <= kinds and "type" not in kinds:
        only = "unsure"  # the end of `Could you add a CNAME ... for www to x.example?`
    moods = [only for _ in atoms] if only else moods_of(text, atoms, events)
    moods = ["want" if swapped and mood == "unsure" else mood for mood in moods]
    servers = names_servers(text[start:end])
    served = any(atom.kind == "type" and atom.value == "SRV" for atom in atoms)
    turns = ors(text[start:end], start)
    pieces: list[Piece] = []
    lost = 0.0
    field: Atom | None = None
    domain: Piece | None = None
    before = start
    for number, atom in enumerate(atoms):
        if atom.kind == "type" and number and _is_other_word_for(text, atoms[number - 1], atom):
            continue
        if atom.kind == "field" and atom.value in ("service", "protocol") and not served:
            continue  # `our service` is a word like any other
        if atom.kind == "field":
            following = atoms[number + 1 : number + 2]
            if is_behind(text, atoms, number):
                continue  # `enter www as the host, paste x.example into Value`
            word = None if servers else _word_of(text, atoms, number)
            if word:
                pieces = pieces[:-1] if pieces and pieces[-1] is domain else pieces
                pieces.append(Piece("host", word, line, "", True))
            field = None if servers or word else atom
            if code := bare_value(text, atom, following, {piece.text for piece in pieces if piece.role == "type"}):
                pieces.append(Piece("value", code, line, moods[number], True))
            continue
        role = role_of_atom(text, atoms, number, field, pieces, servers, own)
        named = atoms[number - 1] if number and atoms[number - 1].kind == "fqdn" else None
        if atom.kind == "apex" and named and _OF_SAME.fullmatch(text[named.end : atom.at]):
            continue  # `own.test (the bare domain)`
        found_now = role == "host" and moods[number] == "current" and atom.kind == "fqdn"
        behind = any(each.kind in ("host", "apex") for each in atoms[number + 1 :])
        if found_now and (behind or _is_replaced(atoms, moods, number, pieces) or _is_whole(pieces)):
            role = "value"  # `Replace the CNAME of www (a.example) with b.example`, `..., but found b.example`
        if role is None:
            lost += {"quoted": 0.3}.get(atom.kind, 0.0)
            continue
        has_value = any(piece.role == "value" for piece in pieces)
        if has_value and role in ("type", "value") and any(before <= at <= atom.at for at in turns):
            pieces.append(Piece("or", "", line))
        joined = number > 0 and atoms[number - 1].kind == "and" and _is_next(text, atoms[: number + 1])
        chosen = any(before <= at <= atom.at for at in turns)
        if role == "host" and pieces and pieces[-1] is domain and not (joined or chosen):
            pieces.pop()  # `a TXT record for your domain, with the name _mark`
        pieces.append(Piece(role, atom.value, line, moods[number], field is not None, joined))
        domain = pieces[-1] if atom.kind == "apex" or atom.value.lower().rstrip(".") in own else None
        field = None
        before = atom.end
    pieces = _in_turn(_in_pairs(text[start:end], _by_clauses(text, pieces, atoms)))
    names = [piece.text for piece in pieces if piece.role == "host"]
    roles = {piece.role for piece in pieces}
    if {"host", "value"} <= roles and "type" not in roles and re.search(r"\balias\b", bare(text[start:end])):
        pieces = _as_alias(pieces, line)  # `www is an alias of x.example`
    # `To use shop.own.test, create a CNAME named shop`: one name, twice
    twice = {each for each in names if any(each.startswith(f"{other}.") for other in names)}
    joined = any(piece.joined for piece in pieces if piece.role == "host")
    if len(names) == 2 and not joined and sum(piece.role == "value" for piece in pieces) == 1:
        twice |= {names[0]} & {name for name in names if name.lower().rstrip(".") in own}  # `For own.test, add _mark`
    pieces = [piece for piece in pieces if piece.role != "host" or piece.text not in twice]
    if any(piece.role in ("value", "nameserver") for piece in pieces):
        pieces = [*repeated(pieces, text[start:end]), Piece("end", "", line)]
    elif {event.kind for event in events} - {"CURRENT"} in ({"DELETE"}, {"KEEP"}, {"DELETE", "KEEP"}) and (
        stems("IF").find(fold(text[start:end])) or any(piece.role == "type" for piece in pieces)
    ):
        return [], 0.0  # `If there are several A records named @, delete the others.`
    elif stems("NOT").find(fold(text[start:end])) and any(piece.role == "type" for piece in pieces):
        return [], 0.0  # `You need no A record.`
    return pieces, lost


def _without_replaced(text: str, atoms: Sequence[Atom], events: Sequence[Event]) -> tuple[Sequence[Atom], bool]:
    """The atoms without the type that goes: `Replace the A record with a CNAME to x.example`; and whether it is named
    before the one that comes."""
    if any(atom.kind == "type" and not _is_negated(text, atom) for atom in atoms):
        atoms = [atom for atom in atoms if atom.kind != "type" or not _is_negated(text, atom)]
    kinds = {atom.kind for atom in atoms if atom.kind in VALUES}
    types = [atom.value for atom in atoms if atom.kind == "type"]
    gone = {"A", "AAAA"} if kinds == {"fqdn"} else {"CNAME", "ALIAS"} if kinds == {"address"} else set()
    if not any(event.kind == "REPLACE" for event in events) or not gone & {*types} or not {*types} - gone:
        return atoms, False
    return [atom for atom in atoms if atom.kind != "type" or atom.value not in gone], types[0] in gone


def _is_negated(text: str, atom: Atom) -> bool:
    """`if your host has no ALIAS records`"""
    clause = fold(text[max(0, atom.at - 20) : atom.at])
    nots = stems("NOT").find(clause)
    return bool(nots) and not clause[nots[-1][1] :].strip()


def _word_of(text: str, atoms: Sequence[Atom], number: int) -> str | None:
    """The plain word in a field for the name, or the domain itself, where it is to be left empty."""
    field, parts = atoms[number], [each for each in atoms[number + 1 :] if each.kind != "and"]
    found = bare_host(text, field, atoms[number + 1 : number + 2]) or no_host(text, field, parts[:1])
    return found or told_host(text, atoms, number)


def _is_next(text: str, atoms: Sequence[Atom]) -> bool:
    """Whether the last of the atoms is right behind an `and`: `@ and www`, `for @ and for www`."""
    *_, before, mark, atom = (None, *atoms)
    names = before is not None and {before.kind, atom.kind} <= {"host", "apex"}
    return atom.at - mark.end <= 3 or (names and bare(text[mark.end : atom.at]) in phrases_of("HOST_BEFORE"))


def _is_other_word_for(text: str, before: Atom, atom: Atom) -> bool:
    """`an ALIAS (also called ANAME) record`"""
    between = text[before.end : atom.at]
    opened = "(" in between or (")" not in between and text.rfind("(", 0, before.at) > text.rfind(")", 0, before.at))
    return before.kind in ("type", "and") and opened and text.find(")", atom.end) - atom.end in range(12)


def _in_pairs(said: str, pieces: list[Piece]) -> list[Piece]:
    """`A records for @ and shop with 192.0.2.10 and 192.0.2.20 respectively`: the first name has the first value.
    Without such a word each name may have every value."""
    hosts, values = ([piece for piece in pieces if piece.role == role] for role in ("host", "value"))
    order = [piece.role for piece in pieces if piece.role in ("host", "value")]
    grouped = order in (
        ["host"] * len(hosts) + ["value"] * len(values),
        ["value"] * len(values) + ["host"] * len(hosts),
    )
    if not len(hosts) == len(values) > 1 or not grouped or len({type_by_value(each.text) for each in values}) > 1:
        return pieces
    types = [piece for piece in pieces if piece.role == "type"]
    if any_word(phrases_of("BOTH")).search(bare(said)):
        return pieces
    if not any_word(phrases_of("RESPECTIVELY")).search(bare(said)) or len(types) > 1:
        return [replace(piece, mood="unsure") if piece.role == "value" else piece for piece in pieces]
    paired = [[*types, host, replace(value, joined=False)] for host, value in zip(hosts, values, strict=True)]
    return [piece for each in paired for piece in (*each, Piece("end", "", hosts[0].line))][:-1]


def _as_alias(pieces: list[Piece], line: int) -> list[Piece]:
    """The pieces, with the type of the record whose value is a full name: behind those of an address it is the next."""
    target = next((at for at, each in enumerate(pieces) if each.role == "value" and not addresses(each.text)), 0)
    begin = max((at for at in range(target) if pieces[at].role == "host"), default=0)
    done = any(piece.role == "value" for piece in pieces[:begin])
    added = [*([Piece("end", "", line)] if done else []), Piece("type", "CNAME", line)]
    return [*pieces[: begin if done else 0], *added, *pieces[begin if done else 0 :]]


def _is_whole(pieces: Sequence[Piece]) -> bool:
    return {piece.role for piece in since_end(pieces)} >= {"type", "host", "value"}


def _in_turn(pieces: list[Piece]) -> list[Piece]:
    """`192.0.2.10 for the root (A) and x.example for www (CNAME)`: each record names its parts in the same order."""
    order = [piece.role for piece in pieces]
    count = next((at for at in range(len(order) // 3) if order[3 * at : 3 * at + 3] != order[:3]), len(order) // 3)
    if count < 2 or order[0] == "type" or set(order[:3]) != {"type", "host", "value"}:
        return pieces
    parted = [(*pieces[at : at + 3], Piece("end", "", pieces[at].line)) for at in range(0, 3 * count, 3)]
    inside = [replace(piece, joined=False) for each in parted for piece in each]
    return inside + pieces[3 * count :] if order[3 * count :] else inside[:-1]


def _by_clauses(text: str, pieces: list[Piece], atoms: Sequence[Atom]) -> list[Piece]:
    """A record ends before an `and` with a name right behind it that has its own value: `192.0.2.10 by an A record, and
    www must point to ...`."""
    found: list[Piece] = []
    at = 0
    for number, piece in enumerate(pieces):
        at = next((n for n in range(at, len(atoms)) if atoms[n].value == piece.text), at)
        before = since_end(found)
        begun = max((at for at, each in enumerate(before) if each.role == "type"), default=0)
        ahead = next((each.role for each in pieces[number + 1 :] if each.role in ("host", "value")), "")
        near = [each.kind for each in atoms[max(0, at - 2) : at]]
        parted = near[-1:] == ["and"] or near == ["and", "field"]
        has = {each.role for each in before[begun:]}
        only = {"host"} - {each.role for each in pieces[number + 1 :]}  # the last name is that of the last value
        if piece.role == "host" and parted and ahead == "value" and has - only == {"type", "value"}:
            found.append(Piece("end", "", piece.line))
        found.append(piece)
    return found


def _is_replaced(atoms: Sequence[Atom], moods: Sequence[Mood], number: int, pieces: Sequence[Piece]) -> bool:
    """Whether a full name that is there now has its name before it and its successor behind it."""
    new = (atoms[at].kind == "fqdn" and moods[at] == "want" for at in range(number + 1, len(atoms)))
    return atoms[number].kind == "fqdn" and any(new) and bool(pieces) and pieces[-1].role == "host"
