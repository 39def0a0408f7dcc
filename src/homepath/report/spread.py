"""The spread as far as it is known: shares of answers over time, every look a tick, the deadline marked."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC
from pathlib import Path

from homepath.core.dns.names import Name, shown
from homepath.core.propagation.readings import LookShares, spans_of
from homepath.report.canvas import HATCH, MOVING, NEW, NOTHING, OLD, OTHER, dates, figure, share_axis

_BANDS = (
    (NEW, "the wanted answer"),
    (MOVING, "changed in between, nobody saw when"),
    (OLD, "an earlier answer"),
    (NOTHING, "no such name or record"),
    (OTHER, "not known: silent or broken"),
)


def draw(looks: Sequence[LookShares], domain: Name, now: float, path: Path) -> None:
    """Draw into `path`; at least one look is needed."""
    import matplotlib.dates as mdates

    first, last = looks[0].at, looks[-1].at
    deadline = looks[-1].settled_by or max((each.settled_by for each in looks if each.settled_by), default=None)
    end = max(last, now, deadline or last)
    end = end if end > first else first + 60
    with figure(path) as (made, (axes,)):
        labelled: set[str] = set()
        for span in spans_of(looks, max(now, last)):
            floor = 0.0
            for share, (colour, name) in zip(span.bands, _BANDS, strict=True):
                if share > 0:
                    axes.fill_between(
                        dates([span.begin, span.end]),
                        [100 * floor] * 2,
                        [100 * (floor + share)] * 2,
                        facecolor=colour,
                        hatch=HATCH[colour],
                        edgecolor="white" if colour != MOVING else "#8a8a8a",
                        linewidth=0.5,
                        label=None if name in labelled else name,
                    )
                    labelled.add(name)
                floor += share
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
        locator = mdates.AutoDateLocator(tz=UTC)  # type: ignore[no-untyped-call]
        axes.xaxis.set_major_formatter(mdates.ConciseDateFormatter(locator, tz=UTC))  # type: ignore[no-untyped-call]
        axes.set_xlabel(f"time ({dates([first])[0]:%d %b %Y}, UTC{dates([first])[0]:%z})")
        axes.set_title(f"How the records of {shown(domain)} spread", loc="left", pad=22, fontweight="bold")
        made.legend(loc="outside lower center", ncols=3, frameon=False)
