"""Many domains on a terminal, in a pipe, and the progress line."""

from __future__ import annotations

import csv
import hashlib
import json
import shutil
import sys
import textwrap
import time
from collections import Counter
from collections.abc import Iterable, Sequence
from heapq import nsmallest
from pathlib import Path
from typing import TYPE_CHECKING, Any

from homepath.cli.show.many_views import show_causes
from homepath.cli.show.paper import TONES, Paper, paper
from homepath.core.contracts.many import by_cause
from homepath.core.model.problems import Problem
from homepath.core.model.visible import visible, visible_in_table
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting, many, sentence_start
from homepath.core.wording.words import STATE_ORDER, state_word, what_next

if TYPE_CHECKING:
    from homepath.bulk.run import Progress, Ran
    from homepath.bulk.state import State
    from homepath.bulk.views import Filter


EVERY = 10.0
"""Seconds between two words of progress where no one watches a terminal."""
MOST_HELD = 10_000
"""Problems that are held back at most; more of them are not said."""


class ProgressLine:
    """Count, rate and time left on stderr: one line that renews itself on a terminal, else a line now and then."""

    def __init__(self, quiet: bool = False) -> None:
        self._live = sys.stderr.isatty()
        self._quiet = quiet and not self._live
        self._shown_at = time.monotonic()
        self._open = False
        self._hold = quiet
        self._held: list[str] = []
        self._mark = hashlib.blake2b(digest_size=8)
        self.last: Progress | None = None

    def __call__(self, progress: Progress) -> None:
        first, self.last = self.last is None, progress
        now = time.monotonic()
        if first and progress.done:
            self._write(f"Continuing an interrupted run: {progress.done} of {progress.of} are checked.\n")
        if progress.again and not self._quiet:
            self.end()
            them = many(progress.again, "domain was", "domains were")
            self._write(f"{sentence_start(them)} fine before and may not be now: checking again first.\n")
        if now - self._shown_at < (0.2 if self._live else EVERY) or self._quiet:
            return
        self._shown_at = now
        left = f" · {lasting(progress.left)} left" if progress.left is not None else ""
        words = f"{progress.done} of {progress.of} checked · {progress.rate:.1f} a second{left}"
        if self._live:
            self._write(f"\r\x1b[K{words[: shutil.get_terminal_size().columns - 1]}")
            self._open = True
        else:
            self._write(words + "\n")

    def rows(self, count: int) -> None:
        """So many rows of the list are read."""
        if self._live:
            self._write(f"\r\x1b[KReading the list: {count} rows")
            self._open = True

    def problem(self, problem: Problem) -> None:
        """One thing that is wrong in the list: said at once, or held until it is known to be new."""
        place = f"{problem.place}: " if problem.place else ""
        seen = f" (found: {problem.seen})" if problem.seen else ""
        hint = f" What to do: {say(problem.hint)}." if problem.hint else ""
        words = visible(f"{place}{say(problem.message)}{seen}.{hint}") + "\n"
        self._mark.update(words.encode())
        if not self._hold:
            self._write(words)
        elif len(self._held) < MOST_HELD:
            self._held.append(words)

    @property
    def problems(self) -> str:
        """A mark of all that was wrong in the list."""
        return self._mark.hexdigest()

    def say_held(self) -> None:
        """Problems that are new since the last run."""
        for words in self._held:
            self._write(words)

    def end(self) -> None:
        """Nothing of it stays on the terminal."""
        if self._open:
            self._write("\r\x1b[K")
            self._open = False

    @staticmethod
    def _write(words: str) -> None:
        sys.stderr.write(words)
        sys.stderr.flush()


def say_stopped(progress: ProgressLine) -> None:
    progress.end()
    last = progress.last
    done = f"{last.done} of {last.of} domains are checked and saved" if last else "nothing was checked yet"
    sys.stderr.write(f"Stopped: {done}. The same command continues from there.\n")


def print_rows(
    state: State, ran: Ran, chosen: Filter, form: str, plain: bool, path: Path, upto: int, every: bool = False
) -> None:
    """The lines on stdout; memory holds one of them. `upto`: the newest change that counts as shown now; `every`: also
    where they fill more than a screen."""
    if form == "json":
        for line in chosen.of(state, ran.run, upto):
            sys.stdout.write(json.dumps(line, ensure_ascii=True) + "\n")
        return
    if form == "csv":
        own = tuple(next((line["columns"] for line in state.lines()), ()))
        writer = csv.writer(sys.stdout, lineterminator="\n")
        writer.writerow([visible_in_table(name) for name in (*COLUMNS, *own)])
        for line in chosen.of(state, ran.run, upto):
            mine = [line["columns"].get(name, "") for name in own]
            writer.writerow([visible_in_table(cell) for cell in (*cells(line).values(), *mine)])
        return
    _table(state, ran, chosen, paper(plain), path, upto, every)


COLUMNS = (
    *("domain", "site_up", "verdict", "stage", "act", "do", "where", "host", "builder", "wait_until"),
    *("worst", "worst_level", "worst_name", "changed", "was", "since", "looked_at", "next_look", "trouble"),
)


SITE = {True: "up", False: "not up", None: "?"}
"""Whether the site answers visitors, in the table and for a spreadsheet."""


