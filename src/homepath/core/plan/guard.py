"""The guard: compares what must stay (mail, verification records, every other name) with what was there before."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace

from homepath.core.dns.names import labels
from homepath.core.dns.policies import exclude, is_spf, stands_for
from homepath.core.dns.records import JOINED_TYPES, WEB_TYPES, Key, RecordSet, Zone
from homepath.core.dns.values import meaning, target
from homepath.core.findings.registry import finding, findings, kind_of
from homepath.core.message import msg
from homepath.core.model.evidence import Content
from homepath.core.model.findings import Finding
from homepath.core.model.plan import PURPOSES, Change, DesiredSet, Purpose, move_of
from homepath.core.site.case import Case
from homepath.core.site.purposes import is_of_server, written_by_server
from homepath.core.site.slips import slip_among
from homepath.core.site.zone_facts import spf_without_website

STOOD = 2 * 86400.0
"""Seconds for which a record that appeared after the first check must have existed to be guarded: mistakes and
experiments are usually deleted sooner."""


@dataclass(frozen=True, slots=True)
class Loss:
    """A record set that was to stay. `before` with its former TTL; `gone`: its values that are missing; `there`: what
    is there now; `instead`: the values of that which exclude what was to stay, so that they go when it comes back."""

    before: RecordSet
    gone: tuple[str, ...]
    there: RecordSet | None
    purpose: Purpose
    in_the_way: tuple[RecordSet, ...] = ()
    since: float = 0.0
    instead: tuple[str, ...] = ()

    @property
    def key(self) -> Key:
        return self.before.key


def losses(case: Case, desired: Sequence[DesiredSet]) -> tuple[Loss, ...]:
    """What was there at a survey, is not changed by the job, and is missing or changed now; mail first.

    Only the answers of the zone's servers count: what was not queried, or not answered, is not missing.
    """
    now = {each.record.key: each for each in case.history if each.source == "zone"}
    ours = {desired_set.key: desired_set for desired_set in desired}
    found = [
        uncured
        for record in to_guard(case, ours)
        if (content := now.get(record.key)) is not None
        and (loss := _loss(case, record, content))
        and (uncured := _uncured(case, loss))
    ]
    return tuple(sorted(found, key=lambda loss: ((*PURPOSES[1:], PURPOSES[0]).index(loss.purpose), loss.key)))


def to_guard(case: Case, ours: dict[Key, DesiredSet]) -> Iterator[RecordSet]:
    """Every set that must stay, with all the values that must stay."""
    by_key: dict[Key, list[Content]] = {}
    for each in case.history:
        if each.source == "survey":
            by_key.setdefault(each.record.key, []).append(each)
    begin = min((each.first_at for seen in by_key.values() for each in seen), default=0.0)
    for key, seen in by_key.items():
        desired = ours.get(key)
        if (desired is not None and not desired.joined) or not _guarded(case, key):
            continue
        stood = [c for c in seen if c.first_at <= begin or c.last_at - c.first_at >= STOOD]
        counted = [agreed for c in stood if (agreed := _agreed(case, c)) is not None]
        if key in case.wanted.accepted:
            ttl = seen[-1].record.ttl
            counted = [RecordSet(*key, ttl, case.wanted.accepted[key])]
        if not counted or not counted[0].values:
            continue
        if key[1] not in JOINED_TYPES:
            yield counted[0]
            continue
        values = [v for record in counted for v in record.values if not _typed(desired, v, record in counted[:1])]
        if values:
            yield RecordSet(*key, counted[0].ttl, tuple(values))


def _agreed(case: Case, content: Content) -> RecordSet | None:
    """The values that were not disputed: whenever the set was seen, no other server of the zone left them out."""
    record = content.record
    disputes = [
        each.record
        for each in case.history
        if each.source == "behind"
        and each.record.key == record.key
        and each.first_at <= content.first_at
        and content.last_at <= each.last_at
    ]
    values = [v for v in record.values if all(meaning(record.type, v) in each.meanings for each in disputes)]
    if len(values) == len(record.values):
        return record
    return RecordSet(*record.key, record.ttl, tuple(values)) if values else None


def _guarded(case: Case, key: Key) -> bool:
    name, rrtype = key
    if rrtype == "ALIAS" or written_by_server(name, rrtype, case.domain) or name.startswith("*."):
        return False
    if case.wanted.purposes.get(key) == "website":  # the owner said that it may go
        return False
    if labels(name)[0] == "_acme-challenge":  # comes and goes with each certificate (RFC 8555 section 8.4)
        return False
    return not (name in case.wanted.names and rrtype in WEB_TYPES)


def _typed(desired: DesiredSet | None, value: str, at_first: bool) -> bool:
    """Whether a value of a set that the job adds to was typed for the job: wanted, to be gone, or nearly wanted."""
    if desired is None:
        return False
    text = meaning(desired.type, value)
    if text in desired.meanings:
        return True
    if text in {meaning(desired.type, each) for each in desired.without} and not (at_first and is_spf(text)):
        return True  # an SPF text that the job replaces is missed where no other replaced it
    alike = any(
        "=" in each and text.partition("=")[0].strip("\"'") == each.partition("=")[0] for each in desired.meanings
    )
    return not at_first and (alike or slip_among(set(desired.values), value) is not None)


def _loss(case: Case, before: RecordSet, now: Content) -> Loss | None:
    if now.record.values == before.values:
        return None
    # what another folder of the owner's wants is no damage where it exists, and no loss where it does not
    of_others = [each for each in before.values if _of_neighbours(case, replace(before, values=(each,)))]
    if before.type not in JOINED_TYPES and (of_others or _of_neighbours(case, now.record)):
        return None
    there = now.record if now.record.values else None
    given = there.meanings if there else frozenset()
    gone = tuple(v for v in before.values if meaning(before.type, v) not in given and v not in of_others)
    gone = tuple(value for value in gone if not _senders_stay(case, before, value, given))
    against = (each for value in before.values for each in _came_against(case, before, value, now.record.values))
    same = not gone and not any(against) if before.type in JOINED_TYPES else given == before.meanings
    if same:
        return None
    clash = [each for each in case.zone.at(before.name) if (each.type == "CNAME") != (before.type == "CNAME")]
    way = tuple(each for each in clash if not is_of_server(each.type)) if not there else ()
    return Loss(before, gone, there, case.purpose(before)[0], way, now.first_at)


def _senders_stay(case: Case, before: RecordSet, value: str, given: Collection[str]) -> bool:
    """Whether an SPF text that is gone has another in its place which allows every sender of it."""
    text = meaning(before.type, value)
    if before.type != "TXT" or not is_spf(text):
        return False
    needed = spf_without_website(case, before.name, value) or text
    return any(each == needed or stands_for(each, needed) for each in given)


def _uncured(case: Case, loss: Loss) -> Loss | None:
    """The loss without what was a fault of the record itself, such as one of two SPF texts: changing that was a cure,
    and nothing that is wrong is ever restored. What was right before, and now excludes what came since, such as another
    text of a policy that a name has once, comes in its place."""
    there = loss.there.values if loss.there else ()

    def faults(values: Sequence[str]) -> set[tuple[str, str, str]]:
        return _faults(case, replace(loss.before, values=tuple(values)))

    if loss.before.type not in JOINED_TYPES:
        instead_of = loss.there or replace(loss.before, values=())
        added = _faults(case, loss.before, loss.in_the_way) - _faults(case, instead_of)
        dotted = any(_with_final_dot(case, loss, value) for value in loss.gone)
        return None if added or dotted else loss
    came, all_faults = _newcomers(case, loss.before, there) if loss.gone else [], faults(there)
    wrong = [value for value in came if all_faults - faults([each for each in there if each != value])]
    now, back, instead = [each for each in there if each not in wrong], list[str](), list(wrong)
    for value in loss.before.values:
        gone = value in loss.gone
        excluded = _came_against(case, loss.before, value, there)
        if not gone:  # two SPF texts are joined by the plan
            instead += [] if is_spf(meaning(loss.before.type, value)) else excluded
            continue
        left = [each for each in now if each not in excluded]
        if not (faults((*left, value)) - faults(left) or _with_final_dot(case, loss, value)):
            now = [*left, value]
            back.append(value)
            instead += excluded
    stays = tuple(value for value in loss.before.values if value not in loss.gone or value in back)
    before = replace(loss.before, values=stays)
    changed = replace(loss, before=before, gone=tuple(back), instead=tuple(dict.fromkeys(instead)))
    return changed if back or len(instead) > len(wrong) else None


def _newcomers(case: Case, before: RecordSet, there: Sequence[str]) -> list[str]:
    """The values that came since, and not for the job."""
    want = case.wanted.get(*before.key)
    known = before.meanings | (want.desired.meanings if want else frozenset())
    return [each for each in there if meaning(before.type, each) not in known]


def _came_against(case: Case, before: RecordSet, value: str, there: Sequence[str]) -> list[str]:
    """The newcomers that cannot be beside `value`; none where that is so of another of the former values. What differs
    from it by a keystroke, or by its preference alone, was typed in its place."""
    rrtype = before.type
    if any(exclude(rrtype, value, each) for each in before.values):
        return []
    new = _newcomers(case, before, there)
    gone = meaning(rrtype, value) not in {meaning(rrtype, each) for each in there}
    host = target(rrtype, value)
    typed = [each for each in new if gone and (slip_among({value}, each) or (host and target(rrtype, each) == host))]
    return [each for each in new if each in typed or exclude(rrtype, value, each)]


def _with_final_dot(case: Case, loss: Loss, value: str) -> bool:
    """Whether a value pointed to a name with the domain behind it, and now points to that name without."""
    suffix = f".{case.domain}"
    if not value.endswith(suffix) or loss.there is None:
        return False
    return meaning(loss.before.type, value.removesuffix(suffix) + ".") in loss.there.meanings


def _faults(case: Case, record: RecordSet, without: Sequence[RecordSet] = ()) -> set[tuple[str, str, str]]:
    """What would be wrong of records themselves if this set was there, and some others did not."""
    gone = {record.key, *(each.key for each in without)}
    others = [each for each in case.zone if each.key not in gone]
    zone = Zone.of(case.domain, [*others, *([record] if record.values else [])])
    found = findings(replace(case, zone=zone))
    return {(each.code, each.name, each.type) for each in found if kind_of(each).in_record}


def _of_neighbours(case: Case, record: RecordSet) -> bool:
    return any(each.wants_here(record) for each in case.neighbours)


def restoring_changes(loss: Loss) -> Iterator[Change]:
    """The changes that restore exactly what was there, with its former TTL."""
    for each in loss.in_the_way:
        why = msg("guard.put-back.why")
        yield Change("remove", each.name, each.type, each.ttl, (), each.values, loss.purpose, why, each.ttl)
    there = loss.there.values if loss.there else ()
    stays = tuple(v for v in there if v not in loss.instead) if loss.before.type in JOINED_TYPES else ()
    values = tuple(sorted({*stays, *loss.before.values}))
    ttl = loss.there.ttl if stays and loss.there else loss.before.ttl
    move = move_of(loss.before.type, there, values)
    reason = msg("guard.put-back.reason")
    yield Change(move, *loss.key, ttl, values, there, loss.purpose, reason, loss.there.ttl if loss.there else None)


def loss_findings(case: Case, found: Sequence[Loss]) -> tuple[Finding, ...]:
    """A finding for each loss, with the exact records to restore."""
    return tuple(_finding(case, loss) for loss in found)


def _finding(case: Case, loss: Loss) -> Finding:
    name, rrtype = loss.key
    back = "; ".join(loss.gone or loss.before.values)
    if_meant = msg("kept-record.if-meant", relative=case.word_for(name, rrtype).rpartition(" ")[0], rrtype=rrtype)
    if loss.there is None:
        return finding(
            "kept-record-gone",
            name,
            rrtype,
            msg("kept-record-gone", type=rrtype, name=name, purpose=loss.purpose, back=back),
            msg("kept-record-gone.cure", back=back, meant=if_meant),
        )
    here = "; ".join(loss.there.values)
    message = msg("kept-record-changed", type=rrtype, name=name, purpose=loss.purpose, back=back, here=here)
    cure = msg("kept-record-changed.cure", back=back, meant=if_meant)
    if not loss.gone:
        came = "; ".join(loss.instead)
        message = msg("kept-record-changed-2", type=rrtype, name=name, purpose=loss.purpose, back=back, came=came)
        cure = msg("kept-record-changed.cure-2", came=came, meant=if_meant)
    return finding("kept-record-changed", name, rrtype, message, cure)
