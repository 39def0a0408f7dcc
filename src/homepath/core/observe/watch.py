"""One check of which servers return the new record, which the old one, and what was lost meanwhile."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from homepath.core.dns.answers import Server
from homepath.core.dns.names import Name, child
from homepath.core.dns.records import WEB_TYPES, WILD_TYPES, Key, RecordSet, Zone
from homepath.core.dns.zone_answers import behind_others, contents_of, sets_of
from homepath.core.model.evidence import Content, Observation, VerdictChange, earlier_copies, noted
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.plan import DesiredSet
from homepath.core.model.survey import Reading, RecordSpread, Spread
from homepath.core.observe.former import ask_former
from homepath.core.observe.merging import entered_only
from homepath.core.observe.requests import Exchange, time
from homepath.core.observe.survey import domain_cut
from homepath.core.observe.vantages import (
    Vantages,
    ask_caches,
    ask_source,
    check_keys,
    clamping_resolvers,
    delegation_contents,
    jump,
    lying,
    one_each,
    one_each_place,
    refusing,
    sound,
    typed_wrong,
    with_slips,
)
from homepath.core.observe.zone_questions import listed_before
from homepath.core.plan.guard import loss_findings, losses
from homepath.core.plan.job import gone_there, job
from homepath.core.propagation.habits import Habit, habit_findings, habits
from homepath.core.propagation.readings import Watched, beside, read, to_watch
from homepath.core.propagation.verdicts import Past, judge, longer_held_copies, moved_copies, right_since, whole
from homepath.core.site.case import Case
from homepath.core.site.zone_facts import handed_over

REMEMBERED = 2 * 86400.0
"""Seconds of earlier answers that a check takes into account; longer than nearly every TTL."""


@dataclass(frozen=True, slots=True)
class Memory:
    """What is known from before: answers and verdicts of earlier checks. `slack`: seconds that clocks may differ."""

    observed: tuple[Observation, ...] = ()
    verdicts: tuple[VerdictChange, ...] = ()
    slack: float = 2.0

    def before(self, now: float) -> tuple[Observation, ...]:
        """Only what is past: a clock that was set back leaves answers later than now."""
        return tuple(each for each in self.observed if each.answer.at <= now + self.slack)


@dataclass(frozen=True, slots=True)
class WatchResult:
    """The spread, and what the journal is to keep: contents at the zone, at the parent and at servers that are behind,
    every answer, verdicts."""

    spread: Spread
    contents: tuple[RecordSet, ...]
    handed: tuple[RecordSet, ...]
    behind: tuple[RecordSet, ...]
    observed: tuple[Observation, ...]
    verdicts: tuple[VerdictChange, ...]


def watch_check(case: Case, memory: Memory, resolvers: dict[str, Server], label: str) -> Exchange[WatchResult]:
    """One check at every vantage. `label`: one that no one can have entered. Raises CouldNotCheck when the domain's
    servers cannot be found."""
    domain = case.domain
    cut = yield from domain_cut(domain)
    vantages = Vantages(one_each_place(cut.parents), one_each_place(cut.servers), resolvers)
    watched = _watched(case, job(case))
    random = [(child(label, domain), rrtype) for rrtype in WILD_TYPES]
    source = yield from ask_source(watched, [*_also_asked(case, watched), *random], vantages, domain)
    now = yield from time()
    asked = [each.key for each in source if each.role == "authoritative"]
    wild = _wild(source, child(label, domain))
    contents, made_up = _entered(case, contents_of(sound(source, domain), asked), wild)
    source = [_without(each, made_up) for each in source]
    handed = delegation_contents(source, domain)
    held = {record.name for record in contents if record.values}
    free = {each.name for each in watched} & {record.name for record in contents} - held
    grown = [replace(record, name=name) for record in wild for name in free]
    behind = _behind_others(source, contents, grown, held, case.history)
    history = noted(noted(case.history, now, contents, "zone"), now, handed, "parent")
    history = noted(history, now, behind, "behind")
    case = replace(case, history=history, zone=_present(case, contents))
    desired = job(case)
    watched = _watched(case, desired)
    caches, liars = yield from ask_caches(watched, vantages, source, domain, label)
    observed = [*source, *caches]
    now = yield from time()
    over = case.wanted.hand_over
    moves = over is not None
    every = (*watched, *_delegation(domain, source, moves))
    clamping = clamping_resolvers([*memory.before(now), *observed], history)
    judged = [_judge(each, observed, history, memory, now, moves, liars, clamping) for each in every]
    missing = any(spread.verdict not in ("settled", "spreading", "unknown") for spread, _ in judged)
    wrong = typed_wrong(case) if missing else ()
    records = [with_slips(spread, wrong, case) for spread, _ in judged]
    notes = one_each([note for spread, found in judged if spread.verdict != "unknown" for note in found])
    verdict, until = whole(records)
    explained = wrong if verdict in ("entered-wrong", "split", "not-entered") else ()
    lost = loss_findings(case, losses(case, desired))
    jumped = len(memory.before(now)) < len(memory.observed)
    signatures, signed = yield from check_keys(cut, handed)
    if signatures in ("broken", "unknown") and verdict in ("settled", "spreading"):
        # to anyone who checks broken signatures the domain does not exist
        verdict, until = ("entered-wrong" if signed else "unknown"), None
    refused, ds_held = refusing(domain, caches, history, now)
    if ds_held is not None and verdict in ("settled", "spreading"):
        verdict, until = "spreading", max(ds_held, until or 0.0)
    former, gone = yield from ask_former(case, source, vantages, records, now)
    records += former
    doubts = [*gone, *lying(domain, liars), *notes, *refused, *jump(domain, jumped)]
    found = [*signed, *lost, *explained, *doubts]
    spread = Spread(domain, now, verdict, until, tuple(records), tuple(worst_first(found)))
    keys = {(domain, "NS"), *(each.key for each in watched)}
    return WatchResult(
        spread,
        tuple(contents),
        tuple(handed),
        tuple(behind),
        tuple(each for each in observed if each.key in keys),
        tuple(VerdictChange(now, (r.name, r.type), r.verdict, r.settled_by) for r in records),
    )


def _watched(case: Case, desired: Sequence[DesiredSet]) -> list[Watched]:
    """Everything that the job sets or removes (`desired`), what was changed first; nameservers where they change."""
    over = case.wanted.hand_over
    history = [each.record for each in case.history if each.record.values and each.source == "zone"]
    if over is not None:
        parents = [each.record for each in case.history if each.record.key == (case.domain, "NS")]
        desired = [DesiredSet(case.domain, "NS", over.servers), *desired, *_led_by_servers(case, desired)]
        history = [*parents, *history]
    given_up: Iterable[DesiredSet] = ()
    if case.wanted.going == "back":
        given_up = job(gone_there(case))
    elif case.wanted.going == "away":  # whatever still points to the builder
        given_up = [DesiredSet(*each.key, each.values) for each in history]
    followed = to_watch(desired, history, given_up)
    return [each for each in followed if each.wanted or each.desired.without or each.old]


def _led_by_servers(case: Case, desired: Sequence[DesiredSet]) -> Iterator[DesiredSet]:
    """Once the nameservers have changed, what they give at the website's names is what caches have to learn."""
    known = {each.key for each in desired}
    for name in case.wanted.names if handed_over(case) else ():
        for rrtype in WEB_TYPES:
            there = case.zone.get(name, rrtype)
            if there is not None and there.key not in known:
                yield DesiredSet(name, rrtype, there.values)


