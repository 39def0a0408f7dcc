"""What the answers of a zone's servers make known, record set by record set; what no one answered stays unknown."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence

from homepath.core.dns.answers import Answer, Server, Trouble, Unanswered
from homepath.core.dns.names import Name, is_within
from homepath.core.dns.records import SIGNING, Key, RecordSet
from homepath.core.dns.soa import negative_ttl
from homepath.core.dns.walk import trouble_in

YOUNG_TYPES = ("HTTPS", "SVCB", "CAA", "DNAME")
"""Types that servers of before RFC 3597 may not know."""
Rounds = dict[Server, list[Answer]]
"""All answers of each authoritative server, the one about the SOA first."""


def tells(answer: Answer, zone: Name) -> bool:
    """Whether an answer says what is at the asked name: with authority, with records, or by handing it on.

    Silence, a failure, and an empty answer without authority say nothing (RFC 2308 section 2). A server that says of a
    young type that it does not implement it cannot hold one.
    """
    if answer.rcode in ("NOTIMP", "FORMERR") and answer.question.type in YOUNG_TYPES:
        return True
    if not answer.usable:
        return False
    handed = any(each.type == "NS" and each.name != zone and is_within(each.name, zone) for each in answer.authority)
    return answer.authoritative or bool(answer.answer) or handed


def unanswered_why(answers: Sequence[Answer], zone: Name) -> Trouble | None:
    """What the first server did if no server answered. None if one answered, or none was queried."""
    if not answers or any(tells(answer, zone) for answer in answers):
        return None
    return trouble_in(answers[0], answers[0].server)


def sets_of(answers: Iterable[Answer]) -> dict[Key, RecordSet]:
    """The sets at the asked names themselves, delegations below the zone included; not the target of an alias.

    A CNAME that the server synthesised from a DNAME was not entered; the DNAME was (RFC 6672 section 3.1).
    """
    found: dict[Key, RecordSet] = {}
    for answer in answers:
        given: Sequence[RecordSet] = answer.answer
        if not answer.usable or (answer.authoritative and not given):
            continue
        asked = answer.question.name
        redirected = next((each for each in given if each.type == "DNAME" and is_below(asked, each.name)), None)
        if redirected:
            given = [redirected]
        elif not given:  # a referral: the name, or one above it, is handed on
            given = [each for each in answer.authority if each.type == "NS"]
        else:
            given = [each for each in given if each.name == asked]
        found |= {each.key: each for each in given if each.type not in SIGNING}
    return found


def is_below(name: Name, above: Name) -> bool:
    return name != above and is_within(name, above)


def known_keys(answers: Iterable[Answer], zone: Name) -> set[Key]:
    """The asked keys that these answers settle, one way or the other."""
    return {(answer.question.name, answer.question.type) for answer in answers if tells(answer, zone)}


def filled(rounds: Rounds, order: Sequence[Server], zone: Name) -> tuple[list[Answer], tuple[Unanswered, ...]]:
    """For each question the answer of the first server in `order` that tells something, and the questions that none
    of them answered. An alias settles every other type at its name (RFC 1034 section 3.6.2)."""
    best: dict[Key, Answer] = {}
    dark: dict[Key, Answer] = {}
    for server in order:
        for answer in rounds[server]:
            key = (answer.question.name, answer.question.type)
            if tells(answer, zone):
                best.setdefault(key, answer)
            else:
                dark.setdefault(key, answer)
    aliased = {name for name, rrtype in sets_of(best.values()) if rrtype == "CNAME"}
    unknown = tuple(
        Unanswered(*key, trouble_in(answer, answer.server))
        for key, answer in dark.items()
        if key not in best and key[0] not in aliased
    )
    return list(best.values()), unknown


def contents_of(answers: Iterable[Answer], keys: Iterable[Key]) -> list[RecordSet]:
    """What to note of authoritative answers: each asked set, empty where it is missing."""
    answers = [answer for answer in answers if answer.usable]
    sets, wanted = sets_of(answers), set(keys)
    noted = list(sets.values())
    for answer in answers:
        key = (answer.question.name, answer.question.type)
        handed_on = not answer.authoritative and not answer.answer  # what is there, others say
        if key in wanted and key not in sets and key[1] != "SOA" and not handed_on:
            noted.append(RecordSet(*key, negative_ttl(answer.soa) if answer.soa else 0, ()))
    return noted


def behind_others(answers: Iterable[Answer], counted: Mapping[Key, RecordSet]) -> dict[Key, RecordSet]:
    """What a server returns that is not what counts, or returns for longer: a cache may fetch it there."""
    lagging: dict[Key, RecordSet] = {}
    for answer in answers:
        key = (answer.question.name, answer.question.type)
        if not answer.usable or not answer.authoritative or key not in counted or key[1] == "SOA":
            continue
        given = answer.found(*key) or RecordSet(*key, counted[key].ttl, ())
        longer = bool(given.values) and given.ttl > counted[key].ttl
        if given.meanings != counted[key].meanings or longer:
            before = lagging.get(key)
            lagging[key] = given if before is None or before.ttl < given.ttl else before
    return lagging


def denied(answers: Iterable[Answer]) -> Iterator[Name]:
    """Names of which one answer says that they do not exist, while another returns data at them or below (RFC 8020)."""
    answers = list(answers)
    there = {name for name, _ in sets_of(answers)}
    gone = dict.fromkeys(a.question.name for a in answers if a.rcode == "NXDOMAIN" and not a.answer)
    for name in gone:
        if any(is_within(each, name) for each in there):
            yield name
