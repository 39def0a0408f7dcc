"""A forecast in words, for screens, figures and pages alike."""

from __future__ import annotations

from homepath.core.model.forecast import Caches, Forecast
from homepath.core.wording.times import lasting


def left_out(caches: Caches) -> str:
    """Which caches the end of a forecast does not speak of."""
    parts = []
    if caches.clamped:
        parts.append(f"{100 * caches.clamped:.0f} % that keep nothing for less than {lasting(caches.floor)}")
    if caches.stale:
        parts.append(f"{100 * caches.stale:.0f} % that give expired answers once")
    if not parts:
        return (
            "All moved: every cache keeps the rules here; those that do not can be reckoned in with --clamped, --stale."
        )
    return f"All moved: of caches that keep the rules. Left out: {' and '.join(parts)}."


def gap_words(forecast: Forecast) -> tuple[str, ...]:
    """What those meet who come over https before the builder has its certificate; nothing where nobody does."""
    gap = forecast.gap
    if gap is None:
        return ()
    most = max(forecast.best.warned, default=0.0)
    by = "usually" if gap.said else "as a rule"
    found = [
        f"The site there has https today. Until the builder's own certificate comes ({by} {lasting(gap.usual)} after "
        f"the change, at most {lasting(gap.longest)}), whoever comes over https and is led to the builder already "
        f"meets a certificate error: up to {100 * most:.0f} % of them at one time, as if all of them had met it for "
        f"{forecast.best.warned_minutes:.0f} min."
    ]
    if gap.binding:
        found.append("Browsers that were there before do not let anybody pass that warning (HSTS).")
    return tuple(found)
