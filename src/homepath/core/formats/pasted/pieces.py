"""The ways in which one row can be read: under a heading, by its labels, by the kinds of its cells, as a sentence."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from homepath.core.formats.pasted.kinds import (
    SPECIAL,
    addresses,
    clean,
    glued_button,
    is_button,
    is_fqdn,
    is_host_label,
    is_status,
    is_sure_host,
    is_textlike,
    special_type,
    type_of,
    without_button,
)
from homepath.core.formats.pasted.moods import Mood, Title, events, mood_of_words, title_of
from homepath.core.formats.pasted.rows import Cell, Row
from homepath.core.formats.pasted.words import is_phrase, is_ttl

NUMBERS = ("priority", "weight", "port", "flag")
PARTS = ("type", "host", "value", "ttl", *NUMBERS, "tag", "service", "protocol", "nameserver")


@dataclass(frozen=True, slots=True)
class Piece:
    """A part of a record. `sure`: 2 where a name says what it is, 1 where its kind does, less where it is a guess.
    `joined`: an `and` binds it to the one before."""

    role: str
    text: str
    line: int
    mood: Mood = ""
    sure: float = 1.0
    joined: bool = False


@dataclass(frozen=True, slots=True)
class Reading:
    """A row read in one way. `closes`: a record ends with it. `lost`: the weight of what fits nowhere."""

    layout: str
    pieces: tuple[Piece, ...]
    closes: bool
    lost: float = 0.0
    mood: Mood = ""
    unsaid: str = ""
    """What in the row could be meant otherwise."""


def value_text(text: str) -> str:
    """A value without its quotes and without a button's word behind it."""
    shown = without_button(text.strip()) if not is_textlike(text) else text.strip()
    shorter = glued_button(shown)
    if shorter and (addresses(shorter) or is_fqdn(shorter)):
        shown = shorter
    if shown.endswith((")", ").")) and "(" not in shown:
        shown = shown.rstrip(".").removesuffix(")")
    return clean(shown)


def evidence(text: str) -> float:
    """How much a text looks like a part of a record, 0 where it does not."""
    plain = clean(text)
    if addresses(plain) or special_type(plain):
        return 3.0
    if type_of(plain):
        return 2.0
    if is_fqdn(without_button(plain)) or is_textlike(plain):
        return 2.0
    return 1.5 if is_sure_host(plain) else 0.0


Column = tuple[Title, int]


def columns_of(row: Row) -> tuple[Column, ...] | None:
    """A row that names the columns below it: two fields or more, and no value among them."""
    cells = row.cells
    if len(cells) < 2:
        return None
    titles = [title_of(cell.text) for cell in cells]
    if any(title and title.roles[0] == "host" for title in titles) and not any(
        t and t.roles[0] == "type" for t in titles
    ):
        titles = [t or _typed(cell.text) for t, cell in zip(titles, cells, strict=True)]
    named = [title for title in titles if title is not None]
    parts = [title for title in named if title.roles[0] != "other" or title.mood]
    if len(parts) < 2 or any(addresses(cell.text) or special_type(cell.text) for cell in cells):
        return None
    if len(named) * 2 < len([cell for cell in cells if cell.text]):
        return None
    roles = {role for title in parts for role in title.roles}
    if not roles & {"value", "nameserver"} or (len(roles) < 2 and roles != {"nameserver"}):
        return None
    plain = Title(("other",))
    return tuple((title or plain, cell.at) for title, cell in zip(titles, cells, strict=True))


def _typed(text: str) -> Title | None:
    """A column that is called by a type holds the values of that type."""
    rrtype = type_of(text)
    return Title(("value",), "", rrtype) if rrtype else None


def by_columns(row: Row, columns: Sequence[Column]) -> Reading | None:
    """A row of a table whose columns have names."""
    best: Reading | None = None
    if columns_of(row) or (row.kind != "table" and not any(evidence(cell.text) for cell in row.cells)):
        return None
    for order in _orders(row, columns):
        reading = _in_order(row, order)
        if reading and (best is None or _weight(reading) > _weight(best)):
            best = reading
    return best


def _weight(reading: Reading) -> float:
    return sum(piece.sure for piece in reading.pieces) - reading.lost


