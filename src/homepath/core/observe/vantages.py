"""What one look of `watch` asks: the parent, every authoritative server, and the resolvers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from homepath.core.dns.answers import Answer, Question, Server, Trouble
from homepath.core.dns.names import Name, child, shown
from homepath.core.dns.records import Key, RecordSet
from homepath.core.dns.soa import newest_first
from homepath.core.dns.zone_answers import Rounds, filled
from homepath.core.model.evidence import Heard
from homepath.core.observe.requests import Look, Questions, asked
from homepath.core.propagation.readings import Watched

IMPOSSIBLE = "invalid."
"""A top level that never exists (RFC 6761 section 6.4)."""


@dataclass(frozen=True, slots=True)
class Vantages:
    """Who is asked about a domain. `resolvers`: by their labels."""

    parents: tuple[Server, ...]
    servers: tuple[Server, ...]
    resolvers: Mapping[str, Server]


def ask_source(watched: Sequence[Watched], more: Sequence[Key], vantages: Vantages, domain: Name) -> Look[list[Heard]]:
    """What the parent and the authoritative servers say: of the sets watched, of the names where slips would have put
    them, and of `more`."""
    keys = dict.fromkeys(each.key for each in watched)
    keys |= dict.fromkeys((child(shown(name), domain), rrtype) for name, rrtype in list(keys))
    keys |= dict.fromkeys(more)
    asks = [(Question(domain, rrtype), server) for server in vantages.parents for rrtype in ("NS", "DS")]
    count = len(asks)
    asks += [(Question(domain, rrtype), server) for server in vantages.servers for rrtype in ("NS", "SOA")]
    asks += [(Question(*key), server) for server in vantages.servers for key in keys if key != (domain, "NS")]
    answers = yield from asked(asks)
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


def ask_caches(
    watched: Sequence[Watched], vantages: Vantages, source: Sequence[Heard], domain: Name, label: str
) -> Look[tuple[list[Heard], frozenset[str]]]:
    """What the resolvers say, and which of them answer for names that do not exist.

    A resolver is not asked for what no authoritative server has and none ever had: the question itself would make it
    remember that the record is missing (RFC 2308).
    """
    asks = []
    for each in watched:
        exists = any(
            heard.answer.found(*each.key) for heard in source if heard.role == "authoritative" and heard.answer.usable
        )
        if exists or each.old or not each.wanted:
            # visitors ask for addresses, so an alias is asked for the way their question would meet it
            rrtype = "A" if each.type == "CNAME" else each.type
            asks += [(each.key, name, Question(each.name, rrtype)) for name in vantages.resolvers]
    questions = tuple((question, vantages.resolvers[name]) for _, name, question in asks)
    if not questions:
        return [], frozenset()
    names = (child(label, IMPOSSIBLE), child(label, domain))
    checks = tuple((Question(name, "A"), server) for name in names for server in vantages.resolvers.values())
    here = tuple((Question(names[1], "A"), server) for server in vantages.servers)
    replies, own = yield [Questions((*questions, *checks), recurse=True), Questions(here)]
    answers = yield from _why_failed(list(replies[: len(questions)]))
    heard = [Heard(key, name, "resolver", answer) for (key, name, _), answer in zip(asks, answers, strict=True)]
    missing = any(answer.rcode == "NXDOMAIN" for answer in own)
    labels = [*vantages.resolvers] * 2
    lying = {
        name
        for name, answer in zip(labels, replies[len(questions) :], strict=True)
        if answer.usable and answer.answer and (missing or answer.question.name == names[0])
    }
    return heard, frozenset(lying)


def _why_failed(answers: list[Answer]) -> Look[list[Answer]]:
    """Where a resolver gave SERVFAIL, it is asked once more without its check of signatures (CD).

    An answer then means that the check is what failed; it is not used as an answer, because no visitor gets it.
    """
    failed = [at for at, answer in enumerate(answers) if answer.rcode == "SERVFAIL"]
    if not failed:
        return answers
    asks = [(answers[at].question, answers[at].server) for at in failed]
    again = yield from asked(asks, recurse=True, unchecked=True)
    answers = list(answers)
    for at, answer in zip(failed, again, strict=True):
        if answer.usable:
            earlier, server = answers[at].trouble, answers[at].server
            said = earlier.said if earlier else ""
            answers[at] = replace(answers[at], trouble=Trouble("bogus", server.name, server.place, said))
    return answers


def sound(source: Sequence[Heard], domain: Name) -> list[Answer]:
    """For each question the answer of the authoritative server whose word counts: of those that say something, the one
    with the newest zone."""
    rounds: Rounds = {}
    for each in source:
        if each.role == "authoritative":
            rounds.setdefault(each.answer.server, []).append(each.answer)
    first = newest_first(rounds, domain)
    others = [server for server in rounds if server not in first]
    return filled(rounds, [*first, *others], domain)[0]


def one_each_place(servers: Sequence[Server]) -> tuple[Server, ...]:
    """The servers, each address once: several names for one machine tell nothing more."""
    return tuple({server.place: server for server in reversed(servers)}.values())[::-1]


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
