"""How a command ends: its exit status, the same everywhere, and errors as sentences."""

from __future__ import annotations

import contextlib
import errno
import json
import shlex
import shutil
import subprocess
import sys
from collections.abc import Iterable
from contextlib import suppress
from itertools import chain
from typing import Any

from homepath.cli import status
from homepath.core.contracts.many import Verdict
from homepath.core.findings.registry import kind_of
from homepath.core.model.problems import BadInput, CouldNotCheck, HomePathError, Problem, Refused
from homepath.core.model.survey import Compared
from homepath.core.model.visible import visible
from homepath.core.wording.say import say


def words_of(command: str) -> list[str]:
    """The words of a command line, checked before the wait begins. Raises BadInput.

    No shell reads them: `;`, `|` and `$` mean nothing, so nothing that comes from outside can become a command.
    """
    try:
        words = shlex.split(command)
    except ValueError as error:
        raise BadInput(Problem(f"this is not a command: {str(error).lower()}", key="--then", seen=command)) from error
    if not words or shutil.which(words[0]) is None:
        hint = "give a program that can be found, with its arguments; no shell is involved"
        raise BadInput(Problem("the program does not exist", key="--then", seen=words[0] if words else "", hint=hint))
    return words


def run_then(words: list[str], *values: dict[str, Any], more: Iterable[dict[str, Any]] = ()) -> int:
    """Run the command with values as JSON on its standard input, one a line; its exit status, 127 where it could not be
    run. It need not read them."""
    try:
        process = subprocess.Popen(words, stdin=subprocess.PIPE, text=True, encoding="utf-8")  # noqa: S603 - the user's own command
    except OSError as error:
        sys.stderr.write(f"The command of --then could not be run: {(error.strerror or '').lower()}.\n")
        return 127
    assert process.stdin is not None
    with suppress(BrokenPipeError):
        for value in chain(values, more):
            process.stdin.write(json.dumps(value, ensure_ascii=True) + "\n")
    with suppress(BrokenPipeError):
        process.stdin.close()
    if process.wait():
        sys.stderr.write(f"The command of --then ended with status {process.returncode}.\n")
    return process.returncode


def ring() -> None:
    """The terminal's bell, where there is a terminal."""
    if sys.stderr.isatty():
        sys.stderr.write("\a")
        sys.stderr.flush()


AS_WANTED = 0
NOT_YET = 1
BAD_INPUT = 2
WRONG = 3
COULD_NOT_CHECK = 4

OF_LINE: dict[Verdict, int] = {
    "as-wanted": AS_WANTED,
    "not-yet": NOT_YET,
    "bad-input": BAD_INPUT,
    "wrong": WRONG,
    "unknown": COULD_NOT_CHECK,
}
"""Of one domain of a list: the status that `homepath next` has for it."""


def of_lines(verdicts: Iterable[Verdict]) -> int:
    """The worst of a list: what is wrong counts more than what could not be checked."""
    return worst(OF_LINE[verdict] for verdict in verdicts)


def worst(statuses: Iterable[int]) -> int:
    order = (AS_WANTED, NOT_YET, BAD_INPUT, COULD_NOT_CHECK, WRONG)
    return max(statuses, key=order.index, default=AS_WANTED)


OF_COMPARED = {"ready": AS_WANTED, "not-ready": NOT_YET, "unknown": COULD_NOT_CHECK}


def of_compared(compared: Compared) -> int:
    """`compare` answers a question of its own. What is only missing can still be entered; a new nameserver that does
    not exist, or is the wrong one, has to be corrected."""
    wrong = any(
        each.level == "blocker" and kind_of(each).who == "you" and kind_of(each).fixed_by is None
        for each in compared.findings
    )
    return WRONG if wrong else OF_COMPARED[compared.verdict]


def _say(text: str) -> None:
    with contextlib.suppress(OSError, ValueError, AttributeError):  # no one is there to read it
        sys.stderr.write(text + "\n")


def report_failure(error: HomePathError) -> int:
    """Say it on stderr; the exit status."""
    if isinstance(error, BadInput):
        count = len(error.problems)
        _say("This needs fixing first:" if count == 1 else f"{count} things need fixing first:")
        for problem in error.problems:
            _say(_problem(problem))
        return status.BAD_INPUT
    _say(visible(_sentence(say(error.message))))
    if isinstance(error, Refused | CouldNotCheck) and error.hint:
        _say(f"  What to do: {visible(say(error.hint))}")
    return status.COULD_NOT_CHECK if isinstance(error, CouldNotCheck) else status.WRONG


def report_unforeseen(error: Exception) -> int:
    """One sentence for what no one foresaw; the details go to a file, so that they can be reported."""
    import os
    import tempfile
    import traceback

    if isinstance(error, OSError) and error.errno == errno.ENOSPC:
        with contextlib.suppress(Exception):
            os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
        _say("The output could not be written: no space is left there.")
        return status.COULD_NOT_CHECK
    where = ""
    try:
        handle, where = tempfile.mkstemp(prefix="homepath-failed-", suffix=".txt")
        with os.fdopen(handle, "w", encoding="utf-8", errors="backslashreplace") as file:
            file.write("".join(traceback.format_exception(error)))
    except OSError:
        where = ""
    details = f" The details were written to {where}." if where else ""
    _say(f"Something unexpected went wrong, and Home Path stopped.{details}")
    _say("  What to do: try again; if it happens again, tell us, with that file. HOMEPATH_TRACEBACK=1 shows it here.")
    return status.COULD_NOT_CHECK


def _problem(problem: Problem) -> str:
    line = _sentence(say(problem.message))
    if problem.seen:
        line += f" (found: {visible(problem.seen)})"
    lines = [f"  {visible(problem.place)}", f"    {visible(line)}"] if problem.place else [f"  {visible(line)}"]
    if problem.hint:
        lines.append(f"    What to do: {visible(say(problem.hint))}")
    return "\n".join(lines)


def _sentence(text: str) -> str:
    from homepath.core.wording.times import sentence_start

    text = sentence_start(text)
    return text if text.endswith((".", "!", "?")) else f"{text}."
