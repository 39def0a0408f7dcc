"""`homepath brief`: what a builder asks for, read, checked, shown."""

from __future__ import annotations

import shlex
import sys
from pathlib import Path
from typing import Annotated

import typer

from homepath.cli.apps import quiet_app
from homepath.cli.options import PlainOption

app = quiet_app(help="Read, check and show what a builder asks for.", no_args_is_help=True)

FileArgument = Annotated[Path, typer.Argument(help="The brief file.")]


@app.command("check")
def check(file: FileArgument) -> None:
    """Read a brief strictly; every mistake is named with its line."""
    from homepath.stations.start import load_brief

    brief = load_brief(file)
    from homepath.core.model.visible import visible

    typer.echo(f"{file} is a brief of {visible(brief.builder)}, and nothing in it is wrong.")
    typer.echo(_begin(file))


def _begin(file: Path) -> str:
    return f"Next: homepath start DOMAIN --brief {shlex.quote(str(file))}"


@app.command("show")
def show(file: FileArgument, plain: PlainOption = False) -> None:
    """What a brief asks for, in words."""
    from homepath.cli.show.brief import show_brief
    from homepath.cli.show.paper import paper
    from homepath.stations.start import load_brief

    sheet = paper(plain)
    show_brief(sheet, load_brief(file))
    sheet.blank()
    sheet.say(_begin(file))


@app.command("read")
def read(
    file: Annotated[Path | None, typer.Argument(help="Pasted text; without it, standard input.")] = None,
    builder: Annotated[str, typer.Option(help="The builder's name.")] = "the builder",
    domain: Annotated[
        str | None, typer.Option(help="Your own domain, where the page shows it.", show_default=False)
    ] = None,
    to: Annotated[
        Path | None, typer.Option("--to", help="Write the brief here. Default: standard output.", show_default=False)
    ] = None,
    yes: Annotated[bool, typer.Option("--yes", help="Write although something is doubtful.")] = False,
    plain: PlainOption = False,
) -> None:
    """Text pasted from a builder's page becomes a brief; what could not be read is named line by line."""
    from homepath.cli import status
    from homepath.cli.show.brief import show_reading
    from homepath.cli.show.paper import paper
    from homepath.core.formats.brief_file import read_brief
    from homepath.core.formats.pasted.brief_text import brief_text
    from homepath.core.formats.pasted.reader import read_pasted
    from homepath.core.model.problems import BadInput, Problem
    from homepath.files import read_stream, read_text, write_text

    text = read_text(file, "the pasted text") if file else read_stream(sys.stdin.buffer, "the pasted text")
    pasted = read_pasted(text)
    if not pasted.records and not pasted.nameservers:
        hint = "copy the whole table or list of records, headers included"
        raise BadInput(Problem("no record was found in this text", str(file or "standard input"), hint=hint))
    found = brief_text(pasted, builder, domain)
    show_reading(paper(plain, sys.stderr), pasted, found)
    read_brief(found.text, str(to or "the brief"))
    asking = sys.stdin.isatty() and sys.stderr.isatty()
    if found.doubts and not yes and (not asking or not typer.confirm("Is it meant so?", err=True)):
        typer.echo("Nothing was written; add --yes to write it all the same, then edit the file.", err=True)
        raise typer.Exit(status.NOT_YET)
    if to:
        write_text(to, found.text)
        typer.echo(f"\nWritten to {to}. {_begin(to)}", err=True)
    else:
        sys.stdout.write(found.text)
