"""Workers of this machine and of a cluster: each has two batches at a time, and a dead one is replaced."""

from __future__ import annotations

import os
import re
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass, field, replace
from importlib import import_module
from multiprocessing import get_context
from multiprocessing.connection import Connection, wait
from multiprocessing.process import BaseProcess
from queue import Empty, SimpleQueue
from threading import Thread
from time import monotonic
from typing import Any

from homepath.bulk.site_state import Result, SiteState
from homepath.bulk.workers import MOST_DEATHS, Batch, OtherVersion, RunContext, batch_size, batches, check_batch
from homepath.core.message import msg, reason
from homepath.core.model.problems import BadInput, CouldNotCheck, Problem

PATIENCE = 10
"""Seconds to find the scheduler, and again for its first worker."""
AHEAD = 3
"""Batches for each worker that are under way or wait there."""


_ADDRESS = re.compile(r"((tcp|tls|ws|wss)://)?([\w.-]+|\[[0-9a-fA-F:]+\]):[0-9]{1,5}")


def check_address(address: str) -> None:
    """Raises BadInput for what is no address of a scheduler; asking there would take long to fail."""
    if not _ADDRESS.fullmatch(address):
        hint = msg("cluster.check-address.hint")
        raise BadInput(Problem(msg("cluster.check-address"), key="--cluster", seen=address[:80], hint=hint))


def checked_by_cluster(
    sites_due: Iterator[SiteState], ground: RunContext, address: str, sites: int
) -> Iterator[Result]:
    """All `sites`, by a cluster's workers. Raises BadInput without the extra, CouldNotCheck without a cluster."""
    try:
        distributed: Any = import_module("dask.distributed")
    except ImportError as error:
        hint = msg("install-cluster")
        raise BadInput(Problem(msg("cluster.looked-at-by-cluster"), key="--cluster", hint=hint)) from error
    if address.startswith("tls://") and not distributed.Security().get_connection_args("client").get("ssl_context"):
        hint = msg("cluster.no-certificates.hint")
        raise BadInput(Problem(msg("cluster.no-certificates"), key="--cluster", seen=address[:80], hint=hint))
    try:
        client = distributed.Client(address, timeout=PATIENCE, set_as_default=False)
        client.wait_for_workers(1, timeout=PATIENCE)
    except (OSError, TimeoutError, ValueError) as error:
        raise CouldNotCheck(
            msg("cluster.looked-at-by-cluster-2", address=address, error=reason(error)),
            msg("cluster.looked-at-by-cluster-3"),
        ) from error
    with client:
        under_way: dict[str, tuple[Batch, int]] = {}
        todo = batches(sites_due, ground, _count(client), batch_size(sites, _count(client)))
        futures = distributed.as_completed([], loop=client.loop)

        def submit(batch: Batch, deaths: int) -> None:
            future = client.submit(check_batch, batch, pure=False, retries=0)
            under_way[future.key] = (batch, deaths)
            futures.add(future)

        def fill() -> None:
            while len(under_way) < AHEAD * _count(client) and (batch := next(todo, None)) is not None:
                submit(replace(batch, workers=_count(client)), 0)

        fill()
        for future in futures:
            batch, deaths = under_way.pop(future.key)
            failure = future.exception()
            if failure is None:
                yield from future.result()
            elif isinstance(failure, OtherVersion):
                there, here = failure.args
                hint = msg("cluster.other-version.hint", here=here)
                raise BadInput(
                    Problem(msg("cluster.other-version", there=there, here=here), key="--cluster", hint=hint)
                )
            elif deaths < MOST_DEATHS:
                submit(batch, deaths + 1)
            else:
                raise CouldNotCheck(
                    msg("cluster.looked-at-by-cluster-4", failure=failure), msg("cluster.looked-at-by-cluster-5")
                )
            future.release()
            fill()


def _count(client: Any) -> int:
    """How many worker processes there are now; the pace is divided among them."""
    return max(1, len(client.scheduler_info(n_workers=-1)["workers"]))


