"""What the nameservers that take a domain over are to give: what must come along, and the website's own records."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from homepath.core.dns.policies import is_spf
from homepath.core.dns.records import ADDRESS_TYPES, JOINED_TYPES, LED_TO, WEB_TYPES, Key, RecordSet, Zone
from homepath.core.dns.soa import read_soa
from homepath.core.dns.values import meaning, text_value
from homepath.core.files.sheet import form_ttl
from homepath.core.message import Text, msg
from homepath.core.model.plan import Change, DesiredSet, Purpose, move_of
from homepath.core.plan.difference import moves
from homepath.core.plan.going_back import old_website
from homepath.core.plan.leaving import pointing
from homepath.core.plan.own_records import own_records
from homepath.core.plan.plan import applied
from homepath.core.site.case import Case
from homepath.core.site.purposes import written_by_server
from homepath.core.site.wanted import ALIAS
from homepath.core.site.zone_facts import forwarded_late, spf_without_website

WHOLE_TYPES = ("MX", "SRV")
"""Joined types of which one extra value sends mail or a service to the wrong place."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Due:
    """One record set that the new nameservers are to give. `before`: as the present ones give it.

    `carried`: it comes along as it is. `planned`: it is the website's, as the brief wants it, or must not be there.
    `theirs`: the new servers lead the name by themselves; any address will do.
    """

    kind: Literal["carried", "planned", "theirs"]
    record: RecordSet
    purpose: Purpose
    before: RecordSet | None
    alias: RecordSet | None = None
    """The new host's own kind of alias that is typed; on the wire it shows as these addresses."""

    @property
    def key(self) -> Key:
        return self.record.key

    def met_by(self, given: RecordSet | None) -> bool:
        """Whether a server that returns `given` returns what is due."""
        if self.kind == "theirs":
            return given is not None and bool(given.values)
        return not self.lacking(given) and not self.unwanted(given)

    def lacking(self, given: RecordSet | None) -> tuple[str, ...]:
        return DesiredSet(*self.key, self.record.values).lacking(given)

    def unwanted(self, given: RecordSet | None) -> tuple[str, ...]:
        """The values of `given` that would do harm: of most types whatever else is there, of texts a second SPF."""
        if given is None or self.kind == "theirs":
            return ()
        mine = RecordSet(*self.key, 0, self.record.values).meanings
        others = [v for v in given.values if not RecordSet(*self.key, 0, (v,)).meanings & mine]
        if given.type not in JOINED_TYPES or given.type in WHOLE_TYPES or not self.record.values:
            return tuple(others)
        policy = given.type == "TXT" and any(is_spf(text) for text in mine)
        return tuple(v for v in others if policy and is_spf(meaning(given.type, v)))


def is_carried_over(case: Case, record: RecordSet) -> bool:
    """Whether the new nameservers must give it too: all but what only the server itself writes, what the website
    replaces, and what the owner leaves behind."""
    if written_by_server(record.name, record.type, case.domain) or record.key in case.wanted.left_behind:
        return False
    return not _replaced(case, record)


def _replaced(case: Case, record: RecordSet) -> bool:
    """Whether the website takes its place."""
    stays = record.name in forwarded_late(case)
    if stays or record.name not in case.wanted.names or record.key in case.wanted.protected:
        return False
    return record.type in WEB_TYPES or case.wanted.purposes.get(record.key) == "website"


def left_out_of_new_zone(case: Case) -> Iterator[tuple[RecordSet, Text]]:
    """What does not come along, and why not."""
    for record in case.zone:
        if written_by_server(record.name, record.type, case.domain):
            yield record, msg("new-zone.stays-behind")
        elif record.key in case.wanted.left_behind:
            yield record, msg("new-zone.stays-behind-2")
        elif _replaced(case, record) and not any(w.record.key == record.key for w in case.wanted.wants):
            yield record, msg("new-zone.stays-behind-3")


