"""How every typer app of this tool is set up."""

from __future__ import annotations

from typing import Any

import typer


def quiet_app(add_completion: bool = False, **more: Any) -> typer.Typer:
    """An app with plain help pages; errors are left to `homepath.cli.app.main`."""
    return typer.Typer(add_completion=add_completion, pretty_exceptions_enable=False, rich_markup_mode=None, **more)
