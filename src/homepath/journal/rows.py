"""Rows of the journal as values. Each raises ValueError, or what Python raises, for a row that holds something else."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any, cast, get_args

from homepath.core.dns.answers import Answer, Question, Server, Trouble
from homepath.core.dns.names import absolute
from homepath.core.dns.records import Key, RecordSet
from homepath.core.model.acts import SendState, Update, Where
from homepath.core.model.evidence import Content, Source, VerdictChange
from homepath.core.model.readings import SpreadVerdict
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
        "trouble": [t.cause, t.server, t.address, str(t.said)] if (t := answer.trouble) else None,
    }
    return json.dumps({key: value for key, value in parts.items() if value}, separators=(",", ":"))


def answer_from(text: str, at: float) -> Answer:
    parts = json.loads(text)
    soa = parts.get("soa")
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
        Trouble(*parts["trouble"]) if parts.get("trouble") else None,
    )


def _set(record: RecordSet) -> list[object]:
    return [record.name, record.type, record.ttl, list(record.values)]


def _from(parts: list[object]) -> RecordSet:
    name, rrtype, ttl, values = parts
    return RecordSet(str(name), str(rrtype), int(str(ttl)), tuple(values))  # type: ignore[arg-type]


def moment(value: object) -> float:
    """A moment of a row. Raises ValueError for anything that no clock ever said."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not EARLIEST <= value <= LATEST:
        raise ValueError(f"{str(value)[:40]!r} is no moment")
    return float(value)


def text_of(value: object) -> str:
    if not isinstance(value, str):
        raise ValueError(f"{str(value)[:40]!r} is no text")
    return value


def one_of(value: object, kind: Any) -> str:
    if value not in get_args(kind):
        raise ValueError(f"{str(value)[:40]!r} is not known here")
    return str(value)


def key_of(name: object, rrtype: object) -> Key:
    return absolute(text_of(name)), text_of(rrtype)


def set_of(name: object, rrtype: object, ttl: object, values: object) -> RecordSet:
    if isinstance(ttl, bool) or not isinstance(ttl, int) or not 0 <= ttl < 2**31 or not isinstance(values, list):
        raise ValueError("no record set")
    return RecordSet(*key_of(name, rrtype), ttl, tuple(text_of(value) for value in values))


def content(
    name: object, rrtype: object, ttl: object, values: str, first: object, last: object, source: object
) -> Content:
    return Content(
        _known_set(name, rrtype, ttl, values), moment(first), moment(last), cast(Source, one_of(source, Source))
    )


@lru_cache(maxsize=16384)
def _known_set(name: object, rrtype: object, ttl: object, values: str) -> RecordSet:
    """The same row is read several times in one command: before and after each look."""
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
