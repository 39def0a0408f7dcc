"""Looks on an existing Dask cluster: batches as tasks, results streamed back; the one who asked writes them.

A worker that dies loses its batch, which the scheduler hands to another; a batch's results come back once, and a site
is written by its name, so nothing is lost and nothing is there twice.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from importlib import import_module
from typing import Any

from homepath.bulk.kept import Kept, Result
from homepath.bulk.workers import MOST_DEATHS, Batch, Ground, batch_size, batches, look_at_batch
from homepath.core.message import msg, reason
from homepath.core.model.problems import BadInput, CouldNotLook, Problem

PATIENCE = 10
"""Seconds to find the scheduler, and again for its first worker."""
AHEAD = 3
"""Batches for each worker that are under way or wait there."""


def looked_at_by_cluster(kept: Iterator[Kept], ground: Ground, address: str, sites: int) -> Iterator[Result]:
    """All `sites`, by the workers of the cluster. Raises BadInput without the extra, CouldNotLook without a cluster."""
    try:
        distributed: Any = import_module("dask.distributed")
    except ImportError as error:
        hint = msg("install-cluster")
        raise BadInput(Problem(msg("cluster.looked-at-by-cluster"), key="--cluster", hint=hint)) from error
    try:
        client = distributed.Client(address, timeout=PATIENCE, set_as_default=False)
        client.wait_for_workers(1, timeout=PATIENCE)
    except (OSError, TimeoutError, ValueError) as error:
        raise CouldNotLook(
            msg("cluster.looked-at-by-cluster-2", address=address, error=reason(error)),
            msg("cluster.looked-at-by-cluster-3"),
        ) from error
    with client:
        under_way: dict[str, tuple[Batch, int]] = {}
        todo = batches(kept, ground, _count(client), batch_size(sites, _count(client)))
        futures = distributed.as_completed([], loop=client.loop)

        def submit(batch: Batch, deaths: int) -> None:
            future = client.submit(look_at_batch, batch, pure=False, retries=0)
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
            elif deaths < MOST_DEATHS:
                submit(batch, deaths + 1)
            else:
                raise CouldNotLook(
                    msg("cluster.looked-at-by-cluster-4", failure=failure), msg("cluster.looked-at-by-cluster-5")
                )
            future.release()
            fill()


def _count(client: Any) -> int:
    """How many worker processes there are now; the pace is divided among them."""
    return max(1, len(client.scheduler_info(n_workers=-1)["workers"]))
