"""What several servers and files said, merged into one picture; no source is lost without a word."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass

from homepath.core.facts.purposes import SIGNING
from homepath.core.formats.words import trouble_words
from homepath.core.model.names import Name, is_within, shown
from homepath.core.model.questions import Answer, Server, negative_ttl
from homepath.core.model.records import Key, RecordSet
from homepath.core.model.survey import Seen, ServerSeen, ServerState

Rounds = dict[Server, list[Answer]]
"""All answers of each authoritative server, the one about the SOA first."""


@dataclass(frozen=True, slots=True)
class Export:
    """Record sets from a file or a transfer, and what it is called."""

    source: str
    sets: tuple[RecordSet, ...]


@dataclass(frozen=True, slots=True)
class Merged:
    """`contradicted`: what an export has and the servers, asked for it, do not. `blind`: the same in words."""

    seen: tuple[Seen, ...]
    contradicted: tuple[Seen, ...]
    blind: tuple[str, ...]


def holds(answers: Sequence[Answer]) -> bool:
    """Whether a server answers for the zone with authority."""
    return answers[0].usable and answers[0].authoritative


def serial(answers: Sequence[Answer]) -> int | None:
    soa = answers[0].found(answers[0].question.name, "SOA")
    return int(soa.values[0].split()[2]) if soa else None


def newest(rounds: Rounds) -> Server:
    """The server whose word counts where they differ: the one with the newest zone."""
    return max((s for s, answers in rounds.items() if holds(answers)), key=lambda s: serial(rounds[s]) or 0)


def sets_of(answers: Iterable[Answer]) -> dict[Key, RecordSet]:
    """The sets at the asked names themselves, delegations below the zone included; not what lies behind an alias."""
    found: dict[Key, RecordSet] = {}
    for answer in answers:
        if not answer.usable:
            continue
        at_name = [each for each in answer.answer if each.name == answer.question.name]
        if not answer.authoritative and not answer.answer:  # a referral: the name, or one above it, is handed on
            at_name = [each for each in answer.authority if each.type == "NS"]
        found |= {each.key: each for each in at_name if each.type not in SIGNING}
    return found


def server_seen(server: Server, answers: Sequence[Answer], best: Sequence[Answer]) -> ServerSeen:
    """How one server compares with the one whose word counts."""
    first = answers[0]
    state: ServerState = "agrees"
    detail = ""
    if first.outcome != "answered":
        state, detail = first.outcome, trouble_words(first.trouble) if first.trouble else ""
    elif not holds(answers):
        state, detail = "lame", f"it does not hold the zone ({first.rcode})"
    else:
        mine, theirs = sets_of(answers), sets_of(best)
        differing = sorted({f"{shown(name)} {t}" for name, t in {*mine, *theirs} if not _same(mine, theirs, (name, t))})
        if differing:
            state, detail = "differs", ", ".join(differing)
    return ServerSeen(server.name, server.address, state, serial(answers) if first.usable else None, detail)


def _same(mine: dict[Key, RecordSet], theirs: dict[Key, RecordSet], key: Key) -> bool:
    if key[1] == "SOA":
        return True
    one, other = mine.get(key), theirs.get(key)
    return one is not None and other is not None and one.meanings == other.meanings


def merge(rounds: Rounds, best: Server, exports: Sequence[Export], domain: Name) -> Merged:
    """Live sets with every server that gave them, then what only the exports know. Live answers win."""
    by_server = {server: sets_of(answers) for server, answers in rounds.items()}
    live = by_server[best]
    asked = {(a.question.name, a.question.type) for a in rounds[best] if a.usable}
    sources = {
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
        for record in export.sets:
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

    From outside, an entry with just the wildcard's values cannot be told from one that was made up, so the names in
    `right`, which answer as wanted, are believed.
    """
    by_type = {record.type: record.meanings for record in wild}
    kept = {domain, f"*.{domain}", *right}
    made_up = {each.record.name for each in seen if each.record.name not in kept} if wild else set()
    for each in seen:
        live = not all(source.startswith("file ") for source in each.sources)
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


def _contradiction(source: str, record: RecordSet, other: bool) -> str:
    what = f"{shown(record.name)} {record.type}"
    if other:
        return f"{source} has other values for {what} than the servers; the servers count."
    return f"{source} has {what}, the servers do not; the servers count."


def contents_of(answers: Iterable[Answer], keys: Iterable[Key]) -> list[RecordSet]:
    """What to note of an authoritative server's answers: each asked set, empty where it is missing."""
    answers = [answer for answer in answers if answer.usable]
    sets, wanted = sets_of(answers), set(keys)
    noted = list(sets.values())
    for answer in answers:
        key = (answer.question.name, answer.question.type)
        if key in wanted and key not in sets and key[1] != "SOA":
            noted.append(RecordSet(*key, negative_ttl(answer.soa) if answer.soa else 0, ()))
    return noted
