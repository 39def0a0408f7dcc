"""A pasted page on its way in: from a file, from standard input, or pasted into the terminal; doubts are asked about."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, cast

import typer

if TYPE_CHECKING:
    from homepath.core.formats.pasted.brief_text import BriefText, Values
    from homepath.stations.page import PageRead


def pasted_text(file: Path | None) -> str:
    """The text of a page. On a terminal without a file it is pasted, and two empty lines end it. Raises BadInput."""
    from homepath.files import read_stream, read_text

    if file is not None and str(file) != "-":
        return read_text(file, "the page")
    if sys.stdin.isatty():
        return _pasted_into_terminal()
    return read_stream(sys.stdin.buffer, "the page")


def _pasted_into_terminal() -> str:
    typer.echo("Paste the page's list of records here, then press Enter twice on empty lines.", err=True)
    lines: list[str] = []
    while len(lines) < 20_000:
        line = sys.stdin.readline()
        if not line or (not line.strip() and lines and not lines[-1].strip()):
            break
        lines.append(line)
    return "".join(lines)


def values_word(word: str) -> Values:
    """`stay` or `ask`. Raises BadInput."""
    from homepath.core.model.problems import BadInput, Problem

    if word not in ("stay", "ask"):
        raise BadInput(Problem("there is no such choice", key="--values", seen=word, hint="stay or ask"))
    return cast("Values", word)


def settled(read: PageRead, once_more: Callable[[str], PageRead], yes: bool) -> BriefText | None:
    """The brief once its doubts are settled: asked about on a terminal, accepted with --yes, else None."""
    found = read.found
    if found is None:
        return None
    asking = sys.stdin.isatty() and sys.stderr.isatty()
    if found.options and asking and not yes:
        way = typer.prompt(f"The page gives ways of which one is taken: {', '.join(found.options)}. Which", err=True)
        found = once_more(way.strip()).found or found
    if not found.doubts or yes:
        return found
    if not asking:
        return None
    for doubt in found.doubts:
        from homepath.core.model.visible import visible

        if not typer.confirm(f"{visible(doubt)}. Go on with that?", err=True, default=False):
            return None
    return found
