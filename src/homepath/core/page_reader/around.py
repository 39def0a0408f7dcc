"""What headings and lead-ins change for the records around them."""

from __future__ import annotations

from dataclasses import replace

from homepath.core.page_reader.frames import Around, Machine, Told
from homepath.core.page_reader.leads import Lead
from homepath.core.page_reader.moods import NOT_WANTED


def around_after(around: Around, lead: Lead) -> Around:
    section = around.section + 1
    mood = around.mood
    if lead.firm and lead.mood:
        mood = lead.mood
    elif around.mood in NOT_WANTED and (
        lead.servers or lead.option or (lead.heading and not (lead.types or lead.hosts))
    ):
        mood = "unsure"
    option = around.option
    if lead.option:
        option = _option(around.option, lead.option)
    elif lead.conditional and lead.firm and (lead.types or lead.mood == "want"):
        option = "if"
    elif lead.heading or (lead.mood and option == "if"):
        option = "" if option == "if" else option
    if not (lead.types or lead.hosts or lead.servers or lead.mood or lead.heading or lead.option):
        doubtful = lead.opens and around.mood in NOT_WANTED  # something else begins, and nobody said what
        return replace(around, option=option, mood="unsure" if doubtful else around.mood)
    types = lead.types or (around.types if lead.hosts and not lead.mood else ())
    servers = lead.servers or (around.servers and not lead.types and not lead.hosts and not lead.heading)
    return Around(types, lead.hosts, mood, option, servers, section, lead.firm)


def _option(before: str, mark: str) -> str:
    if mark != "or":
        return mark
    number = int(before[2:]) if before.startswith("or") and before[2:].isdecimal() else 1
    return f"or{number + 1}"


def give_type(machine: Machine, rrtype: str) -> None:
    """`Both are CNAME records`, said behind the records: those of the section without a type get it."""
    section = machine.around.section
    mine: list[Told] = []
    chain = machine.told
    while chain is not None and chain[1].group == section:
        mine.append(chain[1])
        chain = chain[0]
    if not any(each.type is None for each in mine):
        return
    machine.told, machine.score = chain, machine.score + 1.5 * len(mine)
    for each in reversed(mine):
        machine.tell(replace(each, type=each.type or rrtype))
