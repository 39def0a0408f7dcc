"""What a comparison of both sides of a hand-over has to say: servers, records, signatures, wildcards."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from homepath.core.dns.answers import Unanswered, of_trouble
from homepath.core.dns.names import Name
from homepath.core.dns.records import Key, RecordSet
from homepath.core.dns.soa import negative_ttl
from homepath.core.findings.registry import finding
from homepath.core.message import Text, msg, records_named
from homepath.core.model.findings import Finding
from homepath.core.model.survey import CompareVerdict, RecordCompared, SideServer, SideState


def named(keys: Sequence[Key]) -> Text:
    return records_named(keys, 6)


_NOT_READY = ("silent", "refusing", "lame", "recursive", "broken")


def about_servers(domain: Name, servers: Sequence[SideServer]) -> list[Finding]:
    found = []
    for each in servers:
        if each.state == "no-such-server":
            message = msg("new-server-unknown", name=each.name, domain=domain, detail=each.detail)
            found.append(finding("new-server-unknown", domain, "NS", message))
        elif each.state in _NOT_READY:
            message = msg(
                "new-server-not-ready",
                name=each.name,
                address=each.address,
                domain=domain,
                state=msg(f"server.{each.state}"),
                detail=each.detail if each.state == "broken" else "",
            )
            found.append(finding("new-server-not-ready", domain, "NS", message))
        elif each.present:
            message = msg("new-server-is-present", name=each.name, detail=each.detail)
            found.append(finding("new-server-is-present", domain, "NS", message))
    return found


def about_silence(domain: Name, unanswered_keys: Sequence[Unanswered]) -> list[Finding]:
    if not unanswered_keys:
        return []
    what, why = named([each.key for each in unanswered_keys]), of_trouble(unanswered_keys[0].trouble)
    message, cure = msg("unanswered.compared", what=what, why=why), msg("unanswered.cure")
    if all(each.type == "SOA" for each in unanswered_keys):  # no server at all says what the zone holds
        message, cure = msg("unanswered.no-server", domain=domain, why=why), msg("unanswered.no-server.cure")
    return [finding("unanswered", unanswered_keys[0].name, unanswered_keys[0].type, message, cure)]


def about_records(domain: Name, records: Sequence[RecordCompared]) -> list[Finding]:
    found = []
    left = [each for each in records if each.hinders]
    for code, some in (
        ("left-at-the-old", [each for each in left if each.state != "extra"]),
        ("left-at-the-old-2", [each for each in left if each.state == "extra"]),
    ):
        if some:
            message = msg(code, count=len(some), what=named([each.key for each in some]))
            found.append(finding("left-at-the-old", domain, some[0].type, message))
    timed = [r for r in records if r.state == "same" and r.old_ttl != r.new_ttl and r.new_ttl is not None]
    if timed:
        first = timed[0]
        message = msg(
            "keeping-times-differ",
            count=len(timed),
            type=first.type,
            name=first.name,
            old=first.old_ttl or 0,
            new=first.new_ttl or 0,
        )
        found.append(finding("keeping-times-differ", domain, "", message))
    return found


def disagreements(domain: Name, at_odds: Mapping[Name, Sequence[Key]]) -> list[Finding]:
    return [
        finding("new-servers-disagree", domain, "NS", msg("new-servers-disagree", server=server, what=named(keys)))
        for server, keys in at_odds.items()
    ]


def about_delegation(domain: Name, glue: Mapping[Name, tuple[str, ...]], above: Name, signed: bool) -> list[Finding]:
    found = []
    for name, addresses in glue.items():
        message = msg("glue-needed", name=name, domain=domain, addresses=addresses)
        found.append(finding("glue-needed", domain, "NS", message))
    if signed:
        message = msg("ds-does-not-fit", above=above, domain=domain)
        found.append(finding("ds-does-not-fit", domain, "DS", message))
    return found


def about_the_zones(domain: Name, own: Sequence[RecordCompared], target: Sequence[Name]) -> list[Finding]:
    found = []
    for each in own:
        if each.type == "NS" and set(each.new) != set(target):
            message = msg("delegation-differs.new-zone", servers=each.new)
            found.append(finding("delegation-differs", domain, "NS", message))
        if each.type != "SOA":
            continue
        sets = [RecordSet(domain, "SOA", ttl or 0, values) for ttl, values in _sides(each)]
        before, after = (negative_ttl(record) for record in sets)
        if before != after:
            message = msg("keeping-times-differ.absence", before=before, after=after)
            found.append(finding("keeping-times-differ", domain, "SOA", message))
    return found


def _sides(each: RecordCompared) -> tuple[tuple[int | None, tuple[str, ...]], tuple[int | None, tuple[str, ...]]]:
    return (each.old_ttl, each.old), (each.new_ttl, each.new)


def about_wildcard(domain: Name, new: Mapping[str, RecordSet], old: Mapping[str, RecordSet]) -> list[Finding]:
    more = [rrtype for rrtype in new if rrtype not in old]
    if not more:
        return []
    message = msg("new-wildcard", types=tuple(more), domain=domain)
    return [finding("wildcard-at-the-new", domain, more[0], message)]


def verdict_of(
    records: Sequence[RecordCompared],
    servers: Sequence[SideServer],
    signed: bool,
    unanswered_keys: Sequence[Unanswered],
) -> CompareVerdict:
    """`ready` only when nothing would be lost: every new server holds the domain, and returns all that is due; and both
    sides answered whatever they were asked."""
    if not servers or any(each.state in NEVER_READY for each in servers):
        return "not-ready"
    silent = [each for each in servers if each.state != "holds"]
    if silent and len(silent) == len(servers):
        return "unknown"
    if signed or any(each.hinders for each in records):
        return "not-ready"
    return "unknown" if silent or unanswered_keys else "ready"


NEVER_READY: tuple[SideState, ...] = ("no-such-server", "lame", "refusing", "recursive", "behind")
"""What a new server must not be; one that keeps silent or fails is not known."""
