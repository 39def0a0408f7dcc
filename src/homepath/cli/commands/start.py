"""`homepath start`: write down what is wanted."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli.common import PlainOption
from homepath.cli.page import EnterOption, HostOption, LeaveOption, TypeOption
from homepath.core.wording.words import UNNAMED_BUILDER

if TYPE_CHECKING:
    from homepath.app.start import Started
    from homepath.core.model.brief import Brief, Site
    from homepath.core.model.domain import TypedDomain


def start(
    domain: Annotated[str | None, typer.Argument(help="Your domain, as you would type it.", show_default=False)] = None,
    primary: Annotated[
        str | None, typer.Option(help="The site's primary address: www, apex or one label.", show_default=False)
    ] = None,
    page: Annotated[
        Path | None, typer.Option(help="The builder's page as text, or - for standard input.", show_default=False)
    ] = None,
    brief: Annotated[Path | None, typer.Option(help="The builder's brief file.", show_default=False)] = None,
    builder: Annotated[str, typer.Option(help="The builder's name, for a page.")] = UNNAMED_BUILDER,
    value: Annotated[
        list[str] | None,
        typer.Option(help="A value the brief asks for, as name=value; for one further domain alone name@DOMAIN=value."),
    ] = None,
    values: Annotated[
        str, typer.Option(help="What on a page belongs to one site alone: stay as it is, or ask for it in the brief.")
    ] = "stay",
    way: Annotated[
        str | None, typer.Option(metavar="MARK", help="Which of a page's alternatives to take.", show_default=False)
    ] = None,
    notation: Annotated[
        Path | None, typer.Option(help="A notation file: how your DNS host's form writes records.", show_default=False)
    ] = None,
    also: Annotated[
        list[str] | None,
        typer.Option(help="A further domain that only redirects to the primary address. May be repeated."),
    ] = None,
    folder: Annotated[Path, typer.Option(help="Where to write homepath.toml.")] = Path(),
    enter: EnterOption = None,
    leave: LeaveOption = None,
    host: HostOption = None,
    rrtype: TypeOption = None,
    yes: Annotated[bool, typer.Option("--yes", help="Enter the ticked rows of the page's table alone.")] = False,
    plain: PlainOption = False,
) -> None:
    """Say which domain to connect, and read what your builder requires.

    Makes homepath.toml, from a page of the builder (--page) or a brief (--brief)."""
    from homepath.app import start as station
    from homepath.cli import status
    from homepath.cli.page import Asked, brief_by_asking, brief_of_page, pasted_text, picks_of, values_word
    from homepath.cli.show.paper import paper
    from homepath.core.files.brief_file import read_brief
    from homepath.core.model.problems import BadInput, Problem
    from homepath.core.page_reader.brief_text import BriefText

    asking = sys.stdin.isatty() and sys.stdout.isatty()
    if domain is None and not asking:
        raise BadInput(Problem("no domain was given", hint="homepath start DOMAIN --page FILE"))
    if page is not None and brief is not None:
        raise BadInput(Problem("--page makes a brief, --brief names one; give one of them", key="--page"))
    typed = station.read_typed(domain if domain is not None else typer.prompt("Your domain"))
    _check_primary(typed, primary)
    before = station.before_in(folder, typed.domain.removesuffix("."))
    if before is not None and page is None and brief is None and (notation or also or value or primary or not asking):
        brief = folder / before.site.brief  # what the builder asks for is known here
    if page is None and brief is None and not asking:
        hint = "save the builder's page as text and name it with --page FILE, or a brief with --brief FILE"
        raise BadInput(Problem("nothing says what the builder asks for", key="--page", hint=hint))
    given = _values(value or [])
    words, found = None, None
    if before is not None:
        builder = before.brief.builder if builder == UNNAMED_BUILDER else builder
        primary = primary or (before.site.primary if not typed.label else None)
    if brief is None:
        own, label = typed.domain.removesuffix("."), typed.label if typed.label != "www" else ""
        picks = picks_of(enter, leave, host, rrtype)
        asked = Asked(own, label, builder, way or "", values_word(values), picks, yes)
        sheet = paper(plain)
        found = brief_of_page(pasted_text(page), asked, sheet) if page is not None else brief_by_asking(asked, sheet)
        if isinstance(found, Path):
            brief_file = found
        elif found is None:
            raise typer.Exit(status.NOT_YET)
        else:
            brief_file, words = station.brief_path(folder, builder), found.text
            if before is not None and before.brief.builder == builder:
                words = before.renewed(words)
            given = {**{name: text for name, text in found.values.items() if text}, **given}
    else:
        brief_file = brief
    known = station.load_brief(brief_file) if words is None else read_brief(words, brief_file.name)
    said_by_page = {"@": "apex"}.get(found.primary, found.primary) if isinstance(found, BriefText) else ""
    silent = primary is None and not typed.label
    if primary is None and not typed.label:
        primary = said_by_page or station.default_primary(known)
        if asking:
            primary = typer.prompt("Where should the site be: www, apex or another label?", default=primary)
    if asking:
        _ask_missing(known, given)
    chosen = station.primary_of(typed, primary)
    started = station.start(typed, chosen, brief_file, given, notation, tuple(also or ()), folder, words)
    _show(started, before.site if before is not None else None, plain)
    if words is None:
        return
    typer.echo(f"What the page asks for was written to {brief_file}.")
    if said_by_page and chosen != said_by_page:
        typer.echo(f"The page calls another address the primary one ({said_by_page}), and you chose {chosen}.")
    elif silent and not asking and not said_by_page:
        other = "www" if chosen == "apex" else "apex"
        typer.echo(
            f"The page names no primary address, so {chosen} was chosen. To choose the other: add --primary {other}."
        )


def _check_primary(typed: TypedDomain, primary: str | None) -> None:
    """A label typed in front of the domain and another primary address contradict each other. Raises BadInput."""
    from homepath.core.dns.names import shown
    from homepath.core.model.problems import BadInput, Problem

    if typed.label and primary is not None and primary.strip().lower() != typed.label:
        hint = f"type {shown(typed.domain)} with --primary {primary}, or omit --primary"
        message = f"the domain was typed as {typed.label}.{shown(typed.domain)}, and another primary was named"
        raise BadInput(Problem(message, None, None, "--primary", primary, hint))


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
    from homepath.core.site.wanted import late_values

    late = late_values(brief)  # assigned once the builder knows the domain; `next` asks then
    for asked in brief.asked:
        if asked.name not in values and asked.name not in late:
            values[asked.name] = typer.prompt(asked.ask + (f" (such as {asked.example})" if asked.example else ""))


def _show(started: Started, before: Site | None, plain: bool) -> None:
    from homepath.cli.show.paper import paper
    from homepath.core.dns.names import shown
    from homepath.core.model.domain import shown_unicode
    from homepath.core.wording.times import sentence_start

    sheet, wanted = paper(plain), started.wanted
    name = shown_unicode(wanted.domain)
    spelled = f" (in DNS: {shown(wanted.domain)})" if name != shown(wanted.domain) else ""
    sheet.say(f"{name}{spelled} is to be connected to {wanted.builder}.")
    sheet.say(f"The site will be at {wanted.primary_url}")
    others = [shown(each) for each in wanted.names if each != wanted.primary]
    if others:
        sheet.say(f"{', '.join(others)} redirects there.")
    else:
        sheet.say(f"The rest of {shown(wanted.domain)} stays unchanged.")
    if started.site.also:
        verb = "is" if len(started.site.also) == 1 else "are"
        sheet.say(f"{', '.join(started.site.also)} {verb} to redirect there too; `homepath next` covers all.")
    sheet.heading(f"{sentence_start(wanted.builder)} asks for")
    sheet.table([(shown(w.record.name), w.record.type, v) for w in wanted.wants for v in w.record.values])
    if not wanted.wants and wanted.nameservers:
        sheet.table([("nameserver", shown(server)) for server in wanted.nameservers])
    sheet.blank()
    if before is not None:
        parts = ("primary", "brief", "notation", "also")
        kept = {part: (getattr(before, part), getattr(started.site, part)) for part in parts}
        changed = [f"{part} was {old or 'not set'}, is {new}" for part, (old, new) in kept.items() if old != new]
        sheet.say(f"{started.path} was there already. {'; '.join(changed) or 'Nothing in it has changed'}.")
    sheet.say(f"Written to {started.path}. Next: homepath next")
