"""What caches really gave around a change, beside what the forecast says. Used by tests and by the docs' script."""

from __future__ import annotations

import asyncio
import random
import subprocess
import time
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path

from homepath.core.dns.answers import Question, Server
from homepath.core.dns.records import RecordSet
from homepath.core.forecast.simulate import simulate
from homepath.core.model.forecast import Busy, Caches, Phase
from homepath.net.asker import Asker
from homepath.net.network_file import Network
from homepath.practice.resolver import Cache
from homepath.practice.zones import Reply
from tests.real import servers

NAME = "www.tidewick-kiln.example."
OLD, NEW = "198.51.100.7", "192.0.2.10"
KINDS = {(): "nothing", (OLD,): "old", (NEW,): "new"}


@dataclass(frozen=True, slots=True)
class Bucket:
    """All visitors between two moments: the predicted and the seen shares (new, old, nothing), and how many."""

    begin: float
    end: float
    predicted: tuple[float, float, float]
    seen: tuple[float, float, float]
    visitors: int


def compare(
    visits: Sequence[tuple[float, str]], phases: Sequence[Phase], caches: Caches, edges: Sequence[float]
) -> list[Bucket]:
    """Visits as (seconds after the start, what was met) against the forecast, between `edges`."""
    step = (edges[1] - edges[0]) / 20
    course = simulate(phases, caches, edges[-1], 400_000, step)
    found = []
    for begin, end in pairwise(edges):
        met = [kind for at, kind in visits if begin <= at < end]
        minutes = [each for each in course.minutes if begin <= each.at < end]
        predicted = [sum(getattr(m, kind) for m in minutes) / len(minutes) for kind in ("new", "old", "nothing")]
        seen = [met.count(kind) / len(met) for kind in ("new", "old", "nothing")]
        found.append(Bucket(begin, end, tuple(predicted), tuple(seen), len(met)))  # type: ignore[arg-type]
    return found


def practice_visits(
    phases: Sequence[Phase], per_hour: float, habit: str, limit: int, count: int, seconds: float
) -> list[tuple[float, str]]:
    """Visitors of the practice world's own resolvers: each request is one."""
    dice = random.Random(5)
    soa = RecordSet("tidewick-kiln.example.", "SOA", 86400, (f"ns. dns. 1 2 3 4 {phases[-1].ttl}",))
    visits = []
    now = 0.0

    def lookup(name: str, rrtype: str) -> Reply:
        phase = next((each for each in reversed(phases) if each.at <= now), phases[0])
        if phase.gives == "nothing":
            authority = RecordSet(soa.name, "SOA", phase.ttl, (f"ns. dns. 1 2 3 4 {phase.ttl}",))
            return Reply("NXDOMAIN", True, (), (authority,))
        return Reply("NOERROR", True, (RecordSet(NAME, "A", phase.ttl, (OLD if phase.gives == "old" else NEW,)),))

    for _ in range(count):
        cache = Cache("one", habit, limit, lookup)
        round_trip = max(phases[0].ttl, limit if habit == "clamping" else 0) + 3600 / per_hour
        now = -(2 + dice.random()) * round_trip  # anywhere in a round, so that the caches are out of step
        while now < seconds:
            answer = cache.resolve(NAME, "A", now)
            visits.append((now, KINDS[answer.answer[0].values if answer.answer else ()]))
            now += dice.expovariate(per_hour / 3600)
    return visits


TTL, PER_SECOND, NAMES = 8, 0.5, 40
LATE_AT_MOST = 5.0  # seconds that the update may take


async def _visit_all(
    addresses: Sequence[str], names: int, begins: float, warm: float, seconds: float
) -> list[tuple[float, str]]:
    network = Network(roots=(Server("127.0.0.1"),))
    asker = Asker(network, patience=1.0)
    dice = random.Random(7)
    visits: list[tuple[float, str]] = []

    async def visitor(address: str, at: int) -> None:
        question, server = Question(f"n{at}.tidewick-kiln.example.", "A"), Server(address)
        then = begins - warm + dice.random() * (TTL + 1 / PER_SECOND)  # out of step with each other
        while then < begins + seconds:
            await asyncio.sleep(max(0.0, then - time.monotonic()))
            answer = await asker.ask(question, server, recurse=True)
            values = next((each.values for each in answer.answer if each.type == "A"), ())
            if answer.usable:
                visits.append((time.monotonic() - begins, KINDS[values]))
            then += dice.expovariate(PER_SECOND)

    await asyncio.gather(*(visitor(address, at) for address in addresses for at in range(names)))
    return visits


def unbound_visits(
    folder: Path, addresses: Sequence[str], seconds: float, count: int = NAMES
) -> list[tuple[float, str]]:
    """Visitors of real Unbound caches over real time; all names are changed in one signed update in the middle.

    Times are counted from the moment the server had made the change, which on a busy machine is seconds after it was
    asked to.
    """
    names = [f"n{at}.tidewick-kiln.example." for at in range(count)]

    def update(value: str) -> None:
        lines = [f"server {servers.HOST}", "zone tidewick-kiln.example"]
        lines += [f"update delete {name} A\nupdate add {name} {TTL} A {value}" for name in names]
        words = ["nsupdate", "-k", str(folder / "owner.key")]
        subprocess.run(words, input="\n".join([*lines, "send"]) + "\n", text=True, check=True, capture_output=True)

    update(OLD)
    warm = 2.5 * TTL
    begins = time.monotonic() + warm

    async def main() -> list[tuple[float, str]]:
        visiting = asyncio.ensure_future(_visit_all(addresses, count, begins, warm, seconds + LATE_AT_MOST))
        await asyncio.sleep(begins - time.monotonic())  # the one real wait: caches count real seconds
        await asyncio.to_thread(update, NEW)
        changed = time.monotonic() - begins
        return [(at - changed, kind) for at, kind in await visiting]

    return asyncio.run(main())


def unbound_expectation() -> tuple[list[Phase], Caches]:
    return [Phase(0, "old", TTL), Phase(0, "new", TTL)], Caches((Busy(1.0, PER_SECOND * 3600),))
