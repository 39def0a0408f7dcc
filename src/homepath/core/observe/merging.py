"""What several servers and files said, merged into one picture; no source is lost without a word."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any

from homepath.core.dns.answers import Answer, Server, Trouble, of_trouble, server_state
from homepath.core.dns.names import Name, is_within, shown
from homepath.core.dns.records import SIGNING, Key, RecordSet, Zone
from homepath.core.dns.soa import holds_zone, serial_of
from homepath.core.dns.walk import Found, trouble_in
from homepath.core.dns.zone_answers import Rounds, known_keys, sets_of
from homepath.core.message import Text, msg
from homepath.core.model.survey import Led, Seen, ServerSeen, ServerState
from homepath.core.observe.requests import Exchange, Transfer


@dataclass(frozen=True, slots=True)
class Export:
    """Record sets from a file or a transfer, and what it is called."""

    source: Text
    sets: tuple[RecordSet, ...]


@dataclass(frozen=True, slots=True)
class Merged:
    """`contradicted`: what an export has and the servers, asked for it, do not. `blind`: the same in words."""

    seen: tuple[Seen, ...]
    contradicted: tuple[Seen, ...]
    blind: tuple[Text, ...]


def server_seen(server: Server, answers: Sequence[Answer], best: Sequence[Answer]) -> ServerSeen:
    """How one server compares with the one whose word counts: only in what both of them answered."""
    first = answers[0]
    state: ServerState = "agrees"
    detail: Text = ""
    zone = first.question.name
    if not holds_zone(answers, zone):
        trouble = trouble_in(first, server)
        state, detail = server_state(trouble.cause), of_trouble(trouble)
    else:
        both = known_keys(answers, zone) & known_keys(best, zone)
        mine, theirs = (
            {k: r for k, r in sets_of(a for a in each if _asked(a) in both).items() if k[1] != "SOA"}
            for each in (answers, best)
        )
        differing = sorted({f"{shown(name)} {t}" for name, t in {*mine, *theirs} if not _same(mine, theirs, (name, t))})
        if differing:
            state, detail = "differs", ", ".join(differing)
        elif 2 * sum(answer.late for answer in answers) > len(answers):  # one late datagram says nothing about a server
            state, detail = "slow", msg("merging.server-seen")
    return ServerSeen(server.name, server.address, state, serial_of(answers, zone), detail)


def _asked(answer: Answer) -> Key:
    return answer.question.name, answer.question.type


def _same(mine: dict[Key, RecordSet], theirs: dict[Key, RecordSet], key: Key) -> bool:
    one, other = mine.get(key), theirs.get(key)
    return one is not None and other is not None and one.meanings == other.meanings


def merge(rounds: Rounds, answers: Sequence[Answer], exports: Sequence[Export], domain: Name) -> Merged:
    """Live sets with every server that returned them, then what only the exports know.

    `answers`: the one that counts for each question. Live answers win; where no one answered, an export fills in.
    """
    by_server = {server: sets_of(each) for server, each in rounds.items()}
    live = sets_of(answers)
    asked = {_asked(answer) for answer in answers}
    sources: dict[Key, list[Text]] = {
        key: list(
            dict.fromkeys(
                shown(server.name) or server.place
                for server, sets in by_server.items()
                if key in sets and sets[key].meanings == record.meanings
            )
        )
        for key, record in live.items()
    }
    sets, contradicted, blind = dict(live), [], []
    for export in exports:
        for record in Zone.of(domain, export.sets):  # a transfer brings each record of a set by itself
            if not is_within(record.name, domain) or record.type in SIGNING:
                continue
            here = sets.get(record.key)
            if here is not None and (here.meanings == record.meanings or record.type == "SOA"):
                sources[record.key].append(export.source)
            elif here is not None or record.key in asked:
                contradicted.append(Seen(record, (export.source,)))
                blind.append(_contradiction(export.source, record, here is not None))
            else:
                sets[record.key] = record
                sources[record.key] = [export.source]
    seen = tuple(Seen(record, tuple(sources[key])) for key, record in sets.items())
    return Merged(seen, tuple(contradicted), tuple(blind))


def without_synthesised(
    seen: Sequence[Seen], wild: Sequence[RecordSet], domain: Name, right: Collection[Name]
) -> tuple[Seen, ...]:
    """Only what was entered: a name all of whose sets are the wildcard's was made up by the server (RFC 4592).

    From outside, a record with the wildcard's own values looks the same as one that was made up, so the names in
    `right`, which answer as wanted, are believed.
    """
    by_type = {record.type: record.meanings for record in wild}
    kept = {domain, f"*.{domain}", *right}
    made_up = {each.record.name for each in seen if each.record.name not in kept} if wild else set()
    for each in seen:
        live = each.ways != {"file"}
        if not live or by_type.get(each.record.type) != each.record.meanings:
            made_up.discard(each.record.name)
    return tuple(each for each in seen if each.record.name not in made_up)


def entered_only(
    contents: Iterable[RecordSet], wild: Sequence[RecordSet], entered: Collection[Name]
) -> list[RecordSet]:
    """Contents without what a wildcard made up (RFC 4592): at a name that is not among those `entered`, a set with the
    wildcard's values is none of its own."""
    by_type = {record.type: record.meanings for record in wild}
    return [
        record
        for record in contents
        if record.name in entered or not record.values or by_type.get(record.type) != record.meanings
    ]


