"""What looks at many domains share: answers per TTL, one question for servers that agree, a pace for each server."""

from __future__ import annotations

import asyncio
import heapq
import socket
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from types import SimpleNamespace

import dns.flags
import dns.message
import dns.rcode
import dns.rrset
import pytest

from homepath.core.dns.answers import Answer, Question, Server
from homepath.net.network_file import Network
from homepath.net.pace import Pace, Paces
from homepath.net.rechecking import Known
from homepath.net.session import session
from homepath.net.sharing import Commons, Shared
from tests.net import idle_clock

D = "tidewick-kiln.example."
FAST = Paces(1e6, 1e6)


@dataclass
class Clock:
    at: float = 1000.0
    slack: float = 3.0

    def now(self) -> float:
        return self.at

    async def sleep(self, seconds: float) -> None:
        self.at += seconds


@dataclass
class Counting:
    """Servers that answer by their number, and what each was asked. `serials`: of their SOA; `dead`: numbers;
    `deaf`: domains about which they keep silent."""

    serials: list[int]
    dead: set[int] = field(default_factory=set)
    deaf: set[str] = field(default_factory=set)
    asked: list[tuple[int, str, str]] = field(default_factory=list)
    ttl: int = 60
    servers: list[Server] = field(default_factory=list)

    def answer(self, number: int, octets: bytes) -> bytes | None:
        query = dns.message.from_wire(octets)
        question = query.question[0]
        name, kind = question.name.to_text().lower(), dns.rdatatype.to_text(question.rdtype)
        self.asked.append((number, name, kind))
        if number in self.dead and kind != "SOA":
            return None
        if any(name.endswith(f".{each}") for each in self.deaf):
            return None
        response = dns.message.make_response(query)
        response.flags |= dns.flags.AA
        values = {"SOA": f"a.example. b.example. {self.serials[number]} 1 1 1 60", "A": f"192.0.2.{number + 1}"}
        if kind in values:
            response.answer.append(dns.rrset.from_text(question.name, self.ttl, "IN", kind, values[kind]))
        return response.to_wire()


def with_servers(
    counting: Counting, work: Callable[[Commons, list[Server]], object], clock: Clock | None = None
) -> None:
    async def run() -> None:
        loop = asyncio.get_running_loop()
        sockets = []
        for number in range(len(counting.serials)):
            sock = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
            sock.bind(("127.0.0.1", 0))
            sock.setblocking(False)

            def readable(sock: socket.socket = sock, number: int = number) -> None:
                octets, client = sock.recvfrom(4096)
                answer = counting.answer(number, octets)
                if answer is not None:
                    sock.sendto(answer, client)

            loop.add_reader(sock, readable)
            sockets.append(sock)
        network = Network(roots=(Server("127.0.0.1"),), clock=clock or Clock())
        commons = Commons(network, Pace(FAST))
        commons.asker.patience = 0.2
        commons.asker._datagrams._patience = 0.2
        await work(commons, [Server("127.0.0.1", sock.getsockname()[1]) for sock in sockets])  # type: ignore[misc]
        for sock in sockets:
            loop.remove_reader(sock)
            sock.close()

    idle_clock.run(run())


async def ask(shared: Shared, *asks: tuple[str, str, Server]) -> list[Answer]:
    return await shared.asker.ask_all([(Question(name, kind), server) for name, kind, server in asks])


def test_what_holds_for_all_is_asked_once_per_keeping_time() -> None:
    counting, clock = Counting([1]), Clock()

    async def work(commons: Commons, servers: list[Server]) -> None:
        (server,) = servers
        first, second = commons.check_site("a.example."), commons.check_site("b.example.")
        both = await asyncio.gather(*(ask(each, ("example.", "A", server)) for each in (first, second)))
        await ask(commons.check_site("c.example."), ("example.", "A", server))
        assert {answers[0].answer[0].values for answers in both} == {("192.0.2.1",)}
        assert len(counting.asked) == 1
        clock.at += 61
        await ask(first, ("example.", "A", server))
        assert len(counting.asked) == 2

    with_servers(counting, work, clock)


