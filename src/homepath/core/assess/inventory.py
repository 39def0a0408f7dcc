"""Steps before a hand-over: who takes over, by which nameservers, and everything that must come along."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from homepath.core.assess.draft import Done, Draft, Open, Status
from homepath.core.assess.view import View
from homepath.core.dns.answers import Unanswered
from homepath.core.dns.names import relative, shown
from homepath.core.dns.records import RecordSet
from homepath.core.message import msg
from homepath.core.model.acts import Choice, Decide
from homepath.core.model.plan import Place
from homepath.core.plan.new_zone import is_carried_over


def place_of_new(view: View) -> Place:
    over = view.over
    return "builder" if over is not None and over.by_builder and view.case.wanted.going == "there" else view.new_side


def host_of_new(view: View) -> str:
    return view.over.host if view.over else view.builder


def assigned(view: View) -> Iterator[Draft]:
    """The names of the new servers, where anyone who runs them assigns them to each customer."""
    over = view.over
    if over is None or (over.servers and view.was("decide:servers") is None):
        return
    word = f"value:{over.unsaid[0]}=NAME" if over.unsaid else "servers:NAME NAME"
    question = Decide(
        msg("assigned.question", host=over.host, domain=view.case.domain),
        (Choice(msg("assigned.choice"), ("next", "--decide", word)),),
    )
    yield Draft(
        kind="decide",
        about="servers",
        place=place_of_new(view),
        title=msg("assigned.title", host=over.host),
        instruction=msg("assigned.instruction", host=over.host, word=word),
        expect=msg("lacking.expect"),
        status=Done(None) if over.servers else Open(question),
    )


def to_carry(view: View) -> list[RecordSet]:
    """Everything that the new nameservers must give too."""
    return [record for record in view.case.zone if is_carried_over(view.case, record)]


def unseen_choices(view: View, unseen: Iterable[Unanswered], again: Sequence[str]) -> list[Choice]:
    """Ways to learn what no server answers: the whole zone, or the person's word; another check comes first, and last
    once it was tried."""
    check_again = Choice(msg("ask-the-new-host.choice"), tuple(again))
    unseen = list(unseen)
    # the DS record is the parent's, and where no server says that it holds the zone, none can give it
    in_zone = any(each.type not in ("DS", "SOA") for each in unseen)
    found = []
    if in_zone and not view.evidence.transfer_tried:
        found.append(Choice(msg("inventory.choice"), ("survey", "--transfer")))
    for each in unseen:
        word = f"{relative(each.name, view.case.domain)} {each.type}"
        say = msg("about-unseen.say", host=view.case.notation.host, type=each.type, name=each.name)
        if each.key == (view.case.domain, "DS"):
            say = msg("about-unseen.ds")
        elif each.type == "SOA":
            say = msg("about-unseen.soa", host=view.case.notation.host)
        found.append(Choice(say, ("next", "--decide", f"none:{word}")))
    if in_zone:
        found.append(Choice(msg("inventory.choice-3"), ("survey", "--zone", "FILE")))
    return [*found, check_again] if view.was("decide:unanswered") is not None else [check_again, *found]


def inventory(view: View) -> Draft:
    """Before everything changes hands, all that is there must be known; DNS cannot be listed from outside."""
    confirmed = view.confirmed("inventory")
    records = view.evidence.survey.records if view.evidence.survey else ()
    whole = view.evidence.whole_seen or any(seen.ways - {"query"} for seen in records)
    names = sorted({shown(record.name) for record in to_carry(view)})
    transfer = Choice(msg("inventory.choice"), ("survey", "--transfer"))
    choices = (
        *([] if view.evidence.transfer_tried else [transfer]),
        Choice(msg("inventory.choice-2"), ("next", "--done", "inventory")),
        Choice(msg("inventory.choice-3"), ("survey", "--zone", "FILE")),
        Choice(msg("inventory.choice-4"), ("survey", "--ask", "NAME")),
    )
    question = Decide(msg("inventory.question", join=", ".join(names)), choices)
    status: Status = Open(question, because=view.findings("mail-left-behind"))
    if whole or view.handed_over:
        status = Done(view.evidence.survey.at if view.evidence.survey else None)
    elif confirmed is not None:
        status = Done(confirmed, "told")
    return Draft(
        kind="inventory",
        place="here",
        title=msg("inventory.title"),
        instruction=msg("inventory.instruction"),
        expect=msg("inventory.expect"),
        status=status,
    )
