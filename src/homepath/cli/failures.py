"""Errors as sentences: what was wrong, where, and what to do."""

from __future__ import annotations

import contextlib
import errno
import sys

from homepath.cli import status
from homepath.core.model.problems import BadInput, CouldNotCheck, HomePathError, Problem, Refused
from homepath.core.model.visible import visible
from homepath.core.wording.say import say


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
