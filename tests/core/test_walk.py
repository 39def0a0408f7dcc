"""The walk through DNS, driven by a world that is only a dictionary."""

from __future__ import annotations

from collections.abc import Callable, Generator
from dataclasses import replace
from typing import TypeVar

import pytest

from homepath.core.dns.answers import Answer, Question, Server, Trouble
from homepath.core.dns.records import RecordSet
from homepath.core.dns.walk import (
    MOST_NAMES,
    MOST_SERVERS,
    MOST_SILENT,
    Ask,
    Budget,
    Cut,
    LostWay,
    _first_usable,
    find_cut,
    look_up,
)
from homepath.practice.scene_file import load_scene
from homepath.practice.zones import Zones, reply

Result = TypeVar("Result")
SCENE = load_scene("first-site")
ROOT = Server("203.0.113.1")
PLACES = {address: table.zones for table in SCENE.servers for address in table.addresses}
DOMAIN = "tidewick-kiln.example."


def said(question: Question, server: Server, zones: Zones) -> Answer:
    found = reply(zones, PLACES[server.address], question.name, question.type)
    return Answer(
        question,
        server,
        "answered",
        0.0,
        found.rcode,
        found.authoritative,
        found.answer,
        found.authority,
        found.additional,
    )


def drive(
    walk: Generator[list[Ask], list[Answer], Result], answer: Callable[[Question, Server], Answer]
) -> tuple[Result, list[Question]]:
    asked = []
    try:
        asks = next(walk)
        while True:
            asked += [question for question, _ in asks]
            asks = walk.send([answer(*ask) for ask in asks])
    except StopIteration as done:
        return done.value, asked


def world(**changed: str) -> Callable[[Question, Server], Answer]:
    zones = Zones({**SCENE.zones, **{name.replace("_", "."): text for name, text in changed.items()}})
    return lambda question, server: said(question, server, zones)


def test_from_the_root_to_the_domain() -> None:
    cut, asked = drive(find_cut(f"www.{DOMAIN}", [ROOT], Budget()), world())
    assert (cut.zone, cut.above, cut.ttl) == (DOMAIN, "example.", 21600)
    assert {server.address for server in cut.servers} == {"203.0.113.53", "203.0.113.54"}
    assert [server.address for server in cut.parents] == ["203.0.113.2"]
    assert [question.name for question in asked] == ["example.", DOMAIN, f"www.{DOMAIN}"]


def test_aliases_are_followed_into_other_zones() -> None:
    found, _ = drive(look_up(f"www.{DOMAIN}", ("A", "AAAA"), [ROOT], Budget()), world())
    assert found.end == "parking.mossgate.example."
    assert [record.values for record in found.sets] == [("198.51.100.7",)]
    assert [record.name for record in found.chain] == [f"www.{DOMAIN}"]


def test_servers_without_glue_are_looked_up() -> None:
    text = SCENE.zones["example."].replace("tidewick-kiln.example.  21600 IN NS  ns2.mossgate.example.", "")
    text = text.replace(
        "tidewick-kiln.example.  21600 IN NS  ns1.mossgate", "tidewick-kiln.example.  21600 IN NS  dns.bricklark"
    )
    zones = Zones({**SCENE.zones, "example.": text})

    def answer(question: Question, server: Server) -> Answer:
        found = said(question, server, zones)
        return replace(found, additional=()) if question.name == DOMAIN else found

    cut, _ = drive(find_cut(DOMAIN, [ROOT], Budget()), answer)
    assert [server.address for server in cut.servers] == ["203.0.113.80"]


def test_a_server_that_holds_parent_and_child_does_not_hide_the_cut() -> None:
    everything = tuple(SCENE.zones)
    zones = Zones(dict(SCENE.zones))

    def answer(question: Question, server: Server) -> Answer:
        found = reply(zones, everything, question.name, question.type)
        return Answer(
            question, server, "answered", 0.0, found.rcode, True, found.answer, found.authority, found.additional
        )

    cut, _ = drive(find_cut(DOMAIN, [ROOT], Budget()), answer)
    assert cut.zone == DOMAIN


@pytest.mark.parametrize("outcome", ["silent", "broken", "REFUSED", "SERVFAIL", "upward"])
def test_a_dead_server_is_passed_over_and_all_dead_is_said(outcome: str) -> None:
    right = world()

    def answer(question: Question, server: Server, dead: tuple[str, ...]) -> Answer:
        if server.address not in dead:
            return right(question, server)
        if outcome == "upward":
            return replace(right(Question("example.", "NS"), ROOT), question=question, server=server)
        if outcome.isupper():
            return Answer(question, server, "answered", 0.0, outcome)
        return Answer(question, server, outcome, 0.0)  # type: ignore[arg-type]

    found, _ = drive(look_up(DOMAIN, ("A",), [ROOT], Budget()), lambda q, s: answer(q, s, ("203.0.113.53",)))
    assert found.sets[0].values == ("198.51.100.7",)
    with pytest.raises(LostWay, match="no-server"):
        drive(look_up(DOMAIN, ("A",), [ROOT], Budget()), lambda q, s: answer(q, s, ("203.0.113.53", "203.0.113.54")))