def test_what_is_the_domains_own_is_asked_in_each_look_once() -> None:
    counting = Counting([1])

    async def work(commons: Commons, servers: list[Server]) -> None:
        (server,) = servers
        for _ in range(2):
            look = commons.check_site(D)
            await ask(look, (D, "A", server), (D, "A", server))
            await ask(look, (D, "A", server))

    with_servers(counting, work)
    assert counting.asked == [(0, D, "A")] * 2


@pytest.mark.parametrize(("serials", "sent"), [([7, 7], 3), ([7, 8], 4)])
def test_servers_that_agree_with_their_serial_are_not_asked_for_everything_twice(serials: list[int], sent: int) -> None:
    counting = Counting(serials)

    async def work(commons: Commons, servers: list[Server]) -> None:
        look = commons.check_site(D)
        await ask(look, *((D, "SOA", server) for server in servers))
        found = await ask(look, *((f"www.{D}", "A", server) for server in servers))
        assert [answer.server for answer in found] == servers  # each with the server's own name
        values = {answer.answer[0].values for answer in found}
        assert len(values) == len(set(serials))
        assert look.asker.spared == (1 if len(set(serials)) == 1 else 0)

    with_servers(counting, work)
    assert len(counting.asked) == sent


def test_where_the_one_that_was_asked_falls_silent_the_other_is_asked_itself() -> None:
    counting = Counting([7, 7], dead={0})

    async def work(commons: Commons, servers: list[Server]) -> None:
        look = commons.check_site(D)
        await ask(look, (D, "SOA", servers[0]))
        await ask(look, (D, "SOA", servers[1]))
        seen = set()
        for n in range(8):
            found = await ask(look, *((f"n{n}.{D}", "A", server) for server in servers))
            seen.add(tuple(answer.outcome for answer in found))
        assert seen == {("silent", "answered"), ("answered", "answered")}

    with_servers(counting, work)


def test_servers_that_agree_share_the_load() -> None:
    counting = Counting([7, 7])

    async def work(commons: Commons, servers: list[Server]) -> None:
        look = commons.check_site(D)
        await ask(look, *((D, "SOA", server) for server in servers))
        await ask(look, *((f"n{n}.{D}", "A", server) for n in range(100) for server in servers))

    with_servers(counting, work)
    by_server = [sum(number == each for number, *_ in counting.asked) for each in (0, 1)]
    assert sum(by_server) == 102
    assert min(by_server) > 40


def test_a_dead_server_is_sent_one_query_of_each_further_domain() -> None:
    counting = Counting([7, 7], dead={0})

    async def look(commons: Commons, servers: list[Server], number: int) -> list[Answer]:
        asks = [(f"n{n}.d{number}.example.", "A", server) for n in range(20) for server in servers]
        return await ask(commons.check_site(f"d{number}.example."), *asks)

    async def work(commons: Commons, servers: list[Server]) -> None:
        for number in range(3):
            await look(commons, servers, number)
        counting.asked.clear()
        for number in range(3, 6):
            found = await look(commons, servers, number)
            assert [answer.outcome for answer in found] == ["silent", "answered"] * 20
        assert sum(number == 0 for number, *_ in counting.asked) <= 3 * 2, "two tries of one query"
        counting.dead.clear()
        for number in range(6, 8):  # it answers again, so everything is asked again, and nothing is called silent
            counting.asked.clear()
            assert {answer.outcome for answer in await look(commons, servers, number)} == {"answered"}
            assert sum(number == 0 for number, *_ in counting.asked) == 20

    with_servers(counting, work)


