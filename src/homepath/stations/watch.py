"""Station six: parent, authoritative servers and resolvers, asked for every wanted record."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from homepath.core.formats.contracts.watch import watch_json
from homepath.core.model.findings import Finding
from homepath.core.model.history import Content, Copy, Heard, earlier_copies
from homepath.core.model.meant import Meant
from homepath.core.model.names import Name, shown
from homepath.core.model.problems import CouldNotLook
from homepath.core.model.readings import Reading, RecordSpread, Spread
from homepath.core.model.records import WEB_TYPES, RecordSet, Zone
from homepath.core.propagation.habits import Habit, habit_findings, habits
from homepath.core.propagation.readings import Watched, read, to_watch
from homepath.core.propagation.verdicts import Past, judge, next_look, right_since, whole
from homepath.core.rules.catalogue import findings as all_findings
from homepath.core.wanted.wanted import ALIAS
from homepath.journal.journal import VerdictChange, open_journal
from homepath.net.asker import Asker
from homepath.net.network_file import Network
from homepath.net.walker import Walker
from homepath.stations.asking import BOGUS, Vantages, ask_caches, ask_source, delegation_contents, sound
from homepath.stations.evidence import contents_of
from homepath.stations.memory import Memory, moved_until, remember, settled_at
from homepath.stations.project import Project
from homepath.stations.survey import find_zone

TYPING_CODES = frozenset(
    {
        *("near-miss", "name-doubled", "target-unfinished", "pasted-quote", "wrong-name", "proof-differs"),
        *("address-set-incomplete", "address-elsewhere", "ipv6-elsewhere", "service-binding-elsewhere"),
    }
)
"""Findings that explain why what was entered is wrong."""


async def look(project: Project, network: Network) -> Spread:
    """One look at every vantage; the journal keeps it. Raises CouldNotLook when the servers cannot be found."""
    asker = Asker(network)
    domain = project.domain
    cut = await find_zone(Walker(asker), domain)
    with open_journal(project.folder) as journal:
        past = journal.contents(domain)
    watched = _watched(project, past)
    vantages = Vantages(cut.parents, cut.servers, network.resolvers)
    source = await ask_source(asker, watched, vantages, domain)
    noted = contents_of(sound(source), [each.key for each in watched])
    now = network.clock.now()
    with open_journal(project.folder) as journal:
        journal.record_contents(now, noted)
        journal.record_contents(now, delegation_contents(source, domain), "parent")
        memory = remember(journal, domain, now, network.clock.slack)
    watched = _watched(project, memory.contents)
    caches = await ask_caches(asker, watched, vantages, source)
    heard = [*source, *caches]
    if asker.dropped:
        network.trace(f"dns {asker.dropped} answers dropped: they fitted no question, id or server")
    moves = project.wanted.choice.route == "nameservers"
    judged = [_judge(each, heard, memory, network, moves) for each in (*_delegation(domain, source, moves), *watched)]
    records = [spread for spread, _ in judged]
    notes = _one_each([note for spread, found in judged if spread.verdict != "settled" for note in found])
    verdict, until = whole(records)
    findings = (*_findings(project, source, verdict), *notes, *_broken_checks(domain, caches), *_jump(domain, memory))
    spread = Spread(domain, network.clock.now(), verdict, until, tuple(records), findings)
    keys = {(domain, "NS"), *(each.key for each in watched)}
    with open_journal(project.folder) as journal:
        journal.record_watch(
            spread.at,
            domain,
            verdict,
            watch_json(spread),
            [each for each in heard if each.key in keys],
            [VerdictChange(spread.at, (r.name, r.type), r.verdict, r.settled_by) for r in records],
        )
    return spread


@dataclass(frozen=True, slots=True)
class Goal:
    """When to stop looking. `until` None: at `settled`, or as soon as waiting cannot change anything.

    `entered`: the source gives everything wanted, whatever caches hold. `seconds`: so long at most.
    """

    until: Literal["settled", "entered"] | None = None
    seconds: float | None = None

    def reached(self, spread: Spread) -> bool:
        if self.until == "entered":
            return spread.verdict in ("settled", "spreading")
        return spread.verdict == "settled" or (
            self.until is None and spread.verdict in ("entered-wrong", "not-entered")
        )


@dataclass(slots=True)
class WatchControl:
    """In the hand of whoever watches: `sooner` brings the next look forward, with `leave` there is none."""

    sooner: asyncio.Event = field(default_factory=asyncio.Event)
    leave: bool = False


async def follow(
    project: Project, network: Network, goal: Goal, control: WatchControl | None = None
) -> AsyncIterator[tuple[Spread, float | None]]:
    """Look until the goal; each look comes with the time of the next one, None after the last."""
    control = control or WatchControl()
    clock = network.clock
    ends = None if goal.seconds is None else clock.now() + goal.seconds
    spread: Spread | None = None
    while True:
        spread = await (look(project, network) if spread is None else _look_again(project, network, spread))
        now = clock.now()
        if goal.reached(spread) or (ends is not None and now >= ends):
            yield spread, None
            return
        then = next_look(spread.records, now)
        then = then if ends is None else min(then, ends)
        yield spread, then
        await _wait(then - clock.now(), network, control.sooner)
        if control.leave:
            return


async def _look_again(project: Project, network: Network, before: Spread) -> Spread:
    """A later look. If the network is gone, what was known is unknown for now; it may come back."""
    try:
        return await look(project, network)
    except CouldNotLook as error:
        lost = [replace(r, verdict="unknown", readings=(), because=str(error), taken_back=None) for r in before.records]
        return replace(before, at=network.clock.now(), verdict="unknown", records=tuple(lost), findings=())


async def _wait(seconds: float, network: Network, sooner: asyncio.Event) -> None:
    waits = [asyncio.ensure_future(network.clock.sleep(seconds)), asyncio.ensure_future(sooner.wait())]
    try:
        await asyncio.wait(waits, return_when=asyncio.FIRST_COMPLETED)
    finally:
        for each in waits:
            each.cancel()
        sooner.clear()


def _watched(project: Project, past: Sequence[Content]) -> list[Watched]:
    """Name servers that change, every wanted set, and every web record ever seen there that is not wanted."""
    wanted, records = project.wanted, _visible_wants(project)
    there = {record.key for record in records}
    meant = [Meant(*record.key, record.values) for record in records]
    history = [content.record for content in past if content.record.values and content.source == "zone"]
    gone = [
        record.key
        for record in history
        if record.name in wanted.web_names
        and record.type in WEB_TYPES
        and record.key not in there
        and record.key not in wanted.protected
    ]
    if wanted.choice.route == "nameservers":
        before = [each.record for each in past if each.record.key == (project.domain, "NS")]
        meant = [Meant(project.domain, "NS", wanted.nameservers), *meant]
        history = [*before, *history]
    return to_watch([*meant, *(Meant(*key) for key in dict.fromkeys(gone))], history)


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


def _delegation(domain: Name, source: Sequence[Heard], moves: bool) -> list[Watched]:
    """The parent's word on the name servers against the zone's own, where they are not what is being changed."""
    own = next((s for each in source if each.role == "authoritative" and (s := each.answer.found(domain, "NS"))), None)
    return [] if own is None or moves else [Watched(Meant(domain, "NS", own.values))]


def _judge(
    watched: Watched, heard: Sequence[Heard], memory: Memory, network: Network, moves: bool
) -> tuple[RecordSpread, list[tuple[Habit, Finding]]]:
    """The verdict of one record set, from this look and all earlier ones, and what was learned of the resolvers."""
    now, slack = network.clock.now(), network.clock.slack
    if watched.type == "NS" and not moves:
        return judge(watched, [_read(watched, each) for each in heard if each.key == watched.key], now), []
    moves = watched.type == "NS"
    readings = [_read(watched, each) for each in heard if each.key == watched.key]
    earlier = [_read(watched, each) for each in memory.heard if each.key == watched.key]
    copies = earlier_copies(memory.contents, watched.meant)
    if moves:  # a signature key at the parent binds as long as the names of the servers do (RFC 4035 section 5)
        copies += earlier_copies(memory.contents, Meant(watched.name, "DS"))
    since = right_since(earlier, readings, now)
    if since is not None and copies and any(_behind(each) for each in earlier):
        copies = (*copies[:-1], Copy(max(copies[-1].until, since), copies[-1].ttl))
    lets_go = max((copy.dies for copy in copies), default=None)
    longest = max((c.record.ttl for c in memory.contents if c.record.key == watched.key and c.record.values), default=0)
    learned = habits([*earlier, *readings], since, lets_go, longest, slack)
    past = Past(
        copies,
        None if moves else moved_until(memory.contents, watched.name, now),
        tuple(earlier),
        settled_at(memory, watched, earlier),
        tuple(learned),
    )
    spread = judge(watched, readings, now, past, "parent" if moves else "authoritative")
    return spread, list(zip(learned, habit_findings(watched, learned, longest), strict=True))


def _one_each(notes: Sequence[tuple[Habit, Finding]]) -> list[Finding]:
    """One finding of a kind for each resolver: it does the same with every name."""
    first: dict[tuple[str, str], Finding] = {}
    for habit, finding in notes:
        first.setdefault((habit.vantage, habit.kind), finding)
    return list(first.values())


def _read(watched: Watched, heard: Heard) -> Reading:
    return read(watched, heard.answer, heard.vantage, heard.role)


def _behind(reading: Reading) -> bool:
    return reading.role == "authoritative" and reading.state not in ("new", "silent", "broken")


def _broken_checks(domain: Name, caches: Sequence[Heard]) -> list[Finding]:
    """Resolvers that check signatures refuse the domain: their visitors reach nothing, and waiting may not help."""
    who = list(dict.fromkeys(each.vantage for each in caches if BOGUS in each.answer.detail))
    if not who:
        return []
    return [
        Finding(
            "signature-broken",
            "blocker",
            domain,
            "DS",
            f"Resolvers that check signatures refuse {shown(domain)}: {', '.join(who)}.",
            "The DS record at the registrar does not fit the zone. Have it removed, or the zone signed with its key.",
            "RFC 4035 section 5",
        )
    ]


def _jump(domain: Name, memory: Memory) -> list[Finding]:
    if not memory.jumped:
        return []
    return [
        Finding(
            "clock-set-back",
            "note",
            domain,
            "",
            "The journal holds looks that are dated later than now, so this machine's clock was set back.",
            "Those looks are left out. Check the clock; deadlines are as right as it is.",
            "RFC 1035 section 3.2.1",
        )
    ]


def _findings(project: Project, source: Sequence[Heard], verdict: str) -> tuple[Finding, ...]:
    """What the authoritative servers give, held against what was meant, in the words of the rules."""
    if verdict not in ("entered-wrong", "split", "not-entered"):
        return ()
    sets = [
        each
        for answer in sound(source)
        for each in answer.answer
        if each.name == answer.question.name and each.type not in ("RRSIG", "SOA", "NS")
    ]
    zone = Zone.of(project.domain, dict.fromkeys(sets))
    return tuple(finding for finding in all_findings(project.case(zone)) if finding.code in TYPING_CODES)
