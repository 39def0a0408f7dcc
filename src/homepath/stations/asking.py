"""What one look of `watch` asks: the parent, every authoritative server, and the resolvers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from homepath.core.model.history import Heard
from homepath.core.model.names import Name, child, shown
from homepath.core.model.questions import Answer, Question, Server
from homepath.core.model.records import Key, RecordSet
from homepath.core.propagation.readings import Watched
from homepath.net.asker import Asker
from homepath.net.vantages import Resolver

BOGUS = "its check of the signatures failed"
"""Detail of an answer that came only when the resolver was told not to check (RFC 4035 section 3.2.2)."""


@dataclass(frozen=True, slots=True)
class Vantages:
    """Who is asked about a domain."""

    parents: tuple[Server, ...]
    servers: tuple[Server, ...]
    resolvers: tuple[Resolver, ...]


async def ask_source(asker: Asker, watched: Sequence[Watched], vantages: Vantages, domain: Name) -> list[Heard]:
    """What the parent and the authoritative servers say, and the names where slips would have put the records."""
    keys = dict.fromkeys(each.key for each in watched)
    keys |= dict.fromkeys((child(shown(name), domain), rrtype) for name, rrtype in list(keys))
    asks = [(Question(domain, rrtype), server) for server in vantages.parents for rrtype in ("NS", "DS")]
    count = len(asks)
    asks += [(Question(domain, rrtype), server) for server in vantages.servers for rrtype in ("NS", "SOA")]
    asks += [(Question(*key), server) for server in vantages.servers for key in keys if key != (domain, "NS")]
    answers = await asker.ask_all(asks)
    return [
        Heard(
            (question.name, question.type),
            shown(server.name) if server.name else server.place,
            "parent" if at < count else "authoritative",
            _referral_as_answer(answer) if at < count else answer,
        )
        for at, ((question, server), answer) in enumerate(zip(asks, answers, strict=True))
    ]


def _referral_as_answer(answer: Answer) -> Answer:
    """A referral carries the servers in its authority section (RFC 1034 section 4.3.2)."""
    if answer.question.type != "NS":
        return answer
    moved = next((each for each in answer.authority if each.key == (answer.question.name, "NS")), None)
    return answer if moved is None else replace(answer, answer=(moved,))


async def ask_caches(
    asker: Asker, watched: Sequence[Watched], vantages: Vantages, source: Sequence[Heard]
) -> list[Heard]:
    """What the resolvers say. One is not asked for what no authoritative server has and none ever had:

    the question itself would make it remember that the record is missing (RFC 2308).
    """
    asks = []
    for each in watched:
        exists = any(
            heard.answer.found(*each.key) for heard in source if heard.role == "authoritative" and heard.answer.usable
        )
        if exists or each.old or not each.wanted:
            # visitors ask for addresses, so an alias is asked for the way their question would meet it
            rrtype = "A" if each.type == "CNAME" else each.type
            asks += [(each.key, resolver, Question(each.name, rrtype)) for resolver in vantages.resolvers]
    answers = await asker.ask_all([(question, resolver.server) for _, resolver, question in asks], recurse=True)
    answers = await _why_failed(asker, answers)
    return [
        Heard(key, resolver.label, "resolver", answer) for (key, resolver, _), answer in zip(asks, answers, strict=True)
    ]


async def _why_failed(asker: Asker, answers: list[Answer]) -> list[Answer]:
    """Where a resolver gave SERVFAIL, it is asked once more without its check of signatures (CD).

    An answer then means that the check is what failed; it is not used as an answer, because no visitor gets it.
    """
    failed = [at for at, answer in enumerate(answers) if answer.rcode == "SERVFAIL"]
    if not failed:
        return answers
    again = await asker.ask_all(
        [(answers[at].question, answers[at].server) for at in failed], recurse=True, unchecked=True
    )
    answers = list(answers)
    for at, answer in zip(failed, again, strict=True):
        if answer.usable:
            said = f" ({answers[at].detail})" if answers[at].detail else ""
            answers[at] = replace(answers[at], detail=f"SERVFAIL: {BOGUS}{said}")
    return answers


def sound(source: Sequence[Heard]) -> list[Answer]:
    """The answers of the first authoritative server that gave any."""
    heard = [each for each in source if each.role == "authoritative" and each.answer.usable]
    return [each.answer for each in heard if each.answer.server == heard[0].answer.server]


def delegation_contents(source: Sequence[Heard], domain: Name) -> list[RecordSet]:
    """The NS and DS sets that the parent gives; an empty DS set where it says that there is none."""
    found: dict[Key, RecordSet] = {}
    for each in source:
        if each.role != "parent" or not each.answer.usable:
            continue
        given = each.answer.found(*each.key)
        if given is not None:
            found.setdefault(given.key, given)
        elif each.key[1] == "DS" and each.answer.soa is not None:
            found.setdefault(each.key, RecordSet(domain, "DS", 0, ()))
    return list(found.values())
