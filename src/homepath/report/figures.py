"""The two pictures of time on a page, each with a sentence that says the same."""

from __future__ import annotations

from dataclasses import dataclass

from markupsafe import Markup

from homepath.core.propagation.readings import spans_of
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting, utc_words
from homepath.core.wording.visit_words import gap_words, left_out
from homepath.report.pictures import forecast_picture, spread_picture
from homepath.report.records import Facts

SPREAD_KEYS = (
    ("new", "the wanted answer"),
    ("moving", "changed in between, nobody saw when"),
    ("old", "an earlier answer"),
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
    """What stands at the left and at the right end."""


def spread_drawn(facts: Facts) -> Drawn | None:
    """What resolvers said over time; None where none was asked yet."""
    looks = facts.looks
    if not any(each.shares[0] or each.settled_by is not None for each in looks):
        return None  # nothing was entered yet, so nothing spreads
    last = looks[-1]
    known = [each.settled_by for each in looks if each.settled_by is not None]
    deadline = last.settled_by or (max(known) if known else None)
    shares = [f"{100 * share:.0f} % {words}" for share, words in zip(last.shares, _SAID, strict=True) if share > 0]
    end = f" No cache that keeps the rules holds an earlier one after {utc_words(deadline)}." if deadline else ""
    words = (
        f"{len(looks)} {'look' if len(looks) == 1 else 'looks'} from {utc_words(looks[0].at)} to {utc_words(last.at)}. "
        f"Of the answers at the last one {', '.join(shares)}.{end}"
    )
    spans = spans_of(looks, facts.now)
    used = [max((each.bands[at] for each in spans), default=0.0) for at in range(5)]
    keys = tuple(key for key, most in zip(SPREAD_KEYS, used, strict=True) if most)
    last_moment = max(spans[-1].end if spans else last.at, deadline or last.at)
    ends = f"{utc_words(last_moment)}{', the deadline' if last_moment == deadline else ''}"
    return Drawn(spread_picture(spans, looks, deadline), words, keys, (utc_words(looks[0].at), ends))


_SAID = ("were the wanted ones", "were earlier ones", "said that nothing is there", "told nothing")


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
