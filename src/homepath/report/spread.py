"""The spread as it happened: shares of answers over time, every look a tick, the deadline marked."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from homepath.core.model.names import Name, shown
from homepath.core.propagation.shares import LookShares
from homepath.report.canvas import HATCH, NEW, NOTHING, OLD, OTHER, dates, figure, local_zone, share_axis

_NAMES = ("the wanted answer", "an earlier answer", "no such name or record", "not known: silent or broken")
_COLOURS = (NEW, OLD, NOTHING, OTHER)


def draw(looks: Sequence[LookShares], domain: Name, now: float, path: Path) -> None:
    """Draw into `path`; at least one look is needed."""
    import matplotlib.dates as mdates

    first, last = looks[0].at, looks[-1].at
    deadline = looks[-1].settled_by or max((each.settled_by for each in looks if each.settled_by), default=None)
    end = max(last, now, deadline or last)
    end = end if end > first else first + 60
    zone = local_zone(first)
    with figure(path) as (made, (axes,)):
        moments = [each.at for each in looks] + [max(last, min(end, now)) + 0.02 * (end - first)]
        rows = [[100 * share for share in each.shares] for each in looks]
        rows.append(rows[-1])
        floor = [0.0] * len(moments)
        for at, (name, colour) in enumerate(zip(_NAMES, _COLOURS, strict=True)):
            top = [low + row[at] for low, row in zip(floor, rows, strict=True)]
            if any(row[at] for row in rows):
                axes.fill_between(
                    dates(moments),
                    floor,
                    top,
                    step="post",
                    facecolor=colour,
                    hatch=HATCH[colour],
                    edgecolor="white",
                    linewidth=0.5,
                    label=name,
                )
            floor = top
        axes.plot(
            dates([each.at for each in looks]),
            [0.0] * len(looks),
            linestyle="none",
            marker="|",
            markersize=14,
            color="black",
            clip_on=False,
            label=f"a look ({len(looks)})",
        )
        if deadline is not None:
            (moment,) = dates([deadline])
            axes.axvline(moment, color="black", linestyle="--", linewidth=1.4)
            left = deadline > first + 0.6 * (end - first)
            axes.annotate(
                f"deadline {moment:%H:%M}",
                (moment, 101),
                ha="right" if left else "left",
                va="bottom",
                annotation_clip=False,
            )
        share_axis(axes, "share of the answers of all resolvers asked (%)")
        axes.set_xlim(*dates([first, end + 0.03 * (end - first)]))
        locator = mdates.AutoDateLocator(tz=zone)  # type: ignore[no-untyped-call]
        axes.xaxis.set_major_formatter(mdates.ConciseDateFormatter(locator, tz=zone))  # type: ignore[no-untyped-call]
        axes.set_xlabel(f"time ({dates([first])[0]:%d %b %Y}, UTC{dates([first])[0]:%z})")
        axes.set_title(f"How the records of {shown(domain)} spread", loc="left", pad=22, fontweight="bold")
        made.legend(loc="outside lower center", ncols=3, frameon=False)
