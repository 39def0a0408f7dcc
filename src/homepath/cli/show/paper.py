"""Where commands write: sentences wrapped, tables aligned, values to copy alone and untouched on their line; findings,
and whether the site is up."""

from __future__ import annotations

import os
import shutil
import sys
import textwrap
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TextIO

from homepath.core.findings.registry import KINDS
from homepath.core.message import Text
from homepath.core.model.findings import Finding
from homepath.core.model.steps import Assessment
from homepath.core.model.visible import visible
from homepath.core.wording.overview import Noticed, noticed
from homepath.core.wording.say import say
from homepath.core.wording.words import TITLES, site_words


def show_site(sheet: Paper, assessment: Assessment) -> None:
    """Whether the site is up, on every screen."""
    if words := site_words(assessment):
        sheet.say(words)


def domain_causes(assessment: Assessment) -> list[Finding]:
    """What is wrong with the domain itself, such as a hold of the registry: the cause, whatever else a check found."""
    return [each for each in assessment.blockers if KINDS[each.code].about_domain]


def show_notes(sheet: Paper, findings: Sequence[Finding], title: str = "Worth knowing") -> None:
    """What needs no act."""
    show_noticed(sheet, noticed(findings), title)


def show_noticed(sheet: Paper, found: Sequence[Noticed], title: str = "Worth knowing") -> None:
    if found:
        sheet.heading(title)
    for each in found:
        sheet.say(f"{each.words}  ({each.code})", 2)
        if title == "Why" and KINDS[each.code].matters_before:
            sheet.say(each.cure, 4)


def with_causes(assessment: Assessment, findings: Sequence[Finding]) -> tuple[Finding, ...]:
    """What one part of a check found, at the final levels, and before it what is in the way now by any other part."""
    found = assessment.levelled(findings)
    return (*(each for each in assessment.blockers if each not in found), *found)


def in_the_way(assessment: Assessment, findings: Sequence[Finding]) -> list[Finding]:
    """Those that the act of now is about; other blockers have time until their own step."""
    now = {(each.code, each.name, each.type) for each in assessment.blockers}
    return [each for each in findings if (each.code, each.name, each.type) in now]


def show_findings(sheet: Paper, findings: Sequence[Finding], assessment: Assessment) -> None:
    """What is in the way now, then what is to be fixed, then what is worth knowing."""
    now = in_the_way(assessment, findings)
    rest = [each for each in findings if each not in now]
    groups = (now, [e for e in rest if e.level != "note"], [e for e in rest if e.level == "note"])
    for title, found in zip(TITLES.values(), groups, strict=True):
        if found:
            sheet.heading(title)
        for each in noticed(found):
            sheet.say(f"{each.words}  ({each.code})", 2)
            if each.cure:
                sheet.say(each.cure, 4)


WIDEST = 100
_STYLES = {"good": "32", "wait": "33", "bad": "31;1", "dim": "2", "strong": "1"}
TONES = {
    **dict.fromkeys(("settled", "arrived", "new", "keep", "good", "agrees", "connected"), "good"),
    **dict.fromkeys(
        ("spreading", "waiting", "not-entered", "old", "absent", "risk", "ending", "replace", "add"), "wait"
    ),
    **dict.fromkeys(
        ("entered-wrong", "split", "broken", "other", "mixed", "blocker", "remove", "loop", "no-answer", "unsafe"),
        "bad",
    ),
    **dict.fromkeys(("silent", "note", "unknown"), "dim"),
}


