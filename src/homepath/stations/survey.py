"""Station two: what is there, asked of the authoritative servers directly, merged with exports, and what
the registry says."""

from __future__ import annotations

import asyncio
import secrets
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from homepath.core.asking.walk import Cut, LostWay
from homepath.core.formats.contracts.survey import survey_memory
from homepath.core.formats.exports import read_export
from homepath.core.formats.key_file import TsigKey
from homepath.core.model.findings import Finding
from homepath.core.model.names import ROOT, Name, ancestors, child, shown
from homepath.core.model.problems import CouldNotLook
from homepath.core.model.questions import Answer, Question, Server
from homepath.core.model.records import Key, RecordSet
from homepath.core.model.survey import Delegation, Seen, Survey
from homepath.core.rules.catalogue import findings as all_findings
from homepath.core.wanted.wanted import ALIAS, Wanted
from homepath.journal.journal import open_journal
from homepath.net.asker import Asker
from homepath.net.network_file import Network
from homepath.net.registration import ask_registry
from homepath.net.signatures import check_signatures
from homepath.net.transfer import NotGiven, transfer
from homepath.net.walker import Walker
from homepath.stations.evidence import (
    Export,
    Rounds,
    contents_of,
    holds,
    merge,
    newest,
    server_seen,
    sets_of,
    without_synthesised,
)
from homepath.stations.files import read_text
from homepath.stations.project import Project, purpose_within

APEX_TYPES = ("NS", "A", "AAAA", "CNAME", "TXT", "MX", "CAA", "HTTPS", "DNAME")
NAME_TYPES = ("A", "AAAA", "CNAME", "TXT", "MX", "CAA", "HTTPS", "SVCB", "NS")
_USUAL = {
    **dict.fromkeys(("mail", "autodiscover", "webmail", "shop", "blog", "ftp"), ("A",)),
    **dict.fromkeys(("_dmarc", "_mta-sts"), ("TXT",)),
}
"""Names that many zones hold, asked so that the inventory is less blind."""
_MOST_TARGETS = 12
_SIGNED = ("good", "broken")


@dataclass(frozen=True, slots=True)
class Surveyed:
    survey: Survey
    findings: tuple[Finding, ...]


async def survey(
    project: Project,
    network: Network,
    zone_files: Sequence[Path] = (),
    ask_transfer: bool = False,
    key: TsigKey | None = None,
) -> Surveyed:
    """Walk from the roots, ask every authoritative server, merge exports, ask the registry, keep it in the journal.

    Raises CouldNotLook when the domain's servers cannot be found or none answers.
    """
    exports = [_read_file(path, project.domain) for path in zone_files]
    walker = Walker(Asker(network))
    cut = await find_zone(walker, project.domain)
    keys = _questions(project.wanted)
    rounds = await ask_servers(walker, cut, keys)
    if not any(holds(answers) for answers in rounds.values()):
        names = ", ".join(dict.fromkeys(shown(server.name) for server in cut.servers))
        raise CouldNotLook(
            f"none of the name servers of {shown(project.domain)} answers for it: {names}",
            "Look again later; if it stays so, the DNS host does not serve the domain.",
        )
    best = newest(rounds)
    spots: list[str] = []
    if ask_transfer:
        exports += await _transferred(project.domain, rounds, network, key, spots)
    merged = merge(rounds, best, exports, project.domain)
    (signatures, trouble), (outside, dark), wild, dangling, (registration, silence) = await asyncio.gather(
        check_signatures(walker.asker, cut),
        _surroundings(walker, project.wanted),
        _wildcards(walker.asker, best, project.domain),
        _dangling(walker, [seen.record for seen in merged.seen]),
        ask_registry(project.domain, network, walker),
    )
    there = {seen.record.key: seen.record for seen in merged.seen}
    right = {want.record.name for want in project.wanted.wants if want.met_by(there.get(want.record.key))}
    own = without_synthesised(merged.seen, [seen.record for seen in wild], project.domain, right)
    known = {seen.record.key for seen in own}
    spots += [*merged.blind, *dark, *([f"{silence}."] if silence else []), *_blind_words(bool(exports))]
    found = Survey(
        project.domain,
        network.clock.now(),
        tuple(server_seen(server, answers, rounds[best]) for server, answers in rounds.items()),
        Delegation(cut.above, tuple(sorted(cut.names)), cut.ttl, signatures in _SIGNED, signatures, trouble),
        (*own, *(seen for seen in wild if seen.record.key not in known)),
        tuple(outside),
        tuple(spots),
        registration,
        merged.contradicted,
        dangling,
    )
    findings = all_findings(project.seen(found).case_of(found))
    _keep(project, found, findings, keys, rounds[best])
    return Surveyed(found, findings)


def _read_file(path: Path, domain: Name) -> Export:
    text = read_text(path, "the exported zone")
    return Export(f"file {path}", tuple(read_export(text, domain, str(path))))


async def find_zone(walker: Walker, domain: Name) -> Cut:
    """The domain's own zone cut. Raises CouldNotLook."""
    try:
        cut = await walker.cut(domain)
    except LostWay as error:
        raise CouldNotLook(
            str(error), "Check the network connection, or the network file given with --network."
        ) from error
    if cut.zone != domain:
        raise CouldNotLook(
            f"{shown(cut.zone)} does not delegate {shown(domain)}: it has no name servers there",
            "Is the domain spelled rightly, registered, and not on hold? Ask the registrar.",
        )
    return cut


