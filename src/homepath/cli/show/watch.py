"""A spread as text: what is wrong and how to fix it, or what is waited for, and until when."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from homepath.cli.show.paper import Paper, in_the_way, show_notes, show_site, with_causes
from homepath.core.dns.names import relative, shown
from homepath.core.dns.records import WEB_TYPES
from homepath.core.files.sheet import Job, Line
from homepath.core.findings.registry import kind_of
from homepath.core.message import Text
from homepath.core.model.acts import Enter, NameServers, Wait
from homepath.core.model.findings import Finding
from homepath.core.model.steps import Assessment, Step
from homepath.core.model.survey import Reading, RecordSpread, Spread
from homepath.core.model.visible import visible
from homepath.core.wording.overview import wait_words
from homepath.core.wording.say import say
from homepath.core.wording.times import clock_time, lasting, many, nothing_to_do, until

BAR = 24
SENTENCES = {
    "settled": "Settled: the domain's own servers are up to date, and no cache holds an old record.",
    "settled-beside": "Apart from that, the domain's own servers are up to date, and no cache holds an old record.",
    "settled-here": "The domain's own servers are up to date, and so is every cache that was checked.",
    "spreading": "Your records are correct. Some caches still hold the old ones.",
    "not-entered": "Not entered yet. Waiting does not help.",
    "entered-wrong": "Not right yet: a record is wrong. Waiting does not help.",
    "split": "The domain's own nameservers disagree.",
    "unknown": "Unknown: too few servers answered.",
}


def show_spread(
    sheet: Paper, spread: Spread, assessment: Assessment, jobs: Sequence[Job] = (), host: str = "", builder: str = ""
) -> None:
    """The verdict with its end; what is to be fixed, as it is typed; who still keeps what; and what comes next.

    `jobs`: what is left to type at `host`; `builder`: how the builder is called.
    """
    show_site(sheet, assessment)
    findings = with_causes(assessment, spread.findings)
    slips = [each for job in jobs for each in _slips(findings, job)]
    danger = [each for each in in_the_way(assessment, findings) if each not in slips]
    for finding in danger:
        sheet.say(f"{say(finding.message)}  ({finding.code})")
        sheet.say(finding.cure, 2)
        sheet.blank()
    if spread.verdict in ("not-entered", "entered-wrong") and jobs:
        if assessment.step is None or isinstance(assessment.act, Enter):
            _show_jobs(sheet, jobs, slips, f"{_not_yet(spread, jobs, host)}. Waiting does not help.")
        else:
            _show_what_is_first(sheet, assessment.step, assessment, builder)
            sheet.blank()
            _show_jobs(sheet, jobs, slips, f"After that, at {host}:")
        if isinstance(assessment.act, Enter) and assessment.act.where == "DNS host":
            _show_sources(sheet, spread)
    else:
        left = bool(jobs) and spread.verdict == "settled" and isinstance(assessment.act, Enter)
        if left:  # TTLs: no cache holds a wrong value meanwhile
            _show_jobs(sheet, jobs, slips, f"{_not_yet(spread, jobs, host)}.")
            sheet.blank()
        _show_verdict(sheet, spread, assessment, builder, left)
    notes = [each for each in findings if each not in danger and each not in slips]
    if assessment.arrived:  # what one resolver does by a rule of its own is no one's concern any more
        notes = [each for each in notes if kind_of(each).who != "resolver"]
    show_notes(sheet, notes, "For later" if jobs else "Worth knowing")
    sheet.blank()
    sheet.say("Then run: homepath next" if isinstance(assessment.act, Wait) else "Next: homepath next")


def _show_verdict(sheet: Paper, spread: Spread, assessment: Assessment, builder: str, beside: bool) -> None:
    """Once the site has arrived, or all is settled, caches that ignore TTLs are no one's concern any more."""
    over = spread.verdict == "settled" or (spread.verdict == "spreading" and assessment.arrived)
    act, now = assessment.act, assessment.at
    waits = isinstance(act, Wait) and act.cause in ("caches", "absence", "parent")
    if spread.verdict == "not-entered" and assessment.step is not None:
        _show_what_is_first(sheet, assessment.step, assessment, builder)
    else:
        settled = "settled-beside" if assessment.blocked or beside else "settled-here" if waits else "settled"
        sheet.say(SENTENCES[settled if over else spread.verdict])
        if isinstance(act, Wait) and waits:
            when, left = clock_time(act.until, now), lasting(act.until - now)
            sheet.say(f"By {when} (in {left}) all caches that respect TTLs are up to date.")
    sheet.blank()
    for record in once_a_name(spread.records):
        _show_record(sheet, replace(record, verdict="settled", because="") if over else record, now)
    if not over:
        _show_holders(sheet, spread, now, act.until if isinstance(act, Wait) and waits else None)


