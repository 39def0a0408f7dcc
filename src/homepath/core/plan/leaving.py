"""Leaving a builder: every name that points to it, by target, by address, or through aliases, and its own records."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from homepath.core.dns.names import Name, is_within, shown
from homepath.core.dns.records import JOINED_TYPES, WEB_TYPES, Key, RecordSet, Zone
from homepath.core.dns.values import strings, target
from homepath.core.findings.kind import Sighting
from homepath.core.message import msg
from homepath.core.model.plan import Change, DesiredSet, move_of
from homepath.core.site.case import Case
from homepath.core.site.purposes import written_by_server

MOST_STEPS = 12


@dataclass(frozen=True, slots=True)
class Pointing:
    """A record set of which some `values` belong to the builder. `through`: the name of the domain that points
    there."""

    record: RecordSet
    values: tuple[str, ...]
    through: Name = ""

    @property
    def leads(self) -> bool:
        """Whether someone who claims the name at the builder gets what is sent to it."""
        return self.record.type in ("A", "AAAA", "CNAME", "ALIAS", "MX", "NS", "SRV", "HTTPS", "SVCB", "DNAME")


def pointing(case: Case, zone: Zone | None = None) -> tuple[Pointing, ...]:
    """Every set of the zone that points to the builder, or was asked for by it."""
    zone = case.zone if zone is None else zone
    found: dict[Key, Pointing] = {}
    given = served_contents(case)
    for record in zone:
        if written_by_server(*record.key, case.domain):
            continue
        theirs = given.get(record.key, frozenset())
        values = tuple(v for v in record.values if v in theirs or _leads_there(case, record, v))
        if values:
            found[record.key] = Pointing(record, values)
    for _ in range(MOST_STEPS):  # an alias of a name that points there points there too
        names = {each.record.name for each in found.values() if each.leads}
        more = [each for each in _aliases_of(case, zone, names) if each.record.key not in found]
        if not more:
            break
        found |= {each.record.key: each for each in more}
    return tuple(found.values())


def served_contents(case: Case) -> dict[Key, frozenset[str]]:
    """Where the builder's nameservers ran the domain: what they returned at the website's names is the builder's."""
    parents = [c for c in case.history if c.source == "parent" and c.record.key == (case.domain, "NS")]
    found: dict[Key, frozenset[str]] = {}
    for at, era in enumerate(parents):
        if not any(case.wanted.traces.owns(server) for server in era.record.values):
            continue
        ends = parents[at + 1].first_at if at + 1 < len(parents) else float("inf")
        for each in case.history:
            mine = each.source == "zone" and each.record.name in case.wanted.names and each.record.type in WEB_TYPES
            if mine and era.first_at <= each.first_at < ends:
                before = found.get(each.record.key, frozenset())
                found[each.record.key] = before | frozenset(each.record.values)
    return found


def _leads_there(case: Case, record: RecordSet, value: str) -> bool:
    traces = case.wanted.traces
    if traces.mine(record, value):
        return True
    edge = {a for t in ("A", "AAAA") for a in case.surroundings.values(case.wanted.edge, t)}
    if record.type in ("A", "AAAA"):
        forwarded = record.name in case.wanted.names and value in case.notation.forwarding_addresses
        return value in edge or forwarded  # a forwarding to the site points there too
    points = target(record.type, value)
    if record.type != "CNAME" or points is None or case.survey is None:
        return False
    led = next((each for each in case.survey.led if each.target == points), None)
    return led is not None and (
        any(traces.owns(name) for name in led.through) or bool(set(led.addresses) & (traces.addresses | edge))
    )


def _aliases_of(case: Case, zone: Zone, names: set[Name]) -> Iterator[Pointing]:
    for record in zone:
        there = [value for value in record.values if target(record.type, value) in names]
        if record.type == "CNAME" and there:
            yield Pointing(record, tuple(there), there[0])


def leave_changes(case: Case) -> Iterator[Change]:
    """What is taken out, and nothing of what the owner keeps; mail that the builder delivers waits for a word."""
    for each in pointing(case):
        record = each.record
        if record.key in case.wanted.protected or kept_on_purpose(case, record) or undecided(case, each):
            continue
        left = tuple(value for value in record.values if value not in each.values)
        kind = case.purpose(RecordSet(*record.key, record.ttl, each.values))[0]
        way = msg("leaving.leave-changes.way", through=each.through) if each.through else ""
        reason = (
            msg("leaving.leave-changes.reason", builder=case.wanted.builder, way=way)
            if each.leads
            else msg("leaving.leave-changes.reason-2", builder=case.wanted.builder)
        )
        ttl = record.ttl
        yield Change(
            move_of(record.type, record.values, left), *record.key, ttl, left, record.values, kind, reason, ttl
        )