def test_known_answers_of_a_dead_server_are_not_waited_for_one_by_one() -> None:
    counting = Counting([7], dead={0})

    async def work(commons: Commons, servers: list[Server]) -> None:
        for number in range(3):
            await ask(commons.check_site(f"d{number}.example."), (f"d{number}.example.", "A", servers[0]))
        counting.asked.clear()
        known = [Known(Question(f"n{n}.{D}", "A"), servers[0], "x") for n in range(50)]
        answers = await commons.check_site(D).asker.check_all(known)
        assert {answer.outcome for answer in answers if answer} == {"silent"}
        assert len(answers) == 50
        assert len(counting.asked) <= 2

    with_servers(counting, work)


class FakeLoop:
    """A loop's clock and timers, moved by hand."""

    def __init__(self) -> None:
        self.at = 0.0
        self._timers: list[tuple[float, int, Callable[..., None], tuple[object, ...]]] = []

    def time(self) -> float:
        return self.at

    def call_at(self, when: float, work: Callable[..., None], *args: object) -> SimpleNamespace:
        heapq.heappush(self._timers, (when, len(self._timers) + int(self.at * 1e6), work, args))
        return SimpleNamespace(cancel=lambda: None)

    def run(self, until: float) -> None:
        while self._timers and self._timers[0][0] <= until:
            self.at, _, work, args = heapq.heappop(self._timers)
            work(*args)
        self.at = until


@pytest.fixture
def loop(monkeypatch: pytest.MonkeyPatch) -> FakeLoop:
    made = FakeLoop()
    monkeypatch.setattr(asyncio, "get_running_loop", lambda: made)
    return made


PLACE, RESOLVER = ("127.0.0.2", 53), ("127.0.0.3", 53)


@pytest.mark.parametrize(("place", "rate"), [(PLACE, 20), (RESOLVER, 50)])
def test_no_second_sees_more_questions_than_the_pace(loop: FakeLoop, place: tuple[str, int], rate: int) -> None:
    keeper = Pace(Paces(), frozenset({RESOLVER}))
    left: list[float] = []
    for _ in range(300):
        keeper.when_free(place, lambda: left.append(loop.at))
    loop.run(60)
    assert len(left) == 300
    assert max(sum(1 for at in left if begin <= at < begin + 1) for begin in left) <= rate
    assert left[-1] == pytest.approx(299 / rate, rel=0.02)
    keeper.when_free(place, lambda: left.append(loop.at))
    assert left[-1] == 60, "after a pause nobody waits"


def test_a_question_that_is_sent_again_counts(loop: FakeLoop) -> None:
    keeper = Pace(Paces(10, 10))
    left: list[float] = []
    keeper.when_free(PLACE, lambda: left.append(loop.at))
    keeper.again(PLACE)
    keeper.when_free(PLACE, lambda: left.append(loop.at))
    loop.run(5)
    assert left == pytest.approx([0.0, 0.2], rel=0.01)


def test_a_server_that_refuses_is_left_alone_and_comes_back_with_its_answers(loop: FakeLoop) -> None:
    keeper = Pace(Paces(20, 50))
    keeper.when_free(PLACE, lambda: None)
    lookers = [Looker() for _ in range(10)]
    for _ in range(10):
        keeper.went(PLACE, False, lookers[0])
    assert keeper.rate(PLACE) == 5.0  # what one domain is not answered says little about the others
    for looker in lookers:
        keeper.went(PLACE, False, looker)
    assert keeper.rate(PLACE) == 1.0
    for _ in range(100):
        keeper.went(PLACE, True, lookers[0])
    assert keeper.rate(PLACE) == 20.0


class Looker:
    """Who asks."""


