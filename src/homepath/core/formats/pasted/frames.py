"""Parts are put together to records, in whatever order they come: the machine that every layout feeds."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from typing import Any

from homepath.core.formats.pasted.hosts import plain_host
from homepath.core.formats.pasted.kinds import addresses, is_fqdn, is_textlike, special_type, type_of
from homepath.core.formats.pasted.moods import Mood
from homepath.core.formats.pasted.pieces import Piece

SLOTS = ("type", "host", "value")


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


@dataclass(frozen=True, slots=True)
class Frame:
    """The record that is being put together. `fresh`: the slots filled since the last record ended; the others are
    remembered from it. `first`: the slot with which records begin here."""

    types: tuple[str, ...] = ()
    hosts: tuple[str, ...] = ()
    values: tuple[tuple[str, Mood], ...] = ()
    extras: tuple[tuple[str, str], ...] = ()
    lines: tuple[int, ...] = ()
    mood: Mood = ""
    fresh: frozenset[str] = frozenset()
    first: str = ""
    sure: float = 0.0


Chain = tuple["Chain", Any] | None
"""A list that grows at its end and shares its beginning with other lists."""


def unrolled(chain: Chain) -> list[Any]:
    """The elements of a chain, oldest first."""
    found = []
    while chain is not None:
        chain, item = chain
        found.append(item)
    return found[::-1]


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a machine has made so far: records, servers, losses, and the score. `digest` tells outcomes apart."""

    told: Chain = None
    servers: Chain = None
    losses: Chain = None
    score: float = 0.0
    digest: int = 0

    def with_told(self, told: Told) -> Outcome:
        return replace(self, told=(self.told, told), digest=hash((self.digest, told)))