def _orders(row: Row, columns: Sequence[Column]) -> list[list[tuple[Title, Cell]]]:
    cells = list(row.cells)
    orders = []
    if row.kind == "table" or len(cells) == len(columns) or "\t" in row.text or "|" in row.text:
        orders.append([(title, cell) for (title, _), cell in zip(columns, cells, strict=False)])
        if len(cells) == len(columns) + 1 and row.kind != "table":
            orders.append([(title, cell) for (title, _), cell in zip(columns, cells[1:], strict=False)])
        return orders
    nearest = []
    for cell in cells:
        title = min(columns, key=lambda column: abs(column[1] - cell.at))[0]
        nearest.append((title, cell))
    orders.append(nearest)
    by_kind = [column for column in columns if column[0].roles[0] != "other"]
    if len(cells) < len(by_kind) and len(parts := tokens(row.text)) == len(by_kind):
        cut = [(title, Cell(part)) for (title, _), part in zip(by_kind, parts, strict=True)]
        if all(fits(role_of(title, cell.text), cell.text) for title, cell in cut) and evidence(cut[-1][1].text):
            orders.append(cut)
    if len(cells) <= len(by_kind):
        orders.append([(title, cell) for (title, _), cell in zip(by_kind, cells, strict=False)])
    return orders


def _in_order(row: Row, order: Sequence[tuple[Title, Cell]]) -> Reading | None:
    pieces: list[Piece] = []
    lost, moods, unsaid = 0.0, "", ""
    used: set[tuple[str, str]] = set()
    for title, cell in order:
        role = _role_for(title, cell.text, used)
        if role == "other":
            mood = mood_of_action(cell.text)
            moods = mood or moods
            strong = evidence(cell.text) if not mood else 0.0
            lost += strong * 0.5
            if (
                strong >= 2
                and not type_of(clean(cell.text))
                and cell.text not in [c.text for t, c in order if t is not title]
            ):
                unsaid = f"{cell.text} stands in a column whose name was not understood"
            continue
        if role == "type" and not type_of(cell.text):
            both = loose_words(cell.text, row.line)
            if both and any(piece.role == "type" for piece in both.pieces):
                pieces += [Piece(p.role, p.text, p.line, title.mood, 1.5) for p in both.pieces]
                continue
        if not cell.text and role != "host":
            continue
        if not fits(role, cell.text):
            lost += 1.5
            continue
        used.add((role, title.mood))
        text = value_text(cell.text) if role == "value" else cell.text
        if title.rrtype and role == "value":
            pieces.append(Piece("type", title.rrtype, row.line, "", 2.0))
        weak = role == "value" and not evidence(text)
        pieces.append(Piece(role, text, row.line, title.mood, 1.2 if weak else 2.0))
    if len(row.cells) == 1 and row.kind != "table" and len(pieces) < 2:
        return None
    if not any(piece.role in ("value", "nameserver") for piece in pieces):
        return None
    beside = "" if moods else _mood_beside(row, order)
    return Reading("table", tuple(pieces), True, lost, moods or beside, unsaid)  # type: ignore[arg-type]


def _mood_beside(row: Row, order: Sequence[tuple[Title, Cell]]) -> Mood:
    """What is written behind the last column of a row."""
    if row.mark == "struck":
        return "delete"
    over = row.cells[len(order) :]
    return next((mood for cell in over if (mood := mood_of_action(cell.text))), "")


def mood_of_action(text: str) -> Mood:
    """What a cell for actions says; the buttons `Edit Delete` beside every row say nothing."""
    if not text or len(text) > 60:
        return ""
    words = re.split(r"[\s,/|·]+", text)
    if len(words) > 1 and all(is_button(word) for word in words):
        return ""
    if is_status(text) and not any(event.kind in ("DELETE", "ADD", "KEEP") for event in events(text)):
        return ""
    mood = mood_of_words(text)
    if mood == "want" and not any(event.kind == "ADD" for event in events(text)):
        return ""
    return mood


def role_of(title: Title, text: str) -> str:
    """Which of the roles of a name a text has: the first that it fits; what only may be a value must look like one."""
    if "other" in title.roles:
        return "value" if "value" in title.roles and evidence(text) >= 2 else "other"
    return next((role for role in title.roles if fits(role, text)), title.roles[0])


def _role_for(title: Title, text: str, used: set[tuple[str, str]]) -> str:
    if "other" in title.roles:
        return role_of(title, text)
    open_roles = [role for role in title.roles if (role, title.mood) not in used or role == "value"]
    if not open_roles:
        return "other"
    if len(open_roles) > 1:
        return next((role for role in open_roles if text and fits(role, text)), open_roles[0])
    if open_roles[0] == "host" and type_of(text) and not is_sure_host(text) and text.isupper() and len(text) > 1:
        return "type"
    return open_roles[0]