def test_a_domain_that_a_server_is_silent_about_holds_up_no_other() -> None:
    """Its questions have a line of their own, and those that were not sent are not called silent."""
    counting = Counting([1], deaf={"a.example."})

    async def work(commons: Commons, servers: list[Server]) -> None:
        deaf, well = commons.check_site("a.example.").asker, commons.check_site("b.example.").asker
        silent = asyncio.ensure_future(
            deaf.ask_all([(Question(f"n{n}.a.example.", "A"), servers[0]) for n in range(300)])
        )
        await asyncio.sleep(0)
        found = await well.ask_all([(Question(f"n{n}.b.example.", "A"), servers[0]) for n in range(300)])
        assert {answer.outcome for answer in found} == {"answered"}
        asked = ["a.example" in each[1] for each in counting.asked]
        assert False in asked[: asked.index(True) + 120], "the questions about b are not behind all of those about a"
        causes = [answer.trouble.cause for answer in await silent if answer.trouble]
        assert (set(causes), causes[0], causes[-1]) == ({"silent", "not-asked"}, "silent", "not-asked")
        assert len([each for each in counting.asked if "a.example" in each[1]]) < 120

    with_servers(counting, work)


def test_what_was_not_asked_is_asked_by_the_next() -> None:
    """Only what a server did is kept for others: not that a question never left."""
    counting = Counting([1], deaf={"host.example."})

    async def work(commons: Commons, servers: list[Server]) -> None:
        first, second = commons.check_site("a.example.").asker, commons.check_site("b.example.").asker
        asks = [(Question(f"n{n}.host.example.", "A"), servers[0]) for n in range(100)]
        left = [a.question for a in await first.ask_all(asks) if a.trouble and a.trouble.cause == "not-asked"]
        assert left
        counting.deaf.clear()
        found = await second.ask_all([(question, servers[0]) for question in left])
        assert {answer.outcome for answer in found} == {"answered"}

    with_servers(counting, work)


def test_what_is_as_before_is_not_read_and_what_was_answered_is_not_asked_twice() -> None:
    counting = Counting([1, 1])

    async def work(commons: Commons, servers: list[Server]) -> None:
        first = commons.check_site(D).asker
        asks = [(Question(D, kind), servers[0]) for kind in ("A", "MX", "SOA")]
        marks = [answer.fingerprint for answer in await first.ask_all(asks)]
        assert marks[1] == "NOERROR"
        known = [Known(*ask, mark) for ask, mark in zip(asks, marks, strict=True)]
        assert await commons.check_site(D).asker.check_all(known) == [None, None, None]

        counting.serials[0] = 2
        again, shared = commons.check_site(D).asker, len(counting.asked)
        unchanged, absent, moved = await again.check_all([*known[:2], known[2]])
        assert unchanged is absent is None
        assert moved is not None
        assert moved.answer[0].values[0].split()[2] == "2"
        again.before_full_check()
        answers = await again.ask_all(asks)
        assert [len(answer.answer) for answer in answers] == [1, 0, 1]
        assert [answer.fingerprint for answer in answers[:2]] == marks[:2]
        assert len(counting.asked) == shared + 3

        elsewhere = await commons.check_site(D).asker.check_all([Known(asks[0][0], servers[1], marks[0])])
        assert elsewhere[0] is not None  # this server says something else
        assert (await commons.check_site(D).asker.check_all([])) == []

    with_servers(counting, work)


def test_several_workers_share_the_pace(loop: FakeLoop) -> None:
    keeper = Pace(Paces(20, 50))
    keeper.when_free(PLACE, lambda: None)
    keeper.become(Paces(20, 50).shared_by(4))
    assert keeper.rate(PLACE) == 5.0


def test_one_command_keeps_the_pace_that_the_network_file_sets() -> None:
    counting, moments = Counting([1]), []

    async def work(commons: Commons, servers: list[Server]) -> None:
        network = replace(commons.network, roots=(Server("127.0.0.1"),), paces=Paces(50, 50))
        asker = session(network).asker
        begun = asyncio.get_running_loop().time()
        await asker.ask_all([(Question(f"n{n}.{D}", "A"), servers[0]) for n in range(26)])
        moments.append(asyncio.get_running_loop().time() - begun)

    with_servers(counting, work)
    assert len(counting.asked) == 26
    assert moments[0] >= 25 / 50
