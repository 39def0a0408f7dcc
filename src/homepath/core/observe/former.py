"""After a switch of nameservers: which resolvers still ask the former ones, and whether those still hold the zone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from homepath.core.dns.answers import Answer, Question, Server
from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet
from homepath.core.dns.soa import read_soa
from homepath.core.dns.walk import Found
from homepath.core.findings.registry import finding
from homepath.core.message import msg
from homepath.core.model.evidence import Observation
from homepath.core.model.findings import Finding
from homepath.core.model.survey import Reading, RecordSpread, SpreadVerdict, State
from homepath.core.observe.requests import Exchange, LookUp, Questions, asked
from homepath.core.observe.vantages import Vantages
from homepath.core.plan.going_back import former_servers
from homepath.core.site.case import Case
from homepath.core.site.zone_facts import handed_over

MOST_FORMER = 6
"""Former nameservers that are asked whether they still hold the domain."""


def ask_former(
    case: Case, source: Sequence[Observation], vantages: Vantages, records: Sequence[RecordSpread], now: float
) -> Exchange[tuple[list[RecordSpread], list[Finding]]]:
    """What the SOA shows that each resolver returns, and a finding where the former zone was deleted too early; nothing
    where no nameservers were changed. `records`: the verdicts of this check, that of the nameservers among them."""
    over, resolvers = case.wanted.hand_over, vantages.resolvers
    if over is None or not handed_over(case):
        return [], []
    until = next((each.settled_by for each in records if each.type == "NS"), None)
    servers = former_servers(case.history, case.domain, over.servers)
    if not servers:
        return [], []
    soa = Question(case.domain, "SOA")
    answers = yield from asked([(soa, each) for each in resolvers.values()], recurse=True)
    spread = _by_soa(case, source, dict(zip(resolvers, answers, strict=True)), until, now)
    gone: list[Finding] = []
    if until is not None:
        gone = yield from _gone(case.domain, servers, vantages.servers[0].port)
    return spread, gone


def _by_soa(
    case: Case, source: Sequence[Observation], answers: Mapping[str, Answer], until: float | None, now: float
) -> list[RecordSpread]:
    """The zone's SOA names its primary server, so it tells which side a resolver asked; nothing where both sides name
    the same one."""
    new = _first(source, case.domain)
    earlier = [c.record for c in case.history if c.record.key == (case.domain, "SOA") and c.record.values]
    before = {_primary(record) for record in earlier} - ({_primary(new)} if new else set())
    if new is None or not before:
        return []
    readings = []
    for label, answer in answers.items():
        given = answer.found(case.domain, "SOA") if answer.usable else None
        state: State = "silent" if answer.outcome == "silent" else "broken"
        if given is not None:
            primary = _primary(given)
            state = "new" if primary == _primary(new) else "old" if primary in before else "other"
        values, ttl = (given.values, given.ttl) if given else ((), None)
        readings.append(Reading(label, "resolver", state, values, ttl, answer.at))
    old = [each.vantage for each in readings if each.state == "old"]
    words = msg("former.by-soa.words", old=tuple(old)) if old else ""
    verdict: SpreadVerdict = "spreading" if old else "settled"
    settled = until if old and until is not None and until > now else None
    return [RecordSpread(case.domain, "SOA", new.values, verdict, settled, tuple(readings), words)]


def _first(source: Sequence[Observation], domain: Name) -> RecordSet | None:
    found = (each.answer.found(domain, "SOA") for each in source if each.role == "authoritative")
    return next((each for each in found if each is not None), None)


def _primary(soa: RecordSet) -> Name:
    found = read_soa(soa)
    return found.primary if found else ""


def _gone(domain: Name, servers: Sequence[Name], port: int) -> Exchange[list[Finding]]:
    """Whether none of the former servers holds the domain any more."""
    names = list(servers)[:MOST_FORMER]
    replies = yield [LookUp(name, ("A",)) for name in names]
    there = [
        Server(address, port, name)
        for name, reply in zip(names, replies, strict=True)
        if isinstance(reply, Found)
        for record in reply.sets
        for address in record.values[:1]
    ]
    if not there:
        return []
    soa = Question(domain, "SOA")
    (answers,) = yield [Questions(tuple((soa, server) for server in there))]
    if any(answer.usable and answer.authoritative for answer in answers):
        return []
    if all(answer.outcome == "silent" for answer in answers):
        return []  # whether it was deleted is not known
    message = msg("old-zone-gone", domain=domain, names=tuple(names))
    return [finding("old-zone-gone", domain, "NS", message)]
