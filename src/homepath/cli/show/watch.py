"""A spread as text: verdicts per record, then each vantage with what it still remembers."""

from __future__ import annotations

from homepath.cli.show.findings import show_findings
from homepath.cli.show.paper import Paper
from homepath.cli.show.times import clock_time, until
from homepath.core.model.names import shown
from homepath.core.model.readings import Reading, RecordSpread, Spread
from homepath.core.model.times import lasting
from homepath.core.model.visible import visible

BAR = 24
_SENTENCES = {
    "settled": "Settled: every server and resolver that was asked gives what is wanted.",
    "spreading": "Still spreading: everything is entered rightly, some caches still hold earlier answers.",
    "not-entered": "Not entered yet: the name servers do not have everything that is wanted. Waiting does not help.",
    "entered-wrong": "Entered wrongly: the name servers give something that was not meant. Waiting does not help.",
    "split": "Split: the domain's own name servers disagree.",
    "unknown": "Unknown: too little answered to say anything.",
}


def show_spread(sheet: Paper, spread: Spread, now: float) -> None:
    """The verdict with its end, the records, and under each the vantages that are not as wanted."""
    sheet.say(_SENTENCES[spread.verdict])
    if spread.settled_by is not None:
        words = "No cache that keeps the rules holds an earlier answer after"
        sheet.say(f"{words} {clock_time(spread.settled_by, now)} (in {lasting(spread.settled_by - now)}).")
    for record in spread.records:
        _show_record(sheet, record, now, spread.settled_by)
    show_findings(sheet, spread.findings)


def _show_record(sheet: Paper, record: RecordSpread, now: float, axis_end: float | None) -> None:
    sheet.out.write(f"\n  {sheet.state(record.verdict, 14)} {shown(record.name)} {record.type}")
    sheet.out.write(f"  {until(record.settled_by, now)}\n" if record.verdict == "spreading" else "\n")
    if record.because:
        sheet.say(record.because, 17)
    if record.taken_back is not None:
        sheet.say(f"taken back: it was settled at {clock_time(record.taken_back, now)}", 17)
    fine = [reading for reading in record.readings if reading.state == "new"]
    if fine:
        what = "gives" if len(fine) == 1 else "give"
        sheet.say(f"{len(fine)} of {len(record.readings)} {what} the wanted answer", 17)
    behind = [reading for reading in record.readings if reading.state != "new"]
    if record.verdict != "spreading":  # what caches hold matters only once the source is right
        behind = [reading for reading in behind if reading.role != "resolver" or reading.state in ("silent", "broken")]
    width = max((len(visible(reading.vantage)) for reading in behind), default=0)
    for reading in behind:
        line, values = _line(sheet, reading, width, now, axis_end), sheet_values(reading)
        apart = len(line) + 2 + len(values) > sheet.width
        sheet.out.write(line + ("" if apart else f"  {values}").rstrip() + "\n")
        if apart:
            sheet.say(values, 25)


def _line(sheet: Paper, reading: Reading, width: int, now: float, axis_end: float | None) -> str:
    place = f"{' ' * 17}{sheet.state(reading.state, 7)} {visible(reading.vantage).ljust(width)}"
    if reading.dies is None or reading.state in ("silent", "broken"):
        return place.rstrip()
    left = lasting(max(0.0, reading.dies - now))
    drawn = f" {bar(reading.dies, now, axis_end)}" if axis_end is not None else ""
    return f"{place}{drawn} {left.rjust(8)} left"


def sheet_values(reading: Reading) -> str:
    return visible(", ".join(reading.values) or reading.detail)


def bar(dies: float, now: float, axis_end: float) -> str:
    """The remaining life on a time axis of fixed width that ends at the deadline."""
    whole = max(axis_end - now, 1.0)
    filled = min(BAR, max(0, round(BAR * (dies - now) / whole)))
    return "━" * filled + "·" * (BAR - filled) + "┤"


def show_changes(sheet: Paper, before: Spread | None, after: Spread) -> None:
    """One line for each verdict that is new since the look before."""
    known = {(r.name, r.type): r.verdict for r in before.records} if before else {}
    when = clock_time(after.at, after.at)
    for record in after.records:
        if known.get((record.name, record.type)) != record.verdict:
            back = ", taken back" if record.taken_back is not None else ""
            sheet.out.write(f"{when}  {record.verdict.ljust(14)} {shown(record.name)} {record.type}{back}\n")
    if before is None or before.verdict != after.verdict:
        wait = f", {until(after.settled_by, after.at)}" if after.settled_by is not None else ""
        sheet.out.write(f"{when}  {after.verdict.ljust(14)} the whole{wait}\n")
    sheet.out.flush()
