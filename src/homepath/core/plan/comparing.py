"""Two zones compared: what the present nameservers give against what each of the new ones returns."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from homepath.core.dns.names import Name
from homepath.core.dns.records import ADDRESS_TYPES, LED_TO, WEB_TYPES, Key, RecordSet, Zone
from homepath.core.model.plan import Purpose
from homepath.core.model.survey import CompareState, RecordCompared
from homepath.core.plan.new_zone import Due, in_place_of
from homepath.core.site.case import Case
from homepath.core.site.purposes import written_by_server
from homepath.core.site.zone_facts import refusing_sets


@dataclass(frozen=True, slots=True)
class Given:
    """What one server returns: `sets` of what it answered, and `asked`: all that it answered, be it with nothing."""

    server: Name
    sets: Mapping[Key, RecordSet]
    asked: frozenset[Key]

    def knows(self, key: Key) -> bool:
        """Whether it said what is there; an alias at the name settles every type (RFC 1034 section 3.6.2)."""
        return key in self.asked or (key[0], "CNAME") in self.sets


def compared_sets(
    case: Case, dues: Sequence[Due], old: Given, new: Sequence[Given], wild: Mapping[str, RecordSet]
) -> list[RecordCompared]:
    """Each set that is due, and whatever else the new side has. `new`: only servers that hold the domain. `wild`: what
    the new side's wildcard makes up, by type."""
    found = [_one(case, due, old, new) for due in dues]
    known = {due.key for due in dues}
    for key in dict.fromkeys(key for given in new for key in given.sets if key not in known):
        made = _extra(case, key, old, new, wild, dues)
        if made is not None:
            found.append(made)
    return found


def _one(case: Case, due: Due, old: Given, new: Sequence[Given]) -> RecordCompared:
    before = old.sets.get(due.key, due.before if not old.knows(due.key) else None)
    if due.kind == "theirs":
        before = due.before
    answers = [(given.server, _given(due, given)) for given in new if _knows(due, given)]
    wrong = [(server, record) for server, record in answers if not due.met_by(record)]
    shown = wrong[0][1] if wrong else answers[0][1] if answers else None
    same = shown is not None and before is not None and shown.key == before.key and shown.meanings == before.meanings
    state: CompareState = "same" if same or (shown is None and before is None) else "as-planned"
    if wrong:
        others = [each for each in in_place_of(due.key) if any(each in given.sets for given in new)]
        lacks = shown is None and not others
        state = "extra" if not due.record.values and due.kind != "theirs" else "missing" if lacks else "differs"
    unanswered_keys = bool(old.asked) and not old.knows(due.key) and due.kind == "carried"
    if not answers or (unanswered_keys and not wrong):
        state = "unknown"
    return RecordCompared(
        name=due.key[0],
        type=shown.type if shown is not None and due.kind == "theirs" else due.key[1],
        state=state,
        purpose=due.purpose,
        old=before.values if before else (),
        new=shown.values if shown else (),
        old_ttl=before.ttl if before else None,
        new_ttl=shown.ttl if shown else None,
        wanted=due.record.values,
        wanted_ttl=due.record.ttl,
        at=tuple(server for server, _ in wrong),
        hinders=bool(wrong),
        theirs=due.kind == "theirs",
    )


def _knows(due: Due, given: Given) -> bool:
    if due.kind == "theirs":
        return all(given.knows((due.key[0], rrtype)) for rrtype in ("A", "AAAA"))
    return given.knows(due.key)


def _given(due: Due, given: Given) -> RecordSet | None:
    if due.kind != "theirs":
        return given.sets.get(due.key)
    return next((s for rrtype in LED_TO if (s := given.sets.get((due.key[0], rrtype))) is not None), None)


