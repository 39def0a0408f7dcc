"""Station six: parent, authoritative servers and resolvers, asked for every wanted record (N22, N23)."""

from __future__ import annotations

from collections.abc import AsyncIterator, Sequence
from dataclasses import dataclass, replace

from homepath.core.formats.contracts.watch import watch_json
from homepath.core.model.findings import Finding
from homepath.core.model.names import Name, child, shown
from homepath.core.model.questions import Answer, Question, Server, negative_ttl
from homepath.core.model.readings import Reading, RecordSpread, Role, Spread
from homepath.core.model.records import WEB_TYPES, Key, RecordSet, Zone
from homepath.core.planning.plan import UNKNOWN_ABSENT_TTL
from homepath.core.propagation.clamping import clamped
from homepath.core.propagation.readings import Watched, read, to_watch
from homepath.core.propagation.verdicts import judge, next_look, whole
from homepath.core.rules.catalogue import findings as all_findings
from homepath.core.wanted.wanted import ALIAS, Wanted
from homepath.journal.journal import Content, changed_at, open_journal
from homepath.net.asker import Asker
from homepath.net.network_file import Network, Resolver
from homepath.net.walker import Walker
from homepath.stations.evidence import contents_of
from homepath.stations.project import Project
from homepath.stations.survey import find_zone

TYPING_CODES = frozenset(
    {
        *("near-miss", "name-doubled", "target-unfinished", "pasted-quote", "wrong-name", "proof-differs"),
        *("address-set-incomplete", "address-elsewhere", "ipv6-elsewhere", "service-binding-elsewhere"),
    }
)
"""Findings that explain why what was entered is wrong."""


@dataclass(frozen=True, slots=True)
class _Vantages:
    parents: tuple[Server, ...]
    servers: tuple[Server, ...]
    resolvers: tuple[Resolver, ...]


async def look(project: Project, network: Network) -> Spread:
    """One look at every vantage; the journal keeps it. Raises CouldNotLook when the servers cannot be found."""
    asker = Asker(network)
    cut = await find_zone(Walker(asker), project.domain)
    with open_journal(project.folder) as journal:
        past = journal.contents(project.domain)
    watched = _watched(project, past)
    vantages = _Vantages(cut.parents, cut.servers, network.resolvers)
    source = await _ask_source(asker, watched, vantages, project.wanted)
    noted = contents_of(_sound(source), [each.key for each in watched])
    now = network.clock.now()
    with open_journal(project.folder) as journal:
        journal.record_contents(now, noted)
        past = journal.contents(project.domain)
    watched = _watched(project, past)
    caches = await _ask_caches(asker, watched, vantages, source)
    absent = _absent_ttl(source, project.domain)
    records = [_judge(each, source, caches, network, past, absent) for each in watched]
    delegation = _delegation(project.domain, source)
    spreads = [*([delegation] if delegation else []), *records]
    verdict, until = whole(spreads)
    findings = (*_findings(project, source, verdict), *clamped(spreads, _longest(past)))
    spread = Spread(project.domain, network.clock.now(), verdict, until, tuple(spreads), findings)
    with open_journal(project.folder) as journal:
        journal.record_look(spread.at, "watch", project.domain, verdict, watch_json(spread))
    return spread


def ends(spread: Spread) -> bool:
    """True when waiting cannot change anything: all is settled, or somebody has to mend something first."""
    return spread.verdict in ("settled", "entered-wrong", "not-entered")


async def follow(project: Project, network: Network) -> AsyncIterator[tuple[Spread, float | None]]:
    """Look until settled; each look comes with the time of the next one, None after the last."""
    while True:
        spread = await look(project, network)
        if spread.verdict == "settled":
            yield spread, None
            return
        then = next_look(spread.records, network.clock.now())
        yield spread, then
        await network.clock.sleep(then - network.clock.now())


def _watched(project: Project, past: Sequence[Content]) -> list[Watched]:
    """Every wanted set, and every web record that was ever seen at the same names and is not wanted."""
    wanted, records = project.wanted, _visible_wants(project)
    there = {record.key for record in records}
    history = [content.record for content in past if content.record.values]
    gone = [
        record.key
        for record in history
        if record.name in wanted.web_names
        and record.type in WEB_TYPES
        and record.key not in there
        and record.key not in wanted.protected
    ]
    return to_watch(records, gone, history)


def _visible_wants(project: Project) -> list[RecordSet]:
    """The wanted sets as questions can see them: an alias at the apex shows as its target's addresses.

    An optional set that nobody entered is not waited for.
    """
    records = []
    for want in project.wanted.wants:
        if want.optional and (project.before is None or project.before.zone.get(*want.record.key) is None):
            continue
        if want.record.type != ALIAS:
            records.append(want.record)
        elif project.before is not None:
            there = project.before.surroundings
            found = [there.get(want.record.values[0], rrtype) for rrtype in ("A", "AAAA")]
            records += [replace(each, name=want.record.name) for each in found if each is not None]
    return records


Source = list[tuple[Server, Role, Answer]]


