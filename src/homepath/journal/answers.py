"""Answers as text for the journal and back: all that is needed to judge them again."""

from __future__ import annotations

import json

from homepath.core.dns.answers import Answer, Question, Server
from homepath.core.dns.records import RecordSet
from homepath.core.dns.trouble import Trouble


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
        "trouble": [t.cause, t.server, t.address, t.said] if (t := answer.trouble) else None,
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
