"""Reads a page from a file or the terminal, and shows its table before anything is written."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, cast

import typer

if TYPE_CHECKING:
    from homepath.app.start import PageRead
    from homepath.cli.show.paper import Paper
    from homepath.core.page_reader.brief_text import BriefText, Values
    from homepath.core.page_reader.page import Page, Picks


def pasted_text(file: Path | None) -> str:
    """The text of a page. On a terminal without a file it is pasted, and two empty lines end it. Raises BadInput."""
    from homepath.app.page_files import page_text, read_page_file
    from homepath.files import read_stream

    if file is not None and str(file) != "-":
        return read_page_file(file)
    if sys.stdin.isatty():
        return _pasted_into_terminal()
    return page_text(read_stream(sys.stdin.buffer, "the page"), "standard input")


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
        raise BadInput(Problem("this choice does not exist", key="--values", seen=word, hint="stay or ask"))
    return cast("Values", word)


EnterOption = Annotated[list[int] | None, typer.Option(metavar="N", help="Enter row N of the page's table.")]
LeaveOption = Annotated[list[int] | None, typer.Option(metavar="N", help="Leave row N of the page's table out.")]
HostOption = Annotated[list[str] | None, typer.Option(metavar="N=NAME", help="Enter row N at this name.")]
TypeOption = Annotated[
    list[str] | None, typer.Option("--type", metavar="N=TYPE", help="Enter row N as a record of this type.")
]


@dataclass(frozen=True, slots=True)
class Asked:
    """The options that say how to read a page. `domain`, `label`: the user's domain, and the label of the site."""

    domain: str | None
    label: str
    builder: str
    way: str
    values: Values
    picks: Picks
    yes: bool


def picks_of(
    enter: Sequence[int] | None, leave: Sequence[int] | None, hosts: Sequence[str] | None, types: Sequence[str] | None
) -> Picks:
    """The rows of the table that the options name. Raises BadInput."""
    from homepath.core.page_reader.page import Picks

    return Picks(
        frozenset(enter or ()), frozenset(leave or ()), _by_number(hosts, "--host"), _by_number(types, "--type")
    )


def _by_number(given: Sequence[str] | None, option: str) -> dict[int, str]:
    from homepath.core.model.problems import BadInput, Problem

    found = {}
    for text in given or ():
        number, mark, word = text.partition("=")
        if not mark or not number.strip().isdecimal() or not word.strip():
            raise BadInput(Problem("that names no row of the table", key=option, seen=text, hint=f"{option} 2=..."))
        found[int(number)] = word.strip()
    return found


def brief_of_page(text: str, asked: Asked, sheet: Paper) -> BriefText | None:
    """The brief that a page makes, once its table was shown and everything in it is settled; None where it is not.
    Raises BadInput."""
    from homepath.app import start as station
    from homepath.cli.show.brief import show_other_lines, show_reading
    from homepath.core.model.problems import BadInput, Problem

    page = station.read_pasted(text, asked.domain)
    asking = sys.stdin.isatty() and sys.stderr.isatty() and not asked.yes
    while True:
        read = station.brief_of(
            page, asked.builder, label=asked.label, option=asked.way, values=asked.values, picks=asked.picks
        )
        show_reading(sheet, read.page, read.found)
        if not page.items:
            show_other_lines(sheet, page)
            hint = "copy the page's whole list of records, its headings included"
            raise BadInput(Problem("no record to enter was found on the page", key="--page", hint=hint))
        if not asking:
            break
        picks = _asked_on_terminal(asked.picks, page)
        if picks is None:
            break
        asked = replace(asked, picks=picks)
    found = read.found
    if found is None or (not asked.yes and not asking and (read.page.others or found.doubts)):
        _how_to_settle(read)
        return None
    return found


def _how_to_settle(read: PageRead) -> None:
    """The options that decide, for who has no terminal to answer on."""
    others = [item.number for item in read.page.items if item.bin == "other"]
    first = others[0] if others else 1
    which = ", ".join(map(str, others[:20]))
    about = f" {'Row' if len(others) == 1 else 'Rows'} {which} may be wanted or not." if others else ""
    typer.echo(f"Nothing was written.{about} Run the same command again with:", err=True)
    typer.echo(f"  --enter {first}  to enter row {first}, --leave {first}  to leave it out", err=True)
    typer.echo(f"  --host {first}=NAME or --type {first}=TYPE  to enter it with what the page does not say", err=True)
    if read.found is not None and read.found.options:
        typer.echo(f"  --way MARK  to choose one of the page's alternatives: {', '.join(read.found.options)}", err=True)
    typer.echo("  --yes  to enter the ticked rows alone", err=True)


def _asked_on_terminal(picks: Picks, page: Page) -> Picks | None:
    """What a person types at the table: None for yes, else the picks with the new one. Raises typer.Abort for q."""
    while True:
        reply = typer.prompt(
            "Is this what your page asks for? Enter: yes. Or numbers to tick or untick, such as 3,"
            " or 2 host shop, 2 type TXT; q stops",
            default="", show_default=False, err=True,
        ).strip()  # fmt: skip
        if reply.lower() in ("", "y", "yes"):
            return None
        if reply.lower() in ("q", "quit"):
            raise typer.Abort
        new = _picked_in_words(picks, page, reply)
        if new is not None:
            return new
        typer.echo("Type the numbers of the rows that are wrong: each is ticked or unticked.", err=True)


def _picked_in_words(picks: Picks, page: Page, reply: str) -> Picks | None:
    """`3`, `3 5`, `2 host shop`, `2 type TXT`; None for anything else."""
    from homepath.core.model.problems import BadInput
    from homepath.core.page_reader.page import picked

    words = reply.replace(",", " ").split()
    if len(words) == 3 and words[0].isdecimal() and words[1].lower() in ("host", "type"):
        number = int(words[0])
        picks = replace(picks, leave=picks.leave - {number})
        if words[1].lower() == "host":
            new = replace(picks, hosts={**picks.hosts, number: words[2]})
        else:
            new = replace(picks, types={**picks.types, number: words[2]})
    elif words and all(word.isdecimal() for word in words):
        now = {item.number for item in picked(page, picks).items if item.bin == "enter"}
        numbers = frozenset(map(int, words))
        new = replace(
            picks,
            enter=(picks.enter | (numbers - now)) - (numbers & now),
            leave=(picks.leave | (numbers & now)) - (numbers - now),
        )
    else:
        return None
    try:
        picked(page, new)
    except BadInput as error:
        from homepath.cli.status import report_failure

        report_failure(error)
        return picks
    return new


def brief_by_asking(asked: Asked, sheet: Paper) -> BriefText | Path | None:
    """On a terminal without page and brief: paste the page, name a file, or answer questions."""
    typer.echo("What does your builder ask for? Choose how to say it:")
    typer.echo("  1  paste the page that lists the records")
    typer.echo("  2  name a file: the page saved as text, or a brief")
    typer.echo("  3  answer questions")
    way = typer.prompt("Which", default="1").strip()
    if way.startswith("2"):
        file = Path(typer.prompt("The file").strip())
        return file if file.name.endswith(".toml") else brief_of_page(pasted_text(file), asked, sheet)
    if way.startswith("3"):
        return brief_of_page(_by_questions(), asked, sheet)
    return brief_of_page(_pasted_into_terminal(), asked, sheet)


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
