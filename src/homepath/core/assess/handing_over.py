"""Steps of a hand-over up to the switch: the new zone, what must come along, the comparison."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from homepath.core.assess.checking import LOOK_AGAIN
from homepath.core.assess.draft import Done, Draft, LeftOut, Open, Status, enter_act
from homepath.core.assess.inventory import host_of_new, place_of_new, unseen_choices
from homepath.core.assess.view import View
from homepath.core.dns.answers import of_trouble
from homepath.core.dns.names import relative, shown
from homepath.core.dns.records import WEB_TYPES
from homepath.core.message import Text, messages, msg, records_named
from homepath.core.model.acts import BuilderStep, Choice, Decide, Entry, Wait
from homepath.core.model.plan import Change
from homepath.core.model.survey import Compared, RecordCompared, SideServer
from homepath.core.site.purposes import is_parking


def new_zone(view: View) -> Draft:
    """The new nameservers hold the domain: asked directly, before anybody is sent there."""
    over, host = view.over, host_of_new(view)
    assert over is not None
    title = msg("new-zone.title", host=host)
    confirmed = view.confirmed(_adding(view))
    compared = view.compared
    because = compared.findings if compared else ()
    status: Status
    if view.handed_over or (compared is not None and compared.held):
        status = Done(None)
    elif view.confirmed("compare") is not None:
        status = LeftOut(msg("new-zone.left-out"))
    elif confirmed is None and place_of_new(view) != "builder":
        status = Open(BuilderStep(msg("new-zone.title-2", domain=view.case.domain, host=host), _preparing(view)))
    else:
        began = confirmed if confirmed is not None else view.now
        wait = _loading(view, began)
        blockers = tuple(each for each in because if each.level == "blocker" and each.code != "left-at-the-old")
        if wait is None or (blockers and blockers[0].code == "new-server-unknown"):
            status = Open(_ask_the_new_host(view, compared), because=blockers)
        else:
            status = Open(wait, msg("new-zone.why", host=host))
    return Draft(
        kind="new-zone",
        place=place_of_new(view),
        title=title,
        instruction=_preparing(view),
        expect=msg("new-zone.expect", host=host, domain=view.case.domain),
        status=status,
        longest_wait=over.new_zone.loads_within,
        way_back=msg("new-zone.way-back"),
    )


def _adding(view: View) -> str:
    """The step by which the domain is added at the new side."""
    return "claim" if place_of_new(view) == "builder" else "new-zone"


def _preparing(view: View) -> Text:
    over, name = view.over, shown(view.case.domain)
    assert over is not None
    if place_of_new(view) == "builder":
        start = msg("preparing.start", host=over.host, name=name)
    else:
        start = msg("preparing.start-2", name=name, host=over.host)
    words = {"scan": msg("preparing.words"), "import": msg("preparing.words-2")}
    more = messages(words[each] for each in over.new_zone.existing if each in words)
    return msg("preparing", start=start, more=more)


def _loading(view: View, began: float) -> Wait | None:
    """The next check worth making at servers that do not hold the domain yet; None once it has taken too long."""
    over = view.over
    longest = over.new_zone.loads_within if over else LOOK_AGAIN
    for seconds in (min(LOOK_AGAIN, longest), longest):
        if view.now < began + seconds:
            return Wait(math.ceil(began + seconds), "builder")
    return None


def _ask_the_new_host(view: View, compared: Compared | None) -> BuilderStep | Decide:
    host = host_of_new(view)
    seen = messages((each.detail for each in (compared.new if compared else ())), "clauses")
    if compared is not None and any(each.state == "no-such-server" for each in compared.new):
        return BuilderStep(msg("ask-the-new-host.title", host=host), msg("ask-the-new-host.instruction", seen=seen))
    loses = tuple(
        Entry(record.name, record.type, value, record.ttl)
        for record in view.case.zone
        if record.type != "SOA" and record.key != (view.case.domain, "NS")
        for value in record.values
    )
    return Decide(
        msg(
            "ask-the-new-host.question-2",
            host=host,
            domain=view.case.domain,
            seen=seen or msg("ask-the-new-host.question"),
        ),
        (
            Choice(msg("ask-the-new-host.choice"), ("next",)),
            Choice(msg("ask-the-new-host.choice-3", host=host), ("next", "--done", _adding(view))),
            Choice(msg("ask-the-new-host.choice-2"), ("next", "--done", "compare"), loses),
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
    confirmed = view.confirmed("carry")
    status: Status
    if view.compared is not None and view.compared.held:
        status = Open(enter_act(left, view.new_side)) if left else Done(None)
        if left and letter:
            status = Open(_letter(view, left, confirmed))
    elif view.confirmed("compare") is not None:
        status = LeftOut(msg("new-zone.left-out"))
    elif not left:
        status = Done(None)
    else:
        status = Open(_letter(view, left, confirmed) if letter else enter_act(left, view.new_side))
    if isinstance(status, Open):
        held = view.compared is not None and view.compared.held
        because = view.findings("name-doubled" if held else "mail-left-behind")
        status = Open(status.act, _left_words(view, left, confirmed), because)
    yield _carry(view, status, left)


def _left_words(view: View, left: tuple[Change, ...], confirmed: float | None) -> Text:
    what = records_named(((change.name, change.type) for change in left), 8)
    return msg("left-words" if confirmed is None else "left-words.told", what=what)


def _letter(view: View, left: tuple[Change, ...], confirmed: float | None) -> BuilderStep:
    host = host_of_new(view)
    again = msg("letter.again") if confirmed is not None else ""
    values = sum(len(change.values) for change in left)
    return BuilderStep(msg("letter.title", host=host, again=again), msg("letter.instruction", values=values))


def _carry(view: View, status: Status, left: tuple[Change, ...]) -> Draft:
    host = host_of_new(view)
    return Draft(
        kind="carry",
        place=place_of_new(view),
        title=msg("carry.title"),
        instruction=msg(
            "carry.instruction-2",
            host=host,
            part="" if view.over and view.over.by_builder else msg("carry.instruction"),
        ),
        expect=msg("carry.expect"),
        status=status,
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
            msg("lacking.choice", type=change.type, name=change.name),
            ("next", "--decide", f"leave-behind:{relative(change.name, view.case.domain)} {change.type}"),
            tuple(
                Entry(change.name, change.type, value, change.ttl)
                for value in view.case.zone.values(change.name, change.type) or change.values
            ),
        )
        for change in left
    ]
    if over.by_builder and "records" in view.plan.open:
        choices.insert(0, Choice(msg("lacking.choice-2"), ("next", "--decide", "route:records")))
    what = records_named((change.name, change.type) for change in left)
    yield Draft(
        kind="decide",
        about="new-form-lacks",
        place=place_of_new(view),
        title=msg("lacking.title", host=over.host),
        instruction=msg("lacking.instruction", host=over.host, what=what),
        expect=msg("lacking.expect"),
        status=Open(Decide(msg("lacking.question", host=over.host, what=what), tuple(choices)), urgent=True)
        if left
        else Done(None),
    )


def compare(view: View) -> Draft:
    """No one is sent to the new nameservers before each of them returns everything."""
    compared = view.compared
    status: Status
    if view.handed_over or (compared is not None and compared.records_ready):
        status = Done(None)
    elif view.confirmed("compare") is not None and _word_counts(compared):
        status = Done(view.confirmed("compare"), "told")
    else:
        status = _not_ready(view, compared)
    return Draft(
        kind="compare",
        place="here",
        title=msg("compare.title"),
        instruction=msg("compare.instruction"),
        expect=msg("compare.expect"),
        status=status,
    )


def _word_counts(compared: Compared | None) -> bool:
    """The owner may go on where nothing can be seen: no new server holds the domain, or only the website, which they
    lead by themselves, is not there yet. Never where something was seen to be missing."""
    if compared is None or not compared.held:
        return True
    if compared.unanswered:
        return False
    return all(each.theirs for each in compared.hindering) and all(each.state == "holds" for each in compared.new)


def _not_ready(view: View, compared: Compared | None) -> Status:
    """What is missing, where it is nothing to type: servers that follow, or that have to be seen to."""
    if compared is None or not compared.held or view.to_enter:
        return Open(BuilderStep(msg("not-ready.title"), msg("not-ready.instruction")), msg("not-ready.why"))
    wait = _loading(view, view.new_side_changed)
    blockers = tuple(each for each in compared.findings if each.level == "blocker")
    odd = next((each for each in compared.new if each.state != "holds"), None)
    unknown = any(each.code == "new-server-unknown" for each in blockers)
    new_names = {each.name for each in compared.new}
    unseen = [each for each in compared.unanswered if each.trouble.server not in new_names]
    if unseen:
        unanswered = next(each for each in compared.findings if each.code == "unanswered")
        return Open(Decide(unanswered.message, tuple(unseen_choices(view, unseen, ("next",)))), because=(unanswered,))
    if odd is None and compared.unanswered:
        first = compared.unanswered[0].trouble
        odd = SideServer(first.server, first.address, "silent", None, of_trouble(first))
    if wait is not None and not unknown:
        why = msg("not-ready.server", name=odd.name, detail=odd.detail) if odd else msg("not-ready.why-2")
        return Open(wait, why)
    if odd is None:
        return Open(_website_missing(view, compared), because=blockers)
    title = blockers[0].message if blockers else msg("not-ready.title-2", name=odd.name)
    cure = blockers[0].cure if blockers else msg("not-ready.cure", host_of_new=host_of_new(view))
    return Open(BuilderStep(title, cure), because=blockers)


def _website_missing(view: View, compared: Compared) -> Decide:
    """The new servers hold the domain and lead the website nowhere: some builders do that only once they are asked."""
    host = host_of_new(view)
    left = [each for each in compared.hindering if each.theirs]
    names = tuple(dict.fromkeys(each.name for each in left))
    loses = tuple(_lost(view, left))
    on = Choice(msg("website-missing.choice"), ("next", "--done", "compare"), loses)
    again = Choice(msg("ask-the-new-host.choice"), ("next",))
    return Decide(
        msg("website-missing.question", host=host, names=names, longest=_longest(view)),
        (again, on) if loses else (on, again),
    )


def builder_adds_site_later(view: View) -> Open | None:
    """After the switch the website's records are the builder's to make: waited for, then asked about; no one else can
    enter them. What did not answer is not missing."""
    over, since = view.over, view.switched_at
    if over is None or not over.by_builder or since is None:
        return None
    unknown = {each.name for each in view.case.unknown.values()}
    led = {name for name in view.case.wanted.names if any(each.type in WEB_TYPES for each in view.case.zone.at(name))}
    missing = tuple(name for name in view.case.wanted.names if name not in led | unknown)
    if not missing:
        return None
    wait = _loading(view, since)
    if wait is not None:
        return Open(wait, msg("not-ready.why-2"), urgent=True)
    host = host_of_new(view)
    act = BuilderStep(msg("website-late.title", host=host, names=missing), msg("website-late.instruction", host=host))
    return Open(act, urgent=True)


def _lost(view: View, left: Sequence[RecordCompared]) -> Iterator[Entry]:
    """What visitors meet at these names today and would not after the switch; a parking page is no loss."""
    for each in left:
        for record in view.case.zone.at(each.name):
            if record.type in WEB_TYPES and not is_parking(record, view.case.notation):
                yield from (Entry(record.name, record.type, value, record.ttl) for value in record.values)


def _longest(view: View) -> int:
    return view.over.new_zone.loads_within if view.over else 0