def _also_asked(case: Case, watched: Sequence[Watched]) -> list[Key]:
    """Everything that would be in the way at the website's names, and everything that must stay."""
    there = {each.key for each in watched}
    web = [(name, rrtype) for name in case.wanted.web_names for rrtype in WEB_TYPES]
    wanted = [want.record.key for want in case.wanted.wants if want.record.type != "ALIAS"]
    return [key for key in dict.fromkeys([*web, *wanted, *listed_before(case.history)]) if key not in there]


def _wild(source: Sequence[Observation], name: Name) -> list[RecordSet]:
    """What the zone returns for a name that no one can have entered: a wildcard's (RFC 4592)."""
    found = sets_of(each.answer for each in source if each.role == "authoritative" and each.key[0] == name)
    return [record for key, record in found.items() if key[0] == name]


def _entered(
    case: Case, contents: Sequence[RecordSet], wild: Sequence[RecordSet]
) -> tuple[list[RecordSet], frozenset[Key]]:
    """Without what a wildcard made up, and what that is: a name counts that was entered before, or that answers as
    wanted now."""
    there = {record.key: record for record in contents}
    right = {want.record.name for want in case.wanted.wants if want.met_by(there.get(want.record.key))}
    listed = {each.record.name for each in case.survey.records} if case.survey else set()
    names = {case.domain, *right, *(listed if wild else {record.name for record in case.zone})}
    kept = entered_only(contents, wild, names)
    return kept, frozenset(there) - {record.key for record in kept}


