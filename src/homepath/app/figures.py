"""Figures of what the journal holds."""

from __future__ import annotations

from pathlib import Path

from homepath.app.project import Project
from homepath.core.model.problems import CouldNotLook
from homepath.core.model.readings import Spread
from homepath.core.propagation.shares import shares_of
from homepath.net.network_file import Network
from homepath.report import spread


def draw_spread(project: Project, network: Network, path: Path) -> None:
    """The spread of the project's records as the journal remembers it. Raises CouldNotLook when it holds no look."""
    with project.journal() as journal:
        looks = journal.looks("watch", project.domain, Spread)
    found = shares_of(looks)
    if not found:
        raise CouldNotLook(
            "no resolver was asked yet, so there is no spread to draw",
            "Resolvers are asked once the records are entered, or when old ones stand there: `homepath watch --once`.",
        )
    spread.draw(found, project.domain, network.clock.now(), path)
