"""Parts are put together to records, in whatever order they come: the machine that every layout feeds."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

from homepath.core.page_reader.hosts import plain_host
from homepath.core.page_reader.kinds import addresses, is_fqdn, is_usual_label, type_of
from homepath.core.page_reader.moods import Mood
from homepath.core.page_reader.pieces import Piece
from homepath.core.page_reader.telling import service_name, settled_type, strength, types_said, whole_value

BIT = {"type": 1, "host": 2, "value": 4}
"""The slots of a record, as bits of the set of those that are filled."""


@dataclass(frozen=True, slots=True)
class Told:
    """A record as the page tells it. `host` and `type` None where nothing says them. `why`: what makes it doubtful."""

    type: str | None
    host: str | None
    value: str
    ttl: str | None
    lines: tuple[int, ...]
    mood: Mood = ""
    option: str = ""
    why: tuple[str, ...] = ()
    group: int = 0
    bare: bool = False
    """Only the value tells its type, and its name may be any word."""
    zone: str = ""
    """The domain that a column or a heading says it is for."""


@dataclass(frozen=True, slots=True)
class Around:
    """What headings say of the records below them."""

    types: tuple[str, ...] = ()
    hosts: tuple[str, ...] = ()
    mood: Mood = ""
    option: str = ""
    servers: bool = False
    section: int = 0
    """A new one with every heading."""
    firm: bool = True


NOWHERE = Around()

Chain = tuple["Chain", Any] | None
"""A list that grows at its end and shares its beginning with others."""


def unrolled(chain: Chain) -> list[Any]:
    """The elements of a chain, oldest first."""
    found = []
    while chain is not None:
        chain, item = chain
        found.append(item)
    return found[::-1]


@dataclass(slots=True)
class Machine:
    """Puts parts together. The slots of the record that is open, what is around it, and what came of all before.

    `fresh`: the slots filled since the last record ended, the others are remembered from it; `first`: the slot with
    which records begin here. `told`, `servers`, `losses`: what was read; `score`: how much that explains; `digest`
    tells what was read apart from other readings. Copied where readings compete, so nothing in it changes in place.
    """

    types: tuple[str, ...] = ()
    hosts: tuple[str, ...] = ()
    values: tuple[tuple[str, Mood], ...] = ()
    extras: tuple[tuple[str, str], ...] = ()
    lines: tuple[int, ...] = ()
    mood: Mood = ""
    fresh: int = 0
    first: str = ""
    sure: float = 0.0
    around: Around = NOWHERE
    told: Chain = None
    servers: Chain = None
    losses: Chain = None
    score: float = 0.0
    digest: int = 0

    def copy(self) -> Machine:
        return Machine(
            self.types, self.hosts, self.values, self.extras, self.lines, self.mood, self.fresh, self.first, self.sure,
            self.around, self.told, self.servers, self.losses, self.score, self.digest,
        )  # fmt: skip

    @property
    def key(self) -> object:
        """What decides how later rows are read: two machines with the same key go on alike."""
        return (
            self.digest, self.types, self.hosts, self.values, self.extras, self.mood, self.fresh, self.first,
            self.around,
        )  # fmt: skip

    @property
    def waits_for_value(self) -> bool:
        """A type or a name was put, and its value is still to come."""
        return bool(self.fresh) and not self.values

    def forget(self) -> None:
        """The open record is left, and nothing is remembered of the one before."""
        self._clear()
        self.types, self.hosts, self.first = (), (), ""

    def leave_host(self) -> None:
        """The name that was put last was none."""
        self._clear()
        self.hosts = ()

    def _clear(self) -> None:
        self.values, self.extras, self.lines, self.mood, self.fresh, self.sure = (), (), (), "", 0, 0.0

    def put_all(self, pieces: Iterable[Piece], mood: Mood = "") -> None:
        for piece in pieces:
            self.put(piece, mood)

    def put(self, piece: Piece, mood: Mood = "") -> None:
        """One more part. A slot that is full already ends the record before it."""
        role = piece.role
        if role == "end":
            if self.values:
                self.close()
        elif role == "or":
            self.close()
            self._alternative()
        elif role == "nameserver":
            self._server(piece, mood)
        else:
            self.mood = mood or self.mood
            if role == "type":
                self._type(piece)
            elif role == "host":
                self._host(piece)
            elif role == "value":
                self._value(piece)
            else:
                self._extra(piece)

    def _server(self, piece: Piece, mood: Mood) -> None:
        server = (piece.text, piece.mood or mood or self.around.mood, piece.line, self.around.option)
        self.servers = (self.servers, server)
        self.score += 1.5 * piece.sure + 1.5
        self.digest = hash((self.digest, server))

    def _alternative(self) -> None:
        """`or` inside a sentence: the record before it and the one behind it are two ways of one thing."""
        mark = self.around.option
        stem = mark.rpartition("/")[0] if "/" in mark else mark
        number = int(mark.rpartition("/")[2]) if "/" in mark else 1
        if self.told is not None and "/" not in mark:
            chain, last = self.told
            self.told = chain
            self.tell(replace(last, option=f"{stem}/1"))
        self.around = replace(self.around, option=f"{stem}/{number + 1}")

    def _begin(self, slot: str, line: int) -> None:
        """A slot is about to be filled: whether that begins a new record, and what is remembered of the last one."""
        if self.fresh & BIT[slot] and self.values:
            self.close()
        if not self.fresh and slot == (self.first or slot):
            self.types = self.types if slot == "host" and self.first != "host" else ()
            self.hosts = self.hosts if slot == "value" else ()
            before = self.extras, self.lines, self.sure
            self._clear()
            if before[0] and all(role != "ttl" for role, _ in before[0]):
                self.extras, self.lines, self.sure = before  # a priority may stand before all else
        self.first = self.first or slot
        self._line(line)

    def _line(self, line: int) -> None:
        if line not in self.lines:
            self.lines = (*self.lines, line)

    def _type(self, piece: Piece) -> None:
        rrtype = type_of(piece.text) or piece.text
        if self.fresh & BIT["type"] and not self.values:
            together = {rrtype, *self.types} <= {"A", "AAAA"} or piece.joined
            if not together and rrtype not in self.types:
                self.lose(piece.line, f"{'/'.join(self.types)} without a value", 2.0)
                self.types = ()
            self.types = tuple(dict.fromkeys((*self.types, rrtype)))
            self.sure += 0.3
            return
        self._begin("type", piece.line)
        self.types = (rrtype,)
        self._filled("type", piece)

    def _host(self, piece: Piece) -> None:
        if self.fresh & BIT["host"] and not self.values:
            if plain_host(piece.text) in map(plain_host, self.hosts):
                return
            if piece.joined:
                self.hosts = (*self.hosts, piece.text)
                self.sure += 0.3
                return
            self.lose(piece.line, f"the name {self.hosts[-1]} without a value", 1.0)
            self.hosts = ()
        self._begin("host", piece.line)
        self.hosts = (piece.text,)
        self._filled("host", piece)

    def _value(self, piece: Piece) -> None:
        if self.values and self.fresh & BIT["value"]:
            others = self.fresh & (BIT["type"] | BIT["host"])
            if self.first == "value" and others and not piece.joined and piece.sure < 2:
                self.close()
                self._begin("value", piece.line)
            self.values = (*self.values, (piece.text, piece.mood))
            self._filled("value", piece)
            return
        self._begin("value", piece.line)
        self.values = ((piece.text, piece.mood),)
        self._filled("value", piece)

    def _extra(self, piece: Piece) -> None:
        if self.values and any(role == piece.role for role, _ in self.extras):
            self.close()
        if not self.fresh and self.told is not None and not self.values and piece.role == "ttl":
            return  # a time behind a record that ended with its row
        self.extras = (*self.extras, (piece.role, piece.text))
        self.sure += piece.sure * 0.5
        self._line(piece.line)

    def _filled(self, slot: str, piece: Piece) -> None:
        self.fresh |= BIT[slot]
        self.sure += piece.sure
        self._line(piece.line)

    def lose(self, line: int, what: str, weight: float = 0.0) -> None:
        """Something that looked like a part of a record came to nothing, or can be doubted."""
        self.losses = (self.losses, (line, what))
        self.score -= weight

    def tell(self, told: Told) -> None:
        self.told = (self.told, told)
        self.digest = hash((self.digest, told))

    def close(self) -> None:
        """The record ends: it is told if it has a value, else its parts are lost."""
        if self.values:
            self.score += self.sure
            for text, mood in self.values:
                for value in addresses(text) or (text,):
                    self.score += self._gain(value)
                    for told in self._records(value, mood):
                        self.tell(told)
        elif self.fresh & BIT["type"] and self.fresh != BIT["type"]:
            self.lose(self.lines[-1], f"{'/'.join(self.types)} without a value", 2.0)
        elif self.fresh:
            self.score -= 1.2
        self._clear()

    def prospect(self) -> float:
        """The score if the open record ended here."""
        if not self.values:
            return self.score + self.sure
        return self.score + self.sure + self._gain(self.values[-1][0]) * len(self.values)

    def _types_said(self, value: str) -> tuple[tuple[str, ...], float]:
        """The types that can be meant, and how well that is said; a form with a field for the service means SRV."""
        by_form = not self.types and {"service", "protocol"} <= {role for role, _ in self.extras}
        around = ("SRV",) if by_form else self.around.types
        return types_said(self.types, bool(self.fresh & BIT["type"]), around, value)

    def _gain(self, value: str) -> float:
        types, gain = self._types_said(value)
        if self.fresh & BIT["host"]:
            gain += 1.0
        else:
            gain += 0.2 if self.hosts or self.around.hosts else -1.5
        return gain - 4.0 * len(settled_type(types, value)[1]) + strength(value)

    def _records(self, value: str, mood: Mood) -> list[Told]:
        around = self.around
        types, _ = self._types_said(value)
        extras = dict(reversed(self.extras))
        rrtype, why = settled_type(types, value)
        zone = extras.get("zone", "") or next((host for host in around.hosts if is_fqdn(host)), "")
        hosts = self.hosts or around.hosts or (None,)
        if rrtype == "SRV" and extras.keys() >= {"service", "protocol"}:
            hosts = tuple(service_name(extras["service"], extras["protocol"], host) for host in hosts)
        said_here = bool(self.fresh & BIT["type"]) or bool(around.types) or bool(types and types != self.types)
        full, said = whole_value(rrtype, value, extras), mood or self.mood or around.mood
        if said == "keep" == around.mood and around.types and rrtype not in around.types and not (mood or self.mood):
            said = ""  # `Leave your MX records` says nothing of an A record
        return [
            Told(
                rrtype, host, full, extras.get("ttl"), self.lines, said, around.option, why, around.section,
                not said_here and host is not None and not is_usual_label(host), zone,
            )
            for host in hosts
        ]  # fmt: skip
