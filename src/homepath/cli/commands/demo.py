"""`homepath demo`: the whole story of the pottery, with the real commands."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer


def demo(
    folder: Annotated[
        Path | None,
        typer.Option("--folder", help="Where to leave everything. Default: a new folder.", show_default=False),
    ] = None,
    speed: Annotated[float, typer.Option(min=1, max=600, help="How many times faster than real time.")] = 20,
) -> None:
    """Watch a parked domain move to a builder, in about a minute.

    One mistake is included. Nothing leaves this machine."""
    import tempfile

    from homepath.cli.story import tell

    where = folder or Path(tempfile.mkdtemp(prefix="homepath-demo-"))
    raise typer.Exit(tell(where, speed))
