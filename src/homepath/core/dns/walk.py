"""From the root down to the servers of a name, and from there to its addresses (RFC 1034 section 5.3.3).

Generators: they yield the questions to ask now and are sent the answers, so that they run on any transport, and in
tests on lists.
"""

from __future__ import annotations

from collections.abc import Generator, Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import TypeVar

from homepath.core.dns.answers import Answer, Question, Server, Trouble, TroubleCause
from homepath.core.dns.names import ROOT, Name, is_within, labels, parent
from homepath.core.dns.records import RecordSet
from homepath.core.message import msg

MOST_QUESTIONS = 200
"""One walk never asks more, whatever the servers say."""
MOST_ALIASES = 12
MOST_DEPTH = 6
MOST_NAMES = 13
"""Nameservers of one zone whose addresses are searched for; no zone needs more."""
MOST_SERVERS = 26
"""Addresses of one zone's nameservers that are kept."""
MOST_SILENT = 6
"""Addresses that are tried for one question before the zone counts as unanswered."""

T = TypeVar("T")
Ask = tuple[Question, Server]
Walk = Generator[list[Ask], list[Answer], "Cut"]


class LostWay(Exception):
    """The walk cannot go on; the trouble says where and why."""

    def __init__(self, trouble: Trouble) -> None:
        super().__init__(trouble.cause)
        self.trouble = trouble


@dataclass(frozen=True, slots=True)
class Cut:
    """A zone with its servers; `servers` have addresses, `names` may hold some that have none.

    `above`: the zone that delegates it, `ttl` of the delegation in seconds, `parents`: the servers that said so.
    """

    zone: Name
    names: tuple[Name, ...]
    servers: tuple[Server, ...]
    above: Name = ROOT
    ttl: int = 0
    parents: tuple[Server, ...] = ()


@dataclass(slots=True)
class Budget:
    """Shared by a walk and the walks it needs for the addresses of nameservers.

    `spread`: for names within this domain, with which of a zone's servers to begin, so that checks of many domains
    do not all ask the same one. What all of them ask is asked of the first, so that its answer can be shared.
    """

    port: int = 53
    depth: int = 0
    known: dict[Name, Cut] = field(default_factory=dict)
    asked: list[Name] = field(default_factory=list)
    spread: tuple[Name, int] | None = None

    def take(self, at: Name) -> None:
        self.asked.append(at)
        if len(self.asked) > MOST_QUESTIONS:
            raise LostWay(Trouble("too-long", at, detail=msg("walk.take.said", MOST_QUESTIONS=MOST_QUESTIONS)))

    @property
    def deeper(self) -> Budget:
        """The same budget, for the walk to a nameserver that this walk needs."""
        return replace(self, depth=self.depth + 1)


def find_cut(name: Name, roots: Sequence[Server], budget: Budget) -> Walk:
    """The zone that holds `name` and its servers, asked for from the root down. Raises LostWay."""
    start = next((budget.known[at] for at in _upward(name) if at in budget.known), None)
    cut = start or Cut(ROOT, (), tuple(roots))
    while True:
        below = yield from _step_down(name, cut, budget)
        if below is None:
            return cut
        cut = below
        budget.known[cut.zone] = cut


def _upward(name: Name) -> Iterable[Name]:
    while name != ROOT:
        yield name
        name = parent(name)


def _step_down(name: Name, cut: Cut, budget: Budget) -> Generator[list[Ask], list[Answer], Cut | None]:
    """The next zone cut towards `name`, or None when `cut` is the last one.

    Every label in between is queried, so that a server that holds both parent and child does not hide the cut.
    """
    depth = len(labels(cut.zone)) + 1
    parts = labels(name)
    for count in range(depth, len(parts) + 1):
        target = ".".join(parts[-count:]) + "."
        answer = yield from _first_usable(Question(target, "NS"), cut, budget)
        if cut.zone == ROOT and not answer.authoritative and (answer.answer or answer.rcode == "NXDOMAIN"):
            # a root server refers or answers with authority, and never resolves (RFC 7720 section 2)
            raise LostWay(Trouble("intercepted", answer.server.name, answer.server.place))
        found = _delegation_in(answer, target, cut.zone)
        if found:
            return (yield from _cut_from(found, answer, cut, budget))
        if answer.rcode == "NXDOMAIN":
            return None
    return None


def _delegation_in(answer: Answer, target: Name, above: Name) -> RecordSet | None:
    """The NS set of a referral, or of an authoritative answer at a cut that the same server holds."""
    for each in (*answer.answer, *answer.authority):
        if each.type == "NS" and each.name != above and is_within(each.name, above) and is_within(target, each.name):
            return each
    return None


def _first_usable(question: Question, cut: Cut, budget: Budget) -> Generator[list[Ask], list[Answer], Answer]:
    troubles: list[Trouble] = []
    places = {(server.address, server.port): server for server in reversed(cut.servers)}
    ordered = list(reversed(places.values()))
    if budget.spread is not None and is_within(question.name, budget.spread[0]):
        begin = budget.spread[1] % max(1, len(ordered))
        ordered = [*ordered[begin:], *ordered[:begin]]
    for server in ordered[:MOST_SILENT]:
        budget.take(cut.zone)
        (answer,) = yield [(question, server)]
        if answer.usable and not _is_upward(answer, cut.zone):
            return answer
        troubles.append(trouble_in(answer, server))
    raise LostWay(
        Trouble(
            "no-server", cut.zone, detail=msg("walk.first-usable.said", name=question.name), because=tuple(troubles)
        )
    )