@dataclass(slots=True)
class Paper:
    """One place to write to. Colour is only ever added to words that say the same without it."""

    out: TextIO
    width: int
    colour: bool

    def say(self, text: Text, indent: int = 0) -> None:
        """A paragraph, wrapped; nothing from outside stays unspelled."""
        for line in _wrapped(text, self.width - indent):
            self.out.write(" " * indent + line + "\n")

    def item(self, head: str, tone: str, text: Text, indent: int = 2) -> None:
        """A word in its tone, and beside it a paragraph that wraps below itself."""
        left = indent + len(head) + 1
        first, *more = _wrapped(text, self.width - left)
        self.out.write(" " * indent + f"{self.toned(head, tone)} {first}".rstrip() + "\n")
        for line in more:
            self.out.write(" " * left + line + "\n")

    def hang(self, head: str, text: Text, indent: int = 2) -> None:
        """Something drawn, and beside it a paragraph that wraps below itself."""
        left = indent + len(head)
        first, *more = _wrapped(text, max(20, self.width - left))
        self.out.write((" " * indent + head + first).rstrip() + "\n")
        for line in more:
            self.out.write(" " * left + line + "\n")

    def blank(self) -> None:
        self.out.write("\n")

    def heading(self, text: str) -> None:
        self.out.write("\n" + self.toned(visible(text), "strong") + "\n")

    def value(self, text: str, indent: int = 6) -> None:
        """A value that will be copied: alone, never wrapped or cut."""
        self.out.write(" " * indent + visible(text) + "\n")

    def toned(self, text: str, tone: str | None) -> str:
        code = _STYLES.get(tone or "")
        return f"\x1b[{code}m{text}\x1b[0m" if self.colour and code else text

    def state(self, word: str, width: int = 0) -> str:
        """A state word, padded, coloured where colours are on."""
        return self.toned(word.ljust(width), TONES.get(word))

    def columns(self, rows: Sequence[Sequence[str]], header: Sequence[str], wrap: int, indent: int = 2) -> None:
        """Columns aligned, of which the one at `wrap` wraps below itself when the whole does not fit."""
        shown = [list(header), *([visible(cell) for cell in row] for row in rows)]
        widths = [max(len(row[at]) for row in shown) for at in range(len(header))]
        others = sum(width for at, width in enumerate(widths) if at != wrap) + 2 * (len(widths) - 1)
        widths[wrap] = max(16, min(widths[wrap], self.width - indent - others))
        for number, row in enumerate(shown):
            lines = textwrap.wrap(row[wrap], widths[wrap], break_long_words=False, break_on_hyphens=False) or [""]
            for line, text in enumerate(lines):
                cells = [text if at == wrap else cell if line == 0 else "" for at, cell in enumerate(row)]
                out = "  ".join(cell.ljust(width) for cell, width in zip(cells, widths, strict=True)).rstrip()
                self.out.write(" " * indent + (self.toned(out, "dim") if number == 0 else out) + "\n")

    def table(self, rows: Sequence[Sequence[str]], indent: int = 2, header: Sequence[str] = ()) -> None:
        """Columns aligned; the last one wraps below itself when it does not fit."""
        shown = [[visible(cell) for cell in row] for row in rows]
        if header:
            shown.insert(0, list(header))
        if not shown:
            return
        widths = [max(len(row[at]) for row in shown) for at in range(len(shown[0]) - 1)]
        left = indent + sum(widths) + 2 * len(widths)
        room = max(24, self.width - left)
        for number, row in enumerate(shown):
            last = textwrap.wrap(row[-1], room, break_long_words=False, break_on_hyphens=False) or [""]
            cells = [cell.ljust(width) for cell, width in zip(row[:-1], widths, strict=True)]
            if header and number == 0:
                self.out.write(self.toned(" " * indent + "  ".join([*cells, last[0]]), "dim").rstrip() + "\n")
                continue
            coloured = [self.toned(cell, TONES.get(cell.strip())) for cell in cells]
            end = self.toned(last[0], TONES.get(last[0]))
            self.out.write((" " * indent + "  ".join([*coloured, end])).rstrip() + "\n")
            for more in last[1:]:
                self.out.write(" " * left + more + "\n")


def _wrapped(text: Text, width: int) -> list[str]:
    return textwrap.wrap(visible(say(text)), width, break_long_words=False, break_on_hyphens=False) or [""]


def paper(plain: bool = False, out: TextIO | None = None) -> Paper:
    """Stdout as it is: at most 100 columns, colours only on a terminal that wants them."""
    out = out or sys.stdout
    terminal = out.isatty()
    width = min(WIDEST, shutil.get_terminal_size((WIDEST, 24)).columns) if terminal else WIDEST
    return Paper(out, max(width, 40), terminal and not plain and "NO_COLOR" not in os.environ)