def due(case: Case) -> tuple[Due, ...]:
    """Everything that the new servers are to give, the website first."""
    if case.wanted.going != "there":
        return _due_elsewhere(case)
    found: dict[Key, Due] = {}
    by_builder = case.wanted.hand_over is not None and case.wanted.hand_over.by_builder
    work = [change for change in (own_records(case) if by_builder else moves(case)) if change.move != "keep"]
    work = [change for change in work if (change.name, change.type) not in case.wanted.left_behind]
    for change in work:
        if change.type != ALIAS:
            found[change.name, change.type] = _planned(case, change)
    for want in case.wanted.wants:
        if want.record.type == ALIAS:
            found |= {each.key: each for each in _by_alias(case, want.record)}
    late = forwarded_late(case)
    for name in case.wanted.names if by_builder else (name for name in case.wanted.forwarded if name not in late):
        there = next((case.zone.get(name, t) for t in LED_TO if case.zone.get(name, t)), None)
        found[name, "A"] = Due(kind="theirs", record=RecordSet(name, "A", 0, ()), purpose="website", before=there)
    after = applied(case.zone, [change for change in work if change.type != ALIAS])
    wanted = {want.record.key for want in case.wanted.wants}
    for record in after:
        stays = is_carried_over(case, record) or (record.key in wanted and not by_builder)
        if record.key not in found and stays:
            found[record.key] = _carried(case, record)
    return tuple(found.values())


def _due_elsewhere(case: Case) -> tuple[Due, ...]:
    """Going back, the old website too, beside everything that is carried over; when leaving, nothing of it."""
    found: dict[Key, Due] = {}
    back = case.wanted.going == "back"
    if back:
        found = {
            record.key: Due(kind="planned", record=record, purpose="website", before=case.zone.get(*record.key))
            for record in old_website(case)
        }
    theirs = {each.record.key: each.values for each in pointing(case)} if not back else {}
    asked = {each.key: each.values for each in case.wanted.traces.records} if back else {}
    for record in case.zone:
        if record.key in found or written_by_server(*record.key, case.domain) or (back and _replaced(case, record)):
            continue
        if record.key in case.wanted.left_behind:
            continue
        gone = {*theirs.get(record.key, ()), *asked.get(record.key, ())}
        stays = tuple(value for value in record.values if value not in gone)
        if stays:
            found[record.key] = _carried(case, RecordSet(*record.key, record.ttl, stays))
        elif not back and record.key in theirs and record.type in WEB_TYPES:
            none = RecordSet(*record.key, record.ttl, ())  # a scan may have copied what points to the builder
            found[record.key] = Due(kind="planned", record=none, purpose="website", before=record)
    return tuple(found.values())


def _by_alias(case: Case, alias: RecordSet) -> Iterator[Due]:
    """An alias of the host's own kind shows as the addresses of its target."""
    name, known = alias.name, False
    for rrtype in ADDRESS_TYPES:
        values = case.surroundings.values(alias.values[0], rrtype)
        known = known or bool(values)
        record = RecordSet(name, rrtype, form_ttl(alias.ttl, case.notation), values)
        yield Due(kind="planned", record=record, purpose="website", before=case.zone.get(name, rrtype), alias=alias)
    if not known:
        record = RecordSet(name, "A", alias.ttl, ())
        yield Due(kind="theirs", record=record, purpose="website", before=case.zone.get(name, "A"), alias=alias)


def _planned(case: Case, change: Change) -> Due:
    record = RecordSet(change.name, change.type, change.ttl, change.values)
    return _with_spf(
        case, Due(kind="planned", record=record, purpose=change.purpose, before=case.zone.get(*record.key))
    )


def _carried(case: Case, record: RecordSet) -> Due:
    kind, over = case.purpose(record)[0], case.wanted.hand_over
    ttl = record.ttl if over is not None and over.by_builder else form_ttl(record.ttl, case.notation)
    there = RecordSet(record.name, record.type, ttl, record.values)
    return _with_spf(case, Due(kind="carried", record=there, purpose=kind, before=record))


