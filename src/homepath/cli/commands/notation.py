"""`homepath notation`: how a DNS host's form writes records, learned from rows of it."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, cast, get_args

import typer

from homepath.cli.common import PlainOption, quiet_app

if TYPE_CHECKING:
    from homepath.core.page_reader.form_hints import Hints

app = quiet_app(help="Describe how your DNS host's form writes records.", no_args_is_help=True)


@app.command("check")
def check(file: Annotated[Path, typer.Argument(help="The notation file.")]) -> None:
    """Read a notation strictly; every mistake is named with its line."""
    from homepath.core.files.site_file import read_notation
    from homepath.core.model.visible import visible
    from homepath.files import read_text

    notation = read_notation(read_text(file, "the notation"), str(file))
    typer.echo(f"{file} is a notation of {visible(notation.host)}, and nothing in it is wrong.")


@app.command("read")
def read(
    domain: Annotated[str, typer.Argument(help="The domain that the rows are of.")],
    file: Annotated[
        Path | None, typer.Argument(help="Rows of the form or its export; without it, or as -, stdin.")
    ] = None,
    host: Annotated[str, typer.Option(help="The DNS host's name.")] = "your DNS host",
    server: Annotated[
        list[str] | None,
        typer.Option(help="A pattern of its nameservers, such as *.mossgate.example. May be repeated."),
    ] = None,
    ttl: Annotated[list[str] | None, typer.Option(help="A TTL that the form offers. May be repeated.")] = None,
    lacks: Annotated[list[str] | None, typer.Option(help="A type that the form lacks. May be repeated.")] = None,
    to: Annotated[
        Path | None, typer.Option("--to", help="Write the notation here. Default: standard output.", show_default=False)
    ] = None,
    plain: PlainOption = False,
) -> None:
    """Learn from a few rows how a form writes its records.

    Pasted rows, or an export: names, dots, quotes and times.
    """
    from dataclasses import replace

    from homepath.app.start import read_typed
    from homepath.cli import status
    from homepath.cli.page import pasted_text
    from homepath.cli.show.paper import paper
    from homepath.core.dns.names import shown
    from homepath.core.files.site_file import read_notation
    from homepath.core.model.problems import BadInput, Problem
    from homepath.core.page_reader.form_hints import Forwarding, form_hints, notation_text, to_ask
    from homepath.files import write_text

    name = shown(read_typed(domain).domain)
    hints = form_hints(pasted_text(file), name)
    if not hints.types:
        hint = "copy some rows of the form, with their headings"
        raise BadInput(Problem("no record was found in this text", str(file or "standard input"), hint=hint))
    times, missing, alias, forwarding = list(ttl or ()), list(lacks or ()), hints.apex_alias, "unknown"
    if sys.stdin.isatty() and sys.stderr.isatty():
        hints = _asked(hints)
        times = times or _several("Which TTLs does it offer (such as 5 min, 1 h)")
        missing = missing or _several("Which types does it lack (such as CAA, SRV)")
        alias = alias or _word("Its word for an alias at the domain itself (such as ALIAS)")
        question = "Can it forward a name: none, http, https, or unknown"
        forwarding = _one_of(question, get_args(Forwarding), "unknown")
    known = {
        "types": bool(missing),
        "ttls": bool(times),
        "alias": bool(alias),
        "forwarding": forwarding != "unknown",
        "apex": hints.apex is not None,
        "names": hints.names is not None,
        "final-dot": hints.final_dot is not None,
        "quotes": hints.quotes is not None,
    }
    left = tuple(each for each in hints.unknown if not known[each])
    hints = replace(hints, unknown=left, apex_alias=alias or None)
    text = notation_text(host, hints, server or (), missing, times, cast("Forwarding", forwarding))
    read_notation(text, str(to or "the notation"))
    sheet = paper(plain, sys.stderr)
    sheet.say(f"Learned from {len(hints.types)} types of records:")
    shown_names = {"": "not shown", "@": "@", "blank": "an empty name", "full": f"in full, {name}"}
    sheet.table(
        [
            ("the domain itself", shown_names[hints.apex or ""]),
            ("other names", {"": "not shown", "full": "in full", "relative": "without the domain"}[hints.names or ""]),
            ("targets", _dot(hints.final_dot, "with the dot at the end", "without a dot")),
            ("texts", _dot(hints.quotes, "in quotes", "without quotes")),
        ]
    )
    if hints.unknown:
        sheet.heading("The rows do not show")
        for each in to_ask(hints):
            sheet.say(each, 2)
        sheet.say("Ask for it: homepath sheet --question", 2)
    if to:
        write_text(to, text)
        typer.echo(f"\nWritten to {to}. Name it with: homepath start {name} --notation {to}", err=True)
    else:
        sys.stdout.write(text)
    needed = (hints.apex, hints.names, hints.final_dot, hints.quotes)
    raise typer.Exit(status.NOT_YET if None in needed else 0)


def _word(question: str) -> str:
    """An answer that may be left open."""
    return str(
        typer.prompt(f"{question}; empty where you do not know", default="", show_default=False, err=True)
    ).strip()


def _several(question: str) -> list[str]:
    return [each.strip() for each in _word(f"{question}, with commas between").split(",") if each.strip()]


def _dot(word: str | None, with_it: str, without: str) -> str:
    return {"required": with_it, "forbidden": without, "tolerated": "either", None: "not shown"}[word]


def _one_of(question: str, words: Sequence[str], default: str | None = None) -> str:
    """One of these words, asked until it is one."""
    while (reply := str(typer.prompt(question, default=default, err=True)).strip()) not in words:
        typer.echo(f"Please one of: {', '.join(words)}", err=True)
    return reply


def _asked(hints: Hints) -> Hints:
    """What the rows do not show, asked on the terminal."""
    from dataclasses import replace

    def ask(question: str, choices: dict[str, str]) -> Any:
        return choices[_one_of(f"{question} ({', '.join(choices)})", list(choices))]

    if hints.apex is None:
        hints = replace(
            hints, apex=ask("The domain itself is written as", {"@": "@", "empty": "blank", "full": "full"})
        )
    if hints.names is None:
        hints = replace(hints, names=ask("Other names are written", {"short": "relative", "full": "full"}))
    if hints.final_dot is None:
        choices = {"yes": "required", "no": "forbidden", "either": "tolerated"}
        hints = replace(hints, final_dot=ask("Targets end with a dot", choices))
    if hints.quotes is None:
        hints = replace(hints, quotes=ask("TXT values are in quotes", {"yes": "required", "no": "forbidden"}))
    return hints
