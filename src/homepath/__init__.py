"""Home Path connects a registered domain to a hosted site builder, and says what you are waiting for."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from homepath.app.workspace import Workspace

__version__ = "0.1.0"


def open(folder: str | Path = ".", network: str | Path | None = None) -> Workspace:
    """The workspace of a folder with a site file; see `homepath.app.workspace.Workspace`.

    `network`: a network file; without one the public Internet. Raises BadInput.
    """
    from homepath.app.workspace import open_workspace

    return open_workspace(folder, network)