def _with_spf(case: Case, made: Due) -> Due:
    """An SPF text that names the website's host comes with today's addresses instead: at the new nameservers the host
    has others."""
    if made.record.type != "TXT":
        return made
    texts = [(value, spf_without_website(case, made.record.name, value)) for value in made.record.values]
    values = tuple(value if text is None else text_value(text) for value, text in texts)
    return replace(made, record=replace(made.record, values=values))


def to_enter(due_now: Due, given: RecordSet | None) -> tuple[Change, ...]:
    """What has to be typed at the new host so that it returns what is due; nothing where it does so already."""
    if due_now.met_by(given) or (due_now.kind == "theirs" and due_now.alias is None):
        return ()
    if due_now.alias is not None:
        return tuple(_alias_typed(due_now, due_now.alias, given))
    there, gone, lacking = given.values if given else (), due_now.unwanted(given), due_now.lacking(given)
    if not gone and not lacking:
        return ()
    name, rrtype = due_now.key
    values = tuple(sorted({*(v for v in there if v not in gone), *lacking})) if due_now.record.values else ()
    ttl = given.ttl if given and set(values) & set(there) else due_now.record.ttl
    old = given.ttl if given else None
    return (Change(move_of(rrtype, there, values), name, rrtype, ttl, values, there, due_now.purpose, BEFORE, old),)


BEFORE = msg("new-zone.before")


def _alias_typed(due_now: Due, alias: RecordSet, given: RecordSet | None) -> Iterator[Change]:
    """Addresses that are in the alias's place go; the alias comes once, with the first type of its addresses."""
    name, rrtype = due_now.key
    if given is not None and given.values:
        yield Change("remove", name, rrtype, given.ttl, (), given.values, due_now.purpose, BEFORE, given.ttl)
    if due_now.record.values or due_now.kind == "theirs":
        yield Change("add", name, ALIAS, alias.ttl, alias.values, (), due_now.purpose, BEFORE)


def in_place_of(key: Key) -> tuple[Key, ...]:
    """Other sets that cannot be beside this one at its name, or that replace it."""
    name, rrtype = key
    if rrtype == "CNAME":
        return tuple((name, each) for each in ADDRESS_TYPES)
    return ((name, "CNAME"),)


def glue_names(case: Case) -> tuple[str, ...]:
    """New nameservers below the domain itself, so that the parent must hold their addresses (RFC 1034
    section 4.2.1)."""
    over = case.wanted.hand_over
    servers = over.servers if over else ()
    return tuple(name for name in servers if name == case.domain or name.endswith("." + case.domain))


def zone_file(case: Case) -> Zone:
    """The zone that is to begin at the new nameservers, with an SOA and their NS, so that a server loads it as it is
    (RFC 1035 section 5.2). Aliases of a host's own kind have no place in such a file."""
    over = case.wanted.hand_over
    servers = (over.servers if over else ()) or case.zone.values(case.domain, "NS")
    old = case.zone.get(case.domain, "SOA")
    fields = read_soa(old)
    timers = fields.timers if fields else USUAL_TIMERS
    keeper = fields.mailbox if fields else f"hostmaster.{case.domain}"
    first = servers[0] if servers else case.domain
    soa = RecordSet(case.domain, "SOA", old.ttl if old else 3600, (f"{first} {keeper} 1 {timers}",))
    names = RecordSet(case.domain, "NS", 3600, tuple(servers))
    plain = (each.record for each in due(case) if each.kind != "theirs" and each.record.values and each.alias is None)
    glue = (record for name in glue_names(case) for record in case.zone.at(name) if record.type in ADDRESS_TYPES)
    return Zone.of(case.domain, [soa, names, *plain, *glue])


USUAL_TIMERS = "7200 900 1209600 900"
"""Refresh, retry, expire, negative caching, in seconds (RFC 1912 section 2.2), where the old zone's are not known."""
