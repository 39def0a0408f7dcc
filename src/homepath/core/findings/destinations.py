"""Findings about where the website's names lead: parked, elsewhere, incomplete."""

from __future__ import annotations

import ipaddress
from collections.abc import Iterator

from homepath.core.dns.records import ADDRESS_TYPES, LED_TO, WEB_TYPES, RecordSet
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import Text, msg
from homepath.core.site.case import Case
from homepath.core.site.purposes import is_parking
from homepath.core.site.slips import slip_among, unfinished_targets
from homepath.core.site.zone_facts import appeared_later, flattened, leads_by_another_name

KINDS = (
    Kind("parked", "note", "RFC 1034 section 3.6", fixed_by="enter"),
    Kind(
        "address-elsewhere",
        "risk",
        "RFC 1034 section 3.6, RFC 2181 section 5",
        explains=True,
        fixed_by="enter",
        holds_up_builder=True,
    ),
    Kind("ipv6-elsewhere", "risk", "RFC 8305", explains=True, fixed_by="enter", holds_up_builder=True),
    Kind("address-set-incomplete", "risk", "RFC 2181 section 5", explains=True, fixed_by="enter"),
    Kind(
        "service-binding-elsewhere",
        "risk",
        "RFC 9460 section 3",
        explains=True,
        fixed_by="enter",
        holds_up_builder=True,
    ),
    Kind("private-address", "risk", "RFC 1918, RFC 4193", fixed_by="enter", faulty=True),
    Kind("forwarding-entry", "note", "RFC 9110 section 15.4", fixed_by="enter"),
    Kind("proxy-serves", "risk", "RFC 9110 section 3.7", matters_before=True),
    Kind("site-record-gone", "blocker", "the journal", explains=True, fixed_by="enter"),
    Kind("points-nowhere", "risk", "RFC 1034 section 3.6"),
    Kind("brief-outdated", "blocker", "RFC 1034 section 3.6.2", who="builder", offers=("read-page",)),
    Kind("address-not-the-builders", "risk", "RFC 1034 section 3.6.2", offers=("read-page",)),
    Kind("purpose-unknown", "note", "the reference of files", offers=("read-page",)),
    Kind("old-key", "note", "the reference of files"),
    Kind("asked-to-delete", "note", "RFC 2181 section 5"),
)


def _web_sets(case: Case, *types: str) -> Iterator[RecordSet]:
    for name in case.wanted.web_names:
        if not flattened(case, name):
            yield from (each for each in case.zone.at(name) if each.type in types)


def _unwanted(case: Case, record: RecordSet) -> list[str]:
    want = case.wanted.get(record.name, record.type)
    return [value for value in record.values if want is None or value not in want.record.values]


def _wanted_here(case: Case, record: RecordSet) -> set[str]:
    want = case.wanted.get(record.name, record.type)
    return set(want.record.values) if want else set()


def _desired_here(case: Case, record: RecordSet) -> set[str]:
    """Wanted values at this name that are not there yet."""
    want = case.wanted.get(record.name, record.type)
    return set(want.record.values) - set(record.values) if want else set()


def _address_elsewhere(case: Case) -> Iterator[Sighting]:
    for record in _web_sets(case, "A", "CNAME"):
        if is_parking(record, case.notation) or set(record.values) <= set(case.notation.forwarding_addresses):
            continue
        if leads_by_another_name(case, record.name) and not (case.history and appeared_later(case, record)):
            continue
        unfinished = {value for _, value, _ in unfinished_targets(case)}
        typed = (
            appeared_later(case, record) or not case.history or bool(set(record.values) & _wanted_here(case, record))
        )
        stray = [
            value
            for value in _unwanted(case, record)
            if value not in unfinished and not (typed and slip_among(_desired_here(case, record), value))
        ]
        if stray:
            some = "also " if len(stray) < len(record.values) else ""
            yield Sighting(
                record.name,
                record.type,
                msg("address-elsewhere", name=record.name, some=some, stray=tuple(stray)),
                msg("address-elsewhere.cure", type=record.type),
            )


