"""Where figures are drawn: no display needed, readable in grey, written whole or not at all."""

from __future__ import annotations

import io
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import bounded
from homepath.files import write_octets

if TYPE_CHECKING:
    from matplotlib.figure import Figure

KINDS = (".png", ".svg")
SIZE = (12.0, 7.0)
"""Inches, at 100 dots each."""
NEW, OLD, NOTHING, OTHER = "#0b5a8a", "#e8b04a", "#2b2b2b", "#b9b9b9"
"""Blue, amber, black and grey: far apart in lightness, and told apart by colour-blind eyes."""
MOVING, WARNED = "#f2f2f2", "#a33b2a"
"""What is not known to have held, nearly white; what browsers warn of, a dark red."""
HATCH = {NEW: "", OLD: "///", NOTHING: "xxx", OTHER: "...", MOVING: "\\\\", WARNED: "+++"}
"""Hatching says the same as the colour, for those who print in grey."""


def check_figure(path: Path) -> None:
    """Refuse a file name that cannot become a figure, before any work is done. Raises BadInput."""
    if path.suffix.lower() not in KINDS:
        raise BadInput(
            Problem("a figure is a .png or an .svg file", key="--figure", seen=str(path), hint="name it so: spread.png")
        )
    if not path.parent.is_dir():
        raise BadInput(Problem("there is no such folder", key="--figure", seen=str(path.parent)))


@contextmanager
def figure(path: Path, rows: int = 1) -> Iterator[tuple[Figure, list[Any]]]:
    """An empty figure with `rows` axes below each other; written to `path` when the block ends well."""
    import matplotlib

    matplotlib.use("agg")
    from matplotlib.figure import Figure

    matplotlib.rcParams.update(
        {"svg.hashsalt": "home-path", "svg.fonttype": "path", "font.size": 11, "hatch.linewidth": 0.6}
    )
    made = Figure(figsize=SIZE, dpi=100, layout="constrained")
    axes = list(made.subplots(rows, 1, sharex=True, squeeze=False)[:, 0])
    yield made, axes
    octets = io.BytesIO()
    kind = path.suffix.lower().removeprefix(".")
    made.savefig(octets, format=kind, metadata={"Date": None} if kind == "svg" else {"Software": None})
    write_octets(path, octets.getvalue())


def dates(moments: list[float]) -> list[datetime]:
    """Moments in the time zone of all screens."""
    return [datetime.fromtimestamp(bounded(each), UTC) for each in moments]


def share_axis(axes: Any, label: str) -> None:
    """From nothing to all, in percent."""
    axes.set_ylim(0, 100)
    axes.set_ylabel(label)
    axes.set_yticks([0, 25, 50, 75, 100])
    axes.grid(axis="y", color="#dddddd", linewidth=0.6)
    axes.set_axisbelow(True)
    for side in ("top", "right"):
        axes.spines[side].set_visible(False)