def test_walks_end_by_themselves() -> None:
    """Aliases in a circle, and a parent that delegates for ever."""
    text = (
        SCENE.zones[DOMAIN].replace("parking.mossgate.example.", f"b.{DOMAIN}")
        + f"b.{DOMAIN} 60 IN CNAME www.{DOMAIN}\n"
    )
    with pytest.raises(LostWay, match="goes-round"):
        drive(look_up(f"www.{DOMAIN}", ("A",), [ROOT], Budget()), world(**{DOMAIN: text}))

    def endless(question: Question, server: Server) -> Answer:
        right = world()(Question("example.", "NS"), ROOT)
        name = question.name
        referral = replace(right.authority[0], name=name, values=(f"ns.x{name}",))
        return replace(right, question=question, authority=(referral,), additional=())

    with pytest.raises(LostWay):
        drive(look_up("a.b.c.d.example.", ("A",), [ROOT], Budget()), endless)


def test_a_hundred_names_without_glue_cost_a_few_questions_at_once() -> None:
    """Their zones' servers are silent: the walk asks for a few names, side by side, and ends."""
    names = tuple(f"ns{at}.far{at}.example." for at in range(100))
    referral = RecordSet("trap.example.", "NS", 60, names)
    rounds: list[int] = []

    def answer(question: Question, server: Server) -> Answer:
        if question.name == "trap.example.":
            return Answer(question, server, "answered", 0.0, "NOERROR", authority=(referral,))
        if question.name.startswith("far"):
            far = RecordSet(question.name, "NS", 60, (f"a.{question.name}",))
            glue = RecordSet(f"a.{question.name}", "A", 60, ("203.0.113.200",))
            return Answer(question, server, "answered", 0.0, "NOERROR", authority=(far,), additional=(glue,))
        if server.address == "203.0.113.200":
            return Answer(question, server, "silent", 0.0, trouble=Trouble("silent"))
        return world()(question, server)

    walk = find_cut("www.trap.example.", [ROOT], Budget())

    def to_the_end() -> None:
        asks = next(walk)
        while True:
            rounds.append(len(asks))
            asks = walk.send([answer(*ask) for ask in asks])

    with pytest.raises(LostWay) as lost:
        to_the_end()
    assert lost.value.trouble.cause == "no-address"
    assert max(rounds) <= MOST_NAMES
    assert len(rounds) < 12
    assert sum(rounds) < 100


def test_many_servers_at_one_address_are_asked_once_and_so_many_are_kept() -> None:
    names = tuple(f"ns{at}.crowd.example." for at in range(191))
    referral = RecordSet("crowd.example.", "NS", 60, names)
    one = tuple(RecordSet(name, "A", 60, ("203.0.113.77",)) for name in names)
    many = tuple(RecordSet(name, "A", 60, (f"203.0.113.{at}",)) for at, name in enumerate(names, 60))
    asked: list[Server] = []

    def among(glue: tuple[RecordSet, ...]) -> Callable[[Question, Server], Answer]:
        def answer(question: Question, server: Server) -> Answer:
            if server.address.startswith("203.0.113") and server.name.endswith("crowd.example."):
                asked.append(server)
                return Answer(question, server, "silent", 0.0, trouble=Trouble("silent"))
            if question.name == "crowd.example.":
                return Answer(question, server, "answered", 0.0, "NOERROR", authority=(referral,), additional=glue)
            return world()(question, server)

        return answer

    for glue, tries in ((one, 1), (many, MOST_SILENT)):
        asked.clear()
        with pytest.raises(LostWay):
            drive(look_up("crowd.example.", ("A",), [ROOT], Budget()), among(glue))
        assert len(asked) == tries
    cut, _ = drive(find_cut("crowd.example.", [ROOT], Budget()), among(many))
    assert (len(cut.servers), len(cut.names)) == (MOST_SERVERS, 191)


def test_a_server_that_drops_one_type_still_gives_the_other_one() -> None:
    """And both are asked for at once, so that the silence costs no more than itself."""
    right, rounds = world(), []

    def deaf(question: Question, server: Server) -> Answer:
        if question.type == "AAAA" and question.name == DOMAIN:
            return Answer(question, server, "silent", 0.0, trouble=Trouble("silent"))
        return right(question, server)

    def dark(question: Question, server: Server) -> Answer:
        if question.type in ("A", "AAAA") and question.name == DOMAIN:
            return Answer(question, server, "silent", 0.0, trouble=Trouble("silent"))
        return right(question, server)

    found, asked = drive(look_up(DOMAIN, ("A", "AAAA"), [ROOT], Budget()), deaf)
    rounds = [question.type for question in asked if question.name == DOMAIN and question.type != "NS"]
    assert [record.type for record in found.sets] == ["A"]
    assert rounds[:2] == ["A", "AAAA"]
    with pytest.raises(LostWay) as lost:
        drive(look_up(DOMAIN, ("A", "AAAA"), [ROOT], Budget()), dark)
    assert lost.value.trouble.cause == "no-server"


def test_looks_at_many_domains_begin_with_different_servers_but_share_what_all_of_them_ask() -> None:
    servers = tuple(Server(f"192.0.2.{last}") for last in (1, 2, 3))
    cut = Cut("example.", ("a.registry.example.",), servers)

    def first(name: str, turn: int) -> Server:
        asks = next(_first_usable(Question(name, "NS"), cut, Budget(spread=(DOMAIN, turn))))
        return asks[0][1]

    assert [first(DOMAIN, turn) for turn in range(4)] == [*servers, servers[0]]
    assert {first("bricklark.example.", turn) for turn in range(4)} == {servers[0]}
    assert next(_first_usable(Question(DOMAIN, "NS"), cut, Budget()))[0][1] == servers[0]