@dataclass(slots=True)
class Machine:
    """A frame, what is around it, and the outcome; copied where readings compete."""

    frame: Frame = field(default_factory=Frame)
    around: Around = field(default_factory=Around)
    out: Outcome = field(default_factory=Outcome)

    def copy(self) -> Machine:
        return Machine(self.frame, self.around, self.out)

    def put_all(self, pieces: Iterable[Piece], mood: Mood = "") -> None:
        for piece in pieces:
            self.put(piece, mood)

    def put(self, piece: Piece, mood: Mood = "") -> None:
        """One more part. A slot that is full already ends the record before it."""
        role = piece.role
        if role == "end":
            if self.frame.values:
                self.close()
            return
        if role == "or":
            self.close()
            self._alternative()
            return
        if role == "nameserver":
            said = piece.mood or mood or self.around.mood
            server = (piece.text, said, piece.line, self.around.option)
            gained = self.out.score + 1.5 * piece.sure + 1.5
            digest = hash((self.out.digest, server))
            self.out = replace(self.out, servers=(self.out.servers, server), score=gained, digest=digest)
            return
        if mood:
            self.frame = replace(self.frame, mood=mood)
        if role == "type":
            self._type(piece)
        elif role == "host":
            self._host(piece)
        elif role == "value":
            self._value(piece)
        else:
            self._extra(piece)

    def _alternative(self) -> None:
        """`or` inside a sentence: the record before it and the one behind it are two ways of one thing."""
        mark = self.around.option
        stem = mark.rpartition("/")[0] if "/" in mark else mark
        number = int(mark.rpartition("/")[2]) if "/" in mark else 1
        if self.out.told is not None and "/" not in mark:
            chain, last = self.out.told
            self.out = replace(self.out, told=chain).with_told(replace(last, option=f"{stem}/1"))
        self.around = replace(self.around, option=f"{stem}/{number + 1}")

    def _begin(self, slot: str, line: int) -> None:
        """A slot is about to be filled: whether that begins a new record."""
        frame = self.frame
        if slot in frame.fresh and frame.values:
            self.close()
        frame = self.frame
        if not frame.fresh and slot == (frame.first or slot):
            kept = () if slot == "host" or frame.first == slot == "type" else frame.hosts
            types = frame.types if slot == "host" and frame.first != "host" else ()
            self.frame = Frame(
                types=types if slot != "type" else (), hosts=kept if slot == "value" else (), first=frame.first
            )
        if not self.frame.first:
            self.frame = replace(self.frame, first=slot)
        if line not in self.frame.lines:
            self.frame = replace(self.frame, lines=(*self.frame.lines, line))

    def _type(self, piece: Piece) -> None:
        rrtype = type_of(piece.text) or piece.text
        if "type" in self.frame.fresh and not self.frame.values:
            together = {rrtype, *self.frame.types} <= {"A", "AAAA"} or piece.joined
            if not together and rrtype not in self.frame.types:
                self._lose(piece.line, f"{'/'.join(self.frame.types)} without a value", 2.0)
                self.frame = replace(self.frame, types=())
            self.frame = replace(self.frame, types=tuple(dict.fromkeys((*self.frame.types, rrtype))))
            self._fresh("type", piece, again=True)
            return
        self._begin("type", piece.line)
        self.frame = replace(self.frame, types=(rrtype,))
        self._fresh("type", piece)

    def _host(self, piece: Piece) -> None:
        if "host" in self.frame.fresh and not self.frame.values:
            if plain_host(piece.text) in map(plain_host, self.frame.hosts):
                return
            if piece.joined:
                self.frame = replace(self.frame, hosts=tuple(dict.fromkeys((*self.frame.hosts, piece.text))))
                self._fresh("host", piece, again=True)
                return
            self._lose(piece.line, f"the name {self.frame.hosts[-1]} without a value", 1.0)
            self.frame = replace(self.frame, hosts=())
        self._begin("host", piece.line)
        self.frame = replace(self.frame, hosts=(piece.text,))
        self._fresh("host", piece)

    def _value(self, piece: Piece) -> None:
        frame = self.frame
        if frame.values and "value" in frame.fresh:
            if frame.first == "value" and {"type", "host"} & frame.fresh and not piece.joined and piece.sure < 2:
                self.close()
                self._begin("value", piece.line)
            self.frame = replace(
                self.frame,
                values=(*self.frame.values, (piece.text, piece.mood)),
                lines=tuple(dict.fromkeys((*self.frame.lines, piece.line))),
                sure=self.frame.sure + piece.sure,
            )
            return
        self._begin("value", piece.line)
        self.frame = replace(self.frame, values=((piece.text, piece.mood),))
        self._fresh("value", piece)

    def _extra(self, piece: Piece) -> None:
        if dict(self.frame.extras).get(piece.role) is not None and self.frame.values:
            self.close()
        frame = self.frame
        if not frame.fresh and self.out.told is not None and not frame.values and piece.role == "ttl":
            return  # a time behind a record that ended with its row
        self.frame = replace(
            frame,
            extras=(*frame.extras, (piece.role, piece.text)),
            lines=tuple(dict.fromkeys((*frame.lines, piece.line))),
            sure=frame.sure + piece.sure * 0.5,
        )

    def _fresh(self, slot: str, piece: Piece, again: bool = False) -> None:
        frame = self.frame
        self.frame = replace(
            frame,
            fresh=frame.fresh | {slot},
            sure=frame.sure + (piece.sure if not again else 0.3),
            lines=tuple(dict.fromkeys((*frame.lines, piece.line))),
        )

    def _lose(self, line: int, what: str, weight: float) -> None:
        self.out = replace(self.out, losses=(self.out.losses, (line, what)), score=self.out.score - weight)

    def close(self) -> None:
        """The record ends: it is told if it has a value, else its parts are lost."""
        frame = self.frame
        if frame.values:
            self._emit(frame)
        elif "type" in frame.fresh and frame.fresh - {"type"}:
            self._lose(frame.lines[-1], f"{'/'.join(frame.types)} without a value", 2.0)
        self.frame = Frame(types=frame.types, hosts=frame.hosts, first=frame.first)

    def prospect(self) -> float:
        """The score if the open record ended here."""
        frame = self.frame
        if not frame.values:
            return self.out.score + frame.sure
        text, mood = frame.values[-1]
        return self.out.score + frame.sure + self._records(frame, text, mood)[1] * len(frame.values)

    def _emit(self, frame: Frame) -> None:
        score = self.out.score + frame.sure
        for text, mood in frame.values:
            for value in addresses(text) or (text,):
                made, gain = self._records(frame, value, mood)
                score += gain
                for told in made:
                    self.out = self.out.with_told(told)
        self.out = replace(self.out, score=score)

    def _records(self, frame: Frame, value: str, mood: Mood) -> tuple[list[Told], float]:
        around = self.around
        said = mood or frame.mood or around.mood
        types, gain = _types(frame, around, value)
        hosts = frame.hosts or around.hosts
        if "host" in frame.fresh:
            gain += 1.0
        elif hosts:
            gain += 0.2
        else:
            gain -= 1.5
        extras = dict(reversed(frame.extras))
        rrtype, why = _settled(types, value)
        gain -= 2.0 * len(why)
        full = _whole_value(rrtype, value, extras)
        made = [
            Told(rrtype, host, full, extras.get("ttl"), frame.lines, said, around.option, why, around.section)
            for host in (hosts or (None,))
        ]
        return made, gain + strength(value)


