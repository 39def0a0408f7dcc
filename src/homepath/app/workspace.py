"""One folder as a value for Python: every method sees what the one before it left in the journal."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from homepath.app import decide, survey, visit, watch
from homepath.app import next as looking
from homepath.app.project import Project, find_site_file, open_project
from homepath.core.dns.names import Name
from homepath.core.model.plan import Plan
from homepath.core.model.steps import Assessment
from homepath.core.model.survey import Spread
from homepath.core.model.visits import Visit
from homepath.net.clock import Clock
from homepath.net.network_file import Network, load_network


@dataclass(frozen=True, slots=True)
class Workspace:
    """A site file, the network it is checked through, and their journal. Made by `homepath.open`.

    Methods that use the network raise CouldNotCheck, and BadInput for files that cannot be used.
    """

    site_file: Path
    network: Network
    opening: Callable[[float], Project] | None = None
    """How its files are read, where they are not the folder's own: a domain of a list."""

    @property
    def clock(self) -> Clock:
        """The network file's clock, else the machine's."""
        return self.network.clock

    @property
    def domain(self) -> Name:
        return self.project.domain

    @property
    def project(self) -> Project:
        """The files, read again, with what the journal knows now."""
        now = self.clock.now()
        return self.opening(now) if self.opening else open_project(self.site_file, now=now)

    def survey(self) -> survey.Surveyed:
        """What is there now, asked of the domain's own servers."""
        return asyncio.run(survey.survey(self.project, self.network))

    def plan(self) -> Plan:
        """What has to change, by what was last seen. Asks no one; raises CouldNotCheck before the first survey."""
        return self.project.plan()

    def assess(self) -> Assessment:
        """The assessment, from what was last seen. Queries nothing."""
        return decide.assess_site(self.project, self.clock.now())

    def watch(self) -> Spread:
        """Ask every server and resolver that may hold an old record, once."""
        return asyncio.run(watch.check(self.project, self.network))

    def visit(self) -> Visit:
        """Every entry point, once."""
        return asyncio.run(visit.visit(self.project, self.network))

    def next(self, done: str | None = None) -> Assessment:
        """Check everything and say what comes next; with `done` the person's word on that step is kept first."""
        if done is not None:
            decide.say_done(self.project, done, self.clock.now())
        return asyncio.run(looking.find_next(self.project, self.network)).assessment


def open_workspace(folder: str | Path = ".", network: str | Path | None = None) -> Workspace:
    """The workspace of a folder that `homepath start` made, or one below it.

    `network`: a network file; without one the public Internet. Raises BadInput.
    """
    site_file = find_site_file(Path(folder).resolve())
    workspace = Workspace(site_file, load_network(Path(network) if network is not None else None))
    _ = workspace.project  # mistakes in the files are reported now
    return workspace