def _show_what_is_first(sheet: Paper, step: Step, assessment: Assessment, builder: str) -> None:
    """Nothing has been entered, and nothing is wrong with that where another step comes first."""
    act, expected = assessment.act, "" if assessment.blocked else ", as expected"
    if isinstance(act, Wait):
        sheet.say(f"Not entered yet{expected}.")
        sheet.say(nothing_to_do(act.until, assessment.at, act.bounded))
        sheet.say(wait_words(act, step, builder), 2)
    elif isinstance(act, Enter | NameServers):
        sheet.say(SENTENCES["not-entered"])
    else:
        sheet.say(f"Not entered yet{expected}. First: {say(step.title)} (homepath next).")


def once_a_name(records: Sequence[RecordSpread]) -> list[RecordSpread]:
    """What only has to go from a name is shown with what comes there: an alias and the former address are one thing."""
    found = list(records)
    for main in [each for each in records if each.wanted and each.type in WEB_TYPES]:
        gone = [
            each
            for each in found
            if each.name == main.name and each.type in WEB_TYPES and not each.wanted and each.verdict == main.verdict
        ]
        for each in gone:
            found.remove(each)
        at = next((at for at, each in enumerate(found) if each.name == main.name and each.type == main.type), None)
        if at is not None and gone:
            ends = [each.settled_by for each in (main, *gone) if each.settled_by is not None]
            readings = tuple(_behind([reading, *_same_vantage(reading, gone)]) for reading in main.readings)
            found[at] = replace(main, readings=readings, settled_by=max(ends, default=None))
    return found


def _same_vantage(reading: Reading, records: Sequence[RecordSpread]) -> list[Reading]:
    who = (reading.vantage, reading.role)
    return [other for record in records for other in record.readings if (other.vantage, other.role) == who]


def _behind(readings: Sequence[Reading]) -> Reading:
    """Of one vantage the reading that is furthest behind."""
    return max(readings, key=lambda each: (each.state != "new", each.dies or 0.0))


def _show_record(sheet: Paper, record: RecordSpread, now: float) -> None:
    fine = sum(reading.state == "new" for reading in record.readings)
    text: Text = f"{fine} of {len(record.readings)} up to date"
    if record.verdict not in ("settled", "spreading"):
        text = record.because
    elif record.because and record.verdict == "settled":  # some resolvers are not counted
        text = f"{text}; {say(record.because)}"
    name = f"{record.type} at {shown(record.name)}"
    sheet.item(f"{record.verdict.ljust(13)}", _tone(record.verdict), f"{name}: {say(text)}")
    if record.taken_back is not None:
        sheet.say(f"undone: it was settled at {clock_time(record.taken_back, now)}", 16)
    if record.verdict in ("not-entered", "entered-wrong", "split"):
        for reading in record.readings:
            if reading.role != "resolver" and reading.state != "new":
                sheet.say(f"{reading.vantage} returns", 16)
                for value in reading.values or (reading.detail or "nothing",):
                    sheet.value(say(value), 18)


def _tone(word: str) -> str:
    return {"settled": "good", "spreading": "wait", "not-entered": "wait"}.get(word, "bad")