def _extra(
    case: Case, key: Key, old: Given, new: Sequence[Given], wild: Mapping[str, RecordSet], dues: Sequence[Due]
) -> RecordCompared | None:
    """A set that the new side has and that no one asked for. It is in the way where it sends a name of the website, or
    of a set that is carried over, elsewhere, and where it forbids the builder's certificates."""
    if written_by_server(*key, case.domain):
        return None
    record = next(given.sets[key] for given in new if key in given.sets)
    made_up = wild.get(record.type)
    if made_up is not None and made_up.meanings == record.meanings and not any(d.key[0] == key[0] for d in dues):
        return None
    before = old.sets.get(key)
    theirs = any(due.kind == "theirs" for due in dues if due.key[0] == key[0])
    planned = any(due.kind == "planned" for due in dues if due.key[0] == key[0])
    if theirs and record.type in LED_TO:
        return None  # the new servers lead the name by themselves, and it is compared as such
    clash = any(due.key in in_place_of(key) and due.record.values for due in dues)
    addressed = any(due.key[0] == key[0] and due.key[1] in ADDRESS_TYPES and due.record.values for due in dues)
    # beside an address that comes along, one of the other family sends some visitors elsewhere
    leads = (planned and record.type in WEB_TYPES) or (addressed and record.type in ADDRESS_TYPES)
    hinders = not theirs and (clash or leads)
    if record.type == "CAA":  # then no certificate could be issued after the switch
        there = replace(case, zone=Zone(case.domain, {key: record}))
        hinders = hinders or any(found is record for _, found in refusing_sets(there, case.wanted.https.wildcard))
    purpose: Purpose = case.purpose(record)[0]
    return RecordCompared(
        name=key[0],
        type=key[1],
        state="extra",
        purpose=purpose,
        old=before.values if before else (),
        new=record.values,
        old_ttl=before.ttl if before else None,
        new_ttl=record.ttl,
        at=tuple(given.server for given in new if key in given.sets) if hinders else (),
        hinders=hinders,
    )


def disagreeing(new: Sequence[Given], keys: Sequence[Key]) -> Iterator[tuple[Name, list[Key]]]:
    """Servers of the new side that give something else than the first of them, and where."""
    first, *others = new
    for given in others:
        both = (key for key in keys if first.knows(key) and given.knows(key))
        differing = [key for key in both if _meanings(first, key) != _meanings(given, key)]
        if differing:
            yield given.server, differing


def _meanings(given: Given, key: Key) -> frozenset[str]:
    record = given.sets.get(key)
    return record.meanings if record else frozenset()


def nothing_held(dues: Sequence[Due], old: Given) -> list[RecordCompared]:
    """No new server holds the domain yet: all that is due is missing there."""
    return [
        RecordCompared(
            name=due.key[0],
            type=due.key[1],
            state="missing",
            purpose=due.purpose,
            old=record.values if (record := old.sets.get(due.key, due.before)) else (),
            new=(),
            old_ttl=record.ttl if record else None,
            new_ttl=None,
            wanted=due.record.values,
            wanted_ttl=due.record.ttl,
            hinders=True,
            theirs=due.kind == "theirs",
        )
        for due in dues
        if due.record.values or due.kind == "theirs"
    ]


def of_the_zones(domain: Name, old: Given, new: Sequence[Given], target: Sequence[Name]) -> list[RecordCompared]:
    """What each side's servers write themselves: shown beside each other, and expected to differ."""
    found = []
    for rrtype in ("SOA", "NS"):
        before = old.sets.get((domain, rrtype))
        there = next((given.sets[domain, rrtype] for given in new if (domain, rrtype) in given.sets), None)
        if before is None or there is None:
            continue
        found.append(
            RecordCompared(
                name=domain,
                type=rrtype,
                state="same" if before.meanings == there.meanings else "as-planned",
                purpose="delegation",
                old=before.values,
                new=there.values,
                old_ttl=before.ttl,
                new_ttl=there.ttl,
                wanted=tuple(target) if rrtype == "NS" else (),
            )
        )
    return found
