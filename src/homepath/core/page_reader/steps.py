"""From one way of having read the rows so far to those with one row more."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from homepath.core.page_reader.around import around_after, give_type
from homepath.core.page_reader.columns import Column, by_columns
from homepath.core.page_reader.frames import BIT, Around, Chain, Machine
from homepath.core.page_reader.hosts import plain_host
from homepath.core.page_reader.kinds import is_button, is_fqdn, is_status
from homepath.core.page_reader.labels import Labelled
from homepath.core.page_reader.leads import Lead
from homepath.core.page_reader.moods import NOT_WANTED, Mood, Title, title_of
from homepath.core.page_reader.pieces import Piece, Reading, fits, role_of, value_text
from homepath.core.page_reader.rows import Row
from homepath.core.page_reader.telling import strength
from homepath.core.page_reader.ways import Ways, said_by
from homepath.core.page_reader.words import fold, stems


@dataclass(slots=True)
class State:
    """One way of having read the rows so far. `waiting`: fields named on lines of their own, whose values are to come;
    `turn`: which of them is next; `rested`: a blank line stands behind a record that was whole."""

    machine: Machine = field(default_factory=Machine)
    columns: tuple[Column, ...] | None = None
    waiting: tuple[Title, ...] = ()
    turn: int = 0
    rested: bool = False
    trail: Chain = None

    def copy(self) -> State:
        return State(self.machine.copy(), self.columns, self.waiting, self.turn, self.rested, self.trail)

    def mark(self, row: Row, what: str) -> None:
        self.trail = (self.trail, (row.line, what))

    def pay(self, cost: float) -> None:
        self.machine.score -= cost

    @property
    def score(self) -> float:
        return self.machine.score

    @property
    def key(self) -> object:
        return self.machine.key, self.columns, self.waiting, self.turn


def gap(state: State) -> None:
    """A blank line: a record that has all it needs ends; what a lead-in said in passing is over."""
    machine = state.machine
    around = machine.around
    state.rested = state.turn == 0
    if machine.values and (machine.hosts or around.hosts or machine.types or around.types):
        machine.close()
    elif machine.fresh == BIT["host"] and machine.sure < 1 and not around.types:
        machine.leave_host()  # a lone word that may have been anything
    if not around.firm:
        machine.around = replace(around, types=(), hosts=())


def steps(state: State, row: Row, ways: Ways) -> list[State]:
    found: list[State] = []
    if ways.columns:
        found.append(_as_columns(state, row, ways.columns))
    if state.columns and (reading := by_columns(row, state.columns)):
        found.append(_as_reading(state, row, reading, keep_columns=True))
    if ways.labelled:
        found.append(_as_labelled(state, row, ways.labelled))
    if ways.label and not ways.columns:
        found.append(_as_label(state, row, ways.label))
    if state.waiting and len(row.text) < 600:
        found += _as_awaited(state, row)
    if rest := _as_rest(state, row):
        found.append(rest)
    found += [_as_reading(state, row, reading) for reading in ways.readings]
    if (
        said := said_by(ways.lead)
        if ways.lead and (ways.lead.mood or (ways.lead.hosts and row.text.endswith(":")))
        else 0.0
    ):
        for new in found:
            new.pay(said)  # what the words of a lead-in say is not to be passed over
    if ways.lead:
        found.append(_as_lead(state, row, ways.lead))
    if not found or ways.weight < 3.0 or row.mark == "long":
        passed = state.copy()
        passed.pay(ways.weight + (1.0 if ways.label and state.waiting else 0))
        passed.mark(row, "passed" if ways.weight < 0.5 else "not understood")
        found.append(passed)
    return found


def _as_columns(state: State, row: Row, columns: tuple[Column, ...]) -> State:
    new = state.copy()
    new.machine.close()
    new.machine.forget()
    _stop_waiting(new)
    new.columns = columns
    new.pay(-0.6 * len([title for title, _ in columns if title.roles[0] != "other"]))
    new.mark(row, "heading of a table")
    return new


def _as_reading(state: State, row: Row, reading: Reading, keep_columns: bool = False) -> State:
    new = state.copy()
    machine = new.machine
    pieces = _as_servers(reading.pieces, machine.around)
    many = len(pieces) > 1
    if reading.closes and reading.layout != "sentence" and {"type", "host"} & {piece.role for piece in pieces}:
        _end_row(machine)
    option, mood = machine.around.option, reading.mood or _mark(row)
    named = any(piece.role == "host" for piece in pieces)
    if reading.layout == "sentence" and (named or not machine.waits_for_value):
        machine.close()
        machine.forget()  # a sentence has no name of the record before it
    if reading.layout == "row" and reading.lost >= 1 and not any(piece.role == "type" for piece in pieces):
        machine.close()
        machine.forget()  # words that are no part of a record stand in it: it takes nothing from the row above
    if reading.layout == "sentence" and _conditional(row.text) and not option:
        machine.around = replace(machine.around, option="if")
    machine.put_all(pieces, mood)
    if reading.closes and reading.layout != "sentence":
        machine.close()
    if reading.layout == "sentence" and any(piece.role == "value" for piece in pieces):
        machine.close()
        machine.forget()  # the next sentence says its own name
    if machine.around.option != option:
        machine.close()
        machine.around = replace(machine.around, option=option)
    if not keep_columns and many:
        _stop_waiting(new)
    if reading.unsaid:
        new.machine.lose(row.line, reading.unsaid)
    new.pay(reading.lost)
    new.mark(row, reading.layout)
    return new


def _end_row(machine: Machine) -> None:
    """A row that is a record of its own: what was put together before it ends, and how that one began is forgotten."""
    machine.close()
    machine.hosts, machine.first = (), "type" if machine.around.types else ""


def _stop_waiting(state: State) -> None:
    """The fields named on lines of their own get no value any more; those that never had one were hardly names."""
    if state.waiting and state.turn == 0 and len(state.waiting) == 1:
        state.pay(2.0)
    state.waiting, state.turn = (), 0


def _conditional(text: str) -> bool:
    found = stems("IF").find(fold(text))
    return bool(found) and found[0][0] <= 3


def _mark(row: Row) -> Mood:
    return {"+": "want", "-": "delete", "struck": "delete", "comment": "example"}.get(row.mark, "")  # type: ignore[return-value]


def _as_servers(pieces: tuple[Piece, ...], around: Around) -> tuple[Piece, ...]:
    """Full names under a heading about nameservers, and names that can only be such."""
    parts = [piece for piece in pieces if piece.role != "end"]
    names = [piece for piece in parts if piece.role in ("value", "host") and is_fqdn(piece.text)]
    if not names:
        return pieces
    typed = [piece.text for piece in parts if piece.role == "type"]
    if typed == ["NS"] and _at_apex(parts, names):
        return tuple(replace(piece, role="nameserver") for piece in names if piece.role == "value")
    if len(names) != len(parts) or typed:
        return pieces
    if around.servers or all(_like_server(piece.text) for piece in names):
        return tuple(replace(piece, role="nameserver") for piece in names)
    return pieces


def _at_apex(parts: Sequence[Piece], names: Sequence[Piece]) -> bool:
    from homepath.core.page_reader.hosts import plain_host, stands_for_own

    hosts = [piece for piece in parts if piece.role == "host"]
    return all(plain_host(piece.text) == "@" or stands_for_own(piece.text) for piece in hosts)


def _like_server(text: str) -> bool:
    first = text.lower().split(".")[0]
    return (
        len(text.strip(".").split(".")) > 2
        and first.rstrip("0123456789-abcd").rstrip("-") in ("ns", "dns", "n")
        and first not in ("n", "dns")
    )


def _as_labelled(state: State, row: Row, named: Labelled) -> State:
    new = state.copy()
    pieces = named.pieces
    servers = any(piece.role == "nameserver" for piece in pieces)
    if not servers:
        pieces = _as_servers(pieces, replace(new.machine.around, servers=False))
    if row.kind == "card" and row.mark == "item":
        new.machine.close()
        new.machine.forget()
    if crossed := _mark(row):  # what is crossed out is this line, not the rest of its card
        pieces = tuple(replace(piece, mood=crossed) for piece in pieces)
    new.machine.put_all(pieces, named.mood)
    _stop_waiting(new)
    new.waiting = (named.waiting,) if named.waiting else ()
    if named.pieces:
        new.columns = None
    new.pay(named.lost)
    new.mark(row, "labels")
    return new


def _as_label(state: State, row: Row, title: Title) -> State:
    """The name of a field alone on its line: its value comes below; several in a row name the columns of a list."""
    new = state.copy()
    if new.waiting and new.turn == 0:
        new.waiting = (*new.waiting, title)
    else:
        new.waiting, new.turn = (title,), 0
    new.pay(-0.2)
    new.mark(row, "label")
    return new


def _as_awaited(state: State, row: Row) -> list[State]:
    """A line that is the value of a field named above: of the one next in turn, or of one after it, others empty."""
    found = []
    text = row.text
    for skip in range(min(2, len(state.waiting) - state.turn)):
        title = state.waiting[state.turn + skip]
        role = role_of(title, text)
        if role != "other" and not fits(role, text):
            continue
        if role == "host" and len(text.split()) > 3 and plain_host(text) is None:
            continue  # a sentence is no name
        new = state.copy()
        new.turn += skip + 1
        new.pay(0.8 * skip + (1.0 if new.rested and len(state.waiting) > 1 else 0.0))
        if role != "other":
            shown = value_text(text) if role == "value" else text
            words = len(text.split())
            sure = 2.0 if words == 1 or role in ("type", "ttl") else 1.4 if words < 4 else 0.8
            if title_of(text) or is_button(text):
                sure = -4.0  # the name of a field is hardly a field's value
            elif role == "value" and strength(shown) < 0:
                sure = 0.3 if words == 1 else -1.0
            new.machine.put(Piece(role, shown, row.line, title.mood, sure), _mark(row))
        elif is_button(text) or is_status(text):
            new.pay(0.1)
        if new.turn >= len(new.waiting):
            new.turn = 0
            if len(new.waiting) == 1:
                new.waiting = ()
            else:
                new.machine.close()
                new.machine.forget()
        new.rested = False
        new.mark(row, "value below its name")
        found.append(new)
    return found


def _as_rest(state: State, row: Row) -> State | None:
    """A line that only goes on with a value that was cut at the end of the line above."""
    old = state.machine
    if not old.values or " " in row.text or is_fqdn(row.text) or not old.lines or row.line != old.lines[-1] + 1:
        return None
    text, mood = old.values[-1]
    if not text.endswith(("-", "=", "_", ".")) or (text.endswith(".") and is_fqdn(text)):
        return None
    new = state.copy()
    machine = new.machine
    machine.values = (*old.values[:-1], (text + row.text, mood))
    machine.lines, machine.sure = (*old.lines, row.line), old.sure + 2.5
    machine.lose(row.line, f"it was taken as the rest of the value in line {old.lines[-1]}")
    new.mark(row, "value below its name")
    return new


def _as_lead(state: State, row: Row, lead: Lead) -> State:
    new = state.copy()
    machine = new.machine
    machine.close()
    machine.forget()
    around = machine.around
    if lead.both and lead.types and len(lead.types) == 1:
        give_type(machine, lead.types[0])
    if (lead.says_nothing or lead.mood in NOT_WANTED) and not lead.firm:
        new.mark(row, "words")
        return new
    if lead.firm or lead.heading:
        _stop_waiting(new)
        if not lead.says_nothing or lead.heading:
            new.columns = None
    machine.around = around_after(around, lead)
    new.mark(row, "words")
    return new
