"""Station two: what is there, asked of the authoritative servers directly (N6), merged with exports (N7)."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

from homepath.core.asking.walk import Cut, LostWay
from homepath.core.formats.contracts.survey import survey_json
from homepath.core.formats.master_file import read_master_file
from homepath.core.model.findings import Finding
from homepath.core.model.names import ROOT, Name, ancestors, child, shown
from homepath.core.model.problems import CouldNotLook
from homepath.core.model.questions import Answer, Question, Server, negative_ttl
from homepath.core.model.records import Key, RecordSet
from homepath.core.model.survey import Delegation, Seen, ServerSeen, Survey
from homepath.core.rules.catalogue import findings as all_findings
from homepath.core.wanted.wanted import Wanted
from homepath.journal.journal import open_journal
from homepath.net.asker import Asker
from homepath.net.network_file import Network
from homepath.net.walker import Walker
from homepath.stations.files import read_text
from homepath.stations.project import Project, purpose_within

TYPES = ("SOA", "NS", "A", "AAAA", "CNAME", "TXT", "MX", "CAA")
_USUAL = {"mail": ("A",), "_dmarc": ("TXT",), "autodiscover": ("A",), "shop": ("A",), "blog": ("A",)}
"""Names that many zones hold, asked so that the inventory is less blind."""


@dataclass(frozen=True, slots=True)
class Surveyed:
    survey: Survey
    findings: tuple[Finding, ...]


async def survey(project: Project, network: Network, zone_file: Path | None = None) -> Surveyed:
    """Walk from the roots, ask every authoritative server, merge an export, keep the look in the journal.

    Raises CouldNotLook when the domain's servers cannot be found or none answers.
    """
    exported = read_text(zone_file, "the exported zone") if zone_file else None
    file_sets = list(read_master_file(exported, project.domain, str(zone_file))) if exported is not None else []
    walker = Walker(Asker(network))
    cut = await find_zone(walker, project.domain)
    keys = _questions(project.wanted)
    rounds = await ask_servers(walker.asker, cut, keys)
    names = tuple(dict.fromkeys(server.name for server in cut.servers))
    if not any(_holds(answers) for answers in rounds.values()):
        raise CouldNotLook(
            f"none of the name servers of {shown(project.domain)} answers for it: {', '.join(map(shown, names))}",
            "Look again later; if it stays so, the DNS host does not serve the domain.",
        )
    best = _best(rounds)
    seen, blind = _merge(rounds, best, file_sets, str(zone_file) if zone_file else "", project.domain)
    outside, more = await _authority(walker, project.wanted)
    delegation = Delegation(cut.above, tuple(sorted(cut.names)), cut.ttl, cut.signed)
    states = tuple(_server_seen(server, answers, rounds[best]) for server, answers in rounds.items())
    spots = (*blind, *more, *_blind_words(zone_file is not None))
    found = Survey(project.domain, network.clock.now(), states, delegation, tuple(seen), tuple(outside), spots)
    findings = all_findings(project.case_of(found))
    _keep(project, found, findings, keys, rounds[best])
    return Surveyed(found, findings)


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
    names = dict.fromkeys([wanted.domain, child("www", wanted.domain), wanted.primary, *wanted.names])
    names |= dict.fromkeys(want.record.name for want in wanted.wants)
    keys: list[Key] = [(name, rrtype) for name in names for rrtype in TYPES[0 if name == wanted.domain else 2 :]]
    keys += [(child(shown(want.record.name), wanted.domain), want.record.type) for want in wanted.wants]
    keys += [(child(label, wanted.domain), rrtype) for label, types in _USUAL.items() for rrtype in types]
    return list(dict.fromkeys(keys))


Rounds = dict[Server, list[Answer]]


async def ask_servers(asker: Asker, cut: Cut, keys: Sequence[Key]) -> Rounds:
    """Every question to every authoritative server; one that does not answer for the SOA is not asked the rest."""
    first = await asker.ask_all([(Question(cut.zone, "SOA"), server) for server in cut.servers])
    rounds: Rounds = {server: [answer] for server, answer in zip(cut.servers, first, strict=True)}
    alive = [server for server, answers in rounds.items() if answers[0].usable]
    asks = [(Question(*key), server) for server in alive for key in keys if key != (cut.zone, "SOA")]
    for (_, server), answer in zip(asks, await asker.ask_all(asks), strict=True):
        rounds[server].append(answer)
    return rounds


def _holds(answers: Sequence[Answer]) -> bool:
    return answers[0].usable and answers[0].authoritative


def _serial(answers: Sequence[Answer]) -> int | None:
    soa = answers[0].found(answers[0].question.name, "SOA")
    return int(soa.values[0].split()[2]) if soa else None


def _best(rounds: Rounds) -> Server:
    """The server whose word counts where they differ: the one with the newest zone."""
    holding = [server for server, answers in rounds.items() if _holds(answers)]
    return max(holding, key=lambda server: _serial(rounds[server]) or 0)


def _sets(answers: Iterable[Answer]) -> dict[Key, RecordSet]:
    """The sets at the asked names themselves; what lies behind an alias is not the zone's."""
    return {
        each.key: each
        for answer in answers
        if answer.usable
        for each in answer.answer
        if each.name == answer.question.name and each.type != "RRSIG"
    }


