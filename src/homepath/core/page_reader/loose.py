"""Cells and words without names: what each can be by itself, settled together."""

from __future__ import annotations

import re
from collections.abc import Sequence

from homepath.core.message import Text, msg
from homepath.core.page_reader.kinds import (
    SPECIAL,
    digits_read,
    field_roles,
    is_button,
    is_fqdn,
    is_host_label,
    is_status,
    is_sure_host,
    is_textlike,
    type_by_value,
    type_of,
)
from homepath.core.page_reader.moods import Mood, mood_of_words
from homepath.core.page_reader.pieces import (
    NUMBERS,
    Piece,
    Reading,
    mood_of_action,
    mood_of_condition,
    mood_of_note,
    tokens,
    value_text,
)
from homepath.core.page_reader.prose.atoms import atoms_of
from homepath.core.page_reader.prose.clauses import value_told
from homepath.core.page_reader.titles import title_of
from homepath.core.page_reader.words import bare, is_phrase, is_ttl, phrases_of

Roles = list[str | None]
"""What each cell is; an empty text where it is nothing, None where that is still open."""


def loose(cells: Sequence[str], line: int) -> Reading | None:
    """Cells without names: one is a type, one a value, one a host, by what each can be."""
    said_cells = [cell for cell in cells if cell.strip()]
    if any(type_of(value_text(cell)) for cell in said_cells):
        said_cells = [cell for cell in said_cells if cell != "IN"]  # the class (RFC 1035 section 3.2.4)
    cells = [value_text(cell) for cell in said_cells]
    if not 1 <= len(cells) <= 9:
        return None
    if len(cells) > 2 and not any(map(type_of, cells)):
        cells = [_type_told(cell) or cell for cell in cells]
    roles: Roles = [_sure_role(cell) for cell in cells]
    for at, cell in enumerate(cells):
        if named := _numbered(cell):
            roles[at], cells[at] = named
    rrtype = next((type_of(cell) for cell, role in zip(cells, roles, strict=True) if role == "type"), None)
    _settle_names(cells, roles, rrtype)
    _settle_numbers(cells, roles, rrtype)
    lost = 0.0
    mood: Mood = ""
    open_cells = [cell for cell, role in zip(said_cells, roles, strict=True) if role is None]
    buttons = sum(1 for cell in open_cells if cell.isalpha() and is_button(cell))
    old: tuple[Piece, ...] = ()
    said: Text = ""
    for cell in open_cells:
        told, told_mood = value_told(cell) if " " in cell else ("", "")
        if told_mood == "current" and "value" in roles:
            old = (Piece("value", told, line, "current"),)  # `replaces 198.51.100.7`
            continue
        action, doubt = mood_of_note(cell) if buttons < 2 else ("", "")
        action = mood_of_condition(cell) or action
        mood, said = action or mood, doubt or said
        if not (action or doubt or mood_of_action(cell)) and not is_button(cell) and not is_status(cell):
            lost += 1.0 + 0.3 * min(len(cell.split()), 6)
    pieces = tuple(Piece(role, cell, line) for cell, role in zip(cells, roles, strict=True) if role)
    values = tuple(piece.text for piece in pieces if piece.role == "value")
    unsaid = msg("page.part.old", values=values) if len(values) > 1 else said
    pieces = (*pieces, *old)
    return Reading("row", pieces, len(pieces) > 1 and bool(values), lost, mood, unsaid) if pieces else None


def _numbered(cell: str) -> tuple[str, str] | None:
    """`Priority 10`: the field and its number."""
    name, _, number = cell.rpartition(" ")
    roles = field_roles(name) if number.isdecimal() and int(number) <= 65535 else ()
    return (roles[0], number) if roles and roles[0] in NUMBERS else None


def _type_told(cell: str) -> str:
    """The type in `Add a CNAME record`."""
    if " " not in cell or len(cell) > 60:
        return ""
    atoms = [atom for atom in atoms_of(cell) if atom.kind not in ("number", "stop", "and")]
    told = len(atoms) == 1 and atoms[0].kind == "type" and mood_of_words(cell) in ("", "want")
    return atoms[0].value if told else ""


def _sure_role(text: str) -> str | None:
    if type_of(text) is not None:
        return "type"
    if type_by_value(text) or SPECIAL["MX"].fullmatch(text) or digits_read(text):
        return "value"
    if is_sure_host(text) or is_phrase("APEX", text) or re.match(r"^@\s*[(（/].{0,60}$", text):
        return "host"
    if is_phrase("BLANK", text) and text != "-":
        return "host"
    return "ttl" if is_ttl(text) and not text.isdecimal() else None