def _questions(wanted: Wanted) -> list[Key]:
    """What to ask for: all types at the wanted names, and the wanted types where slips would put them."""
    wants = [want.record for want in wanted.wants if want.record.type != ALIAS]
    names = dict.fromkeys([wanted.domain, child("www", wanted.domain), wanted.primary, *wanted.names])
    names |= dict.fromkeys(record.name for record in wants)
    keys: list[Key] = []
    for name in names:
        keys += [(name, rrtype) for rrtype in (APEX_TYPES if name == wanted.domain else NAME_TYPES)]
    for record in wants:
        keys += [(child(shown(record.name), wanted.domain), rrtype) for rrtype in {record.type: 0, "A": 0}]
    keys += [(child(label, wanted.domain), rrtype) for label, types in _USUAL.items() for rrtype in types]
    return list(dict.fromkeys(keys))


async def ask_servers(walker: Walker, cut: Cut, keys: Sequence[Key]) -> Rounds:
    """Every question to every authoritative server, those that only the zone itself names included.

    A server that does not answer for the SOA is not asked the rest.
    """
    asker, soa = walker.asker, Question(cut.zone, "SOA")
    servers = list(cut.servers)
    first = await asker.ask_all([(soa, server) for server in servers])
    extra = await _only_in_zone(walker, cut, first)
    servers += extra
    first += await asker.ask_all([(soa, server) for server in extra])
    rounds: Rounds = {server: [answer] for server, answer in zip(servers, first, strict=True)}
    alive = [server for server, answers in rounds.items() if answers[0].usable]
    asks = [(Question(*key), server) for server in alive for key in keys]
    for (_, server), answer in zip(asks, await asker.ask_all(asks), strict=True):
        rounds[server].append(answer)
    return rounds


async def _only_in_zone(walker: Walker, cut: Cut, first: Sequence[Answer]) -> list[Server]:
    """Name servers that the zone names and its parent does not."""
    alive = next((answer.server for answer in first if answer.usable and answer.authoritative), None)
    if alive is None:
        return []
    own = (await walker.asker.ask(Question(cut.zone, "NS"), alive)).found(cut.zone, "NS")
    found = []
    for name in own.values[:13] if own else ():
        if name not in cut.names:
            addresses, _, _ = await walker.addresses(name)
            found += [Server(address, walker.asker.network.dns_port, name) for address in addresses[:2]]
    return found


async def _transferred(
    domain: Name, rounds: Rounds, network: Network, key: TsigKey | None, spots: list[str]
) -> list[Export]:
    """The zone from the first server that gives it whole."""
    for server in rounds:
        try:
            sets = await transfer(domain, server, network, key)
        except NotGiven as error:
            spots.append(f"{shown(server.name)} gives no zone transfer: {error}.")
            continue
        return [Export(f"transfer from {shown(server.name)}", tuple(sets))]
    return []


async def _surroundings(walker: Walker, wanted: Wanted) -> tuple[list[Seen], list[str]]:
    """CAA above the domain and at the targets of wanted aliases (RFC 8659 section 3), addresses of apex aliases."""
    asks = [(name, "CAA") for name in ancestors(wanted.domain)[1:] if name != ROOT]
    for want in wanted.wants:
        if want.record.type == "CNAME":
            asks.append((want.record.values[0], "CAA"))
        elif want.record.type == ALIAS:
            asks += [(want.record.values[0], rrtype) for rrtype in ("CAA", "A", "AAAA")]
    seen, dark = [], []
    for name, rrtype in dict.fromkeys(asks):
        try:
            found = await walker.look_up(name, rrtype)
        except LostWay as error:
            dark.append(f"{rrtype} records at {shown(name)} could not be asked for: {error}.")
            continue
        seen += [Seen(replace(each, name=name), ("its own servers",)) for each in found.sets]
    return seen, dark


async def _wildcards(asker: Asker, server: Server, domain: Name) -> list[Seen]:
    """What a name that nobody can have entered gives is given by a wildcard (RFC 4592)."""
    labels = [child(f"hp-{secrets.token_hex(6)}", domain) for _ in range(2)]
    asks = [(Question(name, rrtype), server) for name in labels for rrtype in ("A", "AAAA", "TXT", "MX")]
    answers = await asker.ask_all(asks)
    first, second = (sets_of(a for a in answers if a.question.name == name) for name in labels)
    both = {rrtype for _, rrtype in first} & {rrtype for _, rrtype in second}
    return [
        Seen(replace(record, name=f"*.{domain}"), ("asked for a name that nobody entered",))
        for record in first.values()
        if record.type in both
    ]


async def _dangling(walker: Walker, records: Sequence[RecordSet]) -> tuple[Name, ...]:
    """Alias targets that do not exist."""
    targets = dict.fromkeys(value for record in records if record.type == "CNAME" for value in record.values)
    found = []
    for target in list(targets)[:_MOST_TARGETS]:
        try:
            answer = await walker.look_up(target, "A")
        except LostWay:
            continue
        if answer.rcode == "NXDOMAIN":
            found.append(target)
    return tuple(found)


def _blind_words(with_file: bool) -> tuple[str, ...]:
    if with_file:
        return ("Names that are neither in the export nor asked for stay unseen.",)
    return (
        "DNS cannot be listed from outside: only the names of the website and a few usual ones were asked for. "
        "Export the zone at the DNS host and add it with `homepath survey --zone FILE`, or try --transfer.",
    )


def _keep(
    project: Project, found: Survey, findings: tuple[Finding, ...], keys: list[Key], answers: Sequence[Answer]
) -> None:
    body = survey_memory(found, purpose_within(project.seen(found), found.zone), findings)
    words = f"{len(found.records)} record sets at {len(found.servers)} servers"
    with open_journal(project.folder) as journal:
        journal.record_look(found.at, "survey", project.domain, words, body)
        journal.record_contents(found.at, contents_of(answers, keys))
        if found.delegation:
            handed = RecordSet(project.domain, "NS", found.delegation.ttl, found.delegation.servers)
            journal.record_contents(found.at, [handed], "parent")
