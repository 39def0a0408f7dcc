"""How far a run over many domains is, and what is wrong with its list: on stderr."""

from __future__ import annotations

import hashlib
import shutil
import sys
import time
from typing import TYPE_CHECKING

from homepath.core.model.problems import Problem
from homepath.core.model.visible import visible
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting

if TYPE_CHECKING:
    from homepath.bulk.run import Progress

EVERY = 10.0
"""Seconds between two words of progress where nobody watches a terminal."""
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
            self._write(f"Going on with a run that was broken off: {progress.done} of {progress.of} are looked at.\n")
        if now - self._said < (0.2 if self._live else EVERY) or self._quiet:
            return
        self._said = now
        left = f" · {lasting(progress.left)} left" if progress.left is not None else ""
        words = f"{progress.done} of {progress.of} looked at · {progress.rate:.1f} a second{left}"
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
        """What was held back, because nothing that was said before is said again."""
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
    done = f"{last.done} of {last.of} domains are looked at and kept" if last else "nothing was looked at yet"
    sys.stderr.write(f"Stopped: {done}. The same command goes on from there.\n")
