"""What happens when a wait is over: a bell, or a command of the user's own that is given the JSON."""

from __future__ import annotations

import json
import shlex
import shutil
import subprocess
import sys
from typing import Any

from homepath.core.model.problems import BadInput, Problem


def words_of(command: str) -> list[str]:
    """The words of a command line, checked before the wait begins. Raises BadInput.

    No shell reads them: `;`, `|` and `$` mean nothing, so nothing that comes from outside can become a command.
    """
    try:
        words = shlex.split(command)
    except ValueError as error:
        raise BadInput(Problem(f"this is no command: {str(error).lower()}", key="--then", seen=command)) from error
    if not words or shutil.which(words[0]) is None:
        hint = "give a program that can be found, with its arguments; no shell is involved"
        raise BadInput(Problem("there is no such program", key="--then", seen=words[0] if words else "", hint=hint))
    return words


def run_then(words: list[str], value: dict[str, Any]) -> int:
    """Run the command with `value` as JSON on its standard input; its exit status, 127 where it could not be run."""
    try:
        done = subprocess.run(words, input=json.dumps(value) + "\n", text=True, check=False)  # noqa: S603 - the user's own command
    except OSError as error:
        sys.stderr.write(f"The command of --then could not be run: {(error.strerror or '').lower()}.\n")
        return 127
    if done.returncode:
        sys.stderr.write(f"The command of --then ended with status {done.returncode}.\n")
    return done.returncode


def ring() -> None:
    """The terminal's bell, where there is a terminal."""
    if sys.stderr.isatty():
        sys.stderr.write("\a")
        sys.stderr.flush()
