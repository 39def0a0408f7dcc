"""A sheet as text."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby

from homepath.cli.show.paper import Paper
from homepath.core.dns.names import Name, shown
from homepath.core.dns.records import RecordSet
from homepath.core.files.sheet import Job, Line
from homepath.core.message import Text
from homepath.core.model.acts import AddDs, Forward, NameServers, RemoveDs, Wait
from homepath.core.model.brief import Notation
from homepath.core.model.steps import Assessment, Step
from homepath.core.model.visible import visible
from homepath.core.wording.overview import act_parts, place_words
from homepath.core.wording.say import say
from homepath.core.wording.times import clock_words, many, sentence_start, ttl_words
from homepath.core.wording.words import to_enter
from homepath.report.letter import LEARNED, LOOK_FOR, before_typing, edits, how_to_type


def show_sheet(
    paper: Paper,
    domain: Name,
    jobs: Sequence[Job],
    notation: Notation,
    before: Sequence[Step],
    wait: Wait | None,
    behind: Sequence[tuple[RecordSet, Text]] = (),
    new_zone: bool = False,
) -> None:
    """Job by job: what goes, what comes, what stays; each value alone on its line. `new_zone`: it is typed where the
    domain is to move; `behind`: what does not come along there, and why."""
    if wait is not None:
        paper.say(f"Not yet: caches may hold the old record until {clock_words(wait.until)}.")
        paper.say("Enter this only after that; then all visitors get the change within minutes.")
        paper.blank()
    if before:
        paper.say(f"First: {'; '.join(_small(say(step.title)) for step in before)} (homepath next).")
        paper.blank()
    count = f"{len(jobs)} change{'s' * (len(jobs) != 1)}"
    place = "new zone" if new_zone else "form"
    paper.say(f"{sentence_start(notation.host)}'s {place}, domain {shown(domain)}: {count}.")
    paper.say("Copy and paste the values. Finish each change before you start the next.")
    if any(map(edits, jobs)):
        paper.say("If you can edit a record, change the old value instead of deleting it.")
    ttls = {line.ttl for job in jobs for line in job.deeds("enter") if line.ttl is not None}
    if len(ttls) == 1:
        paper.say(f"TTL: {ttl_words(ttls.pop(), notation)}. Leave every other record alone.")
    else:
        paper.say("Leave every other record alone.")
    for words in how_to_type(notation, jobs) if notation.known else before_typing(jobs):
        paper.say(words)
    if not notation.known:
        _what_to_look_for(paper, notation, shown(domain))
    show_jobs(paper, jobs, notation)
    if behind:
        paper.heading("Left behind on purpose")
        paper.table([(f"{record.type} at {shown(record.name)}", say(why)) for record, why in behind])
    paper.blank()
    if notation.delete:
        paper.say(f"To delete a record: {notation.delete}.")
    paper.say("Then run: homepath next")


def show_jobs(paper: Paper, jobs: Sequence[Job], notation: Notation) -> None:
    """Each change with its values, alone on their lines."""
    timed = any(line.ttl is not None for job in jobs for line in job.deeds("enter"))
    for number, job in enumerate(jobs, 1):
        _show_job(paper, number, job, len(jobs), notation, timed)


def show_other_act(paper: Paper, assessment: Assessment, builder: str, host: str) -> None:
    """No form of the DNS host is to be filled in: what is to be done instead, and where."""
    act, step = assessment.act, assessment.step
    paper.say(f"Nothing to enter at {host} now for {shown(assessment.domain)}.")
    if step is not None and isinstance(act, NameServers | RemoveDs | AddDs | Forward):
        paper.say(f"Do this, {place_words(assessment, step, builder, host)}:")
        for part in act_parts(act, step):
            if part.copy:
                paper.value(part.text, 2 * part.level)
            else:
                paper.say(part.text, 2 * part.level)
    elif step is not None and assessment.blocked:
        paper.say(f"First: {_small(say(step.title))} (homepath next).")
    paper.blank()
    paper.say("Then run: homepath next")


def _what_to_look_for(paper: Paper, notation: Notation, domain: str) -> None:
    """How this form wants records was not written down; typing mistakes may have shown some of it."""
    paper.blank()
    for each in notation.learned:
        paper.say(LEARNED[each])
    rest = "The rest of how this form writes records" if notation.learned else "How this form writes records"
    paper.say(f"{rest} is not known. Before the first one, check:")
    for key, words in LOOK_FOR.items():
        if key not in notation.learned:
            paper.say(f"- {words}", 2)
    paper.say(f"Learn it from some rows: homepath notation read {domain} FILE", 2)
    paper.say("Or ask its support: homepath sheet --question", 2)


def _small(title: str) -> str:
    return title[:1].lower() + title[1:]


def _show_job(paper: Paper, number: int, job: Job, count: int, notation: Notation, several: bool) -> None:
    goes, comes = job.deeds("delete"), job.deeds("enter")
    paper.heading(f"Change {number} of {count}: {say(job.title)}. {_to_enter(job, len(goes), len(comes))}")
    if job.retimed:
        _block(paper, "Change only the TTL", comes, notation, True)
        return
    _block(paper, "Delete", goes, notation, False)
    _block(paper, "Enter", comes, notation, several)
    if job.stays:
        paper.blank()
        paper.say("Keep unchanged:", 4)
        for text in job.stays:
            paper.value(text)


def _to_enter(job: Job, goes: int, comes: int) -> str:
    if job.retimed:
        return "The values stay."
    return f"{sentence_start(to_enter(goes, comes))}." if goes or comes else "Nothing to enter."


def _block(paper: Paper, deed: str, lines: Sequence[Line], notation: Notation, with_ttl: bool) -> None:
    for (rrtype, name, dotted), group in groupby(lines, key=lambda line: (line.type, line.name, line.dotted)):
        values = list(group)
        ttl = f"   TTL {ttl_words(values[0].ttl, notation)}" if with_ttl and values[0].ttl is not None else ""
        each = f"{many(len(values), 'record', 'records')}, one per value" if len(values) > 1 else "Value"
        dot = ", with the dot at its end" if dotted else ""
        paper.blank()
        place = visible(name) or "(leave it empty)"
        paper.out.write(f"    {deed}   Type {rrtype}   Name {place}{ttl}   {each}{dot}\n")
        for line in values:
            paper.value(line.value)
