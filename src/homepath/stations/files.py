"""Reading and writing the files people own: never half-written, never silently replaced."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path
from typing import BinaryIO

from homepath.core.model.problems import BadInput, Problem

BIGGEST = 100_000_000
"""Octets; a larger input file is refused."""


def read_text(path: Path, what: str, hint: str = "") -> str:
    """The text of a file. Raises BadInput saying why it cannot be read."""
    try:
        if path.stat().st_size > BIGGEST:
            raise BadInput(Problem(f"{what} is larger than {BIGGEST // 1_000_000} MB", str(path)))
        return path.read_bytes().decode("utf-8-sig")
    except FileNotFoundError as error:
        raise BadInput(Problem(f"{what} is not there", str(path), hint=hint or None)) from error
    except UnicodeDecodeError as error:
        raise BadInput(
            Problem(f"{what} is not UTF-8 text", str(path), hint="save it as UTF-8 and try again")
        ) from error
    except OSError as error:
        raise BadInput(
            Problem(f"{what} cannot be read: {(error.strerror or str(error)).lower()}", str(path))
        ) from error


def read_stream(stream: BinaryIO, what: str) -> str:
    """The text that comes in on a stream, bounded like a file. Raises BadInput."""
    octets = stream.read(BIGGEST + 1)
    if len(octets) > BIGGEST:
        raise BadInput(Problem(f"{what} is larger than {BIGGEST // 1_000_000} MB"))
    try:
        return octets.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadInput(Problem(f"{what} is not UTF-8 text", hint="save it as UTF-8 and try again")) from error


def write_text(path: Path, text: str) -> None:
    """Write a file whole or not at all. Raises BadInput when the folder refuses."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name}.")
    except OSError as error:
        raise _unwritable(path, error) from error
    try:
        with os.fdopen(handle, "w", encoding="utf-8", newline="\n") as file:
            file.write(text)
            file.flush()
            os.fsync(file.fileno())
        Path(temporary).chmod(0o644)
        Path(temporary).replace(path)
    except OSError as error:
        Path(temporary).unlink(missing_ok=True)
        raise _unwritable(path, error) from error


def _unwritable(path: Path, error: OSError) -> BadInput:
    reason = (error.strerror or str(error)).lower()
    return BadInput(Problem(f"this file cannot be written: {reason}", str(path), hint="nothing was changed"))
