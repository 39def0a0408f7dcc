"""Runs `homepath` in a process of its own in which its modules are loaded already: starting Python for each of some
two thousand commands would take half of the time of all tests."""

from __future__ import annotations

import multiprocessing
import os
import pkgutil
import sys
import tempfile
import time
from collections.abc import Mapping, Sequence
from pathlib import Path

import homepath

_LOADED = [each.name for each in pkgutil.walk_packages(homepath.__path__, "homepath.") if "__main__" not in each.name]
_FORKS = multiprocessing.get_context("forkserver")
_FORKS.set_forkserver_preload([*_LOADED, "tests.ready_process"])


def run_ready(folder: Path, words: Sequence[str], env: Mapping[str, str], timeout: float) -> tuple[int, str, str]:
    """The exit status of `homepath WORDS` in `folder`, and what it wrote to standard output and to standard error.
    Standard input is empty. Raises TimeoutError after `timeout` seconds."""
    with tempfile.TemporaryDirectory() as written:
        process = _FORKS.Process(target=_command, args=(str(folder), list(words), dict(env), written))
        process.start()
        process.join(timeout)
        if process.exitcode is None:
            process.kill()
            raise TimeoutError(f"homepath {' '.join(words)} has not ended after {timeout:.0f} s")
        out, err = ((Path(written) / name).read_text("utf-8") for name in ("out", "err"))
    return process.exitcode, out, err


def _command(folder: str, words: list[str], env: dict[str, str], written: str) -> None:
    """What the installed script does, after the working folder, the environment and the streams are set."""
    from homepath.cli.app import main

    for number, name in ((1, "out"), (2, "err")):
        os.dup2(os.open(f"{written}/{name}", os.O_WRONLY | os.O_CREAT, 0o600), number)
    os.chdir(folder)
    os.environ.clear()
    os.environ.update(env)
    time.tzset()
    sys.argv[:] = ["homepath", *words]
    sys.stdin = open(os.devnull, encoding="utf-8")  # noqa: SIM115, PTH123 - as long as the process runs
    sys.stdout = open(1, "w", encoding="utf-8", closefd=False)  # noqa: SIM115
    sys.stderr = open(2, "w", encoding="utf-8", closefd=False, buffering=1)  # noqa: SIM115
    main()
