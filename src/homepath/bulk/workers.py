"""Where checks run: in this process, in several, or wherever a cluster runs a batch. All the same code."""

from __future__ import annotations

import asyncio
import gc
import secrets
import threading
from collections.abc import AsyncIterator, Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING

from homepath.bulk.lists import NamedFiles
from homepath.bulk.site_state import Result, SiteState
from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem
from homepath.files import read_octets, read_text
from homepath.net.network_file import Network
from homepath.version import __version__

if TYPE_CHECKING:
    from cryptography.x509 import Certificate as X509

    from homepath.net.sharing import Commons

# What checks is imported where a check begins: a timer that finds nothing due ends before.

AT_ONCE = 48
"""Sites that one worker checks at the same time."""
BATCH = 60
"""Sites that are handed to another process at once."""
CYCLES_AFTER = 50_000
"""Objects more than went, until the first search for cycles: a few megabytes."""
MOST_DEATHS = 5
"""Workers that may die one after another without a result, before the run stops."""


@dataclass(frozen=True, slots=True)
class RunContext:
    """What every worker is on: the network, and the files that it names, as octets, for workers elsewhere.

    `key`: the same for all batches of a run, so that a worker goes on with what it shares and with its pace.
    """

    network: Network
    bundle: bytes | None = None
    bootstrap: str | None = None
    key: str = field(default_factory=lambda: secrets.token_hex(8))


def run_context_of(network: Network) -> RunContext:
    """Raises BadInput where a file that the network file names cannot be read."""
    bundle = read_octets(network.certificates, msg("file.certificates")) if network.certificates else None
    named = network.bootstrap if network.bootstrap and "://" not in network.bootstrap else None
    bootstrap = read_text(Path(named), named) if named else None
    return RunContext(network, bundle, bootstrap)


def commons_of(ground: RunContext, workers: int) -> Commons:
    """What the checks of one worker share. To be called inside its event loop."""
    from homepath.net.session import pace_of
    from homepath.net.sharing import Commons

    network = ground.network
    commons = Commons(network, pace_of(network, workers))
    if ground.bundle is not None:
        commons.store.anchors = _anchors(ground.bundle)
    if ground.bootstrap is not None and network.bootstrap is not None:
        fetched = asyncio.get_running_loop().create_task(_same_text(ground.bootstrap))
        commons.store.texts[network.bootstrap] = fetched
    return commons


async def _same_text(text: str) -> str:
    return text


def _anchors(bundle: bytes) -> list[X509]:
    from cryptography import x509

    try:
        return x509.load_pem_x509_certificates(bundle)
    except ValueError as error:
        hint = msg("driving.fetch-once.hint")
        raise BadInput(Problem(msg("workers.anchors"), hint=hint)) from error


async def checked_here(sites: Iterator[SiteState], ground: RunContext) -> AsyncIterator[Result]:
    """Every site, so many at one moment, results as they come."""
    from homepath.bulk.site_check import check_site

    commons, named_files = commons_of(ground, 1), NamedFiles()
    found: asyncio.Queue[Result | None] = asyncio.Queue()

    async def check_sites() -> None:
        try:
            for site_state in sites:
                await found.put(await check_site(site_state, named_files, ground.network, commons))
        finally:
            found.put_nowait(None)

    checkers = [asyncio.create_task(check_sites()) for _ in range(AT_ONCE)]
    try:
        with collecting_seldom():
            at_work = AT_ONCE
            while at_work:
                result = await found.get()
                if result is None:
                    at_work -= 1
                else:
                    yield result
            await asyncio.gather(*checkers)
    finally:
        for each in checkers:
            each.cancel()


_collecting_seldom: list[tuple[int, int, int]] = []


@contextmanager
def collecting_seldom() -> Iterator[None]:
    """What a check makes goes by itself when it is over; searching for cycles all the time takes a fifth of a run.

    Within one event loop; while several batches are at work, the last one to end leaves the process as it was.
    """
    _collecting_seldom.append(gc.get_threshold())
    gc.set_threshold(CYCLES_AFTER, *_collecting_seldom[0][1:])
    try:
        yield
    finally:
        usual = _collecting_seldom.pop()
        if not _collecting_seldom:
            gc.set_threshold(*usual)


# A worker elsewhere: its process has one event loop, which lives as long as the process and keeps what is shared.


@dataclass(frozen=True, slots=True)
class Batch:
    """Sites for one worker, with the briefs and notations that they name. `workers`: how many share the pace now;
    `version`: of the Home Path that made it."""

    ground: RunContext
    sites: tuple[SiteState, ...]
    named_files: NamedFiles
    workers: int
    version: str = __version__


class OtherVersion(Exception):
    """A worker that runs another version of Home Path might judge differently. Its own, and the one of the batch."""


class _Station:
    """The event loop of this process, in a thread of its own, so that several batches can run in it at one time."""

    def __init__(self) -> None:
        self.loop = asyncio.new_event_loop()
        self.commons: tuple[str, Commons] | None = None
        self.limit = asyncio.Semaphore(AT_ONCE)
        threading.Thread(target=self.loop.run_forever, name="homepath-looks", daemon=True).start()

    async def check(self, batch: Batch, report: Callable[[Result], None]) -> list[Result]:
        from homepath.bulk.site_check import check_site

        if self.commons is None or self.commons[0] != batch.ground.key:
            self.commons = (batch.ground.key, commons_of(batch.ground, batch.workers))
        commons = self.commons[1]
        commons.pace.become(batch.ground.network.paces.shared_by(batch.workers))

        async def one(site_state: SiteState) -> Result:
            async with self.limit:
                result = await check_site(site_state, batch.named_files, batch.ground.network, commons)
            report(result)
            return result

        with collecting_seldom():
            return list(await asyncio.gather(*(one(site_state) for site_state in batch.sites)))


_station: _Station | None = None
_only_one = threading.Lock()


def check_batch(batch: Batch, report: Callable[[Result], None] = lambda result: None) -> list[Result]:
    """All sites of a batch, in this process; `report` gets each result at once. Raises OtherVersion."""
    global _station
    if batch.version != __version__:
        raise OtherVersion(__version__, batch.version)
    with _only_one:
        if _station is None:
            _station = _Station()
    return asyncio.run_coroutine_threadsafe(_station.check(batch, report), _station.loop).result()


def batch_size(sites: int, workers: int) -> int:
    """With few sites, each worker still gets several batches, so that none is idle at the end."""
    return max(2, min(BATCH, sites // (6 * max(1, workers))))


def batches(sites: Iterator[SiteState], ground: RunContext, workers: int, size: int) -> Iterator[Batch]:
    """The sites in batches, with only the files that they name."""
    named_files = NamedFiles()
    while some := tuple(site_state for _, site_state in zip(range(size), sites, strict=False)):
        yield Batch(
            ground, some, named_files.named_by([(site_state.listed, site_state.site) for site_state in some]), workers
        )
