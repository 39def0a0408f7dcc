"""What a record set is to be, and the one comparison that says whether a present one meets it."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.dns.names import Name
from homepath.core.dns.records import JOINED_TYPES, Key, RecordSet
from homepath.core.dns.values import meaning


@dataclass(frozen=True, slots=True)
class Meant:
    """One record set as it is to be. Without `values` nothing may stand there.

    Of a joined type the values must be among those there, which may be more; of every other type they are all
    (RFC 2181 section 5: a set is replaced as a whole). `without`: values of a joined set that must be gone from it.
    An `optional` set may be missing, but if it is there it must be this one.
    """

    name: Name
    type: str
    values: tuple[str, ...] = ()
    without: tuple[str, ...] = ()
    optional: bool = False

    @property
    def key(self) -> Key:
        return self.name, self.type

    @property
    def joined(self) -> bool:
        """Whether other values may stand beside the wanted ones."""
        return self.type in JOINED_TYPES and bool(self.values or self.without)

    @property
    def meanings(self) -> frozenset[str]:
        return frozenset(meaning(self.type, value) for value in self.values)

    def met_by(self, present: RecordSet | None) -> bool:
        """Whether `present` is as meant; None and a set without values both stand for a set that is not there."""
        there = present.meanings if present else frozenset()
        if not there:
            return self.optional or not self.values
        if not self.joined:
            return there == self.meanings
        return self.meanings <= there and not there & {meaning(self.type, value) for value in self.without}

    def lacking(self, present: RecordSet | None) -> tuple[str, ...]:
        """The wanted values that `present` does not give."""
        there = present.meanings if present else frozenset()
        return tuple(value for value in self.values if meaning(self.type, value) not in there)

    def unwanted(self, present: RecordSet | None) -> tuple[str, ...]:
        """The values of `present` that must go."""
        if present is None:
            return ()
        if self.joined:
            gone = {meaning(self.type, value) for value in self.without}
            return tuple(value for value in present.values if meaning(self.type, value) in gone)
        return tuple(value for value in present.values if meaning(self.type, value) not in self.meanings)