def _settle_names(cells: Sequence[str], roles: Roles, rrtype: str | None) -> None:
    """The cells that can be more than one thing: names, texts, labels."""
    open_at = [at for at, role in enumerate(roles) if role is None]
    names = [at for at in open_at if is_fqdn(cells[at])]
    texts = [at for at in open_at if at not in names and is_textlike(cells[at])]
    labels = [at for at in open_at if at not in names and at not in texts and _is_label(cells[at])]
    two = roles.count("host") == 2 or (roles.count("host") == 1 and len(labels) == 1)
    if rrtype == "CNAME" and "value" not in roles and two and cells[-1] == "@":
        roles[-1] = "value"  # `CNAME www @`: an alias for the domain itself
    has_host = "host" in roles
    if "value" not in roles:
        value_at = None
        marked = [at for at in texts if "=" in cells[at]]
        if texts and (rrtype == "TXT" or (rrtype is None and (marked or not names))):
            value_at = texts.pop()
        elif names and rrtype != "TXT" and (has_host or rrtype not in ("A", "AAAA")):
            value_at = names.pop(-1 if has_host or labels or rrtype else min(1, len(names) - 1))
        elif rrtype == "TXT" and labels and (has_host or len(labels) > 1):
            value_at = labels.pop()
        elif rrtype == "TXT" and has_host and len(rest := [at for at in open_at if " " in cells[at]]) == 1:
            value_at = rest[0] if not is_button(cells[rest[0]]) and not is_status(cells[rest[0]]) else None
        if value_at is not None:
            roles[value_at] = "value"
    alone = len(cells) == 1 and not re.fullmatch(r"[a-z0-9_.-]+", cells[0])
    hosts = [*(labels if not alone else []), *names, *texts]
    if hosts and not has_host:
        roles[hosts[0]] = "host"


def _is_label(text: str) -> bool:
    known = is_button(text) or is_status(text) or is_phrase("RECORD", text) or title_of(text)
    particle = bare(text) in phrases_of("VALUE_BEFORE") | phrases_of("HOST_BEFORE") | phrases_of("JOINTS")
    return is_host_label(text) and not known and not particle


def _settle_numbers(cells: Sequence[str], roles: Roles, rrtype: str | None) -> None:
    numbers = [at for at, role in enumerate(roles) if role is None and cells[at].isdecimal()]
    begun = any(role == "value" and SPECIAL["MX"].fullmatch(cell) for cell, role in zip(cells, roles, strict=True))
    if rrtype in ("MX", "SRV") and not begun:
        for role in ("priority", "weight", "port")[: 1 if rrtype == "MX" else 3]:
            small = [at for at in numbers if int(cells[at]) <= 65535]
            if small:
                at = min(small, key=lambda each: (int(cells[each]) >= 300 and rrtype == "MX", each))
                roles[at] = role
                numbers.remove(at)
    if rrtype is None and len(cells) == 2 and numbers == [0] and is_fqdn(cells[1]) and int(cells[0]) <= 65535:
        roles[numbers.pop()] = "priority"  # below a heading `MX records for ...`
    if rrtype and len(cells) > 3 and numbers[:1] == [0] and int(cells[0]) <= 200:
        roles[numbers.pop(0)] = ""  # the rows are numbered
    if numbers and int(cells[numbers[0]]) >= 30:
        roles[numbers[0]] = "ttl"
    if rrtype not in ("MX", "SRV"):
        for at, cell in enumerate(cells):
            if roles[at] is None and cell in ("0", "-", "—", "–"):
                roles[at] = ""


def loose_words(text: str, line: int) -> Reading | None:
    """A row with single spaces: `A @ 192.0.2.10 3600`, `www IN CNAME x.example.`; every word must be a part."""
    if SPECIAL["MX"].fullmatch(text):
        return None  # one value
    words = [word for word in tokens(text) if word.upper() != "IN"]
    if sum(word in ("—", "–", "-") for word in words) > 1:
        words = [word for word in words if word not in ("—", "–", "-")]  # `www — CNAME — x.example`
    reading = loose(words, line) if 2 <= len(words) <= 9 else None
    return reading if reading and reading.lost == 0 and len(reading.pieces) > 1 else None
