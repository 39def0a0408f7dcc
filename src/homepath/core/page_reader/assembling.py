"""Parts are put together to records, in whatever order they come: every layout feeds the one assembler."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace

from homepath.core.message import Text, msg
from homepath.core.page_reader.hosts import plain_host, several_hosts
from homepath.core.page_reader.kinds import RECORD_TYPES, addresses, is_fqdn, is_usual_label, type_by_value, type_of
from homepath.core.page_reader.moods import NOT_WANTED, Mood
from homepath.core.page_reader.pieces import Piece
from homepath.core.page_reader.record_values import service_name, settled_type, whole_value


@dataclass(frozen=True, slots=True)
class RawRecord:
    """A record as the page tells it. `host` and `type` None where nothing says them. `trouble`: what its type and its
    value have against each other; `bare`: only the value tells its type, and its name may be any word; `zone`: the
    domain that a column or a heading says it is for; `heading`: the words of the heading over it."""

    type: str | None
    host: str | None
    value: str
    ttl: str | None
    lines: tuple[int, ...]
    mood: Mood = ""
    option: str = ""
    trouble: Text = ""
    section: int = 0
    bare: bool = False
    zone: str = ""
    heading: str = ""


@dataclass(frozen=True, slots=True)
class Around:
    """What headings say of the records below them. `section`: a new one with every heading; `words`: those of it;
    `whole`: one heading named both type and host; `about`: the types named where the mood was said."""

    types: tuple[str, ...] = ()
    hosts: tuple[str, ...] = ()
    mood: Mood = ""
    option: str = ""
    servers: bool = False
    section: int = 0
    firm: bool = True
    words: str = ""
    whole: bool = False
    about: tuple[str, ...] = ()


@dataclass(slots=True)
class Assembler:
    """The slots of the record that is open, what is around it, and what came of all before.

    `fresh`: the slots filled since the last record ended, the others are remembered from it; `first`: the slot with
    which records begin here, `last`: the one filled last; `numbered`: its priority came behind its value. `servers`:
    name, mood, line, option; `losses`: what looked like a part of a record and came to nothing, by line; `idle`: lines
    with a name alone.
    """

    types: tuple[str, ...] = ()
    hosts: tuple[str, ...] = ()
    values: list[tuple[str, Mood]] = field(default_factory=list)
    extras: list[tuple[str, str]] = field(default_factory=list)
    lines: tuple[int, ...] = ()
    mood: Mood = ""
    fresh: set[str] = field(default_factory=set)
    numbered: bool = False
    first: str = ""
    last: str = ""
    around: Around = field(default_factory=Around)
    records: list[RawRecord] = field(default_factory=list)
    servers: list[tuple[str, Mood, int, str]] = field(default_factory=list)
    losses: list[tuple[int, Text]] = field(default_factory=list)
    idle: list[int] = field(default_factory=list)

    @property
    def waits_for_value(self) -> bool:
        """A type or a name was put, and its value is still to come."""
        return bool(self.fresh) and not self.values

    def forget(self) -> None:
        """The open record ends, and nothing is remembered of it."""
        self.close()
        self.types, self.hosts, self.first = (), (), ""

    def end_row(self) -> None:
        """A row that is a whole record: the record before it ends."""
        self.close()
        self.hosts, self.first = (), "type" if self.around.types else ""

    def leave_host(self) -> None:
        """The name that was put last was none."""
        self._clear()
        self.hosts = ()

    def _clear(self) -> None:
        self.values, self.extras, self.lines, self.mood, self.fresh = [], [], (), "", set()
        self.numbered = False

    def put_all(self, pieces: Iterable[Piece], mood: Mood = "") -> None:
        """The parts of one row, in their order."""
        for piece in pieces:
            self.put(piece, mood)

    def put(self, piece: Piece, mood: Mood = "") -> None:
        """One more part. A slot that is full already ends the record before it."""
        if piece.role == "end":
            if self.values:
                asked = any((mood or self.mood or self.around.mood) not in NOT_WANTED for _, mood in self.values)
                self.close()
                self.hosts = () if asked else self.hosts  # the next sentence says its own name, or `it should be ...`
            elif self.fresh == {"host"} and is_usual_label(self.hosts[-1]):
                beside = any(piece.line in each.lines for each in self.records)
                if beside and all(each.host != self.hosts[-1] for each in self.records):
                    self.lose(piece.line, msg("page.part.name", what=self.hosts[-1]))
                self.leave_host()
        elif piece.role == "or":
            self.close()
            self._alternative()
        elif piece.role == "mood":
            self.mood = piece.mood
        elif piece.role == "nameserver":
            own_mood = piece.mood or mood or self.around.mood
            self.servers.append((piece.text, own_mood, piece.line, self.around.option))
        elif piece.role == "host" and len(hosts := several_hosts(piece.text)) > 1:
            for number, host in enumerate(hosts):
                self.put(replace(piece, text=host, joined=number > 0 or piece.joined), mood)
        else:
            self.mood = mood or self.mood
            {"type": self._type, "host": self._host, "value": self._value}.get(piece.role, self._extra)(piece)

    def _alternative(self) -> None:
        """`or` inside a sentence: the records before and after it are alternatives."""
        stem, _, number = self.around.option.partition("/")
        if self.records and not number:
            self.records[-1] = replace(self.records[-1], option=f"{stem}/1")
        self.around = replace(self.around, option=f"{stem}/{int(number or 1) + 1}")

    def _begin(self, slot: str) -> None:
        """A slot is about to be filled: whether that begins a new record, and what is remembered of the last one."""
        if slot in self.fresh and self.values:
            self.close()
        if not self.fresh and slot == (self.first or slot):
            self.types = self.types if slot == "host" and self.first != "host" else ()
            self.hosts = self.hosts if slot == "value" else ()
            extras, lines = self.extras, self.lines
            self._clear()
            if extras and all(role != "ttl" for role, _ in extras):
                self.extras, self.lines = extras, lines  # a priority may come before everything else
        self.first = self.first or slot

    def _filled(self, slot: str, line: int) -> None:
        self.fresh.add(slot)
        self.last = slot
        if line not in self.lines:
            self.lines = (*self.lines, line)

    def _type(self, piece: Piece) -> None:
        rrtype = type_of(piece.text) or piece.text
        if "type" in self.fresh and not self.values:
            together = {rrtype, *self.types} <= {"A", "AAAA"} or piece.joined
            if not together and rrtype not in self.types:
                self.lose(piece.line, msg("page.part.no-value", what="/".join(self.types)))
                self.types = ()
            self.types = tuple(dict.fromkeys((*self.types, rrtype)))
            return
        if self.values and type_by_value(self.values[-1][0]) in ("A", "AAAA") and rrtype not in ("A", "AAAA"):
            self.close()  # an address is of no other type: it begins the next record
        self._begin("type")
        self.types = (rrtype,)
        self._filled("type", piece.line)

    def _host(self, piece: Piece) -> None:
        if "host" in self.fresh and piece.joined and (not self.values or self.last == "host"):
            known = plain_host(piece.text) in map(plain_host, self.hosts)
            self.hosts = self.hosts if known else (*self.hosts, piece.text)
            return
        if "host" in self.fresh and not self.values:
            if plain_host(piece.text) in map(plain_host, self.hosts):
                return
            if is_usual_label(self.hosts[-1]) and not (
                piece.text == "@" or self.hosts[-1].startswith(f"{piece.text}.")
            ):
                self.lose(piece.line, msg("page.part.name", what=self.hosts[-1]))
        self._begin("host")
        self.hosts = (piece.text,)
        self._filled("host", piece.line)

    def _value(self, piece: Piece) -> None:
        if self.values and self.numbered:
            self.close()  # `mx1 with priority 10, and mx2 with priority 20`
        if not self.values:
            self._begin("value")
        elif self.first == "value" and self.fresh & {"type", "host"} and not piece.joined and not piece.named:
            self.close()
            self._begin("value")
        self.values.append((piece.text, piece.mood))
        self._filled("value", piece.line)

    def _extra(self, piece: Piece) -> None:
        if piece.role == "params" and self.extras and self.extras[-1][0] == "params":
            self.extras[-1] = ("params", f"{self.extras[-1][1]} {piece.text}")
            return
        if self.values and any(role == piece.role for role, _ in self.extras):
            self.close()
        if not self.fresh and self.records and not self.values and piece.role == "ttl":
            return  # a time behind a record that ended with its row
        self.extras.append((piece.role, piece.text))
        self.numbered = bool(self.values) and piece.role == "priority"
        if piece.line not in self.lines:
            self.lines = (*self.lines, piece.line)

    def lose(self, line: int, what: Text) -> None:
        """Something that looked like a part of a record came to nothing, or can be doubted."""
        self.losses.append((line, what))

    def repeat(self, names: Sequence[str], line: int) -> None:
        """The record just named, for other names, too."""
        self.close()
        last = self.records[-1:]
        same = [each for each in self.records if last and replace(each, value="") == replace(last[0], value="")]
        self.records += [replace(each, host=name, lines=(*each.lines, line)) for name in names for each in same]

    def give_type(self, rrtype: str) -> None:
        """`Both are CNAME records`, said behind the records: those of the section without a type get it."""
        for at, each in enumerate(self.records):
            if each.section == self.around.section and each.type is None:
                self.records[at] = replace(each, type=rrtype)

    def close(self) -> None:
        """The record ends: it counts if it has a value; otherwise its parts are listed as losses."""
        if self.values:
            one_is_new = len(self.lines) > 1 and len({mood for _, mood in self.values} & {"", "want"}) == 2
            for text, mood in self.values:
                mood = "unsure" if one_is_new and not mood else mood  # `New value: a`, `Foo value: b`
                for value in addresses(text) or (text,):
                    self.records += self._records(value, mood)
        elif "type" in self.fresh and (len(self.fresh) > 1 or not {*self.types} <= {*RECORD_TYPES}):
            self.lose(self.lines[-1], msg("page.part.no-value", what="/".join(self.types)))
        self._clear()

    def types_for(self, value: str) -> tuple[str, ...]:
        """The types that can be meant. A form with a field for the service means SRV."""
        if "type" in self.fresh:
            return self.types
        own = type_by_value(value)
        if self.types:
            return self.types if own is None or own in self.types else (own,)
        by_form = {"service", "protocol"} <= {role for role, _ in self.extras}
        return ("SRV",) if by_form else self.around.types

    def _records(self, value: str, mood: Mood) -> list[RawRecord]:
        around, extras, types = self.around, dict(reversed(self.extras)), self.types_for(value)
        rrtype, trouble = settled_type(types, value, "type" in self.fresh)
        zone = extras.get("zone", "") or next((host for host in around.hosts if is_fqdn(host)), "")
        other = "type" in self.fresh and around.whole and not set(self.types) & set(around.types)
        hosts: tuple[str | None, ...] = self.hosts or (() if other else around.hosts) or (None,)
        if not types and hosts == (None,) and rrtype is None:
            self.idle += self.lines
            return []  # a name alone, without anything about it
        if rrtype == "SRV" and extras.keys() >= {"service", "protocol"}:
            hosts = tuple(service_name(extras["service"], extras["protocol"], host) for host in hosts)
        said_here = "type" in self.fresh or bool(around.types) or bool(types and types != self.types)
        full, own_mood = whole_value(rrtype, value, extras), mood or self.mood or around.mood
        if not (mood or self.mood) and around.types and rrtype not in around.types and around.mood in NOT_WANTED:
            # `Leave your MX records` says nothing of an A record; `Delete the A record` may not mean an alias below it
            own_mood = "" if around.mood == "keep" else "unsure"
        return [
            RawRecord(
                rrtype, host, full, extras.get("ttl"), self.lines, own_mood, around.option, trouble, around.section,
                not said_here and host is not None and not is_usual_label(host), zone,
                around.words,
            )
            for host in hosts
        ]  # fmt: skip