def _contradiction(source: Text, record: RecordSet, other: bool) -> Text:
    what = f"{shown(record.name)} {record.type}"
    if other:
        return msg("merging.contradiction", source=source, what=what)
    return msg("merging.contradiction-2", source=source, what=what)


def found_elsewhere(replies: Sequence[Any]) -> dict[Key, RecordSet]:
    """What those servers return: caches hold it for its TTL, plus the time for which they hold the servers' names."""
    sets = (each for reply in replies if isinstance(reply, Found) for each in (*reply.chain, *reply.sets))
    return {each.key: each for each in sets}


def transferred(domain: Name, rounds: Rounds, spots: list[Text]) -> Exchange[list[Export]]:
    """The zone from the first server that returns it whole."""
    for server in rounds:
        (reply,) = yield [Transfer(domain, server)]
        if isinstance(reply, Trouble):
            spots.append(msg("survey.transferred", name=server.name, why=of_trouble(reply)))
            continue
        return [Export(msg("source.transfer", name=server.name), tuple(reply))]
    return []


def surroundings(around: Sequence[Key], replies: Sequence[Any]) -> tuple[list[Seen], list[Text]]:
    seen: list[Seen] = []
    dark: list[Text] = []
    for (name, rrtype), reply in zip(around, replies, strict=True):
        if isinstance(reply, Trouble):
            dark.append(msg("survey.surroundings", rrtype=rrtype, name=name, why=of_trouble(reply)))
        else:
            seen += [Seen(replace(each, name=name), (msg("source.own-servers"),)) for each in reply.sets]
    return seen, dark


def wildcards(random: Sequence[Name], answers: Sequence[Answer], domain: Name) -> list[Seen]:
    """What a name that no one can have entered returns is returned by a wildcard (RFC 4592)."""
    first, second = (sets_of(a for a in answers if a.question.name == name) for name in random)
    both = {rrtype for _, rrtype in first} & {rrtype for _, rrtype in second}
    return [
        Seen(replace(record, name=f"*.{domain}"), (msg("source.wildcard"),))
        for record in first.values()
        if record.type in both and record.name == random[0]
    ]


def dangling_targets(targets: Sequence[Name], replies: Sequence[Any]) -> tuple[Name, ...]:
    """Alias targets that do not exist."""
    pairs = zip(targets, replies, strict=True)
    return tuple(target for target, reply in pairs if isinstance(reply, Found) and reply.rcode == "NXDOMAIN")


def led(targets: Sequence[Name], replies: Sequence[Any]) -> Iterator[Led]:
    """Where the targets of aliases lead in the end."""
    for target, reply in zip(targets, replies, strict=False):
        if isinstance(reply, Found):
            through = tuple(value for record in reply.chain for value in record.values)
            yield Led(target, through, tuple(value for record in reply.sets for value in record.values))


def targets_of(records: Sequence[RecordSet]) -> list[Name]:
    targets = dict.fromkeys(value for record in records if record.type == "CNAME" for value in record.values)
    return list(targets)[:_MOST_TARGETS]


_MOST_TARGETS = 12
