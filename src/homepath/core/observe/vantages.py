"""What one check of `watch` queries: the parent, every authoritative server, and the resolvers; and which of
their answers
are doubtful."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from homepath.core.dns.answers import Answer, Question, Server, Trouble
from homepath.core.dns.names import Name, child, shown
from homepath.core.dns.records import WEB_TYPES, Key, RecordSet
from homepath.core.dns.soa import newest_first
from homepath.core.dns.walk import Cut
from homepath.core.dns.zone_answers import Rounds, filled
from homepath.core.findings.registry import finding, kind_of
from homepath.core.findings.registry import findings as all_findings
from homepath.core.message import msg
from homepath.core.model.evidence import Content, Observation, earlier_copies
from homepath.core.model.findings import Finding
from homepath.core.model.plan import DesiredSet
from homepath.core.model.survey import RecordSpread, Signatures
from homepath.core.observe.requests import CheckKeys, Exchange, Questions, asked, asked_by_name
from homepath.core.propagation.habits import Habit
from homepath.core.propagation.readings import Watched
from homepath.core.site.case import Case


def check_keys(cut: Cut, handed: Sequence[RecordSet]) -> Exchange[tuple[Signatures, list[Finding]]]:
    """Where the parent says that the zone is signed, its signatures are checked at each check."""
    if not any(record.type == "DS" and record.values for record in handed):
        return "none", []
    (chain,) = yield [CheckKeys(cut)]
    if chain.signatures != "broken":
        return chain.signatures, []
    message = msg("doubts.broken-signatures", zone=cut.zone, trouble=chain.trouble)
    return chain.signatures, [finding("signature-broken", cut.zone, "DNSKEY", message)]


def typed_wrong(case: Case) -> tuple[Finding, ...]:
    """What the authoritative servers return, compared with what is wanted, as findings of the rules."""
    found = all_findings(replace(case, survey=None))
    return tuple(each for each in found if kind_of(each).typed or kind_of(each).explains)


def with_slips(spread: RecordSpread, wrong: Sequence[Finding], case: Case) -> RecordSpread:
    """A set that is not there yet because it was typed at another place, or as something else, was entered wrongly."""
    if spread.verdict != "not-entered":
        return spread
    slips = [each for each in wrong if kind_of(each).typed and _concerns(each, spread, case)]
    return replace(spread, verdict="entered-wrong", because=slips[0].message) if slips else spread


def _concerns(slip: Finding, spread: RecordSpread, case: Case) -> bool:
    if slip.name == spread.name:
        return slip.type == spread.type or {slip.type, spread.type} <= set(WEB_TYPES)
    if not kind_of(slip).misplaced:
        return False
    record = case.zone.get(slip.name, slip.type)
    want = case.wanted.get(spread.name, spread.type)
    return bool(record and want and record.meanings & want.record.meanings)


def one_each(notes: Sequence[tuple[Habit, Finding]]) -> list[Finding]:
    """One finding of a kind for each resolver: it does the same with every name."""
    first: dict[tuple[str, str], Finding] = {}
    for habit, each in notes:
        first.setdefault((habit.vantage, habit.kind), each)
    return list(first.values())


def lying(domain: Name, liars: Iterable[str]) -> list[Finding]:
    return [
        finding("resolver-answers-for-itself", domain, "", msg("resolver-answers-for-itself", who=who, domain=domain))
        for who in sorted(liars)
    ]


def clamping_resolvers(observed: Sequence[Observation], history: Sequence[Content]) -> frozenset[str]:
    """Resolvers that returned something with a higher TTL than any server did. What was there before the first
    check may have had a higher TTL then, so only later content counts."""
    mine = [each for each in history if each.source == "zone"]
    begin = min((each.first_at for each in mine), default=0.0)
    longest: dict[tuple[Key, frozenset[str]], int] = {}
    old = {(each.record.key, each.record.meanings) for each in mine if each.first_at <= begin}
    for each in mine:
        what = each.record.key, each.record.meanings
        if each.record.values and what not in old:
            longest[what] = max(longest.get(what, 0), each.record.ttl)
    found = set()
    for one in observed:
        given = one.answer.found(*one.key) if one.role == "resolver" and one.answer.usable else None
        if given is not None and given.ttl > longest.get((given.key, given.meanings), given.ttl):
            found.add(one.vantage)
    return frozenset(found)


def refusing(
    domain: Name, caches: Sequence[Observation], history: Sequence[Content], now: float
) -> tuple[list[Finding], float | None]:
    """Resolvers that check signatures refuse the domain: their visitors reach nothing, and waiting may not help. Where
    the parent has no DS record any more, they hold a copy of it, until the moment that comes second."""
    bogus = (each for each in caches if each.answer.trouble and each.answer.trouble.cause == "bogus")
    who = list(dict.fromkeys(each.vantage for each in bogus))
    if not who:
        return [], None
    past = [each for each in history if each.record.key == (domain, "DS") and each.source == "parent"]
    copies = earlier_copies(past, DesiredSet(domain, "DS")) if past and not past[-1].record.values else ()
    until = max((copy.dies for copy in copies), default=0.0)
    if until > now:
        held = msg("signature-broken-3", domain=domain, who=tuple(who), until=until)
        return [finding("signature-broken", domain, "DS", held, msg("signature-broken.cure-3"), "note")], until
    return [
        finding(
            "signature-broken",
            domain,
            "DS",
            msg("signature-broken-2", domain=domain, who=tuple(who)),
            msg("signature-broken.cure-2"),
        )
    ], None


def jump(domain: Name, jumped: bool) -> list[Finding]:
    if not jumped:
        return []
    return [finding("clock-set-back", domain, "", msg("clock-set-back"), msg("clock-set-back.cure"))]


IMPOSSIBLE = "invalid."
"""A top level that never exists (RFC 6761 section 6.4)."""


@dataclass(frozen=True, slots=True)
class Vantages:
    """Who is asked about a domain. `resolvers`: by their labels."""

    parents: tuple[Server, ...]
    servers: tuple[Server, ...]
    resolvers: Mapping[str, Server]


def ask_source(
    watched: Sequence[Watched], more: Sequence[Key], vantages: Vantages, domain: Name
) -> Exchange[list[Observation]]:
    """What the parent and the authoritative servers say: of the sets watched, of the names where slips would have put
    them, and of `more`."""
    keys = dict.fromkeys(each.key for each in watched)
    keys |= dict.fromkeys((child(shown(name), domain), rrtype) for name, rrtype in list(keys))
    keys |= dict.fromkeys(more)
    asks = [(Question(domain, rrtype), server) for server in vantages.parents for rrtype in ("NS", "DS")]
    count = len(asks)
    asks += [(Question(domain, rrtype), server) for server in vantages.servers for rrtype in ("NS", "SOA")]
    asks += [(Question(*key), server) for server in vantages.servers for key in keys if key != (domain, "NS")]
    answers = yield from asked_by_name(asks, domain)
    return [
        Observation(
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
    watched: Sequence[Watched], vantages: Vantages, source: Sequence[Observation], domain: Name, label: str
) -> Exchange[tuple[list[Observation], frozenset[str]]]:
    """What the resolvers say, and which of them answer for names that do not exist.

    A resolver is not asked for what no authoritative server has and none ever had: the question itself would make it
    remember that the record is missing (RFC 2308).
    """
    asks = []
    for each in watched:
        exists = any(
            observed.answer.found(*each.key)
            for observed in source
            if observed.role == "authoritative" and observed.answer.usable
        )
        if exists or each.old or not each.wanted:
            # visitors query addresses, so an alias is queried the same way
            rrtype = "A" if each.type == "CNAME" else each.type
            asks += [(each.key, name, Question(each.name, rrtype)) for name in vantages.resolvers]
    questions = tuple((question, vantages.resolvers[name]) for _, name, question in asks)
    if not questions:
        return [], frozenset()
    here = yield from asked([(Question(child(label, domain), "A"), server) for server in vantages.servers])
    # where a wildcard answers for every name of the domain, only a TLD that never exists shows who answers falsely
    missing = any(answer.rcode == "NXDOMAIN" for answer in here)
    impossible = child(label, domain if missing else IMPOSSIBLE)
    checks = tuple((Question(impossible, "A"), server) for server in vantages.resolvers.values())
    (replies,) = yield [Questions((*questions, *checks), recurse=True)]
    answers = yield from _why_failed(list(replies[: len(questions)]))
    observed = [
        Observation(key, name, "resolver", answer) for (key, name, _), answer in zip(asks, answers, strict=True)
    ]
    lying = {
        name
        for name, answer in zip(vantages.resolvers, replies[len(questions) :], strict=True)
        if answer.usable and answer.answer
    }
    return observed, frozenset(lying)


def _why_failed(answers: list[Answer]) -> Exchange[list[Answer]]:
    """Where a resolver returned SERVFAIL, it is queried once more with validation off (CD).

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
            detail = earlier.detail if earlier else ""
            answers[at] = replace(answers[at], trouble=Trouble("bogus", server.name, server.place, detail))
    return answers


def sound(source: Sequence[Observation], domain: Name) -> list[Answer]:
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


def delegation_contents(source: Sequence[Observation], domain: Name) -> list[RecordSet]:
    """The NS and DS sets that the parent returns; an empty DS set where it says that there is none."""
    found: dict[Key, RecordSet] = {}
    for each in source:
        if each.role != "parent" or not each.answer.usable:
            continue
        given = each.answer.found(*each.key)
        if given is not None and not (given.key in found and found[given.key].values):
            found[given.key] = given  # one that still has a DS record counts before one that has none
        elif each.key[1] == "DS" and each.answer.soa is not None:
            found.setdefault(each.key, RecordSet(domain, "DS", 0, ()))
    return list(found.values())