def _show_holders(sheet: Paper, spread: Spread, now: float, end: float | None) -> None:
    """One line for each resolver that still has an old answer, or that did not answer. A cache that keeps it beyond the
    `end` of the wait ignores the TTL."""
    held: dict[str, list[tuple[Reading, str]]] = {}
    quiet: dict[str, str] = {}
    for record in once_a_name(spread.records):
        for reading in record.readings:
            if reading.role != "resolver" or reading.state == "new" or record.verdict == "not-entered":
                continue
            if reading.state in ("silent", "broken"):
                quiet.setdefault(reading.vantage, say(reading.detail) or reading.state)
            else:
                what = f"{record.type} at {relative(record.name, spread.domain)}"
                held.setdefault(reading.vantage, []).append((reading, what))
    if held:
        sheet.heading("Caches that still hold an old record, and for how long")
        width = max(len(visible(vantage)) for vantage in held)
        for vantage, readings in held.items():
            ends = [reading.dies for reading, _ in readings if reading.dies is not None]
            left = f"{lasting(max(0.0, max(ends) - now)).rjust(11)} left" if ends else "".rjust(16)
            drawn = f" {bar(max(ends), now, spread.settled_by)}" if ends and spread.settled_by is not None else ""
            why = "expired or its own" if any(reading.expired for reading, _ in readings) else ""
            if not why and end is not None and max(ends, default=end) > end + 1:
                why = "ignores TTLs"
            what = ", ".join([each for _, each in readings] + ([f"{why}: not counted"] if why else []))
            sheet.hang(f"{visible(vantage).ljust(width)}{drawn} {left}  ", what)
    if quiet:
        sheet.heading("Did not answer, and is not counted")
        for vantage, why in quiet.items():
            sheet.say(f"{vantage}: {why}", 2)


def _not_yet(spread: Spread, jobs: Sequence[Job], host: str) -> str:
    head, word = "Not entered yet", "enter"
    if spread.verdict == "entered-wrong":
        head, word = "Not right yet", "fix"
    elif not any(job.deeds("enter") for job in jobs):
        head, word = "Not deleted yet", "delete"
    elif all(job.retimed for job in jobs):
        head, word = "Not changed yet", "change"
    return f"{head}: {many(len(jobs), 'thing', 'things')} to {word} at {host}"


def _show_jobs(sheet: Paper, jobs: Sequence[Job], slips: Sequence[Finding], head: str) -> None:
    sheet.say(head)
    for number, job in enumerate(jobs, 1):
        sheet.blank()
        goes, comes = job.deeds("delete"), job.deeds("enter")
        first = (comes or goes)[0]
        sheet.say(f"{number}  {say(job.title)} (type {first.type}, name {first.name or 'empty'})", 2)
        for slip in _slips(slips, job)[:1]:
            sheet.say(f"{say(slip.message)}  ({slip.code})", 5)
        if job.retimed:
            sheet.say(f"Change only the TTL, to {lasting(first.ttl or 0)}, of", 5)
        elif goes:
            sheet.say("Delete" if not comes else "Change" if len(goes) == len(comes) == 1 else "Replace", 5)
            for line in goes:
                sheet.value(_typed(line, first), 7)
        if comes:
            if not job.retimed:
                sheet.say("to" if goes else "Add", 5)
            for line in comes:
                sheet.value(_typed(line, first), 7)
        for text in job.stays:
            sheet.say("and keep unchanged", 5)
            sheet.value(text, 7)


def _typed(line: Line, first: Line) -> str:
    return line.value if line.type == first.type else f"{line.value}   (type {line.type})"


def _slips(findings: Sequence[Finding], job: Job) -> list[Finding]:
    """What was typed wrong at a name of this job, the worst first."""
    types = {line.type for line in job.lines} if not job.retimed else set()
    slips = [each for each in findings if kind_of(each).typed or kind_of(each).explains]
    return [each for each in slips if each.name == job.at and each.type in types]


def _show_sources(sheet: Paper, spread: Spread) -> None:
    who: list[str] = []
    for record in spread.records:
        who += [reading.vantage for reading in record.readings if reading.role == "authoritative"]
    names = list(dict.fromkeys(who))
    same = "" if spread.verdict == "split" or len(names) < 2 else ", the same at all of them"
    if names:
        sheet.blank()
        sheet.say(f"Checked at {' and '.join(names)}{same}.")


def sheet_values(reading: Reading) -> str:
    return visible(", ".join(reading.values) or say(reading.detail))


def bar(dies: float, now: float, axis_end: float) -> str:
    """The remaining life on a time axis of fixed width that ends at the deadline."""
    whole = max(axis_end - now, 1.0)
    filled = min(BAR, max(0, round(BAR * (dies - now) / whole)))
    return "━" * filled + "·" * (BAR - filled) + "┤"


def show_changes(sheet: Paper, before: Spread | None, after: Spread) -> None:
    """One line for each verdict that is new since the check before."""
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
