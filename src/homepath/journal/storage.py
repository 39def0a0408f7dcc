"""Values as the journal keeps them: a form of its own, apart from the public contracts, with a number; and its rows.

A stored value is read into today's dataclass: a field that an older version did not write gets its default, one that
only a newer version knows is ignored. What does not fit at all is left out and named.
"""

from __future__ import annotations

import dataclasses
import json
import math
import types
import typing
from collections.abc import Callable, Mapping
from functools import cache, lru_cache, partial
from typing import Any, TypeVar, cast, get_args

from homepath.core.dns.answers import Answer, Question, Server, Trouble
from homepath.core.dns.names import absolute
from homepath.core.dns.records import Key, RecordSet
from homepath.core.message import Message, msg
from homepath.core.model.acts import SendState, Update, Where
from homepath.core.model.evidence import Content, Source, VerdictChange
from homepath.core.model.survey import SpreadVerdict
from homepath.core.model.times import EARLIEST, LATEST


def answer_text(answer: Answer) -> str:
    """The answer without what no verdict needs; compact, because there are many."""
    soa = answer.soa
    parts = {
        "asked": [answer.question.name, answer.question.type],
        "server": [answer.server.address, answer.server.port],
        "outcome": answer.outcome,
        "rcode": answer.rcode,
        "aa": int(answer.authoritative),
        "answer": [_set(each) for each in answer.answer],
        "soa": _set(soa) if soa else None,
        "trouble": [t.cause, t.server, t.address, _packed(t.detail)] if (t := answer.trouble) else None,
    }
    return json.dumps({key: value for key, value in parts.items() if value}, separators=(",", ":"))


def answer_from(text: str, at: float) -> Answer:
    parts = json.loads(text)
    soa = parts.get("soa")
    trouble = parts.get("trouble")
    return Answer(
        Question(*parts["asked"]),
        Server(*parts["server"]),
        parts["outcome"],
        at,
        parts.get("rcode", ""),
        bool(parts.get("aa")),
        tuple(_from(each) for each in parts.get("answer", ())),
        (_from(soa),) if soa else (),
        (),
        Trouble(trouble[0], trouble[1], trouble[2], _message(trouble[3])) if trouble else None,
    )


def _set(record: RecordSet) -> list[object]:
    return [record.name, record.type, record.ttl, list(record.values)]


def _from(parts: list[object]) -> RecordSet:
    name, rrtype, ttl, values = parts
    return RecordSet(str(name), str(rrtype), int(str(ttl)), tuple(values))  # type: ignore[arg-type]


