"""A list as a value for Python: run it, read its lines, and take one of its domains like a folder of its own."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

from homepath.app.workspace import Workspace
from homepath.bulk.intake import take_list
from homepath.bulk.lists import check_list
from homepath.bulk.opened import open_from
from homepath.bulk.run import Asked, Progress, run
from homepath.bulk.state import alone, open_state
from homepath.bulk.views import Filter
from homepath.bulk.workers import run_context_of
from homepath.core.contracts.assessment import Json
from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem
from homepath.net.network_file import Network, load_network


@dataclass(frozen=True, slots=True)
class ListWorkspace:
    """A list and the network that its domains are checked through. Made by `homepath.open_list`."""

    path: Path
    network: Network

    def run(
        self,
        due: bool = False,
        workers: int = 1,
        problem: Callable[[Problem], None] = lambda problem: None,
        progress: Callable[[Progress], None] = lambda progress: None,
    ) -> Iterator[Json]:
        """Check every domain, or those that are `due`, and then return the line of each (`homepath.many/1`).

        `problem` gets what is wrong in the list, `progress` how far the run is. Raises BadInput where there is no
        list, and where another run is at work on it.
        """
        with alone(self.path) as first, open_state(self.path) as state:
            if not first:
                raise BadInput(Problem(msg("state.alone"), str(self.path), hint=msg("state.alone.hint")))
            bad = take_list(state, self.path, self.network.clock.now(), problem, unless_unchanged=due).bad
            ran = run(state, self.network, run_context_of(self.network), Asked(due, workers), bad, progress)
            yield from state.lines(ran.run)

    def lines(self) -> Iterator[Json]:
        """The last line of each domain, in the list's order. Queries nothing."""
        with open_state(self.path) as state:
            yield from state.lines()

    def news(self) -> Iterator[Json]:
        """The lines that changed and were not delivered yet. They count as delivered once the last one was taken."""
        with open_state(self.path) as state:
            upto = state.changes.last()
            yield from Filter(changed=True).of(state, upto=upto)
            state.changes.delivered(upto)

    def site(self, domain: str) -> Workspace:
        """One domain of the list. Raises BadInput where the list was never run or does not have it."""
        workspace = Workspace(self.path, self.network, lambda now: open_from(self.path, domain, now))
        _ = workspace.project
        return workspace


def open_list(path: str | Path, network: str | Path | None = None) -> ListWorkspace:
    """`network`: a network file; without one the public Internet. Raises BadInput where there is no list."""
    check_list(Path(path))
    return ListWorkspace(Path(path), load_network(Path(network) if network is not None else None))
