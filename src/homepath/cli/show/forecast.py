"""A forecast as text: the recommendation, the orders side by side, and the recommended one over time."""

from __future__ import annotations

from pathlib import Path

from homepath.cli.show.findings import show_site
from homepath.cli.show.paper import Paper
from homepath.core.dns.names import shown
from homepath.core.model.forecast import Caches, Forecast, Minute, Outlook
from homepath.core.model.steps import Assessment
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting
from homepath.core.wording.visit_words import gap_words, left_out

STRIP = 30


def show_forecast(sheet: Paper, forecast: Forecast, assessment: Assessment, figure: Path | None) -> None:
    best = forecast.best
    show_site(sheet, assessment)
    sheet.say(f"Best for {shown(forecast.domain)}: {say(best.order.title)}.")
    sheet.say(f"Why: {say(forecast.because)}.")
    end = lasting(best.course.moved.all)
    sheet.say(f"After {end} no cache that respects TTLs can hold the old records.")
    sheet.heading("Orders of steps, compared; times from the first step")
    rows = [_row(each, each is best) for each in forecast.outlooks]
    sheet.table(rows, header=("", "change", "50 %", "90 %", "99 %", "all moved", "outage", "order"))
    sheet.say("Outage: as if everybody had met no site at all for so long.", 2)
    if forecast.gap is not None:
        sheet.heading("Padlock (certificate)")
        for words in gap_words(forecast):
            sheet.say(words, 2)
    sheet.heading(f"What visitors meet: {say(best.order.title)}")
    for minute in _chosen(best):
        sheet.out.write(f"  {lasting(minute.at).rjust(12)}  {_strip(minute)}  {_words(minute)}\n")
    sheet.out.write(f"  {' ' * 12}  ━ new site   · old site   (blank) nothing\n")
    sheet.heading("Reckoned with")
    for each in forecast.situations:
        old = f"old answer kept {lasting(each.old_ttl)}" if each.old_ttl is not None else "nothing stands there now"
        moved = f", name servers {lasting(each.servers_ttl)}" if each.servers_ttl else ""
        sheet.say(f"{shown(each.name)}: {old}, absence {lasting(each.absent_ttl)}{moved}", 2)
    sheet.say(_caches_words(forecast.caches), 2)
    sheet.say(left_out(forecast.caches), 2)
    if forecast.closed is not None:
        sheet.say(
            f"simulated; the closed form for 'replace at once' differs by {100 * forecast.closed:.2f} "
            "percentage points at most",
            2,
        )
    if figure:
        sheet.say(f"Drawn in {figure}.")
    sheet.blank()
    sheet.say("Next: homepath next")


def _row(each: Outlook, best: bool) -> tuple[str, ...]:
    moved = each.course.moved
    times = [lasting(at) for at in (each.order.change_at, moved.half, moved.most, moved.nearly_all, moved.all)]
    outage = "none" if each.course.outage < 0.05 else f"{each.course.outage:.1f} min"
    return ("best" if best else "", *times, outage, say(each.order.title))


def _chosen(outlook: Outlook) -> list[Minute]:
    """Moments that tell the story: the change, and the quarters of the way to the end."""
    minutes = outlook.course.minutes
    begin, end = outlook.order.change_at, outlook.course.moved.all
    wanted = [0.0, *(begin + (end - begin) * part for part in (0, 0.1, 0.25, 0.5, 0.75, 1))]
    found = [min(minutes, key=lambda each: abs(each.at - at)) for at in wanted]
    return list(dict.fromkeys(found))


def _strip(minute: Minute) -> str:
    new = round(STRIP * minute.new)
    old = min(STRIP - new, round(STRIP * minute.old))
    return "━" * new + "·" * old + " " * (STRIP - new - old) + "┤"


def _words(minute: Minute) -> str:
    parts = [f"{100 * share:.0f} % {word}" for word, share in _shares(minute) if share >= 0.005]
    return ", ".join(parts)


def _shares(minute: Minute) -> tuple[tuple[str, float], ...]:
    return ("new", minute.new), ("old", minute.old), ("nothing", minute.nothing)


def _caches_words(caches: Caches) -> str:
    busy = ", ".join(f"{each.per_hour:g}/h ({100 * each.share:.0f} % of visitors)" for each in caches.busy)
    more = f"; {100 * caches.clamped:.0f} % keep answers at least {lasting(caches.floor)}" if caches.clamped else ""
    more += f"; {100 * caches.stale:.0f} % give expired answers once" if caches.stale else ""
    return f"caches asked for a name {busy}{more}"
