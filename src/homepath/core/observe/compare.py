"""The check of both sides of a hand-over: the present nameservers, and each of those that are to take over."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from homepath.core.dns.answers import Answer, Question, Server, Trouble, Unanswered, of_trouble, server_state
from homepath.core.dns.ds import fits
from homepath.core.dns.names import Name, child, shown
from homepath.core.dns.records import ADDRESS_TYPES, LED_TO, WILD_TYPES, Key, RecordSet
from homepath.core.dns.soa import holds_zone, newest_first, serial_of
from homepath.core.dns.walk import Cut, Found, trouble_in
from homepath.core.dns.zone_answers import filled, known_keys, sets_of, unanswered_why
from homepath.core.findings.keystrokes import doubled
from homepath.core.findings.registry import finding
from homepath.core.message import Text, msg
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.plan import PURPOSES
from homepath.core.model.survey import Compared, RecordCompared, SideServer, SideState
from homepath.core.observe.compare_findings import (
    about_delegation,
    about_records,
    about_servers,
    about_silence,
    about_the_zones,
    about_wildcard,
    disagreements,
    named,
    verdict_of,
)
from homepath.core.observe.requests import Exchange, LookUp, Questions, asked, time
from homepath.core.observe.survey import domain_cut
from homepath.core.observe.vantages import one_each_place
from homepath.core.observe.zone_questions import keys_to_ask, usual_keys
from homepath.core.plan.comparing import Given, compared_sets, disagreeing, nothing_held, of_the_zones
from homepath.core.plan.new_zone import Due, in_place_of
from homepath.core.site.case import Case

AT_ONCE = 64
"""Questions under way at one server at one moment."""
MOST_DOUBLED = 50
"""Names of missing records that are asked for with the domain twice."""
MOST_SERVERS = 13
"""New nameservers that are asked; no zone needs more."""


@dataclass(frozen=True, slots=True)
class Sides:
    """Who is compared. `target`: the names of the servers that are to take over. `glue`: addresses of those that lie
    below the domain itself, as far as any zone returns them; `out_of_reach`: those of them that this machine cannot
    query. `former`: the servers of the old side, where the switch is over and those of the delegation are the new
    ones."""

    target: tuple[Name, ...]
    glue: Mapping[Name, tuple[str, ...]] = field(default_factory=dict)
    out_of_reach: frozenset[str] = frozenset()
    former: tuple[Name, ...] = ()


@dataclass(frozen=True, slots=True)
class CompareResult:
    """What was compared, and all that the new side holds, for the journal to keep."""

    compared: Compared
    new_sets: tuple[RecordSet, ...]


def compare_check(case: Case, dues: Sequence[Due], sides: Sides, label: str) -> Exchange[CompareResult]:
    """Every record set that is due, asked of each server of both sides. `label`: one that no one can have entered.

    Raises CouldNotCheck when the present servers cannot be found.
    """
    domain = case.domain
    cut = yield from domain_cut(domain)
    present: Sequence[Server] = one_each_place(cut.servers)
    glue = {name: tuple(a for a in each if a not in sides.out_of_reach) or each for name, each in sides.glue.items()}
    new, lost = yield from _servers_of(sides.target, glue, cut)
    if sides.former:
        present, _ = yield from _servers_of(sides.former, {}, cut)
    keys = asked_keys(case, dues, label)
    old_answers, new_answers, above, dnskeys = yield from _ask_both(domain, cut, present, new, keys)
    ds = next((found for answer in above if answer.usable and (found := answer.found(domain, "DS"))), None)
    states = {server: _state(domain, server, old_answers, answers) for server, answers in new_answers.items()}
    holding = [server for server in new_answers if states[server][0] == "holds"]
    best, dark = filled(old_answers, newest_first(old_answers, domain), domain)
    if sides.former:
        dark = ()  # they no longer answer for the domain, and need not
    elif not best and not (case.survey and case.survey.gone):  # then only what the journal knows is left
        dark = tuple(Unanswered(domain, "SOA", trouble_in(each[0], server)) for server, each in old_answers.items())
    old_given = Given(domain, sets_of(best), frozenset(known_keys(best, domain)))
    given = [_given(domain, server, new_answers[server]) for server in holding]
    wild = _wild(given, child(label, domain))
    plain = [_without(each, child(label, domain)) for each in given]
    records = compared_sets(case, dues, _without(old_given, child(label, domain)), plain, wild) if plain else []
    if not plain:
        records = nothing_held(dues, old_given)
    doubled = yield from _doubled(domain, records, holding)
    own = of_the_zones(domain, old_given, plain, sides.target)
    at_odds = dict(disagreeing(plain, [due.key for due in dues])) if len(plain) > 1 else {}
    places = {each.place for each in old_answers}
    servers = [
        *lost,
        *(_seen(each, new_answers[each], states[each], at_odds, each.place in places) for each in new_answers),
    ]
    signed = ds is not None and bool(ds.values) and not fits(domain, ds, dnskeys)
    unanswered_keys = [
        *dark,
        *_unanswered_keys(domain, above, cut.above),
        *_not_answered(dict(zip(holding, plain, strict=True)), new_answers),
    ]
    confirmed = {each.record.key for each in case.history if each.source == "told"}
    unanswered_keys = [
        each for each in unanswered_keys if each.name != child(label, domain) and each.key not in confirmed
    ]
    verdict = verdict_of(records, servers, signed, unanswered_keys)
    findings = [
        *about_servers(domain, servers),
        *about_records(domain, records),
        *doubled,
        *about_the_zones(domain, own, sides.target),
        *disagreements(domain, at_odds),
        *about_silence(domain, unanswered_keys),
        *about_delegation(domain, sides.glue, cut.above, signed),
        *about_wildcard(domain, wild, _wild([old_given], child(label, domain))),
    ]
    at = yield from time()
    compared = Compared(
        domain=domain,
        at=at,
        verdict=verdict,
        old=tuple(_seen(server, each, _state(domain, server, {}, each), {}) for server, each in old_answers.items()),
        new=tuple(servers),
        records=(*sorted(records, key=_order), *own),
        findings=tuple(worst_first(findings)),
        signed=signed,
        target=sides.target,
        unanswered=tuple({each.key: each for each in unanswered_keys}.values()),
    )
    first = plain[0] if plain else None
    sets = [record for key, record in first.sets.items() if key[0] != child(label, domain)] if first else []
    gone = [RecordSet(*key, 0, ()) for key in (first.asked if first else ()) if first and key not in first.sets]
    return CompareResult(compared, (*sets, *(each for each in gone if each.name != child(label, domain))))


def _order(each: RecordCompared) -> tuple[bool, int, Name, str]:
    return not each.hinders, PURPOSES.index(each.purpose), each.name, each.type


def asked_keys(case: Case, dues: Sequence[Due], label: str) -> list[Key]:
    """Everything that must be at the new side, what conflicts with it (beside an address, one of the other family),
    what a survey would query, and a name that is not in use."""
    found = dict.fromkeys(due.key for due in dues)
    for due in dues:
        if due.kind == "theirs":
            found |= dict.fromkeys((due.key[0], rrtype) for rrtype in LED_TO)
        else:
            beside = ADDRESS_TYPES if due.key[1] in ADDRESS_TYPES else ()
            found |= dict.fromkeys((*in_place_of(due.key), *((due.key[0], rrtype) for rrtype in beside)))
    found |= dict.fromkeys(key for key in (*keys_to_ask(case.wanted, ()), *usual_keys(case.domain)) if key[1] != "SOA")
    found |= dict.fromkeys((child("*", case.domain), rrtype) for rrtype in WILD_TYPES)
    found |= dict.fromkeys((child(label, case.domain), rrtype) for rrtype in WILD_TYPES)
    return list(found)


def _servers_of(
    wanted: Sequence[Name], glue: Mapping[Name, tuple[str, ...]], cut: Cut
) -> Exchange[tuple[list[Server], list[SideServer]]]:
    """Nameservers by their addresses, and those that have none."""
    names = list(wanted)[:MOST_SERVERS]
    port = cut.servers[0].port if cut.servers else 53
    outside = [name for name in names if name not in glue]
    replies = yield [LookUp(name, ("A", "AAAA"), to_ask=True) for name in outside]
    addresses: dict[Name, tuple[str, ...]] = dict(glue)
    why: dict[Name, Trouble] = {}
    for name, reply in zip(outside, replies, strict=True):
        if isinstance(reply, Found):
            addresses[name] = tuple(value for record in reply.sets for value in record.values)
            why[name] = Trouble("no-such-name" if reply.rcode == "NXDOMAIN" else "no-address", name)
        else:
            why[name] = reply
    servers = [Server(address, port, name) for name in names for address in addresses.get(name, ())[:4]]
    lost = [
        SideServer(name, "", "no-such-server", None, of_trouble(why.get(name, Trouble("no-address", name))))
        for name in names
        if not addresses.get(name)
    ]
    return servers, lost


Answered = dict[Server, list[Answer]]


def _ask_both(
    domain: Name, cut: Cut, present: Sequence[Server], new: Sequence[Server], keys: Sequence[Key]
) -> Exchange[tuple[Answered, Answered, list[Answer], RecordSet | None]]:
    """Each server is queried for the SOA first, and those that hold the domain for the rest, all in parallel."""
    every = list(dict.fromkeys([*present, *new]))
    soas = yield from asked([(Question(domain, "SOA"), server) for server in every])
    answers_of = {server: [answer] for server, answer in zip(every, soas, strict=True)}
    places = {server.place: server for server in reversed(every) if holds_zone(answers_of[server], domain)}
    asking = list(places.values())
    requests = [Questions(tuple((Question(*key), server) for key in keys), at_once=AT_ONCE) for server in asking]
    requests += [Questions(tuple((Question(domain, "DS"), server) for server in cut.parents))]
    requests += [Questions(tuple((Question(domain, "DNSKEY"), server) for server in new))]
    replies = yield requests
    for server, answers in zip(asking, replies, strict=False):
        answers_of[server] += answers
    for server in every:
        twin = places.get(server.place)
        if twin is not None and twin != server:
            answers_of[server] += answers_of[twin][1:]
    above, own = replies[-2], replies[-1]
    keys_there = next((found for answer in own if answer.usable and (found := answer.found(domain, "DNSKEY"))), None)
    return (
        {server: answers_of[server] for server in present},
        {server: answers_of[server] for server in new},
        above,
        keys_there,
    )


def _state(domain: Name, server: Server, old: Answered, answers: Sequence[Answer]) -> tuple[SideState, Text]:
    first = answers[0]
    if any(server.place == each.place for each in old):
        return ("holds" if holds_zone(answers, domain) else "lame"), msg("compare.state")
    if holds_zone(answers, domain):
        missing = [a for a in answers[1:] if not known_keys([a], domain)]
        if len(missing) > len(answers) // 2 and missing:
            return "silent", of_trouble(trouble_in(missing[0], server))
        return "holds", ""
    if first.usable and first.answer and not first.authoritative:
        return "recursive", msg("compare.state-2", name=server.name, place=server.place)
    trouble = trouble_in(first, server)
    return server_state(trouble.cause), of_trouble(trouble)


def _seen(
    server: Server,
    answers: Sequence[Answer],
    state: tuple[SideState, Text],
    at_odds: Mapping[Name, Sequence[Key]],
    present: bool = False,
) -> SideServer:
    word, detail = state
    if server.name in at_odds and word == "holds":
        word, detail = "behind", named(at_odds[server.name])
    serial = serial_of(answers, answers[0].question.name)
    return SideServer(server.name, server.address, word, serial, detail, present)


def _given(domain: Name, server: Server, answers: Sequence[Answer]) -> Given:
    return Given(server.name, sets_of(answers), frozenset(known_keys(answers, domain)))


def _unanswered_keys(domain: Name, above: Sequence[Answer], zone: Name) -> Iterator[Unanswered]:
    """The DS record, where none of the parent's servers says whether there is one."""
    if (silent := unanswered_why(above, zone)) is not None:
        yield Unanswered(domain, "DS", silent)


