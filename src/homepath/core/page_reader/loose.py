"""Cells and words without names: what each can be by itself, settled together."""

from __future__ import annotations

import re
from collections.abc import Sequence

from homepath.core.message import Text, msg
from homepath.core.page_reader.kinds import (
    SPECIAL,
    addresses,
    digits_read,
    is_button,
    is_fqdn,
    is_host_label,
    is_status,
    is_sure_host,
    is_textlike,
    special_type,
    type_of,
)
from homepath.core.page_reader.moods import title_of
from homepath.core.page_reader.pieces import Piece, Reading, mood_of_action, tokens, value_text
from homepath.core.page_reader.words import is_phrase, is_ttl


def loose(cells: Sequence[str], line: int) -> Reading | None:
    """Cells without names: one is a type, one a value, one a host, by what each can be."""
    cells = [cell for cell in cells if cell.strip()]
    if not 1 <= len(cells) <= 9:
        return None
    roles: list[tuple[str, str, float] | None] = [_sure_role(cell) for cell in cells]
    rrtype = next((found[1] for found in roles if found and found[0] == "type"), None)
    _settle_names(cells, roles, rrtype)
    pieces, lost, mood = [], 0.0, ""
    words = [cell for cell, role in zip(cells, roles, strict=True) if role is None and cell.strip().isalpha()]
    buttons = sum(1 for word in words if is_button(word))
    for cell, role in zip(cells, roles, strict=True):
        if role is None:
            said = mood_of_action(cell) if buttons < 2 else ""
            mood = said or mood
            if not said and not is_button(cell) and not is_status(cell):
                lost += 1.0 + 0.3 * min(len(cell.split()), 6)
        elif role[0]:
            pieces.append(Piece(role[0], role[1], line))
    if not pieces:
        return None
    values = [p.text for p in pieces if p.role == "value"]
    unsaid: Text = msg("page.part.old", values=tuple(values)) if len(values) > 1 else ""
    closes = len(pieces) > 1 and bool(values)
    return Reading("row", tuple(pieces), closes, lost, mood, unsaid)  # type: ignore[arg-type]


def _sure_role(cell: str) -> tuple[str, str, float] | None:
    text = value_text(cell)
    if (rrtype := type_of(text)) is not None:
        return "type", rrtype, 1.0
    if addresses(text) or special_type(text) or SPECIAL["MX"].fullmatch(text):
        return "value", text, 1.0
    if digits_read(text):
        return "value", text, 0.8
    if is_sure_host(text) or is_phrase("APEX", text) or _at_in_brackets(text):
        return "host", text, 1.0
    if is_phrase("BLANK", text) and text != "-":
        return "host", text, 0.7
    if is_ttl(text) and not text.isdecimal():
        return "ttl", text, 1.0
    return None


def _at_in_brackets(text: str) -> bool:
    return bool(re.match(r"^@\s*[(（/].*", text)) and len(text) < 60


def _settle_names(cells: Sequence[str], roles: list[tuple[str, str, float] | None], rrtype: str | None) -> None:
    """The cells that can be more than one thing: names, texts, numbers."""
    has_host = any(role and role[0] == "host" for role in roles)
    has_value = any(role and role[0] == "value" for role in roles)
    open_at = [at for at, role in enumerate(roles) if role is None]
    names = [at for at in open_at if is_fqdn(value_text(cells[at]))]
    texts = [at for at in open_at if at not in names and is_textlike(value_text(cells[at]))]
    labels = [
        at
        for at in open_at
        if at not in names and at not in texts and is_host_label(value_text(cells[at]))
        and not is_button(cells[at]) and not is_status(cells[at])
        and not title_of(cells[at]) and not is_phrase("RECORD", cells[at])
    ]  # fmt: skip
    if not has_value:
        want_text = rrtype == "TXT" or (rrtype is None and not names)
        value_at = None
        if want_text and texts:
            value_at = texts[-1]
        elif names and rrtype != "TXT":
            value_at = names[-1] if len(names) > 1 or has_host or labels or rrtype else names[0]
        elif rrtype == "TXT" and labels and (has_host or len(labels) > 1):
            value_at = labels[-1]
        if value_at is not None:
            sure = 1.0 if value_at in names or value_at in texts else 0.6
            roles[value_at] = ("value", value_text(cells[value_at]), sure)
            for group in (names, texts, labels):
                if value_at in group:
                    group.remove(value_at)
    if not has_host:
        alone = len(cells) == 1 and not re.fullmatch(r"[a-z0-9_.-]+", cells[0].strip())
        for group, sure in ((labels, 0.8), (names, 0.8), (texts, 0.4)):
            if group and not (alone and group is labels):
                roles[group[0]] = ("host", value_text(cells[group[0]]), sure)
                group.pop(0)
                break
    _settle_numbers(cells, roles, rrtype)


def _settle_numbers(cells: Sequence[str], roles: list[tuple[str, str, float] | None], rrtype: str | None) -> None:
    numbers = [at for at, role in enumerate(roles) if role is None and cells[at].strip().isdecimal()]
    if rrtype in ("MX", "SRV") and numbers and not _begins_with_number(roles):
        for role in ("priority", "weight", "port")[: 1 if rrtype == "MX" else 3]:
            small = [at for at in numbers if int(cells[at]) <= 65535]
            if small:
                at = min(small, key=lambda each: (int(cells[each]) >= 300 and rrtype == "MX", each))
                roles[at] = (role, cells[at].strip(), 1.0)
                numbers.remove(at)
    if rrtype and len(cells) > 3 and numbers[:1] == [0] and int(cells[0]) <= 200:
        roles[0] = ("", "", 0.0)  # the rows are numbered
        numbers = numbers[1:]
    for at in numbers[:1]:
        if int(cells[at]) >= 30:
            roles[at] = ("ttl", cells[at].strip(), 0.8)
    if rrtype not in ("MX", "SRV"):
        for at, found in enumerate(roles):
            if found is None and cells[at].strip() in ("0", "-", "—", "–"):
                roles[at] = ("", "", 0.0)


def _begins_with_number(roles: Sequence[tuple[str, str, float] | None]) -> bool:
    return any(role and role[0] == "value" and role[1][:1].isdecimal() and " " in role[1] for role in roles)


def loose_words(text: str, line: int) -> Reading | None:
    """A row with single spaces: `A @ 192.0.2.10 3600`, `www IN CNAME x.example.`; every word must be a part."""
    words = tokens(text)
    if not 2 <= len(words) <= 9:
        return None
    words = [word for word in words if word.upper() != "IN"]
    reading = loose(words, line)
    return reading if reading and reading.lost == 0 and len(reading.pieces) > 1 else None
