"""A pasted page on its way in: from a file, from standard input or the terminal; doubts are asked about."""

from __future__ import annotations

import sys
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, cast

import typer

if TYPE_CHECKING:
    from homepath.app.start import PageRead
    from homepath.core.model.domain import TypedDomain
    from homepath.core.page_reader.brief_text import BriefText, Values


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
        way = typer.prompt(
            f"The page offers several ways, and one of them is enough: {', '.join(found.options)}. Which", err=True
        )
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


@dataclass(frozen=True, slots=True)
class Asked:
    """What was asked of `start` about a page."""

    typed: TypedDomain
    builder: str
    way: str
    values: Values
    yes: bool
    plain: bool


def brief_of_page(file: Path | None, wish: Asked) -> BriefText | None:
    """The brief that a page makes, shown and settled; None where its doubts are not. Raises BadInput."""
    return _brief_of(pasted_text(file), wish)


def _brief_of(text: str, wish: Asked) -> BriefText | None:
    from homepath.app import start as station
    from homepath.cli.show.brief import show_reading
    from homepath.cli.show.paper import paper
    from homepath.core.model.problems import BadInput, Problem

    domain = wish.typed.domain.removesuffix(".")
    label = wish.typed.label if wish.typed.label != "www" else ""

    def once_more(way: str) -> PageRead:
        return station.read(text, wish.builder, domain=domain, label=label, option=way, values=wish.values)

    read = once_more(wish.way)
    sheet = paper(wish.plain)
    show_reading(sheet, read.page, read.found)
    sheet.blank()
    if read.found is None:
        hint = "copy the page's whole list of records, its headings included"
        raise BadInput(Problem("no record to enter was found on the page", key="--page", hint=hint))
    return settled(read, once_more, wish.yes)


def brief_by_asking(wish: Asked) -> BriefText | Path | None:
    """On a terminal without page and brief: paste the page, name a file, or answer questions."""
    typer.echo("What does the builder ask for? Three ways to say it:")
    typer.echo("  1  paste the page that lists the records")
    typer.echo("  2  name a file: the page saved as text, or a brief")
    typer.echo("  3  answer questions")
    way = typer.prompt("Which", default="1").strip()
    if way.startswith("2"):
        file = Path(typer.prompt("The file").strip())
        return file if file.name.endswith(".toml") else brief_of_page(file, wish)
    if way.startswith("3"):
        return _brief_of(_by_questions(), wish)
    return _brief_of(_pasted_into_terminal(), wish)


def _by_questions() -> str:
    """The records, one question after the other, as the text of a table."""
    if typer.confirm("Does the builder ask you to change the domain's nameservers?", default=False):
        names = typer.prompt("The nameservers, with spaces between").split()
        return "Nameservers:\n" + "\n".join(names) + "\n"
    lines = ["Type\tHost\tValue"]
    while True:
        rrtype = typer.prompt(
            "Type of the next record (A, CNAME, TXT ...; empty when that was all)", default="", show_default=False
        )
        if not rrtype.strip():
            return "\n".join(lines) + "\n"
        host = typer.prompt("Its host or name (@ for the domain itself)", default="@")
        value = typer.prompt("Its value")
        lines.append("\t".join(" ".join(cell.split()) for cell in (rrtype.upper(), host, value)))
