"""Sentences: `Create a CNAME record for www that points to edge.bricklark.example`, in any order of words."""

from __future__ import annotations

import re
from collections.abc import Sequence

from homepath.core.page_reader.atoms import Atom, atoms_of
from homepath.core.page_reader.clauses import VALUES, events_in, moods_of, only_said, ors
from homepath.core.page_reader.moods import Event
from homepath.core.page_reader.pieces import Piece, Reading
from homepath.core.page_reader.wordlists.sentences import LABELS
from homepath.core.page_reader.words import bare, phrases_of

END = "end"
"""The role of a piece that ends a record, where a sentence does."""


OR = "or"


_KNOWN = re.compile(rf"(?<![A-Za-z0-9_.@/-])(?:{LABELS})(?![A-Za-z0-9_@/-]|\.[A-Za-z0-9_])")


_LABEL = re.compile(r"\s*[:=]?\s*[\"“„«‘']?([A-Za-z0-9][A-Za-z0-9-]{0,40})[\"”“»’']?(?=\s*(?:[,;.)]|$)|\s+\S)")


def sentence(text: str, line: int, swapped: bool = False, own: Sequence[str] = ()) -> Reading | None:
    """The row as sentences. `swapped`: of two full names the first is the value. None where it tells of no record."""
    atoms = _with_label(text, atoms_of(text))
    if not any(atom.kind in (*VALUES, "token", "quoted") for atom in atoms):
        return None
    pieces: list[Piece] = []
    lost = 0.0
    for part in _sentences(atoms):
        found, trouble = _one_sentence(text, part, line, swapped, own)
        pieces += found
        lost += trouble
    if not any(piece.role in ("value", "nameserver") for piece in pieces):
        return None
    return Reading("sentence", tuple(pieces), True, lost)


def _with_label(text: str, atoms: Sequence[Atom]) -> Sequence[Atom]:
    """`a CNAME record for shop`: a plain label behind a word that leads to a name, where no other name is said."""
    types = [atom for atom in atoms if atom.kind == "type"]
    if not types:
        return atoms
    found: list[Atom] = []
    for number, each in enumerate(types):
        begin = types[number - 1].end if number else 0
        end = types[number + 1].at if number + 1 < len(types) else len(text)
        mine = [atom for atom in atoms if begin <= atom.at < end]
        low = each.at if number else 0
        if not any(atom.kind in ("host", "apex") for atom in mine if atom.at >= low) and (
            label := _label_in(text, low, end, mine)
        ):
            found.append(label)
    rest = [atom for atom in atoms if atom.kind != "token" or not any(atom.at == each.at for each in found)]
    return tuple(sorted([*rest, *found], key=lambda atom: atom.at)) if found else atoms


def _label_in(text: str, low: int, high: int, atoms: Sequence[Atom]) -> Atom | None:
    for match in _KNOWN.finditer(text, low, high):
        before = re.findall(r"[^\W\d_]+", text[: match.start()])[-2:]
        behind = text[match.end() : match.end() + 7].lstrip("\"”“»」' ")
        leads = any(bare(word) in phrases_of("HOST_BEFORE") for word in before)
        leads = leads or text[: match.start()].rstrip().endswith(("为", "為", "给", "給", "对", "對", "将", "把"))
        particle = re.match(r"の|에|에서|için|के|的|に|を|은|는", behind) or not text[: match.start()].strip()
        code = [atom for atom in atoms if atom.kind == "token" and (atom.at, atom.end) == match.span()]
        others = (atom for atom in atoms if atom.kind not in ("number", "ttl", "and") and atom not in code)
        free = not any(atom.at < match.end() and match.start() < atom.end for atom in others)
        if free and (leads or particle):
            return Atom("host", match[0], match.start(), match.end())
    return None


def _sentences(atoms: Sequence[Atom]) -> list[list[Atom]]:
    parts: list[list[Atom]] = [[]]
    for atom in atoms:
        if atom.kind == "stop":
            parts.append([])
        else:
            parts[-1].append(atom)
    return [part for part in parts if part]


def _one_sentence(
    text: str, atoms: Sequence[Atom], line: int, swapped: bool, own: Sequence[str]
) -> tuple[list[Piece], float]:
    begin = max(
        (at for at in (text.rfind(mark, 0, atoms[0].at) for mark in (". ", "。", "! ", "? ")) if at >= 0), default=-1
    )
    last = atoms[-1]
    end_match = re.search(r"[.!?](?:\s|$)|[。！？]", text[last.end :])
    end = last.end + (end_match.start() if end_match else len(text) - last.end)
    if last.kind == "fqdn" and last.value.endswith("."):
        end = last.end
    start = begin + 1
    said = [Event(e.at + start, e.end + start, e.kind) for e in events_in(text[start:end])]
    moods = moods_of(text, atoms, said)
    if only := only_said(text[start : end + 1], said):
        moods = [only for _ in moods]
    servers = bool(_speaks_of_servers(text[start:end]))
    pieces: list[Piece] = []
    lost = 0.0
    field: Atom | None = None
    turns = ors(text[start:end], start)
    before = start
    for number, atom in enumerate(atoms):
        role = _role(text, atoms, number, field, pieces, servers, swapped, own)
        joined = number > 0 and atoms[number - 1].kind == "and" and atom.at - atoms[number - 1].end <= 3
        if atom.kind == "field" and servers:
            continue
        if atom.kind == "field":
            if (word := _bare_host(text, atom, atoms, number)) and atom.value == "host":
                pieces.append(Piece("host", word, line, "", True))
                field = None
            else:
                field = atom
            continue
        if atom.kind == "and":
            continue
        if role is None:
            lost += (
                1.0 if atom.kind in ("address", "special", "text") else 0.3 if atom.kind in ("fqdn", "quoted") else 0.0
            )
            continue
        if (
            pieces
            and any(before <= at <= atom.at for at in turns)
            and role in ("type", "value")
            and any(p.role == "value" for p in pieces)
        ):
            pieces.append(Piece(OR, "", line))
        pieces.append(Piece(role, atom.value, line, moods[number], field is not None, joined))
        field = None
        before = atom.end
    if any(piece.role in ("value", "nameserver") for piece in pieces):
        pieces.append(Piece(END, "", line))
    return pieces, lost


