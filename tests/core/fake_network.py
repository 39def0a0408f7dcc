"""A small world in lists: it answers the requests of a look without a socket, a clock or a file."""

from __future__ import annotations

from collections.abc import Callable, Generator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, TypeVar

from homepath.core.dns.answers import Answer, Question, Server, Trouble
from homepath.core.dns.names import Name, is_within
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.walk import Cut, Found, trouble_in
from homepath.core.dns.zone_answers import tells
from homepath.core.model.survey import Chain, Registration, Signatures
from homepath.core.model.visits import Certificate, Hop
from homepath.core.observe.requests import (
    Addresses,
    AskRegistry,
    Beside,
    CheckKeys,
    FetchOnce,
    FindZone,
    Follow,
    LookUp,
    Now,
    Questions,
    Request,
    Transfer,
)
from homepath.core.web.hops import Fetched
from tests.core.cases import DOMAIN, START

Result = TypeVar("Result")
PARENT = Server("203.0.113.2", 53, "a.registry.example.")
NS1, NS2 = (Server(f"203.0.113.{last}", 53, f"ns{number}.mossgate.example.") for number, last in ((1, 53), (2, 54)))
GOOD = Certificate("good", True, ("x",), "Tallowseal", START + 90 * 86400)
Speaks = Callable[[Question], Answer | None]


def said(question: Question, server: Server, *sets: RecordSet, **more: Any) -> Answer:
    """A plain authoritative answer."""
    usual: dict[str, Any] = {"rcode": "NOERROR", "authoritative": True, "answer": sets}
    return Answer(question, server, "answered", more.pop("at", START), **{**usual, **more})


def silence(question: Question, server: Server) -> Answer:
    return Answer(question, server, "silent", START, trouble=Trouble("silent", server.name, server.place))


def from_zone(zone: Zone, question: Question, server: Server, at: float = START) -> Answer:
    """What an authoritative server says of its zone: aliases, wildcards (RFC 4592), and what is not there."""
    if not is_within(question.name, zone.origin):
        return said(question, server, rcode="REFUSED", authoritative=False, at=at)
    soa = zone.get(zone.origin, "SOA")
    authority = (soa,) if soa else ()
    name = question.name if zone.at(question.name) else f"*.{zone.origin}"
    below = any(each.name.endswith(f".{question.name}") for each in zone)
    there = [] if name != question.name and below else zone.at(name)
    here = [RecordSet(question.name, each.type, each.ttl, each.values) for each in there]
    exact = tuple(each for each in here if each.type in (question.type, "CNAME"))
    if exact:
        return said(question, server, *exact, at=at)
    rcode = "NOERROR" if there or below or question.name == zone.origin else "NXDOMAIN"
    return said(question, server, rcode=rcode, authority=authority, at=at)


