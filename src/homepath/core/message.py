"""A message: a code of the catalogue in `wording`, and its arguments."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import TypeAlias

Value: TypeAlias = "str | int | float | Message | tuple[str | Message, ...] | None"


@dataclass(frozen=True, slots=True)
class Message:
    """`code` names the sentence, `args` what it is about, in the order of their first use. Only `wording` makes text of
    it, so that nothing can depend on how it is put."""

    code: str
    args: tuple[tuple[str, Value], ...] = ()

    def __format__(self, spec: str) -> str:
        raise TypeError(f"{self.code} is not a text yet: say() it first")


Text: TypeAlias = Message | str
"""A message of ours, or the words of someone else (a brief, a server, a person), which are shown as they came."""


def msg(code: str, /, **args: Value) -> Message:
    """The message of that code. `None` and `""` as an argument leave its place empty."""
    return Message(code, tuple(args.items()))


def reason(error: Exception) -> Text:
    """What an exception says: the message or words that it was raised with."""
    first = error.args[0] if error.args else ""
    return first if isinstance(first, Message | str) else str(error)


def messages(parts: Iterable[Text], code: str = "sentences") -> Text:
    """Several messages one after the other, as sentences (or as `code` says); empty where there are none."""
    some = tuple(part for part in parts if part)
    return some[0] if len(some) == 1 else Message(code, (("parts", some),)) if some else ""


def records_named(keys: Iterable[tuple[str, str]], most: int = 1000) -> Message:
    """Record sets by type and name, the first `most` of them, and how many more there are."""
    every = list(dict.fromkeys(keys))
    named = tuple(msg("record-at", type=rrtype, name=name) for name, rrtype in every[:most])
    return msg("records-named", records=named, more=len(every) - most)