def _speaks_of_servers(text: str) -> bool:
    from homepath.core.page_reader.leads import names_servers

    return names_servers(text)


def _bare_host(text: str, field: Atom, atoms: Sequence[Atom], number: int) -> str | None:
    """A plain word right behind the word for a host: `host shop`, `Name: blog`."""
    following = atoms[number + 1] if number + 1 < len(atoms) else None
    if field.value != "host" or (
        following and following.at - field.end <= 6 and following.kind in ("host", "fqdn", "apex", "quoted")
    ):
        return None
    match = _LABEL.match(text, field.end)
    if (
        match is None
        or match[1].lower() in phrases_of("STOP_WORDS")
        or not re.match(r"\s*[:=]|\s*[\"“„«‘']|\s+\S", text[field.end :])
    ):
        return None
    rest = text[match.end(1) :].lstrip(" \"”“»’'")
    ends = (
        not rest
        or rest[0] in ",;.)"
        or bare(rest.split()[0]) in phrases_of("VALUE_BEFORE") | {"and", "und", "et", "y", "e", "with"}
    )
    return match[1].lower() if ends else None


def _role(
    text: str,
    atoms: Sequence[Atom],
    number: int,
    field: Atom | None,
    pieces: Sequence[Piece],
    servers: bool,
    swapped: bool,
    own: Sequence[str],
) -> str | None:
    atom = atoms[number]
    if field is not None and atom.at - field.end <= 40:
        wanted = field.value
        if wanted == "value" and atom.kind in (*VALUES, "token", "quoted"):
            return "value"
        if wanted == "host" and atom.kind in ("host", "apex", "fqdn", "quoted"):
            return "host"
        if wanted == "ttl" and atom.kind in ("ttl", "number"):
            return "ttl"
        if wanted in ("priority", "weight", "port", "flag") and atom.kind == "number":
            return wanted
    if atom.kind == "type":
        return None if atom.value == "NS" and servers else "type"
    if atom.kind in ("address", "special"):
        return "value"
    if atom.kind in ("host", "apex"):
        return "host"
    if atom.kind == "text":
        return "value"
    if atom.kind == "token":
        current = _since_end(pieces)
        free = not any(piece.role == "value" for piece in current)
        said = {a.value for a in atoms if a.kind == "type"} if not any(p.role == "type" for p in current) else set()
        said |= {piece.text for piece in current if piece.role == "type"}
        return "value" if free and said == {"TXT"} else None
    if atom.kind == "fqdn":
        return "nameserver" if servers and not _typed(pieces) else _fqdn_role(text, atoms, number, pieces, swapped, own)
    if atom.kind == "quoted":
        return _quoted_role(atom, pieces)
    return None


def _typed(pieces: Sequence[Piece]) -> bool:
    return any(piece.role == "type" and piece.text != "NS" for piece in pieces)


def _quoted_role(atom: Atom, pieces: Sequence[Piece]) -> str | None:
    current = _since_end(pieces)
    rrtype = next((piece.text for piece in current if piece.role == "type"), None)
    if rrtype == "TXT" and not any(piece.role == "value" for piece in current) and len(atom.value) > 3:
        return "value" if any(piece.role == "host" for piece in current) or len(atom.value) > 12 else "host"
    short = re.fullmatch(r"[a-z0-9][a-z0-9-]{0,30}", atom.value)
    return "host" if short and rrtype and not any(piece.role == "host" for piece in current) else None


def _since_end(pieces: Sequence[Piece]) -> list[Piece]:
    found: list[Piece] = []
    for piece in reversed(pieces):
        if piece.role == END:
            break
        found.insert(0, piece)
    return found


def _fqdn_role(
    text: str, atoms: Sequence[Atom], number: int, pieces: Sequence[Piece], swapped: bool, own: Sequence[str]
) -> str:
    from homepath.core.page_reader.hosts import stands_for_own

    atom = atoms[number]
    current = _since_end(pieces)
    has_host = any(piece.role == "host" for piece in current)
    beside = number > 0 and atoms[number - 1].kind == "and" and not any(piece.role == "value" for piece in current)
    begun = not has_host or any(piece.role == "value" for piece in current)
    if stands_for_own(atom.value, own) and (begun or beside):
        return "host"
    others = [a for a in atoms[number + 1 :] if a.kind in VALUES]
    before = text[max(0, atom.at - 30) : atom.at]
    word = re.search(r"([^\W\d_]+)\W*$", before)
    lead = bare(word[1]) if word else ""
    to_value, to_host = lead in phrases_of("VALUE_BEFORE"), lead in phrases_of("HOST_BEFORE")
    if to_value and not to_host:
        return "value"
    if has_host:
        return "value"
    if to_host and not to_value and (others or any(piece.role == "value" for piece in current)):
        return "host"
    first = bool(others) and others[0].kind == "fqdn" and not any(piece.role == "value" for piece in current)
    if first:
        return "value" if swapped else "host"
    if others and others[0].kind == "address":
        return "host"
    if any(piece.role == "value" for piece in current) and swapped:
        return "host"
    return "value"