def _server_seen(server: Server, answers: Sequence[Answer], best: Sequence[Answer]) -> ServerSeen:
    first = answers[0]
    if first.outcome != "answered":
        state = f"{first.outcome}: {first.detail}"
    elif not _holds(answers):
        state = f"does not hold the zone ({first.rcode})"
    else:
        mine, theirs = _sets(answers), _sets(best)
        differing = sorted({f"{shown(name)} {t}" for name, t in {*mine, *theirs} if not _same(mine, theirs, (name, t))})
        state = f"differs: {', '.join(differing)}" if differing else "agrees"
    return ServerSeen(server.name, server.address, state, _serial(answers) if first.usable else None)


def _same(mine: dict[Key, RecordSet], theirs: dict[Key, RecordSet], key: Key) -> bool:
    if key[1] == "SOA":
        return True
    one, other = mine.get(key), theirs.get(key)
    return one is not None and other is not None and one.meanings == other.meanings


def _merge(
    rounds: Rounds, best: Server, file_sets: list[RecordSet], file: str, domain: Name
) -> tuple[list[Seen], list[str]]:
    """Live sets with every server that gave them, then what only the export knows. Live answers win."""
    by_server = {server: _sets(answers) for server, answers in rounds.items()}
    live = by_server[best]
    from_file = {
        record.key: record for record in file_sets if record.name == domain or record.name.endswith("." + domain)
    }
    asked = {(a.question.name, a.question.type) for a in rounds[best] if a.usable}
    seen = []
    for key, record in live.items():
        sources = dict.fromkeys(
            shown(server.name) or server.place
            for server, sets in by_server.items()
            if key in sets and sets[key].meanings == record.meanings
        )
        if key in from_file and from_file[key].meanings == record.meanings:
            sources[f"file {file}"] = None
        seen.append(Seen(record, tuple(sources)))
    blind = []
    for key, record in from_file.items():
        if key in live or key[1] in ("RRSIG", "NSEC", "NSEC3"):
            if key in live and live[key].meanings != record.meanings and key[1] != "SOA":
                blind.append(
                    f"{file} has other values for {shown(key[0])} {key[1]} than the servers; the servers count."
                )
            continue
        if key in asked:
            blind.append(f"{file} has {shown(key[0])} {key[1]}, the servers do not; the servers count.")
        else:
            seen.append(Seen(record, (f"file {file}",)))
    return seen, blind


async def _authority(walker: Walker, wanted: Wanted) -> tuple[list[Seen], list[str]]:
    """CAA above the domain and at the targets of wanted aliases (RFC 8659 section 3)."""
    names = [name for name in ancestors(wanted.domain)[1:] if name != ROOT]
    names += [want.record.values[0] for want in wanted.wants if want.record.type == "CNAME"]
    seen, blind = [], []
    for name in dict.fromkeys(names):
        try:
            found = await walker.look_up(name, "CAA")
        except LostWay as error:
            blind.append(f"CAA records at {shown(name)} could not be asked for: {error}.")
            continue
        seen += [Seen(RecordSet(name, "CAA", each.ttl, each.values), ("its own servers",)) for each in found.sets]
    return seen, blind


def _blind_words(with_file: bool) -> tuple[str, ...]:
    if with_file:
        return ("Names that are neither in the export nor asked for stay unseen.",)
    return (
        "DNS cannot be listed from outside: only the names of the website and a few usual ones were asked for. "
        "Export the zone at the DNS host and add it with `homepath survey --zone FILE`.",
    )


def contents_of(answers: Iterable[Answer], keys: Iterable[Key]) -> list[RecordSet]:
    """What to note of an authoritative server's answers: each asked set, empty where it is missing."""
    answers = [answer for answer in answers if answer.usable]
    sets = _sets(answers)
    noted = list(sets.values())
    for answer in answers:
        key = (answer.question.name, answer.question.type)
        if key in keys and key not in sets and key[1] != "SOA":
            noted.append(RecordSet(*key, negative_ttl(answer.soa) if answer.soa else 0, ()))
    return noted


def _keep(
    project: Project, found: Survey, findings: tuple[Finding, ...], keys: list[Key], answers: Sequence[Answer]
) -> None:
    body = survey_json(found, purpose_within(found.zone), findings)
    words = f"{len(found.records)} record sets at {len(found.servers)} servers"
    with open_journal(project.folder) as journal:
        journal.record_look(found.at, "survey", project.domain, words, body)
        journal.record_contents(found.at, contents_of(answers, keys))
