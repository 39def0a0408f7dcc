"""Taking a change back: what it replaced, from the journal, and what came since and stays."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from homepath.core.dns.names import Name
from homepath.core.dns.policies import is_spf
from homepath.core.dns.records import JOINED_TYPES, WEB_TYPES, Key, RecordSet
from homepath.core.dns.values import meaning
from homepath.core.files.sheet import form_ttl
from homepath.core.findings.kind import Sighting
from homepath.core.message import Text, msg
from homepath.core.model.brief import Notation
from homepath.core.model.evidence import Content
from homepath.core.model.plan import Change, DesiredSet, move_of
from homepath.core.site.case import Case
from homepath.core.site.purposes import written_by_server
from homepath.core.site.slips import slip_among
from homepath.core.site.wanted import HandOver, Wanted


@dataclass(frozen=True, slots=True)
class Back:
    """One record set to restore. `before`: its former values; `ours`: those of the change; `taken`: those
    of a joined set that the change removed."""

    before: RecordSet
    ours: tuple[str, ...]
    taken: tuple[str, ...] = ()

    @property
    def key(self) -> Key:
        return self.before.key

    @property
    def desired(self) -> DesiredSet:
        if self.key[1] in JOINED_TYPES:
            return DesiredSet(*self.key, self.taken, self.ours)
        return DesiredSet(*self.key, self.before.values)


def former_servers(contents: Sequence[Content], domain: Name, servers: Sequence[Name]) -> tuple[Name, ...]:
    """The nameservers that the parent named last before `servers`; nothing where the journal saw no others."""
    seen = [c.record for c in contents if c.source == "parent" and c.record.key == (domain, "NS") and c.record.values]
    others = [record.values for record in seen if not set(record.values) & set(servers)]
    return others[-1] if others else ()


def taken_back(wanted: Wanted, contents: Sequence[Content], notation: Notation) -> Wanted:
    """The hand-over the other way round: to the nameservers of before."""
    assert wanted.hand_over is not None
    servers = former_servers(contents, wanted.domain, wanted.hand_over.servers)
    back = HandOver(servers=servers, host=notation.host, by_builder=False, new_zone=notation.new_zone)
    return replace(wanted, hand_over=back, nameservers=servers, forwarded=())


def backs(case: Case, job: Sequence[DesiredSet]) -> tuple[Back, ...]:
    """What is to be restored. `job`: what the change that is taken back sets and removes.

    Without a time it is, for each set, what was there before the change; a time restores everything of that time,
    also what was lost since.
    """
    to, found = case.wanted.back_to, {}
    for desired in job:
        before = _before(case, desired, to)
        if before is not None:
            found[desired.key] = _back(desired, before)
    for key in _seen_then(case, to):
        if key not in found:
            before = _at(case.history, key, to or 0.0)
            if before is not None and before.values:
                taken = before.values if key[1] in JOINED_TYPES else ()
                found[key] = Back(before, (), taken)
    # what the owner said stays, stays: then nothing else is restored in its place
    accepted = case.wanted.accepted
    return tuple(e for e in found.values() if not any(r.key in accepted for r in _newer(case, e, found)))


def _back(desired: DesiredSet, before: RecordSet) -> Back:
    if desired.type not in JOINED_TYPES:
        return Back(before, desired.values)
    then = before.meanings
    ours = tuple(v for v in (*desired.values, *desired.without) if meaning(desired.type, v) not in then)
    taken = tuple(value for value in desired.without if meaning(desired.type, value) in then)
    return Back(before, ours, taken)


def _before(case: Case, desired: DesiredSet, to: float | None) -> RecordSet | None:
    """What was there before the change, with its former TTL; None where it was always as meant, or never seen.

    It is what was seen first: what was typed on the way to the change, slips included, was never meant to stay.
    """
    past = _past(case.history, desired.key)
    if not past:
        return None
    if to is not None:
        return _at(case.history, desired.key, to)
    first = past[0]
    changed = case.job_since
    if changed is not None:
        earlier = [each for each in past if each.first_at <= changed]
        first = earlier[-1] if earlier else past[0]
        while desired.met_by(first.record) and past.index(first) > 0:
            first = past[past.index(first) - 1]
    if desired.values and desired.met_by(first.record):
        return None
    return first.record


def _past(history: Sequence[Content], key: Key) -> list[Content]:
    return [each for each in history if each.source == "zone" and each.record.key == key]


def _at(history: Sequence[Content], key: Key, moment: float) -> RecordSet | None:
    """What the zone's servers returned at a time; None where nothing was seen by then."""
    past = [each for each in _past(history, key) if each.first_at <= moment]
    return past[-1].record if past else None