def _not_answered(given: Mapping[Server, Given], answers_of: Answered) -> Iterator[Unanswered]:
    """What a new server that holds the domain did not answer."""
    for server, mine in given.items():
        for answer in answers_of[server]:
            key = (answer.question.name, answer.question.type)
            if not mine.knows(key):
                yield Unanswered(*key, trouble_in(answer, server))


def _wild(given: Sequence[Given], name: Name) -> dict[str, RecordSet]:
    return {record.type: record for each in given for key, record in each.sets.items() if key[0] == name}


def _without(given: Given, name: Name) -> Given:
    sets = {key: record for key, record in given.sets.items() if key[0] != name}
    return Given(given.server, sets, given.asked)


def _doubled(domain: Name, records: Sequence[RecordCompared], holding: Sequence[Server]) -> Exchange[list[Finding]]:
    """Records that are missing at the new side because their names were typed with the domain into a form that adds
    it: asked for only where they would explain it."""
    missing = {(child(shown(each.name), domain), each.type): each for each in records if each.state == "missing"}
    keys = list(missing)[:MOST_DOUBLED] if holding else []
    if not keys:
        return []
    given = sets_of((yield from asked([(Question(*key), holding[0]) for key in keys])))
    found = []
    for key in keys:
        wanted_set = RecordSet(*key, 0, missing[key].wanted)
        if key not in given or not given[key].meanings & wanted_set.meanings:
            continue
        seen = doubled(key, missing[key].name, domain)
        found.append(finding("name-doubled", seen.name, seen.type, seen.message, seen.cure))
    return found