def site_up(line: dict[str, Any]) -> bool | None:
    assessment: dict[str, Any] = line["assessment"] or {}
    return assessment.get("site_up")


def cells(line: dict[str, Any]) -> dict[str, str]:
    """A line as one row of a table."""
    worst = line["worst"] or {}
    found = {
        **{key: line.get(key) for key in COLUMNS},
        "domain": line["domain"].removesuffix("."),
        "site_up": SITE[site_up(line)],
        "worst": worst.get("code"),
        "worst_level": worst.get("level"),
        "worst_name": worst.get("name"),
        "act": (line["act"] or {}).get("kind"),
        "changed": "yes" if line["changed"] else "no",
        "was": stood(line),
    }
    return {key: "" if value is None else str(value) for key, value in found.items()}


_STANDS_TONES = {"arrived": "good", "waiting": "wait", "to do": "wait", "to fix": "bad", "unknown": "dim"}


def stood(line: dict[str, Any]) -> str:
    """The word for what a changed line was before; empty where it is not known."""
    was = (line["change"] or {}).get("was") or {}
    return state_word({"verdict": was.get("verdict"), "act": {"kind": was.get("act")}}) if was else ""


def _table(state: State, ran: Ran, chosen: Filter, sheet: Paper, path: Path, upto: int, every: bool) -> None:
    widest, fitting = 6, 0
    for line in chosen.of(state, ran.run, upto):
        widest = max(widest, len(visible(line["domain"])) - 1)
        fitting += 1
    if chosen.changed and not fitting:
        return
    count: Counter[str] = Counter(state_word(line) for line in state.lines())
    total = sum(count.values())
    parts = [f"{count[word]} {word}" for word in STATE_ORDER if count[word]]
    domains = "domain" if total == 1 else "domains"
    sheet.say(f"{total} {domains} in {path.resolve().name}: {', '.join(parts) or 'none'}.")
    if ran.bad:
        rows = "One row of the list" if ran.bad == 1 else f"{ran.bad} rows of the list"
        sheet.say(f"{rows} cannot be used: {'see above' if ran.named else f'homepath many {path}'}")
    never = state.never_checked()
    if never:
        sheet.say(f"{never} were not checked yet.")
    if not fitting:
        return
    lines = iter(chosen.of(state, ran.run, upto))
    if chosen.changed:
        causes, alone = by_cause(lines)
        show_causes(sheet, causes)
        lines, fitting = iter(alone), len(alone)
    room = fitting if every or not sheet.out.isatty() else max(5, shutil.get_terminal_size().lines - 10)
    first = _rows(sheet, worst_first(lines, min(room, fitting)), min(widest, 40)) if fitting else None
    if fitting > room:
        sheet.say(f"... and {fitting - room} more, less urgent: homepath many {path} --all", 2)
    if not chosen.changed and next(state.changes.of(run=ran.run.id), None) is not None:
        sheet.say("* new or changed since the last run", 0)
    sheet.blank()
    if first is not None:
        name = first["domain"].removesuffix(".")
        sheet.say("One of them in full:")
        sheet.value(f"homepath next --from {path} {name}", 2)


def worst_first(lines: Iterable[dict[str, Any]], most: int) -> list[dict[str, Any]]:
    """The `most` lines that need a person first."""
    return nsmallest(most, lines, key=lambda line: STATE_ORDER.index(state_word(line)))


def _rows(sheet: Paper, lines: Sequence[dict[str, Any]], width: int) -> dict[str, Any] | None:
    """The lines as a table; the first one that is not as wanted."""
    sheet.blank()
    room = max(24, sheet.width - 2 - width - 2 - 8 - 9)
    header = f"  {'domain'.ljust(width)}  {'site'.ljust(8)}{'state'.ljust(9)}next"
    sheet.out.write(sheet.toned(header, "dim") + "\n")
    troubles: dict[str, str] = {}
    for line in lines:
        name = troubles.setdefault(line["trouble"], visible(line["domain"].removesuffix(".")))
        same = line["trouble"] and name != line["domain"].removesuffix(".")
        _row(sheet, line, width, room, f"The same as for {name}." if same else what_next(line))
    return next((line for line in lines if line["verdict"] != "as-wanted"), None)


def _row(sheet: Paper, line: dict[str, Any], width: int, room: int, comes: str) -> None:
    domain = visible(line["domain"].removesuffix("."))
    word = state_word(line)
    mark = "*" if line["changed"] else " "
    before = f"Was {was}. " if (was := stood(line)) and was != word else ""
    text = textwrap.wrap(visible(before + comes), room, break_long_words=False, break_on_hyphens=False) or [""]
    site = SITE[site_up(line)].ljust(8)
    left = f"{mark} {domain.ljust(width)}  {site}"
    if len(domain) > width:
        sheet.out.write(f"{mark} {domain}\n")
        left = f"{' ' * (width + 4)}{site}"
    sheet.out.write(
        f"{left}{sheet.toned(word.ljust(9), _STANDS_TONES.get(word, TONES.get(word)))}{text[0]}".rstrip() + "\n"
    )
    for more in text[1:]:
        sheet.out.write(" " * (width + 21) + more + "\n")
