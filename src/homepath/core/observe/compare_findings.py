"""What a comparison of both sides of a hand-over has to say: servers, records, signatures, wildcards."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from homepath.core.dns.names import Name, shown
from homepath.core.dns.records import Key, RecordSet
from homepath.core.dns.soa import negative_ttl
from homepath.core.findings.registry import finding
from homepath.core.model.compared import RecordCompared, SideServer
from homepath.core.model.findings import Finding
from homepath.core.model.times import lasting
from homepath.core.wording.words import SERVER_STATES, many


def named(keys: Sequence[Key]) -> str:
    more = f" and {len(keys) - 6} more" if len(keys) > 6 else ""
    return ", ".join(f"{rrtype} at {shown(name)}" for name, rrtype in keys[:6]) + more


_NOT_READY = ("silent", "refusing", "lame", "recursive", "broken")


def about_servers(domain: Name, servers: Sequence[SideServer]) -> list[Finding]:
    found = []
    for each in servers:
        if each.state == "no-such-server":
            said = f"{shown(each.name)} is to be a name server of {shown(domain)}, and {each.detail}."
            found.append(finding("new-server-unknown", domain, "NS", said))
        elif each.state in _NOT_READY:
            where = f"{shown(each.name)} ({each.address})"
            said = f"{where} is to take {shown(domain)} over and {SERVER_STATES[each.state]}: {each.detail}."
            found.append(finding("new-server-not-ready", domain, "NS", said))
        elif each.present:
            said = f"{shown(each.name)} is named as a new name server, and {each.detail}."
            found.append(finding("new-server-is-present", domain, "NS", said))
    return found


def about_records(domain: Name, records: Sequence[RecordCompared]) -> list[Finding]:
    found = []
    left = [each for each in records if each.hinders]
    if left:
        what = named([each.key for each in left])
        said = f"{many(len(left), 'entry', 'entries')} would be lost by switching now: {what}."
        found.append(finding("left-at-the-old", domain, left[0].type, said[:1].upper() + said[1:]))
    timed = [r for r in records if r.state == "same" and r.old_ttl != r.new_ttl and r.new_ttl is not None]
    if timed:
        first = timed[0]
        said = f"{many(len(timed), 'entry has', 'entries have')} another keeping time (TTL) at the new name servers, "
        said += f"such as {first.type} at {shown(first.name)}: {lasting(first.old_ttl or 0)}, and there "
        said += f"{lasting(first.new_ttl or 0)}."
        found.append(finding("keeping-times-differ", domain, "", said[:1].upper() + said[1:]))
    return found


def disagreements(domain: Name, at_odds: Mapping[Name, Sequence[Key]]) -> list[Finding]:
    return [
        finding(
            "new-servers-disagree",
            domain,
            "NS",
            f"{shown(server)} gives other answers than the other new name servers: {named(keys)}.",
        )
        for server, keys in at_odds.items()
    ]


def about_delegation(domain: Name, glue: Mapping[Name, tuple[str, ...]], above: Name, signed: bool) -> list[Finding]:
    found = []
    for name, addresses in glue.items():
        where = ", ".join(addresses) or "an address that is not known yet"
        said = f"{shown(name)} lies below {shown(domain)} itself; enter it with its address: {where}."
        found.append(finding("glue-needed", domain, "NS", said))
    if signed:
        said = f"{shown(above) if above != '.' else 'The root zone'} holds a DS record for "
        said += f"{shown(domain)} that does not fit the keys of the new name servers."
        found.append(finding("ds-does-not-fit", domain, "DS", said[:1].upper() + said[1:]))
    return found


def about_the_zones(domain: Name, own: Sequence[RecordCompared], target: Sequence[Name]) -> list[Finding]:
    found = []
    for each in own:
        if each.type == "NS" and set(each.new) != set(target):
            there = ", ".join(map(shown, each.new))
            said = f"The new zone names other name servers than those to be entered at the registrar: {there}."
            found.append(finding("delegation-differs", domain, "NS", said))
        if each.type != "SOA":
            continue
        sets = [RecordSet(domain, "SOA", ttl or 0, values) for ttl, values in _sides(each)]
        before, after = (negative_ttl(record) for record in sets)
        if before != after:
            said = "That something is not there is remembered for another time at the new name servers: "
            said += f"{lasting(before)} before, {lasting(after)} then."
            found.append(finding("keeping-times-differ", domain, "SOA", said))
    return found


def _sides(each: RecordCompared) -> tuple[tuple[int | None, tuple[str, ...]], tuple[int | None, tuple[str, ...]]]:
    return (each.old_ttl, each.old), (each.new_ttl, each.new)


def about_wildcard(domain: Name, new: Mapping[str, RecordSet], old: Mapping[str, RecordSet]) -> list[Finding]:
    more = [rrtype for rrtype in new if rrtype not in old]
    if not more:
        return []
    said = f"The new name servers give {', '.join(more)} for any name of {shown(domain)} that nobody entered."
    return [finding("wildcard-at-the-new", domain, more[0], said)]