@dataclass
class Lists:
    """`zones`: what each authoritative server holds; None is silence. `resolvers`: what each gives. `outside`: names
    of other zones. `web`: the hops from a URL on. `asked`: every request in its order."""

    zones: Mapping[Server, Zone | None]
    outside: Mapping[tuple[Name, str], RecordSet] = field(default_factory=dict)
    resolvers: Mapping[Server, Speaks] = field(default_factory=dict)
    web: Mapping[str, tuple[Hop, ...]] = field(default_factory=dict)
    signatures: tuple[Signatures, str] = ("none", "")
    registration: tuple[Registration | None, str] = (None, "nobody was asked")
    transfers: Mapping[Server, Any] = field(default_factory=dict)
    parent_names: tuple[Name, ...] = (NS1.name, NS2.name)
    cut: Cut | Trouble | None = None
    now: float = START
    ds: RecordSet | None = None
    edge: Mapping[str, tuple[Hop, ...]] = field(default_factory=dict)
    asked: list[Request] = field(default_factory=list)
    visitors: Mapping[Name, Any] = field(default_factory=dict)
    """What a visitor's resolver gives for a name, where that is not what the authoritative servers say."""
    moody: Mapping[Server, Callable[[Question], Answer | None]] = field(default_factory=dict)
    """What a server says in place of what its zone holds; None where it does as usual."""

    def play(self, look: Generator[Sequence[Request], Sequence[Any], Result]) -> Result:
        try:
            requests = next(look)
            while True:
                self.asked += requests
                requests = look.send([self.reply(each) for each in requests])
        except StopIteration as done:
            result: Result = done.value
            return result

    def reply(self, request: Request) -> Any:
        match request:
            case Questions(asks):
                return [self.answer(question, server, request) for question, server in asks]
            case FindZone():
                servers = tuple(self.zones)
                return self.cut or Cut(DOMAIN, self.parent_names, servers, "example.", 21600, (PARENT,))
            case LookUp(name, types):
                return self.look_up(name, types)
            case CheckKeys():
                said_of = self.answer(Question(DOMAIN, "DS"), PARENT, Questions(()))
                if not tells(said_of, "example."):
                    return Chain("unknown", None, "nobody said", trouble_in(said_of, PARENT))
                state, why = self.signatures
                return Chain(state, state in ("good", "broken"), why)
            case AskRegistry():
                return self.registration
            case Transfer(_, server):
                return self.transfers.get(server, Trouble("not-allowed", server.name, detail="REFUSED"))
            case Addresses(name, False) if name in self.visitors:
                return self.visitors[name]
            case Addresses(name, _):
                found = self.look_up(name, ("A", "AAAA"))
                if isinstance(found, Trouble):
                    return (), None, found
                values = tuple(value for each in found.sets for value in each.values)
                return values, found, None if values else Trouble("no-address", name)
            case Follow(url, fixed):
                return (self.edge if fixed else self.web).get(url, (Hop(url, None, None, None, "nobody"),))
            case FetchOnce(want):
                hops = self.web.get(want.url)
                return Fetched(hops[0].status if hops else None, certificate=GOOD if want.secure else None)
            case Beside(look):
                return self.play(look)
            case Now():
                return self.now
        raise AssertionError(request)

    def answer(self, question: Question, server: Server, request: Questions) -> Answer:
        own = self.moody[server](question) if server in self.moody else None
        if own is not None:
            return own
        if server == PARENT:
            if question.type == "DS":
                soa = RecordSet("example.", "SOA", 900, ("a. b. 1 2 3 4 900",))
                given = (self.ds,) if self.ds else ()
                return said(question, server, *given, authority=() if given else (soa,), at=self.now)
            names = RecordSet(DOMAIN, "NS", 21600, self.parent_names)
            return said(question, server, authority=(names,), authoritative=False, at=self.now)
        if server in self.resolvers:
            if request.unchecked:
                return from_zone(next(zone for zone in self.zones.values() if zone), question, server, self.now)
            answered = self.resolvers[server](question)
            return answered if answered is not None else silence(question, server)
        zone = self.zones.get(server)
        return silence(question, server) if zone is None else from_zone(zone, question, server, self.now)

    def look_up(self, name: Name, types: Sequence[str]) -> Any:
        if self.cut is not None and isinstance(self.cut, Trouble):
            return self.cut
        zone = next((zone for zone in self.zones.values() if zone), Zone(DOMAIN))
        chain: list[RecordSet] = []
        for _ in range(8):
            alias = zone.get(name, "CNAME") or self.outside.get((name, "CNAME"))
            if alias is None or "CNAME" in types:
                break
            chain.append(alias)
            name = alias.values[0]
        sets = tuple(each for t in types if (each := zone.get(name, t) or self.outside.get((name, t))) is not None)
        exists = bool(sets) or bool(zone.at(name)) or any(key[0] == name for key in self.outside)
        return Found(tuple(chain), sets, name, "NOERROR" if exists else "NXDOMAIN")
