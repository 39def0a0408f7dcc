"""Findings about the website's records and the way they were typed."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.model.names import Name, is_within, relative, shown
from homepath.core.model.records import ADDRESS_TYPES, WEB_TYPES, RecordSet
from homepath.core.model.values import target
from homepath.core.rules.purposes import is_parking
from homepath.core.rules.rule import Case, Rule, Sighting
from homepath.core.rules.slips import slip_among
from homepath.core.wanted.wanted import Want

_SIGNING = ("RRSIG", "NSEC", "NSEC3", "DNSKEY")


def foreign_at_alias(case: Case, name: Name) -> list[RecordSet]:
    """Sets at `name` that a plan may not remove although an alias is wanted there."""
    return [each for each in case.zone.at(name) if each.type not in (*WEB_TYPES, *_SIGNING)]


def _alias_wants(case: Case) -> Iterator[Want]:
    return (want for want in case.wanted.wants if want.record.type == "CNAME")


def _cname_not_alone(case: Case) -> Iterator[Sighting]:
    spoken = set()
    for want in _alias_wants(case):
        name = want.record.name
        for other in foreign_at_alias(case, name):
            if other.type == "MX":
                continue  # mail-at-cname-name says it better
            spoken.add(name)
            yield Sighting(
                name,
                other.type,
                f"{shown(name)} has a {other.type} record, and a CNAME cannot stand beside it.",
                f"Decide what the {other.type} record is for; move it to another name or delete it, then plan again.",
            )
    for alias in (each for each in case.zone if each.type == "CNAME" and each.name not in spoken):
        others = [e.type for e in case.zone.at(alias.name) if e.type not in ("CNAME", *_SIGNING)]
        if others and alias.name != case.domain:
            yield Sighting(
                alias.name,
                "CNAME",
                f"{shown(alias.name)} has a CNAME and also {', '.join(sorted(others))}; servers answer with only one.",
                "Keep either the CNAME or the others; the plan says which where the website needs it.",
                "risk",
            )


def _cname_at_apex(case: Case) -> Iterator[Sighting]:
    found = case.zone.get(case.domain, "CNAME")
    if found:
        yield Sighting(
            case.domain,
            "CNAME",
            f"{shown(case.domain)} itself is a CNAME to {shown(found.values[0])}; "
            "beside SOA and NS that is not allowed.",
            "Remove the CNAME at the apex and enter the builder's addresses there.",
        )


def _web_sets(case: Case, *types: str) -> Iterator[RecordSet]:
    for name in case.wanted.web_names:
        yield from (each for each in case.zone.at(name) if each.type in types)


def _unwanted(case: Case, record: RecordSet) -> list[str]:
    want = case.wanted.get(record.name, record.type)
    return [value for value in record.values if want is None or value not in want.record.values]


def _meant_here(case: Case, record: RecordSet) -> set[str]:
    """Wanted values at this name that are not there yet."""
    want = case.wanted.get(record.name, record.type)
    return set(want.record.values) - set(record.values) if want else set()


def _address_elsewhere(case: Case) -> Iterator[Sighting]:
    for record in _web_sets(case, "A", "CNAME"):
        if is_parking(record, case.notation):
            continue
        unfinished = {value for _, value, _ in _unfinished_targets(case)}
        stray = [
            value
            for value in _unwanted(case, record)
            if not slip_among(_meant_here(case, record), value) and value not in unfinished
        ]
        if stray:
            some = "also " if len(stray) < len(record.values) else ""
            yield Sighting(
                record.name,
                record.type,
                f"{shown(record.name)} {some}leads elsewhere: {', '.join(shown(value) for value in stray)}.",
                f"Take these {record.type} values out; the website's own values replace them, they are not joined.",
            )


def _ipv6_elsewhere(case: Case) -> Iterator[Sighting]:
    for record in _web_sets(case, "AAAA"):
        if stray := _unwanted(case, record):
            yield Sighting(
                record.name,
                "AAAA",
                f"{shown(record.name)} has an IPv6 address that the builder did not give: {', '.join(stray)}.",
                "Remove it: visitors with IPv6 would stay on the old site, and the certificate check may fail there.",
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
                f"{shown(record.name)} has {len(there)} of the {len(want.record.values)} addresses; "
                f"missing: {', '.join(missing)}.",
                "Enter every address of the set, each as an entry of its own.",
            )


def _parked(case: Case) -> Iterator[Sighting]:
    for record in _web_sets(case, "A", "AAAA", "CNAME"):
        if _unwanted(case, record) and (why := is_parking(record, case.notation)):
            yield Sighting(
                record.name,
                record.type,
                f"{shown(record.name)} shows a parking page: {why}.",
                "Replace the entry; do not add the new values beside it.",
            )


def _name_doubled(case: Case) -> Iterator[Sighting]:
    for record in case.zone:
        meant = undoubled(record.name, case.domain)
        if meant is not None and record.type not in _SIGNING:
            typed = shown(meant)
            yield Sighting(
                record.name,
                record.type,
                f"There is a {record.type} record at {shown(record.name)}: the form adds the domain by itself, "
                f"and {typed} was typed with it.",
                f"Delete that entry; as its name type {relative(meant, case.domain)} instead of {typed}.",
            )


def undoubled(name: Name, domain: Name) -> Name | None:
    """The name that was meant when `name` ends with the domain twice, else None."""
    return name[: -len(domain)] if is_within(name, domain + domain) else None


def _unfinished_targets(case: Case) -> Iterator[tuple[RecordSet, str, Name]]:
    """Sets with a value that is a wanted target with the domain appended: (set, value, meant)."""
    meant = {want.record.values[0] for want in _alias_wants(case)}
    for record in case.zone:
        for value in record.values:
            points = target(record.type, value)
            if points is None or not points.endswith("." + case.domain):
                continue
            head = points[: -len(case.domain)]
            if head in meant or is_within(head, case.domain):
                yield record, value, head


def _target_unfinished(case: Case) -> Iterator[Sighting]:
    for record, value, meant in _unfinished_targets(case):
        yield Sighting(
            record.name,
            record.type,
            f"The target at {shown(record.name)} became {shown(value.split()[-1])}: "
            "its final dot is missing, so the domain was appended.",
            f"Type the target with a dot at its end: {meant}",
        )


def _near_miss(case: Case) -> Iterator[Sighting]:
    for want in case.wanted.wants:
        record = case.zone.get(*want.record.key)
        if record is None:
            continue
        missing = set(want.record.values) - set(record.values)
        for value in sorted(set(record.values) - set(want.record.values)):
            if slip := slip_among(missing, value):
                meant, words = slip
                yield Sighting(
                    record.name,
                    record.type,
                    f"{shown(record.name)} has {value} where {meant} was meant: {words}.",
                    f"Change {value} to {meant}",
                )


def _protected_record(case: Case) -> Iterator[Sighting]:
    for name, rrtype in sorted(case.wanted.protected):
        record = case.zone.get(name, rrtype)
        want = case.wanted.get(name, rrtype)
        in_the_way = rrtype in WEB_TYPES and name in case.wanted.web_names
        if record and in_the_way and (want is None or not want.met_by(record)):
            yield Sighting(
                name,
                rrtype,
                f"{shown(name)} {rrtype} is protected in the site file, but the website needs it changed.",
                "Take it out of [keep] in homepath.toml, or choose another primary address.",
            )


RULES = (
    Rule(
        "cname-at-apex",
        "risk",
        "RFC 1034 section 3.6.2",
        "A CNAME stands at the registered domain itself, where SOA and NS records must stand too.",
        "Servers may refuse the zone, or hide mail and proofs behind the alias.",
        "Enter addresses (A, AAAA) at the apex, or use the DNS host's own kind of alias if it has one.",
        _cname_at_apex,
    ),
    Rule(
        "cname-not-alone",
        "blocker",
        "RFC 1034 section 3.6.2, RFC 2181 section 10.1",
        "A CNAME and other records are wanted, or found, at one name.",
        "A server refuses or silently drops one of them, so the website or the other service stops.",
        "Keep one of the two: move the other records to another name, or use addresses instead of the CNAME.",
        _cname_not_alone,
    ),
    Rule(
        "parked",
        "note",
        "RFC 1034 section 3.6",
        "The name leads to the page that a DNS host shows for domains without a site.",
        "New addresses entered beside the parking address send a share of the visitors to the parking page.",
        "Replace the parking entry.",
        _parked,
    ),
    Rule(
        "address-elsewhere",
        "risk",
        "RFC 1034 section 3.6, RFC 2181 section 5",
        "A name of the website has addresses or an alias that the builder did not give.",
        "Visitors reach the old or a foreign server, some or all of the time, and the certificate may not come.",
        "Replace the values; all values of a set are used in turn, so none may be left over.",
        _address_elsewhere,
    ),
    Rule(
        "ipv6-elsewhere",
        "risk",
        "RFC 8305",
        "An AAAA record is left at a name of the website although the builder gave no IPv6 address.",
        "Browsers prefer IPv6, so many visitors stay on the old server; certificate authorities prefer it too.",
        "Remove the AAAA record.",
        _ipv6_elsewhere,
    ),
    Rule(
        "address-set-incomplete",
        "risk",
        "RFC 2181 section 5",
        "Only some of the builder's addresses are there.",
        "The site works until one of the servers behind the missing addresses has to take over.",
        "Enter all addresses, each as an entry of its own.",
        _address_set_incomplete,
    ),
    Rule(
        "near-miss",
        "risk",
        "RFC 1035 section 5.1",
        "A value differs from the wanted one by a single keystroke.",
        "Waiting does not help: the record is wrong at its source.",
        "Correct the character named.",
        _near_miss,
    ),
    Rule(
        "name-doubled",
        "risk",
        "RFC 1035 section 5.1",
        "The domain stands twice at the end of a record's name.",
        "The record answers at a name that nobody asks for, and the wanted name stays as it was.",
        "Delete the entry and type the name without the domain.",
        _name_doubled,
    ),
    Rule(
        "target-unfinished",
        "risk",
        "RFC 1035 section 5.1",
        "A target was typed without its final dot, and the DNS host appended the domain to it.",
        "The alias points to a name that does not exist.",
        "Type the target with its final dot.",
        _target_unfinished,
    ),
    Rule(
        "protected-record",
        "blocker",
        "the site file, [keep]",
        "The website needs a change of a record that the owner protects.",
        "Without the change the website is not reached; with it the owner's word would be broken.",
        "Decide which of the two holds, and change the site file.",
        _protected_record,
    ),
)