def trouble_in(answer: Answer, server: Server) -> Trouble:
    """Why an answer tells nothing: in the server's own words, or by its code."""
    if answer.trouble is not None:
        return answer.trouble
    cause: TroubleCause = {"REFUSED": "refused", "SERVFAIL": "failed"}.get(answer.rcode, "lame")  # type: ignore[assignment]
    return Trouble(cause, server.name, server.place, answer.rcode)


def _is_upward(answer: Answer, zone: Name) -> bool:
    """A referral to the zone itself or above it: the server does not hold the zone (lame)."""
    if answer.authoritative or answer.answer:
        return False
    referred = [each for each in answer.authority if each.type == "NS"]
    return bool(referred) and all(is_within(zone, each.name) for each in referred)


def _cut_from(found: RecordSet, answer: Answer, above: Cut, budget: Budget) -> Walk:
    names = found.values
    glue = [
        Server(value, budget.port, each.name)
        for each in answer.additional
        if each.type in ("A", "AAAA") and each.name in names and is_within(each.name, above.zone)
        for value in each.values
    ]
    with_glue = {server.name for server in glue}
    missing = [name for name in names if name not in with_glue][:MOST_NAMES]
    walks = []
    for name in missing:
        if not is_within(name, found.name):
            walks.append(_addresses_of_server(name, above, budget))
        elif answer.authoritative:  # below the cut only glue helps, or the same server where it holds the child too
            walks.append(_addresses_at(name, replace(above, zone=found.name), budget))
    found_addresses = yield from side_by_side(walks)
    servers = [*glue, *(server for each in found_addresses for server in each)][:MOST_SERVERS]
    if not servers:
        raise LostWay(Trouble("no-address", found.name, detail=msg("walk.cut-from.said", names=tuple(names))))
    return Cut(found.name, names, tuple(servers), above.zone, found.ttl, above.servers)


def side_by_side(walks: Sequence[Generator[list[Ask], list[Answer], T]]) -> Generator[list[Ask], list[Answer], list[T]]:
    """Several walks at once: what they ask is asked together. Raises what one of them raises."""
    results: dict[int, T] = {}
    under_way: dict[int, list[Ask]] = {}
    for number, walk in enumerate(walks):
        try:
            under_way[number] = next(walk)
        except StopIteration as done:
            results[number] = done.value
    while under_way:
        answers = yield [ask for asks in under_way.values() for ask in asks]
        begin = 0
        for number, asks in list(under_way.items()):
            mine = answers[begin : begin + len(asks)]
            begin += len(asks)
            try:
                under_way[number] = walks[number].send(mine)
            except StopIteration as done:
                results[number] = done.value
                del under_way[number]
    return [results[number] for number in range(len(walks))]


def _or_lost(walk: Generator[list[Ask], list[Answer], T]) -> Generator[list[Ask], list[Answer], T | LostWay]:
    """What a walk returns, or why it could not go on."""
    try:
        return (yield from walk)
    except LostWay as error:
        return error


def _addresses_at(name: Name, cut: Cut, budget: Budget) -> Generator[list[Ask], list[Answer], list[Server]]:
    servers: list[Server] = []
    for rrtype in ("A", "AAAA"):
        try:
            answer = yield from _first_usable(Question(name, rrtype), cut, budget)
        except LostWay:
            continue
        found = answer.found(name, rrtype)
        servers += [Server(value, budget.port, name) for value in found.values] if found else []
    return servers


def _addresses_of_server(name: Name, above: Cut, budget: Budget) -> Generator[list[Ask], list[Answer], list[Server]]:
    if budget.depth >= MOST_DEPTH:
        return []
    try:
        roots = budget.known.get(ROOT, above).servers
        found = yield from look_up(name, ("A", "AAAA"), roots, budget.deeper)
    except LostWay:
        return []
    return [Server(value, budget.port, name) for record in found.sets for value in record.values]


@dataclass(frozen=True, slots=True)
class Found:
    """What the authoritative servers say: the alias chain from the asked name, and the sets at its end."""

    chain: tuple[RecordSet, ...]
    sets: tuple[RecordSet, ...]
    end: Name
    rcode: str


def look_up(
    name: Name, types: Sequence[str], roots: Sequence[Server], budget: Budget
) -> Generator[list[Ask], list[Answer], Found]:
    """The sets of `types` at `name`, aliases followed, asked of the authoritative servers.

    A type that no one answers for returns no set; LostWay is raised where no one answers for any.
    """
    if ROOT not in budget.known:
        budget.known[ROOT] = Cut(ROOT, (), tuple(roots))
    chain: list[RecordSet] = []
    at = name
    while True:
        cut = yield from find_cut(at, roots, budget)
        tried = yield from side_by_side([_or_lost(_first_usable(Question(at, t), cut, budget)) for t in types])
        answers = [each for each in tried if isinstance(each, Answer)]
        if not answers:
            raise next(each for each in tried if isinstance(each, LostWay))
        alias = next((found for each in answers if (found := each.found(at, "CNAME"))), None)
        if alias is None or "CNAME" in types:
            sets = tuple(found for each in answers if (found := each.found(at, each.question.type)))
            return Found(tuple(chain), sets, at, answers[0].rcode)
        chain.append(alias)
        at = alias.values[0]
        if len(chain) > MOST_ALIASES or any(each.name == at for each in chain):
            raise LostWay(Trouble("goes-round", name))
