"""The next thing as text."""

from __future__ import annotations

from homepath.cli.show.paper import Paper
from homepath.cli.show.times import until
from homepath.core.model.names import shown
from homepath.core.model.path import Next

PATH = ("claim", "enter", "spread", "secure", "arrived")
_AT = {"decide": "enter", "mend": "enter", "web": "secure", "look": "enter"}
_WORDS = {
    "claim": "tell the builder",
    "enter": "enter the records",
    "spread": "caches follow",
    "secure": "certificate",
    "arrived": "arrived",
}


def show_next(sheet: Paper, thing: Next, now: float) -> None:
    """The place on the path, the one thing to do, and why."""
    here = PATH.index(_AT.get(thing.stage, thing.stage))
    marks = [("done" if at < here else "here" if at == here else "ahead", _WORDS[name]) for at, name in enumerate(PATH)]
    sheet.say(f"{shown(thing.domain)} stands at: {_WORDS[PATH[here]]}.")
    sheet.heading("The path")
    for mark, words in marks:
        sheet.out.write(
            f"  {sheet.toned(mark.ljust(6), {'done': 'good', 'here': 'strong'}.get(mark, 'dim'))} {words}\n"
        )
    sheet.heading("Do this" if thing.stage != "arrived" else "To do")
    sheet.say(thing.do if thing.where == "here" else f"At the {thing.where}: {thing.do}", 2)
    if thing.wait_until is not None:
        sheet.say(f"This wait lasts {until(thing.wait_until, now)}.", 2)
    if thing.because:
        sheet.heading("Because")
        for finding in thing.because:
            sheet.say(f"{finding.code}: {finding.message}", 2)
