"""The live view of `watch`: every old copy counted down on one time axis that ends at the deadline."""

from __future__ import annotations

import asyncio
import contextlib
import os
import sys
from collections.abc import Callable, Iterator

from rich.console import Console, Group
from rich.live import Live
from rich.table import Table
from rich.text import Text

from homepath.app.decide import assess_after
from homepath.app.project import Project
from homepath.app.watch import Goal, WatchControl, follow
from homepath.cli.show.watch import SENTENCES, bar, once_a_name, sheet_values
from homepath.core.dns.names import shown
from homepath.core.model.survey import Reading, RecordSpread, Spread
from homepath.core.wording.times import clock_time, lasting
from homepath.core.wording.words import site_words
from homepath.net.network_file import Network


@contextlib.contextmanager
def listening(pressed: Callable[[str], None]) -> Iterator[bool]:
    """Call `pressed` with each key; returns False where single keys cannot be had (no terminal, or Windows)."""
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


_STYLES = {"settled": "green", "spreading": "yellow", "entered-wrong": "bold red", "split": "bold red"}
_STATES = {"new": "green", "old": "yellow", "absent": "yellow", "other": "red", "mixed": "red"}


async def follow_live(project: Project, network: Network, goal: Goal) -> Spread:
    """Check until the goal, redrawing four times a second; keys: c checks now, q quits. The terminal is left clean."""
    console = Console()
    last: Spread | None = None
    site = ""
    control = WatchControl()

    def pressed(key: str) -> None:
        control.leave = control.leave or key in "qQ"
        if key in "qQcC":
            control.sooner.set()

    drawing: asyncio.Task[None] | None = None
    with (
        listening(pressed) as keys,
        Live(Text("Checking ..."), console=console, refresh_per_second=4, transient=False) as live,
    ):

        def drawn(spread: Spread, then: float | None) -> Group:
            return view(spread, network.clock.now(), then, keys, site)

        async def redraw(spread: Spread, then: float | None) -> None:
            while True:
                live.update(drawn(spread, then))
                await asyncio.sleep(0.25)

        try:
            async for spread, then in follow(project, network, goal, control):
                last, site = spread, site_words(assess_after(project, network.clock.now()))
                if drawing:
                    drawing.cancel()
                live.update(drawn(spread, then))
                if then is not None:
                    drawing = asyncio.create_task(redraw(spread, then))
        finally:
            if drawing:
                drawing.cancel()
            if last is not None:
                live.update(drawn(last, None))
    assert last is not None
    return last


def view(spread: Spread, now: float, then: float | None, keys: bool = False, site: str = "") -> Group:
    """The whole picture at one moment; `site`: whether the site is up, in words."""
    lines: list[Text | Table] = [Text(site)] if site else []
    lines.append(Text(SENTENCES[spread.verdict], style=_STYLES.get(spread.verdict, "")))
    if spread.settled_by is not None:
        left = lasting(max(0.0, spread.settled_by - now))
        end = clock_time(spread.settled_by, now)
        lines.append(
            Text(f"Now {clock_time(now, now)}. All caches that respect TTLs are up to date by {end}, in {left}.")
        )
    table = Table(box=None, pad_edge=False, show_edge=False, padding=(0, 2, 0, 0))
    axis = spread.settled_by
    held = [each.dies for record in spread.records for each in record.readings if each.state != "new" and each.dies]
    if axis is not None:
        axis = max([axis, *held])  # a cache that ignores TTLs may hold on for longer, and its bar ends there
    life = f"may last until {clock_time(axis, now)}" if axis is not None else ""
    for title in ("asked", "answer", life):
        table.add_column(title, no_wrap=True)
    table.add_column("", no_wrap=True, overflow="ellipsis")
    for record in once_a_name(spread.records):
        for row in _rows(record, now, axis, spread.settled_by):
            table.add_row(*row)
    lines += [Text(""), table]
    if then is not None:
        lines += [
            Text(""),
            Text(
                f"Next check {clock_time(then, now)}; an earlier one would show nothing new. {_ways_out(keys)}", "dim"
            ),
        ]
    return Group(*lines)


def _ways_out(keys: bool) -> str:
    return "Keys: c checks now, q quits." if keys else "Ctrl-C stops."


def _rows(record: RecordSpread, now: float, axis: float | None, ends: float | None) -> list[list[Text]]:
    """A row for the record, with how many are as wanted, and one below it for each vantage that is not."""
    fine = sum(reading.state == "new" for reading in record.readings)
    head = [
        Text(f"{shown(record.name)} {record.type}"),
        Text("new", "green"),
        Text(f"at {fine} of {len(record.readings)}"),
    ]
    behind = [reading for reading in record.readings if reading.state != "new"]
    return [[*head, Text("")]] + [
        [Text(f"  {each.vantage}"), Text(each.state, _STATES.get(each.state, "dim")), *_life(each, now, axis, ends)]
        for each in behind
    ]


def _life(reading: Reading, now: float, axis: float | None, ends: float | None) -> list[Text]:
    """The bar of one old answer. One that outlives `ends`, the end for caches that respect TTLs, is marked."""
    values = Text(sheet_values(reading), overflow="ellipsis")
    if reading.dies is None or axis is None or reading.state in ("silent", "broken"):
        return [Text(""), values]
    left = lasting(max(0.0, reading.dies - now))
    longer = " (ignores TTLs)" if ends is not None and reading.dies > ends + 5 else ""
    return [Text(f"{bar(reading.dies, now, axis)} {left}{longer}", "yellow"), values]
