"""`homepath start`: write down what is wanted."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli.options import PlainOption

if TYPE_CHECKING:
    from homepath.core.model.brief import Brief
    from homepath.stations.start import Started


def start(
    domain: Annotated[str | None, typer.Argument(help="Your domain, as you would type it.", show_default=False)] = None,
    primary: Annotated[
        str | None, typer.Option(help="Where visitors should end: www, apex or one label.", show_default=False)
    ] = None,
    brief: Annotated[Path | None, typer.Option(help="The builder's brief file.", show_default=False)] = None,
    value: Annotated[
        list[str] | None,
        typer.Option(help="A value the brief asks for, as name=value; for one further domain alone name@DOMAIN=value."),
    ] = None,
    notation: Annotated[
        Path | None, typer.Option(help="How your DNS host's form wants entries.", show_default=False)
    ] = None,
    also: Annotated[
        list[str] | None, typer.Option(help="A further domain that only leads to the primary. May be repeated.")
    ] = None,
    folder: Annotated[Path, typer.Option(help="Where to write homepath.toml.")] = Path(),
    plain: PlainOption = False,
) -> None:
    """Write homepath.toml: the domain, its primary address and whose brief applies."""
    from homepath.core.model.problems import BadInput, Problem
    from homepath.stations import start as station

    asking = sys.stdin.isatty() and sys.stdout.isatty()
    if domain is None and not asking:
        raise BadInput(Problem("no domain was given", hint="homepath start DOMAIN --brief FILE"))
    typed = station.read_typed(domain if domain is not None else typer.prompt("Your domain"))
    if brief is None and not asking:
        raise BadInput(Problem("no brief was given", key="--brief", hint="name the builder's brief file"))
    brief_file = brief or Path(typer.prompt("The builder's brief file"))
    known = station.load_brief(brief_file)
    if primary is None and not typed.label and asking:
        primary = typer.prompt("Where should visitors end: www, apex or a label?", default="www")
    values = _values(value or [])
    if asking:
        _ask_missing(known, values)
    if typed.label and primary is not None and primary.strip().lower() != typed.label:
        from homepath.core.model.names import shown

        hint = f"type {shown(typed.domain)} with --primary {primary}, or leave --primary away"
        named = f"{typed.label}.{shown(typed.domain)}"
        raise BadInput(
            Problem(
                f"the domain was typed as {named}, and another primary was named",
                None,
                None,
                "--primary",
                primary,
                hint,
            )
        )
    chosen = station.primary_of(typed, primary)
    started = station.start(typed, chosen, brief_file, values, notation, tuple(also or ()), folder)
    _show(started, plain)


def _values(pairs: list[str]) -> dict[str, str]:
    from homepath.core.model.problems import BadInput, Problem

    values = {}
    for pair in pairs:
        name, mark, text = pair.partition("=")
        if not mark or not name.strip():
            raise BadInput(Problem("a value is given as name=value", key="--value", seen=pair))
        values[name.strip()] = text.strip()
    return values


def _ask_missing(brief: Brief, values: dict[str, str]) -> None:
    from homepath.core.wanted.wanted import late_values

    late = late_values(brief)  # assigned once the builder knows the domain; `next` asks then
    for asked in brief.asked:
        if asked.name not in values and asked.name not in late:
            values[asked.name] = typer.prompt(asked.ask + (f" (such as {asked.example})" if asked.example else ""))


def _show(started: Started, plain: bool) -> None:
    from homepath.cli.show.paper import paper
    from homepath.core.model.domain import shown_unicode
    from homepath.core.model.names import shown

    sheet, wanted = paper(plain), started.wanted
    name = shown_unicode(wanted.domain)
    spelled = f" (in DNS: {shown(wanted.domain)})" if name != shown(wanted.domain) else ""
    sheet.say(f"{name}{spelled} is to be connected to {wanted.builder}.")
    sheet.say(f"Visitors end at {wanted.primary_url}")
    others = [shown(each) for each in wanted.names if each != wanted.primary]
    if others:
        sheet.say(f"{', '.join(others)} leads there too.")
    else:
        sheet.say(f"The rest of {shown(wanted.domain)} is left as it is.")
    if started.site.also:
        verb = "is" if len(started.site.also) == 1 else "are"
        sheet.say(f"{', '.join(started.site.also)} {verb} to lead there too; `next` leads through all.")
    sheet.heading(f"Asked for by {wanted.builder}")
    sheet.table([(shown(w.record.name), w.record.type, v) for w in wanted.wants for v in w.record.values])
    sheet.blank()
    sheet.say(f"Written to {started.path}. From here on one word leads on: homepath next")
