"""Single keys of a terminal while a live view runs; the terminal is given back as it was."""

from __future__ import annotations

import asyncio
import contextlib
import os
import sys
from collections.abc import Callable, Iterator


@contextlib.contextmanager
def listening(pressed: Callable[[str], None]) -> Iterator[bool]:
    """Call `pressed` with each key; gives False where single keys cannot be had (no terminal, or Windows)."""
    try:
        import termios
        import tty
    except ImportError:
        yield False
        return
    if not sys.stdin.isatty():
        yield False
        return
    place = sys.stdin.fileno()
    before = termios.tcgetattr(place)
    loop = asyncio.get_running_loop()

    def readable() -> None:
        try:
            octets = os.read(place, 64)
        except OSError:  # the terminal was hung up
            octets = b""
        if not octets:  # an end is readable for ever, so it is asked only once
            loop.remove_reader(place)
            pressed("q")
        for key in octets.decode("utf-8", "ignore"):
            pressed(key)

    try:
        tty.setcbreak(place)
        loop.add_reader(place, readable)
        yield True
    finally:
        loop.remove_reader(place)
        with contextlib.suppress(termios.error, OSError):
            termios.tcsetattr(place, termios.TCSADRAIN, before)
