"""Options that mean the same in every command."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

SiteOption = Annotated[
    Path | None,
    typer.Option(
        "--site",
        help="The site file, or LIST:DOMAIN. Default: the nearest homepath.toml here or above.",
        show_default=False,
    ),
]
NetworkOption = Annotated[
    Path | None,
    typer.Option(
        "--network",
        envvar="HOMEPATH_NETWORK",
        help="Where to ask and whom to trust. Default: the public Internet.",
        show_default=False,
    ),
]
DomainOption = Annotated[
    str | None,
    typer.Option("--domain", help="One of the site's further domains. Default: the main one.", show_default=False),
]
JsonOption = Annotated[bool, typer.Option("--json", help="Print one JSON object and nothing else.")]
PlainOption = Annotated[bool, typer.Option("--plain", help="No colours, no drawn bars.")]
FolderOption = Annotated[Path, typer.Option("--folder", help="The folder to work in.")]
VerboseOption = Annotated[bool, typer.Option("--verbose", help="Say on stderr what is being asked.")]
