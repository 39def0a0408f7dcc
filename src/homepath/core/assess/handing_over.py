"""Steps of a hand-over up to the switch: the new zone, what must come along, the comparison."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from homepath.core.assess.draft import Done, Draft, LeftOut, Open, Standing, enter_act
from homepath.core.assess.inventory import host_of_new, place_of_new
from homepath.core.assess.view import View
from homepath.core.dns.names import relative, shown
from homepath.core.dns.records import WEB_TYPES
from homepath.core.model.acts import BuilderStep, Choice, Decide, Entry, Wait
from homepath.core.model.compared import Compared, RecordCompared
from homepath.core.model.plan import Change
from homepath.core.model.times import lasting
from homepath.core.site.purposes import is_parking
from homepath.core.wording.words import counted

LOOK_AGAIN = 600
"""Seconds after which new name servers are looked at again for the first time."""


def new_zone(view: View) -> Draft:
    """The new name servers hold the domain: asked directly, before anybody is sent there."""
    over, host = view.over, host_of_new(view)
    assert over is not None
    title = f"Let {host} prepare the domain"
    told = view.told("claim") if place_of_new(view) == "builder" else view.told("new-zone")
    compared = view.compared
    because = compared.findings if compared else ()
    standing: Standing
    if view.handed_over or (compared is not None and compared.held):
        standing = Done(None)
    elif view.told("compare") is not None:
        standing = LeftOut("you decided to switch without having seen it")
    elif told is None and place_of_new(view) != "builder":
        standing = Open(BuilderStep(f"Add {shown(view.case.domain)} at {host}", _preparing(view)))
    else:
        began = told if told is not None else view.now
        wait = _loading(view, began)
        blockers = tuple(each for each in because if each.level == "blocker" and each.code != "left-at-the-old")
        if wait is None or (blockers and blockers[0].code == "new-server-unknown"):
            standing = Open(_ask_the_new_host(view, compared), because=blockers)
        else:
            standing = Open(wait, f"the name servers of {host} do not hold the domain yet")
    return Draft(
        kind="new-zone",
        place=place_of_new(view),
        title=title,
        instruction=_preparing(view),
        expect=f"Each name server of {host} answers for {shown(view.case.domain)}.",
        stands=standing,
        longest_wait=over.new_zone.loads_within,
        way_back="Remove the domain there again; nobody asks these servers yet.",
    )


def _preparing(view: View) -> str:
    over, name = view.over, shown(view.case.domain)
    assert over is not None
    if place_of_new(view) == "builder":
        start = f"{over.host} prepares its name servers for {name} once it was told of the domain."
    else:
        start = f"Add {name} at {over.host} as an existing domain."
    words = {
        "scan": " It copies the entries that it can guess; what nobody can guess it misses, and `homepath next` lists "
        "that afterwards.",
        "import": " It can read a file: `homepath sheet --as zone --to new.zone` writes one with all that is wanted.",
    }
    more = "".join(words.get(each, "") for each in over.new_zone.existing)
    return f"{start}{more} Do not change the name servers at the registrar yet."


def _loading(view: View, began: float) -> Wait | None:
    """The next look worth making at servers that do not hold the domain yet; None once it has taken too long."""
    over = view.over
    longest = over.new_zone.loads_within if over else LOOK_AGAIN
    for seconds in (min(LOOK_AGAIN, longest), longest):
        if view.now < began + seconds:
            return Wait(math.ceil(began + seconds), "builder")
    return None


def _ask_the_new_host(view: View, compared: Compared | None) -> BuilderStep | Decide:
    host = host_of_new(view)
    seen = "; ".join(each.detail for each in (compared.new if compared else ()) if each.detail)
    if compared is not None and any(each.state == "no-such-server" for each in compared.new):
        return BuilderStep(f"Compare the names of the new name servers with what {host} shows", f"Seen: {seen}.")
    loses = tuple(
        Entry(record.name, record.type, value, record.ttl)
        for record in view.case.zone
        if record.type != "SOA" and record.key != (view.case.domain, "NS")
        for value in record.values
    )
    return Decide(
        f"The name servers of {host} do not hold {shown(view.case.domain)}, though it had the time for it: "
        f"{seen or 'none answers for it'}. Ask its support desk why. Some hosts load a domain only after the switch; "
        "whatever must come along is then gone until it was entered there.",
        (
            Choice("Look again", ("next",)),
            Choice("Switch all the same, without having seen it", ("next", "--done", "compare"), loses),
        ),
    )


def carry(view: View) -> Iterator[Draft]:
    """Everything the new servers are to give and do not, to be entered there before the switch."""
    over, left = view.over, view.to_enter
    assert over is not None
    if all(each.kind == "theirs" for each in view.dues) or view.handed_over:
        if view.handed_over and view.was("carry") is not None:
            yield _carry(view, Done(None), left)
        return
    letter = over.new_zone.existing == ("support",)
    told = view.told("carry")
    stands: Standing
    if view.compared is not None and view.compared.held:
        stands = Open(enter_act(left, view.new_side)) if left else Done(None)
        if left and letter:
            stands = Open(_letter(view, left, told))
    elif view.told("compare") is not None:
        stands = LeftOut("you decided to switch without having seen it")
    elif not left:
        stands = Done(None)
    else:
        stands = Open(_letter(view, left, told) if letter else enter_act(left, view.new_side))
    if isinstance(stands, Open):
        because = view.findings("mail-left-behind") if view.compared is None or not view.compared.held else ()
        stands = Open(stands.act, _left_words(view, left, told), because)
    yield _carry(view, stands, left)


def _left_words(view: View, left: tuple[Change, ...], told: float | None) -> str:
    what = ", ".join(dict.fromkeys(f"{change.type} at {shown(change.name)}" for change in left[:8]))
    more = f" and {len(left) - 8} more" if len(left) > 8 else ""
    said = "you said that it is done; " if told is not None else ""
    return f"{said}not yet at the new name servers as it must be: {what}{more}"


def _letter(view: View, left: tuple[Change, ...], told: float | None) -> BuilderStep:
    host = host_of_new(view)
    again = " again: not everything is there" if told is not None else ""
    values = sum(len(change.values) for change in left)
    return BuilderStep(
        f"Have {host}'s support desk enter what must come along{again}",
        f"Send what `homepath sheet --as letter` writes: {counted(values, 'enter')}. Wait for their word that it was "
        f"done, then type `homepath next --done carry`. Do not change the name servers before that.",
    )


def _carry(view: View, stands: Standing, left: tuple[Change, ...]) -> Draft:
    host = host_of_new(view)
    return Draft(
        kind="carry",
        place=place_of_new(view),
        title="Enter everything that must come along at the new name servers",
        instruction=f"Before the switch, enter at {host} what `homepath sheet` lists: mail, proofs, every other name"
        f"{'' if view.over and view.over.by_builder else ', and the records of the website'}.",
        expect="`homepath compare` says of each that it is the same, or as planned.",
        stands=stands,
    )


def lacking(view: View) -> Iterator[Draft]:
    """What the new host has no place for needs the owner's word, before anything is entered there."""
    over = view.over
    if over is None or view.handed_over:
        return
    lacks = set(view.case.notation.lacks) if not over.by_builder else set()
    nowhere = over.new_zone.existing == ("none",)
    left = [change for change in view.to_enter if change.values and (nowhere or change.type in lacks)]
    if not left and view.was("decide:new-form-lacks") is None:
        return
    choices = [
        Choice(
            f"Nobody needs {change.type} at {shown(change.name)}: leave it behind",
            ("next", "--decide", f"leave-behind:{relative(change.name, view.case.domain)} {change.type}"),
            tuple(Entry(change.name, change.type, value, change.ttl) for value in change.values),
        )
        for change in left
    ]
    if over.by_builder and "records" in view.plan.open:
        choices.insert(0, Choice("Edit records at the present host instead", ("next", "--decide", "route:records")))
    what = ", ".join(f"{change.type} at {shown(change.name)}" for change in left)
    yield Draft(
        kind="decide",
        about="new-form-lacks",
        place=place_of_new(view),
        title=f"Find a place for what {over.host} cannot hold",
        instruction=f"{over.host} has no place for {what}. Ask its support desk, or choose another way.",
        expect="`homepath next` goes on.",
        stands=Open(
            Decide(f"{over.host} has no place for {what}. What is to become of it?", tuple(choices)), urgent=True
        )
        if left
        else Done(None),
    )


