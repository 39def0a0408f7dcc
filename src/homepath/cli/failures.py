"""Errors as sentences: what was wrong, where, and what to do."""

from __future__ import annotations

import sys

from homepath.cli import status
from homepath.core.model.problems import BadInput, CouldNotLook, HomePathError, Problem, Refused
from homepath.core.model.visible import visible


def _say(text: str) -> None:
    sys.stderr.write(text + "\n")


def report_failure(error: HomePathError) -> int:
    """Say it on stderr; the exit status."""
    if isinstance(error, BadInput):
        count = len(error.problems)
        _say("This needs mending first:" if count == 1 else f"{count} things need mending first:")
        for problem in error.problems:
            _say(_problem(problem))
        return status.BAD_INPUT
    _say(visible(_sentence(str(error))))
    if isinstance(error, Refused | CouldNotLook) and error.hint:
        _say(f"  What to do: {visible(error.hint)}")
    return status.COULD_NOT_LOOK if isinstance(error, CouldNotLook) else status.WRONG


def _problem(problem: Problem) -> str:
    said = _sentence(problem.message)
    if problem.seen:
        said += f" (found: {visible(problem.seen)})"
    lines = [f"  {visible(problem.place)}", f"    {visible(said)}"] if problem.place else [f"  {visible(said)}"]
    if problem.hint:
        lines.append(f"    What to do: {visible(problem.hint)}")
    return "\n".join(lines)


def _sentence(text: str) -> str:
    from homepath.core.formats.words import sentence_start  # only where something failed: it costs time to load

    text = sentence_start(text)
    return text if text.endswith((".", "!", "?")) else f"{text}."