def strength(value: str) -> float:
    """How much a text looks like a value at all."""
    if addresses(value) or special_type(value):
        return 2.0
    return 1.5 if is_fqdn(value) or is_textlike(value) else -1.0


def _types(frame: Frame, around: Around, value: str) -> tuple[tuple[str, ...], float]:
    if "type" in frame.fresh:
        return frame.types, 1.0
    own = _type_by_value(value)
    if frame.types:
        fits = own is None or own in frame.types
        return (frame.types, 0.4) if fits else ((own,) if own else (), -0.5)
    if around.types:
        return around.types, 0.6
    return (), 0.3 if own else -2.5


def _type_by_value(value: str) -> str | None:
    found = addresses(value)
    if found:
        return "AAAA" if ":" in found[0] else "A"
    return special_type(value)


def _settled(types: tuple[str, ...], value: str) -> tuple[str | None, tuple[str, ...]]:
    """The type of a value, and what is wrong between them."""
    own = _type_by_value(value)
    if own in ("A", "AAAA"):
        if not types or own in types:
            return own, ()
        if types == ("TXT",):
            return "TXT", ()
        return own, (f"{value} is no value of a record of type {'/'.join(types)}",)
    if not types:
        return own, ()
    if own and own in types:
        return own, ()
    if len(types) > 1:
        fitting = [each for each in types if each not in ("A", "AAAA") and (each != "CNAME" or is_fqdn(value))]
        fitting = [each for each in fitting if each != "TXT" or not is_fqdn(value)]
        if len(fitting) == 1:
            return fitting[0], ()
        return None, (f"the type of {value} cannot be told: {' or '.join(types)}",)
    rrtype = types[0]
    if rrtype in ("A", "AAAA"):
        return rrtype, (f"{value} is not an address",)
    if own and own != rrtype and own != "TXT":
        return own, (f"{value} is no value of a record of type {rrtype}",)
    if rrtype in ("CNAME", "NS", "ALIAS") and not is_fqdn(value) and plain_host(value) != "@":
        return rrtype, (f"{value} is not a full host name",)
    if rrtype == "TXT" and is_fqdn(value) and not is_textlike(value):
        return rrtype, ()
    return rrtype, ()


def _whole_value(rrtype: str | None, value: str, extras: dict[str, str]) -> str:
    """The value with the numbers that a form keeps in fields of their own."""
    parts = value.split()
    if rrtype == "MX" and "priority" in extras and len(parts) == 1:
        return f"{int(extras['priority'])} {value}"
    if rrtype == "SRV" and len(parts) < 4:
        front = [extras[name] for name in ("priority", "weight", "port") if name in extras]
        return " ".join([*front[: 4 - len(parts)], value])
    if rrtype == "CAA" and len(parts) == 1 and "tag" in extras:
        return f'{extras.get("flag", "0")} {extras["tag"]} "{value}"'
    if rrtype == "HTTPS" and "priority" in extras and parts and not parts[0].isdigit():
        return f"{extras['priority']} {value}"
    return value
