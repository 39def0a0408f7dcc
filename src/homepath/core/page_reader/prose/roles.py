"""Which part of a record an atom of a sentence is."""

from __future__ import annotations

import re
from collections.abc import Sequence

from homepath.core.page_reader.hosts import stands_for_own
from homepath.core.page_reader.kinds import addresses
from homepath.core.page_reader.pieces import Piece
from homepath.core.page_reader.prose.atoms import VALUES, Atom
from homepath.core.page_reader.prose.back_references import since_end
from homepath.core.page_reader.prose.told_fields import BY_FIELD
from homepath.core.page_reader.words import bare, phrases_of

_BY_KIND = {"params": "params", "address": "value", "special": "value", "text": "value", "host": "host", "apex": "host"}


def role_of_atom(
    text: str,
    atoms: Sequence[Atom],
    number: int,
    field: Atom | None,
    pieces: Sequence[Piece],
    servers: bool,
    own: Sequence[str],
) -> str | None:
    atom = atoms[number]
    if field is not None and atom.kind in BY_FIELD.get(field.value, ()):
        return field.value
    if atom.kind == "type":
        return None if atom.value == "NS" and servers else "type"
    if atom.kind in _BY_KIND:
        return _BY_KIND[atom.kind]
    current = since_end(pieces)
    roles = {piece.role for piece in current}
    types = {piece.text for piece in current if piece.role == "type"}
    if atom.kind == "number":  # `MX @ 10 mx1.post.example`
        after = atoms[number + 1] if number + 1 < len(atoms) else None
        beside = after is not None and after.kind == "fqdn" and after.at - atom.end < 3
        return "priority" if beside and _types_of(types, atoms) == {"MX"} else None
    if atom.kind == "token":
        return "value" if _types_of(types, atoms) == {"TXT"} and "value" not in roles else None
    if atom.kind == "quoted":
        if types == {"TXT"} and "value" not in roles and len(atom.value) > 3:
            return "value" if "host" in roles or len(atom.value) > 12 else "host"
        short = re.fullmatch(r"[a-z0-9][a-z0-9-]{0,30}", atom.value)
        return "host" if short and types and "host" not in roles else None
    if atom.kind != "fqdn":
        return None
    if servers and all(piece.text == "NS" for piece in pieces if piece.role == "type"):
        return "nameserver"
    last = max((at for at, piece in enumerate(current) if piece.role == "value"), default=-1)
    if {each.role for each in current[last + 1 :]} >= {"host", "type"} and "CNAME" in types:
        return "value"  # `..., and www is a CNAME to own.test`
    types_put, hosts, values = (sum(piece.role == role for piece in current) for role in ("type", "host", "value"))
    telling = sum(piece.role == "value" and bool(addresses(piece.text)) for piece in current)
    whole = 0 < max(types_put, telling) <= values and 0 < hosts <= values
    return _role_of_name(text, atoms, number, roles, _types_of(types, atoms), own, whole)


def _types_of(types: set[str], atoms: Sequence[Atom]) -> set[str]:
    """The types said so far, or those that the sentence says at all: in some languages they come last."""
    return types or {each.value for each in atoms if each.kind == "type"}


def _role_of_name(
    text: str, atoms: Sequence[Atom], number: int, roles: set[str], types: set[str], own: Sequence[str], whole: bool
) -> str:
    """Whether a full name is the name of a record or its value. `whole`: the record before it has all it needs."""
    atom = atoms[number]
    beside = number > 0 and atoms[number - 1].kind == "and" and "value" not in roles
    ahead = next((each.kind for each in atoms[number + 1 :] if each.kind in VALUES), "")
    if beside and ahead == "address" and not any(each.kind == "fqdn" for each in atoms[number + 1 :]):
        return "host"
    if stands_for_own(atom.value, own) and ("host" not in roles or "value" in roles or beside):
        return "host"
    word = re.search(r"([^\W\d_]+)\W*$", text[max(0, atom.at - 30) : atom.at])
    lead = bare(word[1]) if word else ""
    to_value, to_host = lead in phrases_of("VALUE_BEFORE"), lead in phrases_of("HOST_BEFORE")
    if whole and ahead:
        until = next(at for at in range(number + 1, len(atoms)) if atoms[at].kind in VALUES)
        kinds = {each.value if each.kind == "type" else each.kind for each in atoms[number + 1 : until]}
        alias_of = kinds & {"CNAME", "ALIAS"} and kinds & {"host", "apex"}  # `x.example as CNAME of www`
        return "value" if alias_of else "host"
    after = atoms[number + 1 : number + 3]
    if not roles & {"host", "value"} and "type" in roles and after and after[0].kind in ("host", "apex"):
        word = re.search(r"([^\W\d_]+)\W*$", text[atom.end : after[0].at])
        if word and bare(word[1]) in phrases_of("HOST_BEFORE"):
            return "value"  # `CNAME x.example for www, but found y.example`
    if types <= {"MX"} and any(each.kind == "field" and each.value == "priority" for each in after):
        return "value"  # `mx1.post.example with priority 10`
    if "host" in roles or (to_value and not to_host and (ahead != "address" or "type" in roles)):
        return "value"
    leads = to_host and not to_value and (ahead or "value" in roles)
    return "host" if leads or ahead == "address" or (ahead == "fqdn" and "value" not in roles) else "value"