def _ipv6_elsewhere(case: Case) -> Iterator[Sighting]:
    for record in _web_sets(case, "AAAA"):
        if stray := _unwanted(case, record):
            yield Sighting(
                record.name,
                "AAAA",
                msg("ipv6-elsewhere", name=record.name, stray=tuple(stray)),
                msg("ipv6-elsewhere.cure"),
            )


def _address_set_incomplete(case: Case) -> Iterator[Sighting]:
    for record in _web_sets(case, *ADDRESS_TYPES):
        want = case.wanted.get(record.name, record.type)
        if want is None:
            continue
        there = set(want.record.values) & set(record.values)
        missing = sorted(set(want.record.values) - there)
        if there and missing:
            yield Sighting(
                record.name,
                record.type,
                msg(
                    "address-set-incomplete",
                    name=record.name,
                    count_there=len(there),
                    count_values=len(want.record.values),
                    missing=tuple(missing),
                ),
                msg("address-set-incomplete.cure"),
            )


def _points_nowhere(case: Case) -> Iterator[Sighting]:
    names = case.wanted.web_names or case.wanted.names
    leading = ("A", "CNAME", "ALIAS", "HTTPS")
    if case.survey is None or case.wanted.going != "there" or any(case.unseen_at(name) for name in names):
        return
    if case.domain not in names:  # a new label beside a site that stays: nothing was there, and nothing is missing
        return
    at = {*names, f"*.{case.domain}"}
    if any(record.name in at and record.type in leading for record in case.zone):
        return
    what = "point" if len(names) > 1 else "points"
    yield Sighting(names[0], "A", msg("points-nowhere", said=tuple(names), what=what), msg("points-nowhere.cure"))


def _parked(case: Case) -> Iterator[Sighting]:
    for record in _web_sets(case, "A", "AAAA", "CNAME"):
        if _unwanted(case, record) and (why := is_parking(record, case.notation)):
            yield Sighting(record.name, record.type, msg("parked", name=record.name, why=why), msg("parked.cure"))


def _service_binding_elsewhere(case: Case) -> Iterator[Sighting]:
    for record in _web_sets(case, "HTTPS", "SVCB"):
        if _unwanted(case, record):
            yield Sighting(
                record.name,
                record.type,
                msg("service-binding-elsewhere", name=record.name, values=record.values[0]),
                _service_cure(record),
            )


def _service_cure(record: RecordSet) -> Text:
    """What the entry makes browsers do (RFC 9460 sections 2.4, 9.5): one for `.` keeps them here, and on https."""
    targets = {value.split()[1] for value in record.values if len(value.split()) > 1}
    if targets <= {".", record.name} and not any("hint=" in value for value in record.values):
        return msg("service-cure")
    return msg("service-cure-2")


def _private_address(case: Case) -> Iterator[Sighting]:
    for record in _web_sets(case, *ADDRESS_TYPES):
        wanted = {value for want in case.wanted.at(record.name) for value in want.record.values}
        found = [value for value in record.values if _is_private(value) and value not in wanted]
        if found:
            yield Sighting(
                record.name,
                record.type,
                msg("private-address", name=record.name, found=tuple(found)),
                msg("private-address.cure"),
            )


_DOCUMENTATION = tuple(
    ipaddress.ip_network(each) for each in ("192.0.2.0/24", "198.51.100.0/24", "203.0.113.0/24", "2001:db8::/32")
)


def _is_private(value: str) -> bool:
    address = ipaddress.ip_address(value)
    documented = any(address in each for each in _DOCUMENTATION if each.version == address.version)
    return (address.is_private or address.is_link_local or address.is_loopback) and not documented


def _forwarding_entry(case: Case) -> Iterator[Sighting]:
    for record in _web_sets(case, "A", "AAAA"):
        if set(record.values) & set(case.notation.forwarding_addresses) and _unwanted(case, record):
            yield Sighting(
                record.name,
                record.type,
                msg("forwarding-entry", name=record.name, host=case.notation.host),
                msg("forwarding-entry.cure"),
            )


