"""The short look at a domain that had arrived: whatever changed, or is not answered, is no "as it was"."""

from __future__ import annotations

import zlib
from collections.abc import Callable
from dataclasses import dataclass, field
from types import SimpleNamespace
from typing import cast

import dns.flags
import dns.message
import dns.rcode
import dns.rdatatype
import dns.rrset
import pytest

from homepath.app.driving import Driver
from homepath.bulk.short_check import TURNS, Fingerprints, difference, fingerprints_from, fingerprints_of
from homepath.core.dns.answers import Question, Server
from homepath.core.dns.walk import Cut
from homepath.core.model.visits import Visit
from homepath.net.sharing import Commons
from tests.net.test_sharing import Counting, D, with_servers

PARENT = 2
FIRST = {"A": "192.0.2.10", "TXT": '"one"'}
ABSENT = ("MX", "AAAA", "HTTPS", "CAA")


@dataclass
class Zone(Counting):
    """Two servers of the domain, and the parent's. `values`: what the domain has; `keys`: its DS; `refuses`: a type."""

    values: dict[str, str] = field(default_factory=lambda: dict(FIRST))
    keys: str = ""
    refuses: str = ""

    def answer(self, number: int, octets: bytes) -> bytes | None:
        query = dns.message.from_wire(octets)
        question = query.question[0]
        kind = dns.rdatatype.to_text(question.rdtype)
        self.asked.append((number, question.name.to_text().lower(), kind))
        if number in self.dead:
            return None
        response = dns.message.make_response(query)
        response.flags |= dns.flags.AA
        if kind == self.refuses:
            response.set_rcode(dns.rcode.REFUSED)
            return response.to_wire()
        soa = f"a.example. b.example. {self.serials[number]} 1 1 1 60"
        values = {"DS": self.keys} if number == PARENT else {**self.values, "SOA": soa}
        if question.name.to_text().lower() != D and number != PARENT:
            response.set_rcode(dns.rcode.NXDOMAIN)
        elif values.get(kind):
            response.answer.append(dns.rrset.from_text(question.name, 60, "IN", kind, values[kind]))
        return response.to_wire()


def both(zone: Zone, serial: int = 2) -> None:
    zone.serials[:2] = [serial, serial]


def changed(zone: Zone, **values: str) -> None:
    zone.values.update(values)


def added(zone: Zone) -> None:
    both(zone)
    changed(zone, CAA='0 issue ";"')


CHANGES: dict[str, tuple[Callable[[Zone], object], bool]] = {
    "nothing": (lambda zone: None, True),
    "a serial alone": (both, True),
    "an entry": (lambda zone: changed(zone, A="192.0.2.44"), False),
    "an entry goes": (lambda zone: changed(zone, TXT=""), False),
    "what leads visitors comes, the serial stays": (lambda zone: changed(zone, AAAA="2001:db8::66"), False),
    "something comes with a serial": (added, False),
    "one server is behind": (lambda zone: zone.serials.__setitem__(0, 2), False),
    "a server is silent": (lambda zone: zone.dead.add(1), False),
    "no server tells its serial any more": (lambda zone: setattr(zone, "refuses", "SOA"), False),
    "a question is refused": (lambda zone: setattr(zone, "refuses", "TXT"), False),
    "signed at the parent": (lambda zone: setattr(zone, "keys", "1 13 2 " + "ab" * 32), False),
    "the parent is silent": (lambda zone: zone.dead.add(PARENT), False),
}


async def looked(commons: Commons, servers: list[Server]) -> Fingerprints:
    """The marks of a whole look."""
    asker = commons.check_site(D).asker
    own, parent = servers[:2], servers[PARENT]
    kinds = ("SOA", *FIRST, *ABSENT)
    asks = [(Question(D, kind), server) for kind in kinds for server in own]
    await asker.ask_all([*asks, (Question(D, "DS"), parent)])
    visit = cast(Visit, SimpleNamespace(ways=()))
    fingerprints = fingerprints_of(D, {D}, asker, visit, "none", 1e12)
    assert fingerprints is not None
    assert fingerprints_from(fingerprints.packed()) == fingerprints
    return fingerprints


async def same(commons: Commons, servers: list[Server], fingerprints: Fingerprints, turn: int) -> bool:
    shared = commons.check_site(D)
    shared.cuts[D] = Cut(D, ("a.example.",), tuple(servers[:2]), ".", 60, (servers[PARENT],))
    driver = Driver(commons.network, shared)
    return not await difference(D, driver, shared.asker, fingerprints, turn, 0.0)


@pytest.mark.parametrize("name", CHANGES)
def test_what_changed_is_noticed(name: str) -> None:
    change, expected = CHANGES[name]
    zone = Zone([1, 1, 0])

    async def work(commons: Commons, servers: list[Server]) -> None:
        fingerprints = await looked(commons, servers)
        change(zone)
        assert [await same(commons, servers, fingerprints, turn) for turn in (0, 1)] == [expected, expected]

    with_servers(zone, work)


def test_what_comes_without_a_serial_is_noticed_within_its_turns() -> None:
    zone = Zone([1, 1, 0])

    async def work(commons: Commons, servers: list[Server]) -> None:
        fingerprints = await looked(commons, servers)
        changed(zone, CAA='0 issue ";"')
        found = [await same(commons, servers, fingerprints, turn) for turn in range(TURNS)]
        assert found.count(False) == 1

    with_servers(zone, work)


def test_anything_but_marks_is_none() -> None:
    for octets in (b"", b"nothing", zlib.compress(b"[]"), zlib.compress(b'{"a": 1}'), zlib.compress(b"1")):
        assert fingerprints_from(octets) is None
