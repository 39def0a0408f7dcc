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
        for key in os.read(place, 64).decode("utf-8", "ignore"):
            pressed(key)

    try:
        tty.setcbreak(place)
        loop.add_reader(place, readable)
        yield True
    finally:
        loop.remove_reader(place)
        termios.tcsetattr(place, termios.TCSADRAIN, before)
