"""Reading and writing the files people own: never half-written, never silently replaced."""

from __future__ import annotations

import contextlib
import errno
import glob
import os
import stat
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import IO, BinaryIO

from homepath.core.message import Text, msg
from homepath.core.model.problems import BadInput, Problem

BIGGEST = 100_000_000
"""Octets; a larger input file is refused."""
SILENCE, LONGEST = 20.0, 300.0
"""Seconds for which a pipe may give nothing, and in which it must end."""


def read_text(path: Path, what: Text, hint: Text = "") -> str:
    """The text of a file. Raises BadInput saying why it cannot be read."""
    try:
        return read_octets(path, what, hint).decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadInput(
            Problem(msg("files.read-text", what=what), str(path), hint=msg("files.read-text.hint"))
        ) from error


def read_octets(path: Path, what: Text, hint: Text = "") -> bytes:
    """What a file holds, whatever it is; a device or a pipe too, as far as it ends. Raises BadInput saying why not."""
    try:
        handle = os.open(path, os.O_RDONLY | getattr(os, "O_NONBLOCK", 0))  # a pipe without a writer would hold us
        try:
            octets = _read_on(handle)
        finally:
            os.close(handle)
        if len(octets) > BIGGEST:
            raise BadInput(Problem(msg("files.read-octets", what=what, BIGGEST=BIGGEST // 1000000), str(path)))
        return octets
    except FileNotFoundError as error:
        raise BadInput(Problem(msg("files.read-octets-2", what=what), str(path), hint=hint or None)) from error
    except OSError as error:
        raise BadInput(
            Problem(msg("files.read-octets-3", what=what, lower=(error.strerror or str(error)).lower()), str(path))
        ) from error
    except ValueError as error:
        raise BadInput(
            Problem(msg("files.read-octets-3", what=what, lower=str(error)), repr(str(path))[:80])
        ) from error


def _read_on(handle: int) -> bytes:
    """All that comes, one octet more than is taken at most. Raises TimeoutError where a pipe is silent or endless."""
    begun = observed = time.monotonic()
    fifo, found = stat.S_ISFIFO(os.fstat(handle).st_mode), bytearray()
    while len(found) <= BIGGEST:
        try:
            came = os.read(handle, min(1 << 20, BIGGEST + 1 - len(found)))
        except BlockingIOError:
            came = None
        now = time.monotonic()
        if came:
            found += came
            observed = now
        elif came is not None and (found or not fifo):
            break
        if now - observed > SILENCE or now - begun > LONGEST:
            raise TimeoutError(errno.ETIMEDOUT, "nothing comes")
        if not came:
            time.sleep(0.02)  # a pipe that no one has opened for writing yet, or that is empty just now
    return bytes(found)


def read_stream(stream: BinaryIO, what: Text) -> bytes:
    """What comes in on a stream, bounded like a file. Raises BadInput."""
    try:
        waits = stream.isatty() or not stat.S_ISFIFO(os.fstat(stream.fileno()).st_mode)
        if not waits:
            os.set_blocking(stream.fileno(), False)
        octets = stream.read(BIGGEST + 1) if waits else _read_on(stream.fileno())
    except TimeoutError as error:
        raise BadInput(Problem(msg("files.read-octets-3", what=what, lower=error.strerror))) from error
    except (OSError, ValueError):  # no file behind it
        octets = stream.read(BIGGEST + 1)
    if len(octets) > BIGGEST:
        raise BadInput(Problem(msg("files.read-octets", what=what, BIGGEST=BIGGEST // 1000000)))
    return octets


def write_text(path: Path, text: str) -> None:
    """Write a text file whole or not at all, with `\\n` line ends. Raises BadInput when it cannot be written."""
    write_octets(path, text.encode("utf-8", "backslashreplace"))


def write_octets(path: Path, octets: bytes) -> None:
    """The one writer of everything that people name: a file is replaced whole or not at all.

    A symbolic link stays one, and the file that it points to is replaced; a device or a pipe is written to; a file that
    is there keeps its mode. What a killed run left beside it is deleted. Raises BadInput.
    """
    try:
        there = path.stat() if path.exists() else None
        if there is not None and stat.S_ISDIR(there.st_mode):
            raise IsADirectoryError(errno.EISDIR, os.strerror(errno.EISDIR))
        if there is not None and (not stat.S_ISREG(there.st_mode) or _of_the_system(path)):
            with path.open("wb") as stream:
                stream.write(octets)
            return
        goal = Path(os.path.realpath(path))
        goal.parent.mkdir(parents=True, exist_ok=True)
        _sweep(goal)
        handle, temporary = tempfile.mkstemp(dir=goal.parent, prefix=f".{goal.name}.", suffix=_PART)
    except (OSError, ValueError) as error:
        raise _unwritable(path, error) from error
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(octets)
            file.flush()
            os.fsync(file.fileno())
        Path(temporary).chmod(stat.S_IMODE(there.st_mode) if there else 0o666 & ~_umask())
        Path(temporary).replace(goal)
    except OSError as error:
        Path(temporary).unlink(missing_ok=True)
        raise _unwritable(path, error) from error


_PART = ".homepath-part"
_LEFT_OVER = 3600.0
"""Seconds after which a temporary file belongs to no run that is still writing."""


def _of_the_system(path: Path) -> bool:
    """`/dev/stdout` and the like: what is behind it is someone's open stream."""
    return str(path).startswith(("/dev/", "/proc/"))


def _sweep(goal: Path) -> None:
    for each in goal.parent.glob(f".{glob.escape(goal.name)}.*{_PART}"):
        with contextlib.suppress(OSError):
            if time.time() - each.stat().st_mtime > _LEFT_OVER:
                each.unlink()


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _unwritable(path: Path, error: OSError | ValueError) -> BadInput:
    reason = (getattr(error, "strerror", None) or str(error)).lower()
    return BadInput(Problem(msg("files.unwritable", reason=reason), str(path), hint=msg("files.unwritable.hint")))


@contextlib.contextmanager
def only_one(path: Path) -> Iterator[bool]:
    """Whether we are the first to hold this lock; it ends with the process, however that ends. Raises BadInput."""
    try:
        file = path.open("a+b")
    except OSError as error:
        raise _unwritable(path, error) from error
    with file:
        yield _locked(file)


def _locked(file: IO[bytes]) -> bool:
    try:
        if os.name == "nt":
            import msvcrt

            msvcrt.locking(file.fileno(), msvcrt.LK_NBLCK, 1)  # type: ignore[attr-defined,unused-ignore]
        else:
            import fcntl

            fcntl.flock(file.fileno(), fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    return True