def kept_on_purpose(case: Case, record: RecordSet) -> bool:
    return case.wanted.accepted.get(record.key) == record.values


def undecided(case: Case, each: Pointing) -> bool:
    """Whether taking it out would stop mail, so that the owner has to say so first."""
    return each.record.type == "MX" and case.wanted.purposes.get(each.record.key) != "website"


def leave_desired(case: Case) -> Iterator[DesiredSet]:
    """What each set is to be that ever pointed to the builder: without what led there."""
    past = [each.record for each in case.history if each.source == "zone" and each.record.values]
    seen = Zone.of(case.domain, [*past, *case.zone])
    for each in pointing(case, seen):
        key, now = each.record.key, case.zone.get(*each.record.key)
        if key in case.wanted.protected or (now is not None and (kept_on_purpose(case, now) or key[1] == "MX")):
            continue
        if key[1] in JOINED_TYPES:
            yield DesiredSet(*key, (), each.values)
        else:
            stays = tuple(v for v in (now.values if now else ()) if v not in each.values)
            yield DesiredSet(*key, stays)


def leave_sightings(case: Case) -> Iterator[tuple[str, Sighting]]:
    """Findings: each name that points there, mail that the builder delivers, texts that still name it."""
    for each in pointing(case):
        record, name = each.record, each.record.name
        if kept_on_purpose(case, record) or not each.leads:
            continue
        where = ", ".join(shown(v) if v.endswith(".") else v for v in each.values)
        message = msg("points-to-the-builder", name=name, builder=case.wanted.builder, type=record.type, where=where)
        if undecided(case, each):
            word = case.word_for(*record.key)
            cure = msg("points-to-the-builder.mail.cure", word=word)
            yield (
                "points-to-the-builder",
                Sighting(name, "MX", msg("points-to-the-builder.mail", said=message), cure, "blocker"),
            )
        elif record.key in case.wanted.protected:
            cure = msg("points-to-the-builder.protected.cure")
            yield (
                "points-to-the-builder",
                Sighting(name, record.type, msg("points-to-the-builder.protected", said=message), cure),
            )
        else:
            gone = msg("points-to-the-builder.site", said=message)
            yield "points-to-the-builder", Sighting(name, record.type, gone, msg("points-to-the-builder.site.cure"))
    yield from _mentions(case)
    servers = case.survey.delegation.servers if case.survey and case.survey.delegation else ()
    if any(case.wanted.traces.owns(server) for server in servers) and case.wanted.hand_over is None:
        message = msg(
            "builder-runs-the-domain", builder=case.wanted.builder, domain=case.domain, servers=tuple(servers)
        )
        cure = msg("builder-runs-the-domain.cure")
        yield "builder-runs-the-domain", Sighting(case.domain, "NS", message, cure)


def _mentions(case: Case) -> Iterator[tuple[str, Sighting]]:
    """Texts and permissions that name the builder and lead no one there."""
    for record in case.zone:
        for value in record.values if record.type in ("TXT", "CAA") else ():
            words = "".join(strings(value)).split()
            named = [word for word in words if _names_it(case, word)]
            if named and not any(value in each.values for each in pointing(case) if each.record.key == record.key):
                rest = " ".join(word for word in words if word not in named)
                what = "SPF" if words[:1] == ["v=spf1"] else record.type
                message = msg(
                    "mentions-the-builder", what=what, name=record.name, builder=case.wanted.builder, named=tuple(named)
                )
                cure = (
                    msg("mentions-the-builder.cure", rest=rest)
                    if record.type == "TXT"
                    else msg("mentions-the-builder.cure-caa")
                )
                yield "mentions-the-builder", Sighting(record.name, record.type, message, cure)


def _names_it(case: Case, word: str) -> bool:
    host = word.rpartition(":")[2].rpartition("=")[2].strip('"').lower().rstrip(".")
    return any(is_within(f"{host}.", domain) for domain in case.wanted.traces.domains) if "." in host else False
