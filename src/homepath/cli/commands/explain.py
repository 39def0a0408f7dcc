"""`homepath explain`: the page of a finding."""

from __future__ import annotations

from typing import Annotated

import typer

from homepath.cli.common import PlainOption
from homepath.core.wording.say import say


def explain(
    code: Annotated[str | None, typer.Argument(help="A finding's code; without one, all are listed.")] = None,
    plain: PlainOption = False,
) -> None:
    """Tell what a finding means, and how to mend it.

    Also why it hurts, and which standard says so."""
    import difflib

    from homepath.cli.show.paper import paper
    from homepath.core.findings.registry import KINDS
    from homepath.core.model.problems import BadInput, Problem

    sheet = paper(plain)
    if code is None:
        sheet.say("Every finding has a page: homepath explain CODE")
        sheet.blank()
        sheet.table([(page.code, say(page.means)) for page in KINDS.values()])
        return
    page = KINDS.get(code) or next((kind for kind in KINDS.values() if code == kind.formerly), None)
    if page is None:
        near = difflib.get_close_matches(code, KINDS, 1)
        hint = f"did you mean {near[0]}?" if near else "homepath explain lists them all"
        raise BadInput(Problem("there is no such finding", key="CODE", seen=code, hint=hint))
    sheet.say(f"{page.code} ({page.level})")
    if code == page.formerly:
        sheet.say(f"Its old code was {code}.")
    for title, text in (("What it means", page.means), ("Why it hurts", page.hurts), ("How to fix it", page.cure)):
        sheet.heading(title)
        sheet.say(text, 2)
    sheet.heading("Standard")
    sheet.say(page.standard, 2)
    sheet.blank()
    sheet.say("Next: homepath next")