def compare(view: View) -> Draft:
    """Nobody is sent to the new name servers before each of them gives everything."""
    compared = view.compared
    stands: Standing
    if view.handed_over or (compared is not None and compared.records_ready):
        stands = Done(None)
    elif view.told("compare") is not None and _word_counts(compared):
        stands = Done(view.told("compare"), "told")
    else:
        stands = _not_ready(view, compared)
    return Draft(
        kind="compare",
        place="here",
        title="Compare the old and the new name servers",
        instruction="`homepath compare` asks every server of both sides for every entry.",
        expect="`homepath compare` says: ready.",
        stands=stands,
    )


def _word_counts(compared: Compared | None) -> bool:
    """The owner may go on where nothing can be seen: no new server holds the domain, or only the website, which they
    lead by themselves, is not there yet. Never against what is seen to be missing."""
    if compared is None or not compared.held:
        return True
    return all(each.theirs for each in compared.hindering) and all(each.state == "holds" for each in compared.new)


def _not_ready(view: View, compared: Compared | None) -> Standing:
    """What is missing, where it is nothing to type: servers that follow, or that have to be seen to."""
    if compared is None or not compared.held or view.to_enter:
        return Open(BuilderStep("Compare both sides", "Run `homepath compare`."), "not everything is there yet")
    wait = _loading(view, view.new_side_changed)
    blockers = tuple(each for each in compared.findings if each.level == "blocker")
    odd = next((each for each in compared.new if each.state != "holds"), None)
    unknown = any(each.code == "new-server-unknown" for each in blockers)
    if wait is not None and not unknown:
        why = f"{shown(odd.name)}: {odd.detail}" if odd else "the new name servers do not lead the website yet"
        return Open(wait, why)
    if odd is None:
        return Open(_website_missing(view, compared), because=blockers)
    title = blockers[0].message if blockers else f"{shown(odd.name)} is not ready"
    cure = blockers[0].cure if blockers else f"Ask {host_of_new(view)}'s support desk."
    return Open(BuilderStep(title, cure), because=blockers)


def _website_missing(view: View, compared: Compared) -> Decide:
    """The new servers hold the domain and lead the website nowhere: some builders do that only once they are asked."""
    host = host_of_new(view)
    left = [each for each in compared.hindering if each.theirs]
    names = " and ".join(dict.fromkeys(shown(each.name) for each in left))
    loses = tuple(_lost(view, left))
    on = Choice("It comes after the switch: go on", ("next", "--done", "compare"), loses)
    again = Choice("Look again", ("next",))
    return Decide(
        f"The name servers of {host} lead {names} nowhere yet, though it had {lasting(_longest(view))}. Ask its "
        "support desk whether that comes only after the switch.",
        (again, on) if loses else (on, again),
    )


def _lost(view: View, left: Sequence[RecordCompared]) -> Iterator[Entry]:
    """What visitors meet at these names today and would not after the switch; a parking page is no loss."""
    for each in left:
        for record in view.case.zone.at(each.name):
            if record.type in WEB_TYPES and not is_parking(record, view.case.notation):
                yield from (Entry(record.name, record.type, value, record.ttl) for value in record.values)


def _longest(view: View) -> int:
    return view.over.new_zone.loads_within if view.over else 0