def fits(role: str, text: str) -> bool:
    """Whether a cell can be this part of a record."""
    plain = clean(text)
    if role == "type":
        return type_of(plain) is not None
    if role == "ttl":
        return is_ttl(plain)
    if role in NUMBERS:
        return plain.isdigit() and int(plain) <= 65535
    if role == "host":
        return len(plain) <= 254 and not addresses(plain)
    if role == "nameserver":
        return is_fqdn(plain)
    return bool(plain)


def loose(cells: Sequence[str], line: int, sure: float = 1.0) -> Reading | None:
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
            pieces.append(Piece(role[0], role[1], line, "", sure * role[2]))
    if not pieces:
        return None
    values = [p.text for p in pieces if p.role == "value"]
    unsaid = f"of {' and '.join(values)} one may be the old value" if len(values) > 1 else ""
    closes = len(pieces) > 1 and bool(values)
    return Reading("row", tuple(pieces), closes, lost, mood, unsaid)  # type: ignore[arg-type]


def _sure_role(cell: str) -> tuple[str, str, float] | None:
    text = value_text(cell)
    if (rrtype := type_of(text)) is not None:
        return "type", rrtype, 1.0
    if addresses(text) or special_type(text) or SPECIAL["MX"].fullmatch(text):
        return "value", text, 1.0
    if is_sure_host(text) or is_phrase("APEX", text) or _at_in_brackets(text):
        return "host", text, 1.0
    if is_phrase("BLANK", text) and text != "-":
        return "host", text, 0.7
    if is_ttl(text) and not text.isdigit():
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
    numbers = [at for at, role in enumerate(roles) if role is None and cells[at].strip().isdigit()]
    if rrtype in ("MX", "SRV") and numbers and not _begins_with_number(roles):
        for role in ("priority", "weight", "port")[: 1 if rrtype == "MX" else 3]:
            small = [at for at in numbers if int(cells[at]) <= 65535]
            if small:
                at = min(small, key=lambda each: (int(cells[each]) >= 300 and rrtype == "MX", each))
                roles[at] = (role, cells[at].strip(), 1.0)
                numbers.remove(at)
    for at in numbers[:1]:
        if int(cells[at]) >= 30:
            roles[at] = ("ttl", cells[at].strip(), 0.8)
    if rrtype not in ("MX", "SRV"):
        for at, found in enumerate(roles):
            if found is None and cells[at].strip() in ("0", "-", "—", "–"):
                roles[at] = ("", "", 0.0)


def _begins_with_number(roles: Sequence[tuple[str, str, float] | None]) -> bool:
    return any(role and role[0] == "value" and role[1][:1].isdigit() and " " in role[1] for role in roles)


_TOKEN = re.compile(r"\"[^\"]*\"|“[^”]*”|\S+")


def loose_words(text: str, line: int) -> Reading | None:
    """A row with single spaces: `A @ 192.0.2.10 3600`, `www IN CNAME x.example.`; every word must be a part."""
    words = tokens(text)
    if not 2 <= len(words) <= 9:
        return None
    words = [word for word in words if word.upper() != "IN"]
    reading = loose(words, line, 0.95)
    return reading if reading and reading.lost == 0 else None


def tokens(text: str) -> list[str]:
    """The words of a row; values of several words stay together."""
    held: list[str] = []

    def hold(match: re.Match[str]) -> str:
        held.append(match[0])
        return f" \x00{len(held) - 1}\x00 "

    rrtype = re.search(r"(?:^|\s)(CAA|SRV|HTTPS|MX)(?:\s|$)", text)
    patterns = [SPECIAL["TXT"], *([SPECIAL[rrtype[1]]] if rrtype else [])]
    for pattern in patterns:
        text = pattern.sub(hold, text)
    found = [re.sub(r"\x00([0-9]+)\x00", lambda m: held[int(m[1])], word) for word in _TOKEN.findall(text)]
    joined: list[str] = []
    for word in found:  # a time keeps its unit, several strings of one text stay together
        if (joined and joined[-1].isdigit() and is_ttl(f"{joined[-1]} {word}") and not word[:1].isdigit()) or (
            joined and joined[-1][:1] == word[:1] == '"'
        ):
            joined[-1] = f"{joined[-1]} {word}"
        else:
            joined.append(word[:-1] if len(word) > 1 and word.endswith(":") and not word.endswith("::") else word)
    return joined