def first_seen(history: Sequence[Content]) -> float | None:
    """When the zone was first checked, as far as the journal knows; Unix seconds."""
    return min((each.first_at for each in history if each.source == "zone"), default=None)


def _seen_then(case: Case, to: float | None) -> list[Key]:
    """Every set that a survey had listed by that moment."""
    if to is None:
        return []
    listed = (e.record.key for e in case.history if e.source == "survey" and e.first_at <= to and e.record.values)
    return [key for key in dict.fromkeys(listed) if not written_by_server(*key, case.domain) and "*" not in key[0]]


def undo_changes(case: Case, job: Sequence[DesiredSet]) -> Iterator[Change]:
    """The exact changes back; nothing of what someone entered since, and nothing where that is in the way."""
    found = backs(case, job)
    for record in given_up(case, found):
        kind, why = case.purpose(record)[0], msg("going-back.undo-changes")
        yield Change("remove", *record.key, record.ttl, (), record.values, kind, why, record.ttl)
    for each in found:
        now = case.zone.get(*each.key)
        if now is not None and _only_shorter(case, each, now):
            why, kind = msg("going-back.undo-changes-2"), case.purpose(now)[0]
            yield Change("replace", *each.key, each.before.ttl, now.values, now.values, kind, why, now.ttl)
        if each.desired.met_by(now) or each.key in case.wanted.protected or foreign(case, each, found):
            continue
        if _came_since(case, each):
            continue
        there = now.values if now else ()
        values = _values(each, there)
        if set(values) == set(there):
            continue
        back = each.before.values
        ttl = now.ttl if now and set(values) & set(there) - set(back) else each.before.ttl
        old, gone = now.ttl if now else None, tuple(v for v in there if v not in values)
        about = RecordSet(*each.key, ttl, gone if set(values) <= set(there) and gone else values or there)
        move, kind = move_of(each.key[1], there, values), case.purpose(about)[0]
        yield Change(move, *each.key, ttl, values, there, kind, _because(values, there), old)


def _came_since(case: Case, each: Back) -> bool:
    """Whether nothing was there before, and someone entered something of their own since: it stays."""
    now = case.zone.get(*each.key)
    return now is not None and not each.before.values and not _known(case, each, now)


def _only_shorter(case: Case, each: Back, now: RecordSet) -> bool:
    """Whether a set is restored, apart from a TTL lowered before the change, as far as the form offers others."""
    same = now.meanings == each.before.meanings and each.key[1] in WEB_TYPES
    return same and now.ttl < form_ttl(each.before.ttl, case.notation) and each.key not in case.wanted.protected


def _because(values: Sequence[str], there: Sequence[str]) -> Text:
    if set(values) <= set(there):
        return msg("going-back.because") if values else msg("going-back.because-2")
    return msg("going-back.because-3")


def _values(each: Back, there: Sequence[str]) -> tuple[str, ...]:
    if each.key[1] not in JOINED_TYPES:
        return each.before.values
    gone = {meaning(each.key[1], value) for value in each.ours}
    if each.key[1] == "TXT" and any(is_spf(meaning("TXT", value)) for value in each.taken):
        gone |= {text for value in there if is_spf(text := meaning("TXT", value))}  # a name has one SPF text
    return tuple(sorted({*(v for v in there if meaning(each.key[1], v) not in gone), *each.taken}))


def foreign(case: Case, each: Back, others: Sequence[Back]) -> list[RecordSet]:
    """What someone entered since, that is no part of the change, and that is in the way of what is restored."""
    newer = _newer(case, each, {other.key: other for other in others})
    return [record for record in newer if record.key not in case.wanted.accepted]


def _newer(case: Case, each: Back, others: Mapping[Key, Back]) -> list[RecordSet]:
    """All of that, with what the owner said may stay. Where nothing is restored, nothing is in the way."""
    name, rrtype = each.key
    if not each.before.values:
        return []
    found = []
    for record in case.zone.at(name):
        if written_by_server(*record.key, case.domain) or case.wanted.purposes.get(record.key) == "website":
            continue
        owner = others.get(record.key)
        own = owner is not None and _known(case, owner, record)
        clash = record.key != each.key and (record.type == "CNAME") != (rrtype == "CNAME")
        if not own and (clash or record.key == each.key):
            found.append(record)
    return found