def _without(observed: Observation, made_up: frozenset[Key]) -> Observation:
    """The answer of a server of the zone, without what its wildcard made up for a name without records."""
    if observed.role != "authoritative" or observed.key not in made_up:
        return observed
    return replace(observed, answer=replace(observed.answer, answer=()))


def _present(case: Case, contents: Iterable[RecordSet]) -> Zone:
    """The zone as known, updated with what the servers just returned."""
    sets = dict(case.zone.sets)
    for record in contents:
        if record.values:
            sets[record.key] = record
        else:
            sets.pop(record.key, None)
    return Zone(case.domain, sets)


def _delegation(domain: Name, source: Sequence[Observation], moves: bool) -> list[Watched]:
    """The parent's word on the nameservers against the zone's own, where they are not what is being changed."""
    own = next((s for each in source if each.role == "authoritative" and (s := each.answer.found(domain, "NS"))), None)
    return [] if own is None or moves else [Watched(DesiredSet(domain, "NS", own.values))]


def _judge(
    watched: Watched,
    observed: Sequence[Observation],
    history: Sequence[Content],
    memory: Memory,
    now: float,
    moves: bool,
    liars: frozenset[str],
    clamping: frozenset[str],
) -> tuple[RecordSpread, list[tuple[Habit, Finding]]]:
    """The verdict of one record set, from this check and all earlier ones, and what was learned of the resolvers."""
    readings = [_read(watched, each) for each in observed if each.key == watched.key]
    if watched.type == "NS" and not moves:
        return judge(watched, readings, now), []
    moves = watched.type == "NS"
    earlier = [_read(watched, each) for each in memory.before(now) if each.key == watched.key]
    there = (watched.desired, *beside(watched.desired))
    copies = tuple(copy for desired_set in there for copy in earlier_copies(history, desired_set))
    if moves:  # a signature key at the parent binds as long as the names of the servers do (RFC 4035 section 5)
        copies += earlier_copies(history, DesiredSet(watched.name, "DS"))
    since = right_since(earlier, readings, now)
    keys = {desired_set.key for desired_set in there}
    longest = max((c.record.ttl for c in history if c.record.key in keys and c.record.values), default=0)
    believed = [each for each in (*earlier, *readings) if each.vantage not in liars]
    copies += tuple(copy for desired_set in there for copy in moved_copies(history, desired_set))
    copies += longer_held_copies(believed, Past(copies).lets_go, since, clamping)
    lets_go = Past(copies).lets_go
    came = _came_at(history, watched)
    learned = habits(believed, since, lets_go, longest, memory.slack, came)
    past = Past(copies, tuple(earlier), _settled_at(memory, watched, earlier), tuple(learned), liars)
    spread = judge(watched, readings, now, past, "parent" if moves else "authoritative")
    return spread, list(zip(learned, habit_findings(watched, learned, longest), strict=True))


def _came_at(history: Sequence[Content], watched: Watched) -> float | None:
    """When the wanted content was seen to come, None where it was there from the first check on: what caches fetched
    before that check had a TTL that no one saw."""
    mine = [each for each in history if each.source == "zone" and each.record.key == watched.key]
    right = [each.first_at for each in mine if watched.desired.met_by(each.record)]
    return min(right) if right and min(each.first_at for each in mine) < min(right) else None


def _settled_at(memory: Memory, watched: Watched, earlier: Sequence[Reading]) -> float | None:
    """When the last check said settled of the same wanted content; None if it said something else."""
    last = next((each for each in reversed(memory.verdicts) if each.key == watched.key), None)
    if last is None or last.verdict != "settled":
        return None
    same = any(each.role == "authoritative" and each.state == "new" and each.at >= last.at - 60 for each in earlier)
    return last.at if same else None


def _read(watched: Watched, observed: Observation) -> Reading:
    return read(watched, observed.answer, observed.vantage, observed.role)


def _behind_others(
    source: Sequence[Observation],
    contents: Sequence[RecordSet],
    grown: Sequence[RecordSet],
    held: Collection[Name],
    history: Sequence[Content],
) -> list[RecordSet]:
    """What caches may still fetch although it is not entered: from a server that is behind the one whose word counts,
    or where a wildcard answers for a name without records. Once that is over, the sets are noted as they are, which
    ends it."""
    counted = {record.key: record for record in contents}
    lagging = behind_others((each.answer for each in source if each.role == "authoritative"), counted)
    lagging |= {each.key: each for each in grown}
    before = [each.record.key for each in history if each.source == "behind" and each.record.key not in lagging]
    over = {key: counted.get(key, RecordSet(*key, 0, ())) for key in before if key in counted or key[0] in held}
    return [*lagging.values(), *over.values()]
