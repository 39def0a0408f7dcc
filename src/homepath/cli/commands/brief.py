"""`homepath brief`: what a builder asks for, read, checked, shown."""

from __future__ import annotations

import shlex
import sys
from pathlib import Path
from typing import Annotated

import typer

from homepath.cli.common import JsonOption, PlainOption, quiet_app

app = quiet_app(help="Read, check and show what a builder asks for.", no_args_is_help=True)

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
    yes: Annotated[bool, typer.Option("--yes", help="Write although something is doubtful.")] = False,
    json: JsonOption = False,
    plain: PlainOption = False,
) -> None:
    """Make a brief of a builder's page.

    Pasted text, a saved page, JSON, CSV; every line is accounted for.
    """
    from homepath.app import start as station
    from homepath.app.start import read_typed
    from homepath.cli import status
    from homepath.cli.common import print_json
    from homepath.cli.page import pasted_text, settled, values_word
    from homepath.cli.show.brief import show_reading
    from homepath.cli.show.paper import paper
    from homepath.core.contracts.page import page_json

    typed = read_typed(domain) if domain else None
    own = typed.domain.removesuffix(".") if typed else None
    label = typed.label if typed and typed.label != "www" else ""
    text = pasted_text(file)

    def once_more(way: str) -> station.PageRead:
        return station.read(text, builder, domain=own, label=label, option=way, values=values_word(values))

    read = once_more(option or "")
    if json:
        print_json(page_json(read.page, read.found))
    else:
        show_reading(paper(plain, sys.stderr), read.page, read.found)
    if read.found is None:
        typer.echo("Copy the page's whole list of records, its headings included, and try again.", err=True)
        raise typer.Exit(status.BAD_INPUT)
    found = read.found if json else settled(read, once_more, yes)
    if found is None or (found.doubts and not yes and json):
        if not json:
            typer.echo("Nothing was written; add --yes to write it all the same, then edit the file.", err=True)
        raise typer.Exit(status.NOT_YET)
    if to:
        station.write(found, to)
        typer.echo(f"\nWritten to {to}. {_begin(to)}", err=True)
    elif not json:
        sys.stdout.write(found.text)