BEAT, SILENT_FOR = 5.0, 30.0
"""Seconds between two signs of life of a worker, and without one until it counts as dead: it may have been stopped."""
IN_HAND = 2
"""Batches that one process has at a time, so that it never waits for the next one."""


@dataclass(slots=True)
class _Worker:
    """A process, the line to it, and the batches that it has, by their numbers."""

    process: BaseProcess
    line: Connection
    has: dict[int, Batch] = field(default_factory=dict)
    observed: float = field(default_factory=lambda: monotonic())

    def give(self, number: int, batch: Batch) -> None:
        self.has[number] = batch
        with suppress(OSError):  # that it died is noticed when its results are waited for
            self.line.send((number, batch))

    def finished(self, number: int, result: Result) -> None:
        """One site of a batch is checked, so it is not given to another worker if this one dies."""
        batch = self.has[number]
        left = tuple(each for each in batch.sites if each.listed.domain != result.domain)
        self.has[number] = replace(batch, sites=left)

    def dismiss(self) -> None:
        self.process.kill()  # one that was stopped would never see a kinder signal
        self.line.close()
        self.process.join(SILENT_FOR)


def checked_by_processes(
    sites_due: Iterator[SiteState], ground: RunContext, count: int, sites: int
) -> Iterator[Result]:
    """All `sites`, by this many processes. Raises CouldNotCheck where they keep dying."""
    todo = enumerate(batches(sites_due, ground, count, batch_size(sites, count)))
    again: list[tuple[int, Batch]] = []
    deaths = 0
    workers = [_hire() for _ in range(count)]
    try:
        while True:
            for worker in workers:
                while len(worker.has) < IN_HAND and (batch := again.pop() if again else next(todo, None)) is not None:
                    worker.give(*batch)
            at_work: dict[object, _Worker] = {each.line: each for each in workers if each.has}
            if not at_work:
                return
            ready = wait([each.line for each in at_work.values()], BEAT)
            late = [each.line for each in at_work.values() if monotonic() - each.observed > SILENT_FOR]
            for line in dict.fromkeys((*ready, *late)):
                worker = at_work[line]
                try:
                    if line not in ready:
                        raise EOFError
                    message = worker.line.recv()
                    worker.observed = monotonic()
                    if message is None:
                        continue
                    number, found = message
                except (EOFError, OSError):
                    again += worker.has.items()
                    deaths += 1
                    if deaths > MOST_DEATHS:
                        raise CouldNotCheck(
                            msg("processes.looked-at-by-processes"), msg("processes.looked-at-by-processes-2")
                        ) from None
                    worker.dismiss()
                    workers[workers.index(worker)] = _hire()
                    continue
                if isinstance(found, BaseException):
                    raise found
                if found is None:
                    del worker.has[number]
                    continue
                worker.finished(number, found)
                deaths = 0
                yield found
    finally:
        for worker in workers:  # no one waits for what they are still at
            worker.dismiss()


def _hire() -> _Worker:
    context = get_context("spawn")
    here, there = context.Pipe()
    process = context.Process(target=_work, args=(there,), daemon=True)
    process.start()
    there.close()  # so that the line ends when the process does
    return _Worker(process, here)


def _work(line: Connection) -> None:
    """The life of a worker: batches come, results go, in any order, until the line ends. A batch ends with None.

    Ctrl-C is for the one who hands out the batches; it ends the workers.
    """
    import signal

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    ready: SimpleQueue[tuple[int, Result | BaseException | None]] = SimpleQueue()

    def check(number: int, batch: Batch) -> None:
        end = None
        try:
            check_batch(batch, lambda result: ready.put((number, result)))
        except BaseException as error:
            end = error
        ready.put((number, end))

    def send() -> None:
        """Each result as soon as it is there, so that little is lost when the run is stopped; and signs of life."""
        while True:
            with suppress(OSError):
                try:
                    line.send(ready.get(timeout=BEAT))
                except Empty:
                    line.send(None)

    Thread(target=send, daemon=True).start()
    hands = ThreadPoolExecutor(IN_HAND)
    with suppress(EOFError, OSError):
        while True:
            hands.submit(check, *line.recv())
    os._exit(0)  # the process that handed out the batches has ended, so nothing waits for those under way
