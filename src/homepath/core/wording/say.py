"""Sentences out of messages: the one place where a code and its arguments become English.

A template of the catalogue names its arguments in braces, with a word for how each is shown: `{name:name}` without the
final dot, `{wait:lasting}` as a length of time, `{count:many record|records}` with its noun. Several values are joined
by commas, or by what the word says (`and`, `semicolon`, `space`); `{detail:opt  (|)}` puts brackets
round what is there.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import cache
from string import Formatter
from typing import Any

from homepath.core.dns.answers import Trouble, of_trouble
from homepath.core.dns.names import shown
from homepath.core.message import Message, Text
from homepath.core.wording.catalogue import SENTENCES
from homepath.core.wording.times import anded, clock_words, lasting, many, sentence_start, utc_words

_JOINTS = {"semicolon": "; ", "space": " ", "sentences": " ", "clauses": "; "}


FORGIVING = True
"""Tests turn it off, so that no argument of the wrong kind goes unnoticed."""


def say(message: Text) -> str:
    """The text of a message; the words of others stay as they are.

    A code that the catalogue does not have (of a journal that another version wrote) is shown with its arguments.
    """
    if isinstance(message, str):
        return message
    args = dict(message.args)
    template = SENTENCES.get(message.code)
    try:
        return _unknown(message) if template is None else "".join(_parts(template, args))
    except (KeyError, TypeError, ValueError, AttributeError, ArithmeticError):
        if not FORGIVING:
            raise
        return _unknown(message)


def _unknown(message: Message) -> str:
    given = ", ".join(say(value) if isinstance(value, Message) else str(value) for _, value in message.args if value)
    return f"{message.code} ({given})" if given else message.code


def _parts(template: str, args: Mapping[str, Any]) -> list[str]:
    found: list[str] = []
    for literal, field, spec in _parsed(template):
        ended = bool(found) and found[-1].endswith(".") and (literal == "." or literal.startswith(". "))
        found.append(literal[1:] if ended else literal)  # a host name's own final dot ends the sentence too
        if field is not None:
            found.append(_shown(args[field], spec))
    return found


@cache
def _parsed(template: str) -> tuple[tuple[str, str | None, str], ...]:
    return tuple((literal, field, spec or "") for literal, field, spec, _ in Formatter().parse(template))


def fields(code: str) -> set[str]:
    """The arguments that the sentence of a code shows."""
    return {field for _, field, _ in _parsed(SENTENCES[code]) if field is not None}


def _shown(value: Any, spec: str) -> str:
    """One argument, as the words after its colon say."""
    how, _, rest = spec.partition(" ")
    if how == "opt":
        before, _, after = rest.partition("|")
        return f"{before}{_shown(value, '')}{after}" if value else ""
    if how == "or":
        return _shown(value, "") if value else rest
    if how == "many":
        one, _, more = rest.partition("|")
        return many(value, one, more)
    if how == "start":
        return sentence_start(_shown(value, rest))
    if isinstance(value, tuple) or rest or how in ("and", *_JOINTS):
        value = value if isinstance(value, tuple) else (value,)
        parts = [shown(part) if how == "name" else say(part) for part in value]
        joint = rest or how
        return anded(parts) if joint == "and" else _JOINTS.get(joint, ", ").join(parts)
    return _AS[how](value) if how else "" if value is None else say(value if isinstance(value, Message) else str(value))


_AS: Mapping[str, Callable[[Any], str]] = {
    "name": shown,
    "zone": lambda value: "The root zone" if value == "." else shown(value),
    "lasting": lasting,
    "clock": clock_words,
    "utc": utc_words,
    "day": lambda value: utc_words(value)[:10],
    "quoted": repr,
    "more": lambda value: f" and {value} more" if value > 0 else "",
    "weekday": lambda value: clock_words(value).rsplit(" ", 2)[0],
    "ten": lambda value: f"{value:.1f}",
}


def trouble_words(trouble: Trouble) -> str:
    """A clause, such as `ns1.mossgate.example (203.0.113.53) does not answer`."""
    return say(of_trouble(trouble))