def _brief_outdated(case: Case) -> Iterator[Sighting]:
    edge = case.wanted.edge
    for old in case.survey.outdated if case.survey else ():
        want = case.wanted.get(old.name, old.type)
        if want is None or set(want.record.values) != set(old.values) or old.key in case.wanted.trusted:
            continue
        now = ", ".join(case.surroundings.values(edge, old.type))
        yield Sighting(
            old.name,
            old.type,
            msg("brief-outdated", name=old.name, values=tuple(old.values), edge=edge, now=now),
            msg("brief-outdated.cure", domain=case.domain),
        )


def _address_not_the_builders(case: Case) -> Iterator[Sighting]:
    """Of the brief's addresses, one that the builder's own host name does not have although it has others of them."""
    edge = case.wanted.edge
    for want in (want for name in case.wanted.web_names for want in case.wanted.at(name)):
        record = want.record
        theirs = case.surroundings.values(edge, record.type) if record.type in ADDRESS_TYPES else ()
        strange = tuple(value for value in record.values if value not in theirs)
        if not strange or len(strange) == len(record.values) or record.key in case.wanted.trusted:
            continue
        there = tuple(value for value in strange if value in case.past.values(*record.key))
        code = "address-not-the-builders-2" if there else "address-not-the-builders"
        message = msg(code, name=record.name, strange=strange, edge=edge, theirs=tuple(theirs))
        cure = msg("address-not-the-builders.cure", domain=case.domain)
        yield Sighting(record.name, record.type, message, cure)


def _purpose_unknown(case: Case) -> Iterator[Sighting]:
    """A further record that visitors can follow, where neither the page nor the owner says what it is for."""
    for want in case.wanted.wants:
        record = want.record
        if want.purpose == "other" and record.type in LED_TO and record.key not in case.wanted.purposes:
            message = msg("purpose-unknown", name=record.name, type=record.type)
            yield Sighting(record.name, record.type, message, msg("purpose-unknown.cure", domain=case.domain))


def _old_key(case: Case) -> Iterator[Sighting]:
    for file, old, new in case.wanted.old_keys:
        what = msg("old-key.what", file=file, old=old, new=new)
        yield Sighting(case.domain, "", what, msg("old-key.cure", new=new))


def _asked_to_delete(case: Case) -> Iterator[Sighting]:
    """What the page wants deleted, is there, and does not go by what the website needs anyway."""
    for each in case.wanted.deletes:
        there = case.zone.get(each.name, each.type)
        found = sorted(set(each.values) & set(there.values)) if there else []
        if not found or (each.name in case.wanted.web_names and each.type in WEB_TYPES):
            continue
        want = case.wanted.get(each.name, each.type)
        if want is not None and set(found) <= set(want.record.values):
            continue
        mail = case.purpose(there)[0] if there else "" in ("mail", "mail authentication")
        yield Sighting(
            each.name,
            each.type,
            msg(
                "asked-to-delete-3",
                found=tuple(found),
                name=each.name,
                part=msg("asked-to-delete") if mail else msg("asked-to-delete-2"),
            ),
            msg("asked-to-delete.cure") if mail else msg("asked-to-delete.cure-2"),
            "risk" if mail else None,
        )


RULES = (
    Rule("points-nowhere", _points_nowhere),
    Rule("parked", _parked),
    Rule("address-elsewhere", _address_elsewhere),
    Rule("ipv6-elsewhere", _ipv6_elsewhere),
    Rule("address-set-incomplete", _address_set_incomplete),
    Rule("service-binding-elsewhere", _service_binding_elsewhere),
    Rule("private-address", _private_address),
    Rule("forwarding-entry", _forwarding_entry),
    Rule("brief-outdated", _brief_outdated),
    Rule("address-not-the-builders", _address_not_the_builders),
    Rule("purpose-unknown", _purpose_unknown),
    Rule("old-key", _old_key),
    Rule("asked-to-delete", _asked_to_delete),
)