def given_up(case: Case, found: Sequence[Back]) -> list[RecordSet]:
    """What is in the way and may go, by the owner's word."""
    mine = {each.key for each in found if each.before.values or each.ours}
    names = {each.key[0]: each.key[1] == "CNAME" for each in found if each.before.values}
    return [
        record
        for name, alias in names.items()
        for record in case.zone.at(name)
        if record.key not in mine
        and case.wanted.purposes.get(record.key) == "website"
        and (record.type == "CNAME") != alias
        and not written_by_server(*record.key, case.domain)
    ]


def _known(case: Case, each: Back, record: RecordSet) -> bool:
    """Whether a content is the change's own, wholly or half entered, or one from before it. A set of which one value
    is the change's own is its own."""
    if record.type in JOINED_TYPES or set(record.values) & set(each.ours):
        return True
    if any(case.wanted.traces.mine(record, value) for value in record.values):
        return True
    known = {*each.ours, *each.before.values}
    past = {v for c in _past(case.history, each.key) if c.record.key == each.key for v in c.record.values}
    before = {v for v in past if _first_with(case.history, each.key, v) <= _since(case)}
    typed = {v for v in record.values if slip_among(set(each.ours), v) is not None}  # a slip came with the change too
    return set(record.values) <= known | before | typed


def _first_with(history: Sequence[Content], key: Key, value: str) -> float:
    return min((c.first_at for c in _past(history, key) if value in c.record.values), default=float("inf"))


def _since(case: Case) -> float:
    begin = first_seen(case.history)
    return case.job_since if case.job_since is not None else begin if begin is not None else 0.0


def undo_desired(case: Case, job: Sequence[DesiredSet]) -> tuple[DesiredSet, ...]:
    """What each set is to be once all is restored."""
    found = backs(case, job)
    return tuple(
        each.desired
        for each in found
        if each.desired.met_by(case.zone.get(*each.key)) or not (_came_since(case, each) or foreign(case, each, found))
    )


def undo_sightings(case: Case, job: Sequence[DesiredSet]) -> Iterator[tuple[str, Sighting]]:
    found = backs(case, job)
    for each in found:
        if each.desired.met_by(case.zone.get(*each.key)):
            continue
        for record in foreign(case, each, found):
            word = case.word_for(*record.key)
            there = ", ".join(record.values)
            message = msg(
                "came-since",
                name=record.name,
                type=record.type,
                there=there,
                before=each.key[1],
                values=each.before.values,
            )
            cure = msg("came-since.cure", word=word)
            yield "in-the-way-now", Sighting(record.name, record.type, message, cure)
    begin = first_seen(case.history)
    if case.wanted.back_to is not None and (begin is None or case.wanted.back_to < begin):
        message = msg("nothing-to-take-back.no-look", domain=case.domain)
        yield "nothing-to-take-back", Sighting(case.domain, "", message, msg("nothing-to-take-back.no-look.cure"))
    elif case.wanted.hand_over is None and not _ever_entered(case, job) and not any(undo_changes(case, job)):
        message = msg("nothing-to-take-back", domain=case.domain)
        yield "nothing-to-take-back", Sighting(case.domain, "", message, msg("nothing-to-take-back.cure"))


def _ever_entered(case: Case, job: Sequence[DesiredSet]) -> bool:
    """Whether the zone's servers ever returned anything that the change sets."""
    wanted = [desired for desired in job if desired.values]
    return any(
        set(desired.meanings) & content.record.meanings
        for desired in wanted
        for content in _past(case.history, desired.key)
        if not _there_at_first(case, desired)
    )


def _there_at_first(case: Case, desired: DesiredSet) -> bool:
    past = _past(case.history, desired.key)
    return bool(past) and desired.met_by(past[0].record)


def old_website(case: Case) -> Iterator[RecordSet]:
    """The website's record sets of before the nameservers changed, as the former zone returned them."""
    switched = [
        each.first_at
        for each in case.history
        if each.source == "parent" and each.record.key == (case.domain, "NS") and each.record.values
    ]
    moment = max(switched, default=0.0)
    for name in case.wanted.names:
        for rrtype in WEB_TYPES:
            past = [c for c in _past(case.history, (name, rrtype)) if c.first_at < moment]
            if past and past[-1].record.values:
                yield past[-1].record
