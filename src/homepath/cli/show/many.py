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
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any, get_args

from homepath.cli.show.paper import TONES, Paper, paper
from homepath.core.contracts.many import UNKNOWN
from homepath.core.model.findings import LEVELS
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.steps import Stage
from homepath.core.model.visible import visible, visible_in_table
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting, many, sentence_start
from homepath.core.wording.words import STANDS_ORDER, stands, what_next

if TYPE_CHECKING:
    from homepath.bulk.run import Progress
if TYPE_CHECKING:
    from homepath.bulk.run import Ran
    from homepath.bulk.site_state import Run
    from homepath.bulk.state import State


EVERY = 10.0
"""Seconds between two words of progress where no one watches a terminal."""
MOST_HELD = 10_000
"""Problems that are held back at most; more of them are not said."""


class ProgressLine:
    """Count, rate and time left on stderr: one line that renews itself on a terminal, else a line now and then."""

    def __init__(self, quiet: bool = False) -> None:
        self._live = sys.stderr.isatty()
        self._quiet = quiet and not self._live
        self._said = time.monotonic()
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
        if now - self._said < (0.2 if self._live else EVERY) or self._quiet:
            return
        self._said = now
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


STAGES = (*get_args(Stage), UNKNOWN)


@dataclass(frozen=True, slots=True)
class Filter:
    """Which lines are shown. `worst`: findings of this level or a worse one."""

    only: tuple[str, ...] = ()
    worst: str | None = None
    changed: bool = False

    def of(self, state: State, run: Run) -> Iterator[dict[str, Any]]:
        """The lines that are shown, in the list's order; `changed` in a line is of this run."""
        levels = LEVELS[: LEVELS.index(self.worst) + 1] if self.worst in LEVELS else LEVELS
        for changed, line in state.lines(run, self.changed):
            line["changed"] = changed
            if self.only and line["stage"] not in self.only:
                continue
            if self.worst and (line["worst"] is None or line["worst"]["level"] not in levels):
                continue
            yield line


def check_filter(chosen: Filter) -> Filter:
    """Raises BadInput for a stage or level that there is not."""
    problems = [
        Problem("this stage does not exist", key="--only", seen=each, hint=f"one of {', '.join(STAGES)}")
        for each in chosen.only
        if each not in STAGES
    ]
    if chosen.worst is not None and chosen.worst not in LEVELS:
        problems.append(
            Problem("this level does not exist", key="--worst", seen=chosen.worst, hint=f"one of {', '.join(LEVELS)}")
        )
    if problems:
        raise BadInput(*problems)
    return chosen


def print_rows(state: State, ran: Ran, chosen: Filter, form: str, plain: bool, path: Path) -> None:
    """The lines on stdout, in the list's order; memory holds one of them."""
    if form == "json":
        for line in chosen.of(state, ran.run):
            sys.stdout.write(json.dumps(line, ensure_ascii=True) + "\n")
        return
    if form == "csv":
        writer = csv.writer(sys.stdout, lineterminator="\n")
        writer.writerow(COLUMNS)
        for line in chosen.of(state, ran.run):
            writer.writerow([visible_in_table(cell) for cell in cells(line).values()])
        return
    _table(state, ran, chosen, paper(plain), path)


COLUMNS = (
    *("domain", "site_up", "verdict", "stage", "do", "where", "wait_until", "worst", "worst_level", "worst_name"),
    *("changed", "since", "looked_at", "next_look", "trouble"),
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
        "changed": "yes" if line["changed"] else "no",
    }
    return {key: "" if value is None else str(value) for key, value in found.items()}


_STANDS_TONES = {"arrived": "good", "waiting": "wait", "to do": "wait", "to fix": "bad", "unknown": "dim"}


def _table(state: State, ran: Ran, chosen: Filter, sheet: Paper, path: Path) -> None:
    count: Counter[str] = Counter()
    widest = 6
    shown = 0
    for line in chosen.of(state, ran.run):
        widest = max(widest, len(visible(line["domain"])) - 1)
        shown += 1
    if chosen.changed and not shown:
        return
    for _, line in state.lines():
        count[stands(line)] += 1
    total = sum(count.values())
    parts = [f"{count[word]} {word}" for word in STANDS_ORDER if count[word]]
    sheet.say(f"{total} {'domain' if total == 1 else 'domains'} in {path.name}: {', '.join(parts) or 'none'}.")
    if ran.bad:
        sheet.say(f"{ran.bad} {'row' if ran.bad == 1 else 'rows'} of the list cannot be used; they are named above.")
    never = state.never_checked()
    if never:
        sheet.say(f"{never} were not checked yet.")
    if not shown:
        return
    sheet.blank()
    width = min(widest, 40)
    room = max(24, sheet.width - 2 - width - 2 - 8 - 9)
    header = f"  {'domain'.ljust(width)}  {'site'.ljust(8)}{'state'.ljust(9)}next"
    sheet.out.write(sheet.toned(header, "dim") + "\n")
    first: dict[str, Any] | None = None
    for line in chosen.of(state, ran.run):
        _row(sheet, line, width, room)
        first = line if first is None and line["verdict"] != "as-wanted" else first
    if next(state.lines(ran.run, changed=True), None) is not None:
        sheet.say("* changed since the last run", 0)
    sheet.blank()
    if first is not None:
        name = first["domain"].removesuffix(".")
        sheet.say("One of them in full:")
        sheet.value(f"homepath next --from {path} {name}", 2)


def _row(sheet: Paper, line: dict[str, Any], width: int, room: int) -> None:
    domain = visible(line["domain"].removesuffix("."))
    word = stands(line)
    mark = "*" if line["changed"] else " "
    text = textwrap.wrap(visible(what_next(line)), room, break_long_words=False, break_on_hyphens=False) or [""]
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
