"""From options to a project, a network and a running station."""

from __future__ import annotations

import asyncio
import json
import sys
from collections.abc import Coroutine
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

if TYPE_CHECKING:
    from homepath.net.network_file import Network
    from homepath.stations.project import Project

Result = TypeVar("Result")


def project_and_network(site: Path | None, network: Path | None) -> tuple[Project, Network]:
    """Read both files strictly. Raises BadInput."""
    from homepath.net.network_file import load_network
    from homepath.stations.project import open_project

    return open_project(site), load_network(network)


def run(work: Coroutine[Any, Any, Result]) -> Result:
    return asyncio.run(work)


def print_json(value: dict[str, Any]) -> None:
    """One object on stdout; control characters in it are escaped by JSON itself."""
    sys.stdout.write(json.dumps(value, indent=2, ensure_ascii=True) + "\n")


def progress(words: str) -> None:
    """What takes long is said on stderr, on a terminal only."""
    if sys.stderr.isatty():
        sys.stderr.write(f"{words}\n")
