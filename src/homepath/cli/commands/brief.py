"""`homepath brief`: what a builder asks for, read, checked, shown."""

from __future__ import annotations

import shlex
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli.common import JsonOption, PlainOption, quiet_app
from homepath.cli.page import EnterOption, HostOption, LeaveOption, TypeOption

if TYPE_CHECKING:
    from homepath.cli.page import Asked
    from homepath.core.page_reader.brief_text import BriefText

app = quiet_app(help="Read, check and show a builder's requirements.", no_args_is_help=True)

FileArgument = Annotated[Path, typer.Argument(help="The brief file.")]


@app.command("check")
def check(file: FileArgument) -> None:
    """Read a brief strictly; every mistake is named with its line."""
    from homepath.app.start import load_brief

    brief = load_brief(file)
    from homepath.core.model.visible import visible

    typer.echo(f"{file} is a brief of {visible(brief.builder)}, and nothing in it is wrong.")
    typer.echo(_begin(file))


def _begin(file: Path) -> str:
    return f"Next: homepath start DOMAIN --brief {shlex.quote(str(file))}"


@app.command("show")
def show(file: FileArgument, plain: PlainOption = False) -> None:
    """What a brief asks for, in words."""
    from homepath.app.start import load_brief
    from homepath.cli.show.brief import show_brief
    from homepath.cli.show.paper import paper

    sheet = paper(plain)
    show_brief(sheet, load_brief(file))
    sheet.blank()
    sheet.say(_begin(file))


@app.command("read")
def read(
    file: Annotated[Path | None, typer.Argument(help="Pasted text; without it, or as -, standard input.")] = None,
    builder: Annotated[str, typer.Option(help="The builder's name.")] = "the builder",
    domain: Annotated[
        str | None, typer.Option(help="Your own domain, where the page shows it.", show_default=False)
    ] = None,
    to: Annotated[
        Path | None, typer.Option("--to", help="Write the brief here. Default: standard output.", show_default=False)
    ] = None,
    values: Annotated[
        str, typer.Option(help="What belongs to one site alone: stay as it is, or ask for it in the brief.")
    ] = "stay",
    option: Annotated[
        str | None,
        typer.Option("--way", metavar="MARK", help="Which of the page's alternatives to take.", show_default=False),
    ] = None,
    enter: EnterOption = None,
    leave: LeaveOption = None,
    host: HostOption = None,
    rrtype: TypeOption = None,
    yes: Annotated[bool, typer.Option("--yes", help="Enter the ticked rows of the page's table alone.")] = False,
    json: JsonOption = False,
    plain: PlainOption = False,
) -> None:
    """Make a brief of a builder's page.

    Pasted text, a saved page, JSON, CSV; every line is accounted for.
    """
    from homepath.app import start as station
    from homepath.cli import status
    from homepath.cli.page import Asked, brief_of_page, pasted_text, picks_of, values_word
    from homepath.cli.show.paper import paper

    typed = station.read_typed(domain) if domain else None
    own = typed.domain.removesuffix(".") if typed else None
    label = typed.label if typed and typed.label != "www" else ""
    picks = picks_of(enter, leave, host, rrtype)
    asked = Asked(own, label, builder, option or "", values_word(values), picks, yes)
    text = pasted_text(file)
    found = _as_json(text, asked) if json else brief_of_page(text, asked, paper(plain, sys.stderr))
    if found is None:
        raise typer.Exit(status.NOT_YET)
    if to:
        station.write(found, to)
        typer.echo(f"\nWritten to {to}. {_begin(to)}", err=True)
    elif not json:
        sys.stdout.write(found.text)


def _as_json(text: str, asked: Asked) -> BriefText | None:
    """The reading for a program; the brief where nothing is left to settle."""
    from homepath.app import start as station
    from homepath.cli import status
    from homepath.cli.common import print_json
    from homepath.core.contracts.page import page_json

    page = station.read_pasted(text, asked.domain)
    read = station.brief_of(
        page, asked.builder, label=asked.label, option=asked.way, values=asked.values, picks=asked.picks
    )
    print_json(page_json(read.page, read.found))
    if not page.items:
        typer.echo("Copy the page's whole list of records, its headings included, and try again.", err=True)
        raise typer.Exit(status.BAD_INPUT)
    settled = asked.yes or not (read.page.others or (read.found and read.found.doubts))
    return read.found if settled else None
