"""Steps before a hand-over: who takes over, by which name servers, and everything that must come along."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.assess.draft import Done, Draft, Open, Standing
from homepath.core.assess.view import View
from homepath.core.dns.names import shown
from homepath.core.dns.records import RecordSet
from homepath.core.model.acts import Choice, Decide
from homepath.core.model.plan import Place
from homepath.core.plan.new_zone import must_come_along


def place_of_new(view: View) -> Place:
    over = view.over
    return "builder" if over is not None and over.by_builder and view.case.wanted.going == "there" else view.new_side


def host_of_new(view: View) -> str:
    return view.over.host if view.over else view.builder


def assigned(view: View) -> Iterator[Draft]:
    """The names of the new servers, where whoever runs them assigns them to each customer."""
    over = view.over
    if over is None or (over.servers and view.was("decide:servers") is None):
        return
    word = f"value:{over.unsaid[0]}=NAME" if over.unsaid else "servers:NAME NAME"
    question = Decide(
        f"Which name servers did {over.host} assign to {shown(view.case.domain)}? Copy all of them.",
        (Choice("It shows them with the domain, once it was added there", ("next", "--decide", word)),),
    )
    yield Draft(
        kind="decide",
        about="servers",
        place=place_of_new(view),
        title=f"Copy the name servers that {over.host} assigned",
        instruction=f"{over.host} shows them once the domain was added there. Give them to "
        f'`homepath next --decide "{word}"`, or write them into homepath.toml.',
        expect="`homepath next` goes on.",
        stands=Done(None) if over.servers else Open(question),
    )


def to_carry(view: View) -> list[RecordSet]:
    """Everything that the new name servers must give too."""
    return [record for record in view.case.zone if must_come_along(view.case, record)]


def inventory(view: View) -> Draft:
    """Before everything changes hands, all that is there must be known; DNS cannot be listed from outside."""
    told = view.told("inventory")
    sources = [
        source for seen in (view.evidence.survey.records if view.evidence.survey else ()) for source in seen.sources
    ]
    whole = view.evidence.whole_seen or any(source.startswith(("transfer ", "file ")) for source in sources)
    names = sorted({shown(record.name) for record in to_carry(view)})
    transfer = Choice("Ask the name servers for the whole zone", ("survey", "--transfer"))
    choices = (
        *([] if view.evidence.transfer_tried else [transfer]),
        Choice("These are all the names", ("next", "--done", "inventory")),
        Choice("Add an export of the zone from the DNS host", ("survey", "--zone", "FILE")),
        Choice("There are more: look at one that you know", ("survey", "--ask", "NAME")),
    )
    question = Decide(
        f"Everything at the name servers changes hands at once. Seen so far, beside the website: "
        f"{', '.join(names) or 'nothing'}. Are these all the names?",
        choices,
    )
    stands: Standing = Open(question, because=view.findings("mail-left-behind"))
    if whole or view.handed_over:
        stands = Done(view.evidence.survey.at if view.evidence.survey else None)
    elif told is not None:
        stands = Done(told, "told")
    return Draft(
        kind="inventory",
        place="here",
        title="See everything that must come along",
        instruction="Only usual names can be asked for from outside. Export the zone at the DNS host and add it with "
        "`homepath survey --zone FILE`, try `homepath survey --transfer`, or name what you know with "
        "`homepath survey --ask NAME`.",
        expect="`homepath survey` lists every entry that you know of.",
        stands=stands,
    )
