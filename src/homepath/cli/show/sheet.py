"""A sheet as text."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.cli.show.paper import Paper
from homepath.core.formats.sheet import Entry
from homepath.core.model.brief import Notation
from homepath.core.model.names import shown
from homepath.core.model.plan import Plan


def show_sheet(paper: Paper, plan: Plan, entries: Sequence[Entry], notation: Notation) -> None:
    """What to delete, then what to enter: copy each line that stands alone."""
    if plan.blockers:
        paper.say(f"Do not type anything yet: {plan.blockers[0].message} {plan.blockers[0].cure}")
        return
    if not entries:
        paper.say(f"Nothing has to be typed: {shown(plan.domain)} has every record that is wanted.")
        return
    paper.say(f"For the DNS form of {notation.host}, domain {shown(plan.domain)}. Copy the values, do not retype them.")
    if notation.final_dot == "required":
        paper.say("Targets end with a dot here: the dot belongs to the value.")
    for deed, title in (("delete", "First delete these entries"), ("enter", "Then enter these")):
        chosen = [entry for entry in entries if entry.deed == deed]
        if chosen:
            paper.heading(f"{title} ({len(chosen)})")
        for number, entry in enumerate(chosen, 1):
            paper.out.write(
                f"\n  {number}. Type {entry.type}" + (f", TTL {entry.ttl}" if deed == "enter" else "") + "\n"
            )
            paper.say("Name", 5)
            paper.value(entry.name or "(leave the field empty)", 7)
            paper.say("Value", 5)
            paper.value(entry.value, 7)
    paper.blank()
    if notation.delete:
        paper.say(f"To delete an entry: {notation.delete}.")
    paper.say("Leave every other entry alone. Afterwards: homepath watch --once")
