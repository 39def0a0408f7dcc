"""Tables whose columns have names: which row names them, and how a row below is read."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.core.message import Text, msg
from homepath.core.page_reader.kinds import addresses, clean, is_sure_host, special_type, type_of
from homepath.core.page_reader.loose import loose_words
from homepath.core.page_reader.moods import Mood, Title, title_of
from homepath.core.page_reader.pieces import (
    Piece,
    Reading,
    evidence,
    fits,
    mood_of_action,
    mood_of_note,
    role_of,
    says_nothing,
    tokens,
    value_text,
)
from homepath.core.page_reader.rows import Cell, Row
from homepath.core.page_reader.words import fold, is_phrase

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
    titles = _with_zone(titles, cells)
    words = [fold(cell.text) for cell in cells]
    if {"from", "to"} <= set(words) and any(title and title.roles[0] in ("host", "type") for title in titles):
        turn: dict[str, Title] = {"from": Title(("value",), "current"), "to": Title(("value",), "want")}
        titles = [turn.get(word, title) for word, title in zip(words, titles, strict=True)]
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


def _with_zone(titles: list[Title | None], cells: Sequence[Cell]) -> list[Title | None]:
    """Of a column for the name and one for the domain, the latter says for which domain a row is."""
    zones = [is_phrase("ZONE", cell.text) for cell in cells]
    names = [t is not None and t.roles[0] == "host" and not zone for t, zone in zip(titles, zones, strict=True)]
    if not any(names):
        return titles
    return [Title(("zone",)) if zone else title for zone, title in zip(zones, titles, strict=True)]


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
    return len(reading.pieces) - reading.lost


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
    lost, moods = 0.0, ""
    unsaid: Text = ""
    used: set[tuple[str, str]] = set()
    for title, cell in order:
        role = _role_for(title, cell.text, used)
        if role == "other":
            mood, said = mood_of_note(cell.text)
            moods, unsaid = mood or moods, said or unsaid
            strong = evidence(cell.text) if not mood else 0.0
            lost += strong * 0.5
            if (
                strong >= 2
                and not type_of(clean(cell.text))
                and cell.text not in [c.text for t, c in order if t is not title]
            ):
                unsaid = msg("page.part.column", what=cell.text)
            continue
        if role == "type" and not type_of(cell.text):
            both = loose_words(cell.text, row.line)
            if both and any(piece.role == "type" for piece in both.pieces):
                pieces += [Piece(p.role, p.text, p.line, title.mood) for p in both.pieces]
                continue
        if (not cell.text and role != "host") or (role == "value" and says_nothing(cell.text)):
            continue
        if not fits(role, cell.text):
            lost += 1.5
            continue
        used.add((role, title.mood))
        text = value_text(cell.text) if role == "value" else cell.text
        if title.rrtype and role == "value":
            pieces.append(Piece("type", title.rrtype, row.line, "", True))
        lost += 0.4 if role == "value" and not evidence(text) else 0.0
        pieces.append(Piece(role, text, row.line, title.mood, True))
    if len(row.cells) == 1 and row.kind != "table" and len(pieces) < 2:
        return None
    if not any(piece.role in ("value", "nameserver") for piece in pieces):
        return None
    pieces.sort(
        key=lambda piece: piece.role not in ("type", "host", "value")
    )  # a priority belongs to the record before it
    beside = "" if moods else _mood_beside(row, order)
    return Reading("table", tuple(pieces), True, lost, moods or beside, unsaid)  # type: ignore[arg-type]


def _mood_beside(row: Row, order: Sequence[tuple[Title, Cell]]) -> Mood:
    """What is written behind the last column of a row."""
    if row.mark == "struck":
        return "delete"
    over = row.cells[len(order) :]
    return next((mood for cell in over if (mood := mood_of_action(cell.text))), "")


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
