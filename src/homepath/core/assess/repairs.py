"""What comes before everything else: records to restore, questions for the owner, what is wrong with the web."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from homepath.core.assess import checking, entering, handing_over
from homepath.core.assess.draft import Done, Draft, LeftOut, Open, Undone, enter_act
from homepath.core.assess.inventory import unseen_choices
from homepath.core.assess.view import View
from homepath.core.dns.names import ancestors, shown
from homepath.core.dns.records import ADDRESS_TYPES, RecordSet
from homepath.core.findings.kind import ABOUT_A_SET, ANSWERS, Offer
from homepath.core.findings.registry import kind_of
from homepath.core.message import Text, msg, records_named
from homepath.core.model.acts import BuilderStep, Choice, Decide, Entry, RemoveDs
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Change, Place, move_of
from homepath.core.plan.guard import loss_findings, restoring_changes
from homepath.core.site.zone_facts import handed_over_in_part
from homepath.core.web.known import host_of


def restore_lost(view: View) -> Iterator[Draft]:
    """What was to stay and is missing comes first: mail may be down."""
    found = view.losses
    was = view.was("put-back")
    if not found and was is None:
        return
    findings = loss_findings(view.case, found)
    act = enter_act([change for loss in found for change in restoring_changes(loss)], view.host_side)
    what = records_named(loss.before.key for loss in found)
    since = was.since if was and was.state == "done" else view.now
    why = msg("put-back-lost.why", what=what)
    # where no nameserver holds the domain, there is no zone to enter it in: the servers come first
    held = view.evidence.survey is None or view.evidence.survey.held
    yield Draft(
        kind="put-back",
        place="DNS host",
        title=msg("put-back-lost.title"),
        instruction=msg("put-back-lost.instruction", what=what) if found else msg("put-back-lost.instruction-2"),
        expect=msg("put-back-lost.expect"),
        status=Open(act, why, findings, urgent=held) if found else Done(since),
    )


def decisions(view: View) -> Iterator[Draft]:
    """One question for each blocker of the plan, worst first; one that was asked before and is settled is done."""
    asked = set()
    for finding in view.plan.blockers:
        own_step = kind_of(finding).fixed_by is not None and not kind_of(finding).by_records
        switch = view.ready or handed_over_in_part(view.case)  # then the hand-over's own steps fix it
        own_step = own_step or (finding.code == "zone-not-served" and switch)
        if own_step or finding.code in asked:
            continue
        asked.add(finding.code)
        yield _decision(view, finding)
    for step in view.evidence.remembered:
        code = step.id.partition(":")[2]
        if step.kind == "decide" and code not in asked:
            since = step.since if step.state == "done" else view.now
            yield Draft(
                kind="decide",
                about=code,
                place=step.place,
                title=step.title,
                instruction=step.instruction,
                expect=step.expect,
                status=Done(since),
            )


def _decision(view: View, finding: Finding) -> Draft:
    same = tuple(each for each in view.plan.blockers if each.code == finding.code)
    act = RemoveDs() if finding.code == "signature-broken" else _question(view, same)
    return Draft(
        kind="decide",
        about=finding.code,
        place=kind_of(finding).fixed_at,
        title=_title(finding),
        instruction=finding.cure,
        expect=msg("lacking.expect"),
        status=Open(act, because=same, urgent=True),
    )


def _title(finding: Finding) -> Text:
    if kind_of(finding).titled:
        return msg(f"{finding.code}.step", name=finding.name)
    offers = kind_of(finding).offers
    asks = next((offer for offer in offers if offer in ANSWERS), None)
    if asks is None and finding.type and set(offers) & set(ABOUT_A_SET):
        return msg("decide.title", type=finding.type, name=finding.name)
    return msg(f"decide.{asks}.title", name=finding.name) if asks else finding.message


def _question(view: View, same: Sequence[Finding]) -> Decide | BuilderStep:
    first = same[0]
    choices = [choice for finding in same for choice in _choices(view, finding)]
    if not choices:
        return BuilderStep(_title(first), first.cure, seen=True)
    if not set(kind_of(first).offers) & set(ANSWERS):
        choices.append(Choice(msg("question.choice"), ("survey",)))
    return Decide(first.message, tuple(dict.fromkeys(choices)))


def _choices(view: View, finding: Finding) -> Iterator[Choice]:
    for offer in kind_of(finding).offers:
        yield from _offered(view, finding, offer)


def _offered(view: View, finding: Finding, offer: Offer) -> Iterator[Choice]:
    case = view.case
    record = case.zone.get(finding.name, finding.type)
    loses = _entries(record)
    word = case.word_for(finding.name, finding.type)
    if offer == "drop" and record is not None:
        if any(want.record.name == record.name for want in case.wanted.wants if want.record.type == "CNAME"):
            say = msg("offered.say", type=record.type, name=record.name)
            yield Choice(say, ("next", "--decide", f"drop:{word}"), loses)
    elif offer == "accept-or-drop" and record is not None:
        yield Choice(msg("offered.choice"), ("next", "--decide", f"accept:{word}"))
        yield Choice(msg("offered.choice-2"), ("next", "--decide", f"drop:{word}"), loses)
    elif offer == "take-back":
        cut = next((r for at in ancestors(finding.name) if (r := case.zone.get(at, finding.type)) is not None), None)
        if cut is not None and cut.name in case.wanted.web_names:
            drop = f"drop:{case.word_for(*cut.key)}"
            yield Choice(msg("offered.choice-3", name=cut.name), ("next", "--decide", drop), _entries(cut))
    elif offer == "find-out":
        unseen = [each for each in case.unknown.values() if each.name == finding.name]
        yield from unseen_choices(view, unseen, ("survey",))
    elif offer == "unprotect" and record is not None:
        yield Choice(msg("offered.choice-4"), ("next", "--decide", f"unprotect:{word}"), loses)
    elif offer == "apex-way":
        yield Choice(msg("offered.choice-5"), ("next", "--decide", "apex:alias"))
        yield Choice(msg("offered.choice-6"), ("next", "--decide", "apex:forwarding"))
        yield Choice(msg("offered.choice-7"), ("next", "--decide", "apex:none"))
    elif offer == "hand-over" and case.wanted.nameservers:
        yield Choice(msg("offered.choice-8", builder=view.builder), ("next", "--decide", "route:nameservers"))
    elif offer == "read-page":
        again = ("start", shown(case.domain), "--page", "FILE")
        yield Choice(msg("offered.choice-9", builder=view.builder), again)
        yield Choice(msg("offered.choice-10"), ("next", "--decide", f"trust:{word}"))
    elif offer == "ownership":
        for other in case.wanted.other_proofs:
            yield Choice(msg("offered.choice-11", other=other), ("next", "--decide", f"ownership:{other}"))


def _entries(record: RecordSet | None) -> tuple[Entry, ...]:
    """The values of a set, each as it would be deleted."""
    return tuple(Entry(record.name, record.type, value, record.ttl) for value in record.values) if record else ()


def visited(view: View) -> Draft:
    """The end: every address points to the site. What is in the way of that and is not waited for is urgent."""
    visit, url = view.visit, view.case.wanted.primary_url
    place: Place = "here"
    status: Done | Open | LeftOut | Undone
    if view.arrived_web and visit is not None:
        status = Done(view.done_since("visit", visit.at))
    elif view.had_arrived and view.work:
        before = view.was("visit")
        since = before.since if before and before.state == "undone" and before.since is not None else view.now
        status = Undone(since, msg("visited.undone"))
    elif late := handing_over.builder_adds_site_later(view):
        place, status = "builder", late
    elif trouble := _trouble(view):
        gone = _dead_addresses(view) if any(each.code == "address-dead" for each in trouble) else []
        place = "DNS host" if gone else kind_of(trouble[0]).fixed_at
        step = BuilderStep(trouble[0].message, trouble[0].cure, seen=True)
        status = Open(enter_act(gone, view.host_side) if gone else step, because=trouble, urgent=True)
    elif unseen := checking.unseen(view):
        status = unseen
    else:
        status = Open(BuilderStep(msg("visited.title"), msg("visited.instruction")))
    return Draft(
        kind="visit",
        place=place,
        title=msg("visited.title-2"),
        instruction=msg("visited.instruction-2"),
        expect=msg("visited.expect", url=url),
        status=status,
    )


def _dead_addresses(view: View) -> list[Change]:
    """The changes that remove addresses which do not answer, at a name whose other addresses reach the site: only those
    that the brief does not ask for, and that were added after all records were right."""
    visit, since = view.visit, view.evidence.arrived_at or view.right_since
    tried = [(host_of(url.url), each) for url in visit.ways for each in url.addresses] if visit else []
    dead = {(name, each.address) for name, each in tried if not each.opens}
    found = []
    for record in view.case.zone:
        want = view.case.wanted.get(*record.key)
        seen = [each for each in view.evidence.contents if each.source == "zone" and each.record.key == record.key]
        known = next((each.record.values for each in reversed(seen) if each.first_at <= since), ())
        known = (*known, *(want.record.values if want else ()))
        gone = [value for value in record.values if (record.name, value) in dead and value not in known]
        if gone and record.type in ADDRESS_TYPES:
            left, ttl = tuple(value for value in record.values if value not in gone), record.ttl
            why = msg("address-dead.why")
            move = move_of(record.type, record.values, left)
            found.append(Change(move, *record.key, ttl, left, record.values, "website", why, ttl))
    return found


def _trouble(view: View) -> tuple[Finding, ...]:
    """What is wrong with a way that has not arrived, and that no step waits for. An address that came since the records
    were right, and that does not answer, must go whatever is waited for: a builder may not connect before."""
    visit = view.visit
    if visit is None:
        return ()
    if visit.verdict != "broken":
        dead = tuple(each for each in visit.findings if each.code == "address-dead")
        return dead if dead and _dead_addresses(view) else ()
    forwards = (draft for late in (False, True) for draft in entering.forward(view, late))
    waiting = {draft.about for draft in forwards if isinstance(draft.status, Open)}
    return tuple(
        finding
        for finding in visit.findings
        if finding.level != "note"
        and kind_of(finding).fixed_by is None
        and (view.checked or not kind_of(finding).waited_for)
        and shown(finding.name) not in waiting
        and shown(finding.name) in view.astray
    )