def moment(value: object) -> float:
    """A moment of a row. Raises ValueError for anything that no clock ever said."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not EARLIEST <= value <= LATEST:
        raise ValueError(msg("journal.no-moment", value=str(value)[:40]))
    return float(value)


def text_of(value: object) -> str:
    if not isinstance(value, str):
        raise ValueError(msg("journal.no-text", value=str(value)[:40]))
    return value


def one_of(value: object, kind: Any) -> str:
    if value not in get_args(kind):
        raise ValueError(msg("journal.not-known", value=str(value)[:40]))
    return str(value)


def key_of(name: object, rrtype: object) -> Key:
    return absolute(text_of(name)), text_of(rrtype)


def set_of(name: object, rrtype: object, ttl: object, values: object) -> RecordSet:
    if isinstance(ttl, bool) or not isinstance(ttl, int) or not 0 <= ttl < 2**31 or not isinstance(values, list):
        raise ValueError(msg("journal.no-record-set"))
    return RecordSet(*key_of(name, rrtype), ttl, tuple(text_of(value) for value in values))


def content(
    name: object, rrtype: object, ttl: object, values: str, first: object, last: object, source: object
) -> Content:
    return Content(
        _known_set(name, rrtype, ttl, values), moment(first), moment(last), cast(Source, one_of(source, Source))
    )


@lru_cache(maxsize=16384)
def _known_set(name: object, rrtype: object, ttl: object, values: str) -> RecordSet:
    """The same row is read several times in one command: before and after each check."""
    record = set_of(name, rrtype, ttl, json.loads(values))
    record.meanings  # noqa: B018 - a value that nobody can read is found here and not later
    return record


def verdict(key: Key, at: object, word: object, by: object) -> VerdictChange:
    return VerdictChange(
        moment(at), key, cast(SpreadVerdict, one_of(word, SpreadVerdict)), None if by is None else moment(by)
    )


def update(number: int, at: object, words: object, body: str, state: object) -> Update:
    whole = json.loads(body)
    sets, where = whole.get("changes", []), cast(Where, one_of(whole.get("where", "DNS host"), Where))
    after, before = (
        tuple(set_of(each["name"], each["type"], each["ttl"], each[key]) for each in sets)
        for key in ("values", "before")
    )
    return Update(number, moment(at), text_of(words), cast(SendState, one_of(state, SendState)), after, before, where)


SHAPE = 1
"""Raised when the meaning of a stored field changes; one above it was written by a newer version."""
T = TypeVar("T")


class NewerShape(Exception):
    """The value was stored by a newer version, in a shape that this one does not know."""


def stored(value: object) -> str:
    """The text of a dataclass value."""
    return json.dumps({"shape": SHAPE, "value": _packed(value)}, separators=(",", ":"))


def restored(kind: type[T], text: str) -> T:
    """The value back. Raises NewerShape, or ValueError for anything that is no such value."""
    key: Any = kind
    found: T = _restored(key, text)
    return found


@lru_cache(maxsize=256)
def _restored(kind: Any, text: str) -> Any:
    """The same check is read several times in one command; what comes out is frozen."""
    try:
        whole = json.loads(text)
        shape = whole["shape"]
    except (KeyError, TypeError, RecursionError) as error:
        raise ValueError(msg("journal.no-value", kind=kind.__name__)) from error
    if not isinstance(shape, int) or shape > SHAPE:
        raise NewerShape(f"shape {shape}")
    try:
        return _unpacked(kind, whole["value"])
    except (KeyError, TypeError, AttributeError, IndexError, OverflowError, RecursionError) as error:
        raise ValueError(msg("journal.no-value", kind=kind.__name__)) from error


def _packed(value: object) -> Any:
    if value is None or isinstance(value, str | int | float):
        return value
    if isinstance(value, Message):
        return {"code": value.code, "args": {key: _packed(each) for key, each in value.args}}
    if isinstance(value, Mapping):
        return {str(key): _packed(each) for key, each in value.items()}
    if isinstance(value, list | tuple | frozenset):
        return [_packed(each) for each in value]
    kind: Any = type(value)
    parts = ((name, getattr(value, name)) for name, _ in _fields(kind))
    return {name: part if part is None or type(part) is str else _packed(part) for name, part in parts}


EARLIER_NAMES = {"said": "detail"}
"""Fields that were stored under another name by earlier versions."""


@cache
def _fields(kind: type) -> tuple[tuple[str, Any], ...]:
    hints = typing.get_type_hints(kind)
    return tuple((f.name, hints[f.name]) for f in dataclasses.fields(kind) if f.init)


def _unpacked(kind: Any, value: Any) -> Any:
    """The value as its type says. Raises ValueError for one that is not of it: what is stored may be anything."""
    return _reader(kind)(value)


@cache
def _reader(kind: Any) -> Callable[[Any], Any]:
    """What reads a value of a type; made once for each, since a check stores some hundred values."""
    origin = typing.get_origin(kind)
    parts = typing.get_args(kind)
    if kind is Message:
        return _message
    if origin is typing.Literal:
        return lambda value: _checked(value, value in parts)
    if origin in (typing.Union, types.UnionType):
        inner = _reader(next(each for each in parts if each is not type(None)))
        return lambda value: None if value is None else inner(value)
    if origin is tuple:
        member = _reader(parts[0])
        return lambda value: tuple([member(each) for each in _checked(value, isinstance(value, list))])
    if dataclasses.is_dataclass(kind) and isinstance(kind, type):
        return partial(_instance, kind)
    if kind is float:
        return lambda value: float(_number(value, int | float))
    if kind is int:
        return lambda value: _number(value, int)
    if kind in (str, bool):
        return lambda value: _checked(value, isinstance(value, kind))
    return lambda value: value


def _instance(kind: type, value: Any) -> Any:
    named = {EARLIER_NAMES.get(key, key): each for key, each in value.items()}
    return kind(**{name: read(named[name]) for name, read in _readers(kind) if name in named})


@cache
def _readers(kind: type) -> tuple[tuple[str, Callable[[Any], Any]], ...]:
    return tuple((name, _reader(hint)) for name, hint in _fields(kind))


def _number(value: Any, kinds: Any) -> Any:
    number = isinstance(value, kinds) and not isinstance(value, bool) and math.isfinite(value)
    return _checked(value, number and abs(value) < MOST)


def _message(value: Any, depth: int = 0) -> Any:
    """A message, or plain words: someone else's, or those of a version that stored sentences."""
    if not isinstance(value, dict):
        return _checked(value, isinstance(value, str))
    _checked(value, depth < DEEPEST and isinstance(value["code"], str) and isinstance(value["args"], dict))
    return Message(value["code"], tuple((str(key), _argument(each, depth)) for key, each in value["args"].items()))


def _argument(value: Any, depth: int) -> Any:
    if isinstance(value, list):
        return tuple(_argument(each, depth) for each in value)
    if isinstance(value, dict):
        return _message(value, depth + 1)
    plain = isinstance(value, str | int) or (isinstance(value, float) and math.isfinite(value))
    return _checked(value, value is None or plain)


DEEPEST = 20
"""A message inside a message inside a message: no more of them than this."""
MOST = 1e12
"""No number of a check is larger: moments, TTLs, serials, statuses."""


def _checked(value: Any, right: bool) -> Any:
    if not right:
        raise ValueError(msg("journal.misfit", value=str(value)[:40]))
    return value
