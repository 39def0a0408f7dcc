"""The forecast drawn: one strip for each order of steps, shares of visitors over time."""

from __future__ import annotations

from pathlib import Path

from homepath.core.dns.names import shown
from homepath.core.model.forecast import Forecast
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting
from homepath.core.wording.visit_words import left_out
from homepath.report.canvas import HATCH, NEW, NOTHING, OLD, WARNED, figure, share_axis

_LAYERS = (
    (NEW, "the new site"),
    (WARNED, "over https: a certificate error, until the builder has its own"),
    (OLD, "the old site"),
    (NOTHING, "nothing"),
)


def draw(forecast: Forecast, path: Path) -> None:
    """All orders below each other on one time axis, the recommended one named."""
    seconds = forecast.outlooks[0].course.minutes[-1].at
    unit, name = (60.0, "minutes") if seconds <= 3 * 3600 else (3600.0, "hours")
    with figure(path, len(forecast.outlooks)) as (made, rows):
        for axes, outlook in zip(rows, forecast.outlooks, strict=True):
            times = [each.at / unit for each in outlook.course.minutes]
            floor = [0.0] * len(times)
            rows_of = outlook.layers
            for at, (colour, label) in enumerate(_LAYERS):
                shares = [100 * each[at] for each in rows_of]
                if colour == WARNED and not any(shares):
                    continue
                top = [low + share for low, share in zip(floor, shares, strict=True)]
                axes.fill_between(
                    times,
                    floor,
                    top,
                    facecolor=colour,
                    hatch=HATCH[colour],
                    edgecolor="white",
                    linewidth=0.0,
                    label=label,
                )
                floor = top
            end = outlook.course.moved.all / unit
            axes.axvline(end, color="black", linestyle="--", linewidth=1.2)
            late = end > 0.8 * times[-1]
            axes.annotate(
                f"all moved {lasting(outlook.course.moved.all)} ",
                (end, 101),
                ha="right" if late else "left",
                va="bottom",
                annotation_clip=False,
                fontsize=9,
            )
            best = "best: " if outlook.order.key == forecast.recommended else ""
            outage = f", outage {outlook.course.outage:.0f} min" if outlook.course.outage >= 0.5 else ""
            axes.set_title(
                f"{best}{say(outlook.order.title)}{outage}",
                loc="left",
                fontsize=11,
                fontweight="bold" if best else "normal",
            )
            axes.set_xlim(0, times[-1])
            share_axis(axes, "visitors (%)" if len(rows) < 4 else "%")
        rows[-1].set_xlabel(f"{name} after the first step\n{left_out(forecast.caches)}")
        made.suptitle(f"What visitors of {shown(forecast.domain)} meet", x=0.01, ha="left", fontweight="bold")
        handles, labels = rows[0].get_legend_handles_labels()
        made.legend(handles, labels, loc="outside lower center", ncols=4, frameon=False, fontsize=9)
