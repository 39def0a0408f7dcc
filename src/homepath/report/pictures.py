"""Pictures inside a page: small SVG drawings that take their colours from the page, light or dark, screen or paper; and
the canvas for figures in files.

Each comes with a sentence that says the same; the drawing itself is hidden from screen readers.
"""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from datetime import UTC, datetime
from itertools import pairwise
from pathlib import Path
from typing import TYPE_CHECKING, Any

from markupsafe import Markup, escape

from homepath.core.model.forecast import Outlook
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import bounded
from homepath.core.model.visits import Certificate, Way
from homepath.core.propagation.readings import CheckShares, Span
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
        raise BadInput(Problem("the folder does not exist", key="--figure", seen=str(path.parent)))


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


WIDTH, HEIGHT = 640.0, 150.0
DAYS = 90.0
"""A certificate's bar shows so many days, the usual life of one."""
_SPREAD = ("new", "moving", "old", "nothing", "unknown")
_FORECAST = ("new", "warned", "old", "nothing")


def _tag(name: str, inside: str | Markup = "", **attributes: object) -> Markup:
    words = "".join(
        f' {key.rstrip("_").replace("_", "-")}="{escape(_short(value))}"' for key, value in attributes.items()
    )
    return Markup(f"<{name}{words}>{escape(inside)}</{name}>")  # noqa: S704 - every part is escaped


def _short(value: object) -> str:
    return f"{value:.1f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)


def _join(parts: Iterable[Markup]) -> Markup:
    return Markup("").join(parts)


def _drawing(inside: Markup, width: float, height: float, kind: str) -> Markup:
    return _tag(
        "svg",
        inside,
        class_=f"picture {kind}",
        viewBox=f"0 0 {_short(width)} {_short(height)}",
        aria_hidden="true",
        focusable="false",
    )


def spread_picture(spans: Sequence[Span], looks: Sequence[CheckShares], deadline: float | None) -> Markup:
    """What the resolvers said over time; what no one saw is hatched; each check a tick, the deadline a line."""
    begin = looks[0].at
    end = max([each.end for each in spans] + [looks[-1].at, begin + 60] + ([deadline] if deadline else []))

    def x(at: float) -> float:
        return WIDTH * (at - begin) / (end - begin)

    parts = [_tag("rect", x=0.0, y=0.0, width=WIDTH, height=HEIGHT, class_="ground")]
    for span in spans:
        floor = 0.0
        for kind, share in zip(_SPREAD, span.bands, strict=True):
            if share > 0:
                top = HEIGHT * (1 - floor - share)
                wide = max(1.0, x(span.end) - x(span.begin))
                parts.append(_tag("rect", x=x(span.begin), y=top, width=wide, height=HEIGHT * share, class_=kind))
            floor += share
    parts += [_tag("path", d=f"M{x(each.at):.1f} {HEIGHT:.0f}v8", class_="tick") for each in looks]
    if deadline is not None and begin < deadline <= end:
        parts.append(_tag("path", d=f"M{x(deadline):.1f} 0v{HEIGHT + 8:.0f}", class_="deadline"))
    return _drawing(_join(parts), WIDTH, HEIGHT + 10, "spread")


def forecast_picture(outlook: Outlook) -> Markup:
    """What visitors meet, minute by minute, if the steps are done in this order."""
    minutes = outlook.course.minutes
    last = minutes[-1].at or 1.0
    step = max(1, len(minutes) // 200)
    chosen = [*range(0, len(minutes), step)]
    floors = [0.0] * len(chosen)
    parts = [_tag("rect", x=0.0, y=0.0, width=WIDTH, height=HEIGHT, class_="ground")]
    layers = outlook.layers
    rows = [layers[at] for at in chosen]
    xs = [WIDTH * minutes[at].at / last for at in chosen]
    for number, kind in enumerate(_FORECAST):
        shares = [row[number] for row in rows]
        tops = [floor + share for floor, share in zip(floors, shares, strict=True)]
        if any(share > 0.0005 for share in shares):
            up = [f"{x:.1f} {HEIGHT * (1 - top):.1f}" for x, top in zip(xs, tops, strict=True)]
            down = [f"{x:.1f} {HEIGHT * (1 - floor):.1f}" for x, floor in zip(xs[::-1], floors[::-1], strict=True)]
            parts.append(_tag("path", d=f"M{'L'.join([*up, *down])}Z", class_=kind))
        floors = tops
    end = WIDTH * outlook.course.moved.all / last
    parts.append(_tag("path", d=f"M{end:.1f} 0v{HEIGHT + 8:.0f}", class_="deadline"))
    return _drawing(_join(parts), WIDTH, HEIGHT + 10, "forecast")


_MARKS = {"arrived": ("good", "M-5 0l4 4 7-8"), "waiting": ("wait", "M0-5v6h4")}


def way_picture(way: Way) -> Markup:
    """The typed address, each hop, and a mark for how it ends."""
    count = min(len(way.hops), 6)
    xs = [14.0 + 30.0 * at for at in range(count + 1)]
    parts = [_tag("path", d=f"M{a + 6:.0f} 14H{b - 6:.0f}", class_="hop") for a, b in pairwise(xs)]
    parts += [_tag("circle", cx=x, cy=14.0, r=5.0, class_="stop") for x in xs[:-1]]
    kind, mark = _MARKS.get(way.state, ("bad", "M-4-4l8 8m0-8l-8 8"))
    end = _tag("circle", cx=0.0, cy=0.0, r=10.0, class_=kind) + _tag("path", d=mark, class_="mark")
    parts.append(_tag("g", end, transform=f"translate({xs[-1]:.0f} 14)"))
    return _drawing(_join(parts), 206.0, 28.0, "way")


def certificate_picture(seen: Certificate, now: float) -> Markup:
    """How much of the usual life of a certificate is left; below the mark it should have been renewed."""
    left = (
        0.0
        if seen.not_after is None or seen.state in ("default", "none")
        else max(0.0, min(DAYS, (seen.not_after - now) / 86400))
    )
    kind = "good" if seen.state == "good" else "wait" if seen.state in ("ending", "default") else "bad"
    parts = [
        _tag("rect", x=0.0, y=8.0, width=200.0, height=12.0, class_="ground"),
        _tag("rect", x=0.0, y=8.0, width=200.0 * left / DAYS, height=12.0, class_=kind),
        _tag("path", d=f"M{200 * 14 / DAYS:.1f} 3v22", class_="deadline"),
    ]
    return _drawing(_join(parts), 206.0, 28.0, "life")