async def _ask_source(asker: Asker, watched: Sequence[Watched], vantages: _Vantages, wanted: Wanted) -> Source:
    """What the parent and the authoritative servers say, and the names where slips would have put the records."""
    keys = dict.fromkeys(each.key for each in watched)
    keys |= dict.fromkeys((child(shown(name), wanted.domain), rrtype) for name, rrtype in list(keys))
    asks = [(Question(wanted.domain, "NS"), server) for server in vantages.parents]
    count = len(asks)
    asks += [(Question(wanted.domain, rrtype), server) for server in vantages.servers for rrtype in ("NS", "SOA")]
    asks += [(Question(*key), server) for server in vantages.servers for key in keys]
    answers = await asker.ask_all(asks)
    roles: list[Role] = ["parent" if at < count else "authoritative" for at in range(len(asks))]
    return [(server, role, answer) for (_, server), role, answer in zip(asks, roles, answers, strict=True)]


def _sound(source: Source) -> list[Answer]:
    """The answers of the first authoritative server that gave any."""
    answers = [(server, answer) for server, role, answer in source if role == "authoritative" and answer.usable]
    return [answer for server, answer in answers if server == answers[0][0]]


async def _ask_caches(
    asker: Asker, watched: Sequence[Watched], vantages: _Vantages, source: Source
) -> list[tuple[Key, Resolver, Answer]]:
    """What the resolvers say. One is not asked for what no authoritative server has and none ever had:

    the question itself would make it remember that the record is missing (RFC 2308).
    """
    asks = []
    for each in watched:
        exists = any(answer.found(*each.key) for _, role, answer in source if role == "authoritative" and answer.usable)
        if exists or each.old or not each.wanted:
            # visitors ask for addresses, so an alias is asked for the way their question would meet it
            rrtype = "A" if each.type == "CNAME" else each.type
            asks += [(each.key, resolver, Question(each.name, rrtype)) for resolver in vantages.resolvers]
    answers = await asker.ask_all([(question, resolver.server) for _, resolver, question in asks], recurse=True)
    return [(key, resolver, answer) for (key, resolver, _), answer in zip(asks, answers, strict=True)]


def _judge(
    watched: Watched,
    source: Source,
    caches: Sequence[tuple[Key, Resolver, Answer]],
    network: Network,
    past: list[Content],
    absent: int,
) -> RecordSpread:
    readings = [
        read(watched, answer, shown(server.name) or server.place, role)
        for server, role, answer in source
        if (answer.question.name, answer.question.type) == watched.key and role == "authoritative"
    ]
    readings += [
        read(watched, answer, resolver.label, "resolver") for key, resolver, answer in caches if key == watched.key
    ]
    wanted = RecordSet(watched.name, watched.type, 0, watched.wanted) if watched.wanted else None
    changed = changed_at(past, watched.key, wanted)
    return judge(watched, readings, network.clock.now(), changed, absent)


def _delegation(domain: Name, source: Source) -> RecordSpread | None:
    """The parent's word on the name servers against the zone's own."""
    own = next((s for _, role, a in source if role == "authoritative" and (s := a.found(domain, "NS"))), None)
    if own is None:
        return None
    watched = Watched(domain, "NS", own.values)
    readings: list[Reading] = []
    for server, role, answer in source:
        if (answer.question.name, answer.question.type) != (domain, "NS"):
            continue
        if role == "parent":  # a referral carries the servers in its authority section (RFC 1034 section 4.3.2)
            moved = next((each for each in answer.authority if each.key == (domain, "NS")), None)
            answer = answer if moved is None else _with_answer(answer, moved)
        readings.append(read(watched, answer, shown(server.name) or server.place, role))
    return judge(watched, readings, 0.0, None, 0)


def _with_answer(answer: Answer, record: RecordSet) -> Answer:
    return replace(answer, answer=(record,))


def _longest(past: Sequence[Content]) -> dict[Key, int]:
    """The highest TTL that the authoritative servers ever gave for each record set."""
    found: dict[Key, int] = {}
    for content in past:
        key = content.record.key
        found[key] = max(found.get(key, 0), content.record.ttl)
    return found


def _absent_ttl(source: Source, domain: Name) -> int:
    soa = next((s for _, role, a in source if role == "authoritative" and (s := a.found(domain, "SOA"))), None)
    return negative_ttl(soa) if soa else UNKNOWN_ABSENT_TTL


def _findings(project: Project, source: Source, verdict: str) -> tuple[Finding, ...]:
    """What the authoritative servers give, held against what was meant, in the words of the rules."""
    if verdict not in ("entered-wrong", "split", "not-entered"):
        return ()
    sets = [
        each
        for answer in _sound(source)
        for each in answer.answer
        if each.name == answer.question.name and each.type not in ("RRSIG", "SOA", "NS")
    ]
    zone = Zone.of(project.domain, dict.fromkeys(sets))
    return tuple(finding for finding in all_findings(project.case(zone)) if finding.code in TYPING_CODES)
