"""Propagation and forecast drawn, as a file or on a page, each with a sentence that says the same."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC
from pathlib import Path

from markupsafe import Markup

from homepath.core.dns.names import Name, shown
from homepath.core.model.forecast import Forecast
from homepath.core.propagation.readings import CheckShares, spans_of
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting, utc_words
from homepath.core.wording.visit_words import gap_words, left_out
from homepath.report.pictures import (
    HATCH,
    MOVING,
    NEW,
    NOTHING,
    OLD,
    OTHER,
    WARNED,
    dates,
    figure,
    forecast_picture,
    share_axis,
    spread_picture,
)
from homepath.report.records import Facts

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
        made.suptitle(f"What visitors of {shown(forecast.domain)} get", x=0.01, ha="left", fontweight="bold")
        handles, labels = rows[0].get_legend_handles_labels()
        made.legend(handles, labels, loc="outside lower center", ncols=4, frameon=False, fontsize=9)


_BANDS = (
    (NEW, "the new record"),
    (MOVING, "changed between two checks"),
    (OLD, "the old record"),
    (NOTHING, "no such name or record"),
    (OTHER, "not known: no or bad answer"),
)


def draw_spread_so_far(looks: Sequence[CheckShares], domain: Name, now: float, path: Path) -> None:
    """Draw into `path`; at least one check is needed."""
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
            label=f"a check ({len(looks)})",
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


SPREAD_KEYS = (
    ("new", "the new record"),
    ("moving", "changed between two checks"),
    ("old", "the old record"),
    ("nothing", "no such name or record"),
    ("unknown", "not known"),
)
FORECAST_KEYS = (
    ("new", "the new site"),
    ("warned", "over https: a certificate error"),
    ("old", "the old site"),
    ("nothing", "nothing"),
)


@dataclass(frozen=True, slots=True)
class Drawn:
    """A picture, what it says, and what its colours mean."""

    picture: Markup
    words: str | tuple[str, ...]
    keys: tuple[tuple[str, str], ...]
    axis: tuple[str, str]
    """What is at the left and at the right end."""


def spread_drawn(facts: Facts) -> Drawn | None:
    """What resolvers said over time; None where none was asked yet."""
    looks = facts.looks
    if not any(each.shares[0] or each.settled_by is not None for each in looks):
        return None  # nothing was entered yet, so nothing spreads
    last = looks[-1]
    known = [each.settled_by for each in looks if each.settled_by is not None]
    deadline = last.settled_by or (max(known) if known else None)
    shares = [f"{100 * share:.0f} % {words}" for share, words in zip(last.shares, _SAID, strict=True) if share > 0]
    end = f" No cache that respects TTLs holds an old record after {utc_words(deadline)}." if deadline else ""
    words = (
        f"{len(looks)} check{'s' * (len(looks) != 1)} from {utc_words(looks[0].at)} to {utc_words(last.at)}. "
        f"Of the answers in the last one, {', '.join(shares)}.{end}"
    )
    spans = spans_of(looks, facts.now)
    used = [max((each.bands[at] for each in spans), default=0.0) for at in range(5)]
    keys = tuple(key for key, most in zip(SPREAD_KEYS, used, strict=True) if most)
    last_moment = max(spans[-1].end if spans else last.at, deadline or last.at)
    ends = f"{utc_words(last_moment)}{', the deadline' if last_moment == deadline else ''}"
    return Drawn(spread_picture(spans, looks, deadline), words, keys, (utc_words(looks[0].at), ends))


_SAID = ("were new records", "were old records", "said that no record exists", "told nothing")


def forecast_drawn(facts: Facts) -> Drawn | None:
    """What visitors will meet, while something is to change for them."""
    forecast = facts.forecast
    if forecast is None:
        return None
    best = forecast.best
    words = (
        f"Best: {say(best.order.title)}. After {lasting(best.course.moved.all)} no cache that respects TTLs can "
        "hold the old records. Caches are modelled here, not observed.",
        *gap_words(forecast),
        *([left_out(forecast.caches)] if forecast.caches.clamped or forecast.caches.stale else []),
    )
    minutes = best.course.minutes
    used = {"new": True, "warned": any(best.warned), "old": any(each.old for each in minutes)}
    used["nothing"] = any(each.nothing > 0.005 for each in minutes)
    keys = tuple(key for key in FORECAST_KEYS if used[key[0]])
    return Drawn(forecast_picture(best), words, keys, ("the first step", f"{lasting(minutes[-1].at)} later"))
