"""Both sides of a hand-over as text: may one switch, and if not, what is missing."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.cli.show.findings import show_notes, show_site
from homepath.cli.show.paper import Paper
from homepath.core.dns.names import Name, shown
from homepath.core.message import msg
from homepath.core.model.compared import Compared, RecordCompared, SideServer
from homepath.core.model.domain import shown_unicode
from homepath.core.model.plan import PURPOSES
from homepath.core.model.steps import Assessment
from homepath.core.wording.say import say
from homepath.core.wording.times import lasting, many, sentence_start
from homepath.core.wording.words import HEADINGS

SENTENCES = {
    "ready": "Ready: each new name server gives everything that must come along. Nothing is lost by switching.",
    "not-ready": "Not ready: do not change the name servers yet.",
    "unknown": "Not known: not every server could be asked. Do not change the name servers yet.",
}


def show_compared(sheet: Paper, found: Compared, assessment: Assessment, former: bool, builder: str) -> None:
    """The verdict, what would be lost, what is as it should be, the servers. `former`: the switch is over, and the old
    side is the one of before."""
    name = shown_unicode(found.domain)
    show_site(sheet, assessment)
    if former:
        sheet.say(f"{name} was handed over already. Its former name servers beside the present ones:")
    else:
        sheet.say(f"{name}: the present and the new name servers, asked one by one.")
    sheet.say(SENTENCES[found.verdict] if not former else _former(found))
    serious = [each for each in found.findings if each.level != "note" and each.code != "left-at-the-old"]
    show_notes(sheet, serious, "In the way" if any(f.level == "blocker" for f in serious) else "To know before")
    left = [each for each in found.records if each.hinders]
    if left and not former:
        sheet.heading(f"Still to do at the new name servers: {many(len(left), 'entry', 'entries')}")
        for each in left:
            _show_left(sheet, each, builder)
    _show_right(
        sheet,
        found.domain,
        [each for each in found.records if not each.hinders and each.state in ("same", "as-planned")],
    )
    extra = [each for each in found.records if each.state == "extra" and not each.hinders]
    if extra:
        sheet.heading("Only at the new name servers, and in nobody's way")
        sheet.table([(f"{each.type} at {shown(each.name)}", "; ".join(each.new)) for each in extra])
    _show_servers(sheet, found)
    show_notes(sheet, [each for each in found.findings if each.level == "note"])
    sheet.blank()
    sheet.say("Next: homepath next")


def _former(found: Compared) -> str:
    alive = any(each.state == "holds" for each in found.old)
    return "The old zone is still there." if alive else "The old zone is gone: nobody can go back to it as it is."


def _show_left(sheet: Paper, each: RecordCompared, builder: str) -> None:
    word = {"missing": "missing", "differs": "differs", "extra": "must go"}.get(each.state, each.state)
    sheet.blank()
    sheet.say(f"{word}: {each.type} at {shown(each.name)}", 2)
    _values(sheet, "old", each.old, each.old_ttl)
    _values(sheet, "new", each.new, each.new_ttl)
    if each.theirs:
        sheet.say(f"{builder} enters that by itself.", 4)
    elif each.wanted and set(each.wanted) != set(each.old):
        _values(sheet, "to be", each.wanted, each.wanted_ttl)
    if each.at and each.new:
        sheet.say(f"so at {', '.join(shown(name) for name in each.at)}", 4)


def _values(sheet: Paper, word: str, values: Sequence[str], ttl: int | None) -> None:
    label = f"{word}, {lasting(ttl)}" if ttl is not None and values else word
    for number, value in enumerate(values or ["(none)"]):
        sheet.value(f"{(label if number == 0 else '').ljust(17)}  {value}", 4)


def _show_right(sheet: Paper, zone: Name, records: Sequence[RecordCompared]) -> None:
    if not records:
        return
    sheet.heading("As it should be")
    rows = []
    for purpose in PURPOSES:
        for each in records:
            if each.purpose == purpose:
                word = "the same" if each.state == "same" else "as planned"
                title = "The zone itself" if each.type in ("SOA", "NS") and each.name == zone else HEADINGS[purpose]
                rows.append((title, f"{each.type} at {shown(each.name)}", word))
    shown_rows = rows[:40]
    sheet.table(shown_rows)
    if len(rows) > len(shown_rows):
        sheet.say(f"and {len(rows) - len(shown_rows)} more (--json lists all)", 2)


def _show_servers(sheet: Paper, found: Compared) -> None:
    sheet.heading("Servers")
    rows = [("old side", *_server(each)) for each in found.old]
    rows += [("new side", *_server(each)) for each in found.new]
    sheet.table(rows)


def _server(each: SideServer) -> tuple[str, str, str]:
    serial = f"serial {each.serial}" if each.serial is not None else ""
    state = f"server.{each.state}"
    detail = f": {say(each.detail)}" if each.detail and each.state not in ("holds",) else ""
    more = f", {serial}" if serial else ""
    return (
        shown(each.name),
        each.address or "(no address)",
        sentence_start(f"{say(msg(state))}{more}{detail}"),
    )
