"""Home Path connects a registered domain to a hosted site builder, and says what you are waiting for."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from homepath.version import __version__

if TYPE_CHECKING:
    from homepath.app.workspace import Workspace
    from homepath.bulk.workspace import ListWorkspace

__all__ = ["__version__", "open", "open_list"]


def open(folder: str | Path = ".", network: str | Path | None = None) -> Workspace:
    """The workspace of a folder with a site file; see `homepath.app.workspace.Workspace`.

    `network`: a network file; without one the public Internet. Raises BadInput.
    """
    from homepath.app.workspace import open_workspace

    return open_workspace(folder, network)


def open_list(path: str | Path, network: str | Path | None = None) -> ListWorkspace:
    """A list of domains; see `homepath.bulk.workspace.ListWorkspace`. Raises BadInput where there is none."""
    from homepath.bulk.workspace import open_list

    return open_list(path, network)
