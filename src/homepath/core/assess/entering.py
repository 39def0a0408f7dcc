"""Steps at the DNS host: lowering TTLs, entering, repairs, forwarding, waiting for caches, raising TTLs again."""

from __future__ import annotations

import math
from collections.abc import Iterator

from homepath.core.assess.draft import Done, Draft, LeftOut, Open, Status, Undone, enter_act, retimed
from homepath.core.assess.view import View
from homepath.core.dns.names import shown
from homepath.core.dns.records import WEB_TYPES, RecordSet
from homepath.core.dns.soa import read_soa
from homepath.core.files.sheet import form_ttl
from homepath.core.findings.registry import kind_of
from homepath.core.message import Message, Text, msg, records_named
from homepath.core.model.acts import BuilderStep, Enter, Forward, Wait
from homepath.core.model.evidence import earlier_copies, right_since_seen
from homepath.core.model.findings import Finding
from homepath.core.model.plan import Change, DesiredSet
from homepath.core.plan.difference import low_ttl
from homepath.core.plan.plan import absent_ttl
from homepath.core.site.wanted import USUAL_TTL
from homepath.core.site.zone_facts import forwarded_late


def _old_sets(view: View) -> list[RecordSet]:
    """The old site's sets that are still there and still to be replaced."""
    zone = view.case.zone
    keys = {(change.name, change.type) for change in view.work}
    return [record for key in view.used if key in keys and (record := zone.get(*key)) is not None]


def lower_ttl(view: View) -> Iterator[Draft]:
    if not view.used:
        return
    low, longest = low_ttl(view.case.notation), max(view.used.values())
    high = [record for record in _old_sets(view) if record.ttl > low]
    what = ", ".join(sorted({f"{shown(name)} {rrtype}" for name, rrtype in view.used}))
    status: Status
    if high:
        status = Open(enter_act([retimed(record, low, msg("lower-ttl")) for record in high]))
    elif _old_sets(view) or view.was("lower-ttl"):
        status = Done(_lowered_at(view))
    else:
        status = LeftOut(msg("lower-ttl.left-out"))
    yield Draft(
        kind="lower-ttl",
        place="DNS host",
        title=msg("lower-ttl.title"),
        instruction=msg("lower-ttl.instruction", what=what, low=low, longest=longest),
        expect=msg("lower-ttl.expect", low=low),
        status=status,
        way_back=msg("lower-ttl.way-back", longest=longest),
    )
    yield _wait_ttl(view, longest, bool(high), isinstance(status, LeftOut))


def _lowered_at(view: View) -> float | None:
    """When the low TTL was first seen."""
    seen = [
        each.first_at
        for each in view.evidence.contents
        if each.record.key in view.used and each.record.values and each.record.ttl < view.used[each.record.key]
    ]
    return max(seen, default=None)


def _wait_ttl(view: View, longest: int, still_high: bool, left_out: bool) -> Draft:
    """Caches fetch the low TTL only once the old answer has run out: from when the journal saw it lowered."""
    ends = [
        copy.dies
        for record in _old_sets(view)
        for copy in earlier_copies(view.evidence.contents, DesiredSet(record.name, record.type))
        if copy.ttl > record.ttl and not copy.absent
    ]
    until = max(ends, default=None)
    status: Status
    if left_out:
        status = LeftOut(msg("lower-ttl.left-out"))
    elif still_high:
        status = Open(Wait(math.ceil(view.now + longest), "caches"))
    elif until is not None and until > view.now:
        status = Open(Wait(math.ceil(until), "caches"))
    else:
        status = Done(until)
    return Draft(
        kind="wait-ttl",
        place="here",
        title=msg("wait-ttl.title"),
        instruction=msg("wait-ttl.instruction"),
        expect=msg("wait-ttl.expect"),
        status=status,
        longest_wait=longest,
    )


def enter(view: View) -> Iterator[Draft]:
    """Enter everything that is wanted; where it was right before and is no longer, repairs come first."""
    act = enter_act(view.work, view.host_side)
    was = view.was("enter")
    lost = bool(view.work) and was is not None and was.state in ("done", "undone") and _was_right(view)
    if lost:
        yield _mend(view, act)
    elif (mended := view.was("mend")) is not None and not view.work:
        yield _mend(view, act, Done(mended.since if mended.state == "done" else view.now))
    status: Status
    if lost:
        status = Undone(_lost_since(view), msg("enter.undone", names=_names(view.work)))
    elif not view.work:
        status = Done(view.right_since)
    else:
        wrong = wrong_entries(view) or _harm(view)
        # a slip is fixed before anything else is asked, unless a site in use is to be spared first
        status = Open(
            act,
            _builder_is_right(view),
            because=wrong or view.findings("proxy-serves", "address-set-incomplete"),
            urgent=bool(wrong and not _old_sets(view)),
        )
    yield Draft(
        kind="enter",
        place="DNS host",
        title=msg("enter.title") if act.enter or not view.work else msg("enter.title-2"),
        instruction=enter_words(view, act) if view.work else msg("enter.instruction-2"),
        expect=msg("enter.expect"),
        status=status,
        way_back=msg("enter.way-back"),
    )


def enter_words(view: View, act: Enter) -> Message:
    goes, comes, retimed = act.counts
    host = view.case.notation.host
    if retimed and not (goes or comes):
        return msg("enter.instruction-3", host=host, count=retimed)
    return msg("enter.instruction", host=host, goes=len(act.delete), comes=len(act.enter))


def _builder_is_right(view: View) -> Text:
    """Where the builder's settings name a record that really is missing."""
    says = view.builder_says
    key = says.missing if says is not None else None
    if key is None or not any((change.name, change.type) == key for change in view.work):
        return ""
    return msg("builder-is-right", builder=view.builder, key=key[1], key2=key[0])


def wrong_entries(view: View) -> tuple[Finding, ...]:
    """What was typed and is not what was meant: waiting does not help, so each is in the way."""
    found = [each for each in view.open if each.level == "blocker"]
    return tuple(each for each in found if kind_of(each).typed or each.name in view.typed_wrong)


def _was_right(view: View) -> bool:
    """Whether everything that is left to do was seen as meant before."""
    desired = {each.key: each for each in view.desired}
    mine = [desired[c.name, c.type] for c in view.work if (c.name, c.type) in desired]
    return bool(mine) and all(
        any(desired_set.met_by(each.record) for each in view.evidence.contents if each.record.key == desired_set.key)
        for desired_set in mine
    )


def _lost_since(view: View) -> float:
    keys = {(change.name, change.type) for change in view.work}
    last = {each.record.key: each.first_at for each in view.evidence.contents if each.record.key in keys}
    return max(last.values(), default=view.now)


def _names(changes: tuple[Change, ...]) -> Text:
    return records_named((change.name, change.type) for change in changes)


def _harm(view: View) -> tuple[Finding, ...]:
    """What came into the records since they were right, and that the plan's records fix."""
    found = view.open if view.entered_once else ()
    return tuple(each for each in found if each.level == "blocker" and kind_of(each).by_records)


def _mend(view: View, act: Enter, done: Done | None = None) -> Draft:
    because = _harm(view) or wrong_entries(view) or tuple(each for each in view.open if kind_of(each).explains)
    why = "" if because else msg("enter.undone", names=_names(view.work))
    return Draft(
        kind="mend",
        place="DNS host",
        title=msg("mend.title"),
        instruction=msg("mend.instruction", host=view.case.notation.host),
        expect=msg("mend.expect"),
        status=done or Open(act, why, because, urgent=True),
    )


def forward(view: View, late: bool = False) -> Iterator[Draft]:
    """The second name by the DNS host's own forwarding, or its proxy's rule where it has no other. `late`: those that
    wait for the certificate."""
    there = view.case.wanted.redirects
    mine = [name for name in view.case.wanted.forwarded if (name in forwarded_late(view.case)) == late]
    for name in mine if there and there.place == "forwarding" else ():
        known, before = set(view.case.notation.forwarding_addresses), view.over is not None and not view.handed_over
        zone = view.new_zone if before else view.case.zone
        leads = {*zone.values(name, "A"), *zone.values(name, "AAAA")}
        old = {*view.case.zone.values(name, "A"), *view.case.zone.values(name, "AAAA")}
        entered = bool(known & leads) or (before and not known and bool(leads) and leads != old)
        ways = [way for way in (view.visit.ways if view.visit else ()) if f"://{shown(name)}/" in way.url]
        arrived = any(way.state == "arrived" for way in ways)
        confirmed = view.confirmed(f"forward:{shown(name)}")
        status: Status = Open(Forward(name, view.case.wanted.primary_url))
        if entered or arrived:
            at = DesiredSet(name, "A", tuple(known & leads))
            status = Done(right_since_seen(view.evidence.contents, at) if at.values and not before else None)
        elif confirmed is not None and not known and not ways:
            status = Done(confirmed, "told")
        yield Draft(
            kind="forward",
            about=shown(name),
            place=view.new_side if view.over is not None else "DNS host",
            title=msg("forward.title", name=name),
            instruction=msg(
                "forward.instruction", host=view.case.notation.host, name=name, primary_url=view.case.wanted.primary_url
            ),
            expect=msg("forward.expect", name=name, primary_url=view.case.wanted.primary_url),
            status=status,
            longest_wait=3600,
            way_back=msg("forward.way-back"),
        )


def spread(view: View) -> Draft:
    waits = [change.before_ttl or absent_ttl(view.case.zone) for change in view.work]
    waits += [copy.ttl for desired in view.desired for copy in earlier_copies(view.evidence.contents, desired)]
    if view.used:
        waits = [low_ttl(view.case.notation), absent_ttl(view.case.zone)]
    status: Status
    if not view.source_right:
        longest = max(waits, default=USUAL_TTL)
        status = Open(Wait(math.ceil(view.now + longest), "caches"))
    elif (lagging := _lagging(view)) is not None:
        status = lagging
    elif view.caches is not None:
        status = Open(view.caches)
    else:
        status = Done(None)
    return Draft(
        kind="spread",
        place="here",
        title=msg("spread.title"),
        instruction=msg("spread.instruction"),
        expect=msg("spread.expect"),
        status=status,
        longest_wait=max(waits, default=0),
    )


FOLLOWS = 600
"""Seconds in which a server that copies the zone usually follows (RFC 1996)."""


def _lagging(view: View) -> Status | None:
    """One of the domain's servers still returns the zone of before: it follows by itself, or has to be seen to.

    A server that was not notified asks again after the SOA's refresh time (RFC 1035 section 3.3.13).
    """
    spread, soa = view.evidence.spread, read_soa(view.case.zone.get(view.case.domain, "SOA"))
    if spread is None or spread.verdict != "split" or spread.at < view.right_since:
        return None
    refresh = soa.refresh if soa else 7200
    for seconds in (FOLLOWS, max(2 * FOLLOWS, refresh)):
        if view.now < view.right_since + seconds:
            return Open(Wait(math.ceil(view.right_since + seconds), "caches"))
    because = view.findings("servers-disagree") or spread.findings
    title = msg("lagging.title")
    return Open(BuilderStep(title, because[0].message if because else title), because=because, urgent=True)


def raise_ttl(view: View) -> Iterator[Draft]:
    """After a change of a site in use, its records are kept for the usual time again."""
    if not view.used:
        return
    notation, changes = view.case.notation, []
    for want in view.case.wanted.wants:
        present = view.case.zone.get(*want.record.key)
        usual = form_ttl(want.record.ttl, notation)
        if present is None or present.type not in WEB_TYPES or present.name not in view.case.wanted.web_names:
            continue
        if want.met_by(present) and present.ttl < usual:
            changes.append(retimed(present, usual, msg("raise-ttl")))
    status: Status = Open(enter_act(changes)) if changes or not view.source_right else Done(None)
    if not changes and not view.source_right:
        status = Open(BuilderStep(msg("raise-ttl.title"), msg("raise-ttl.instruction")))
    yield Draft(
        kind="raise-ttl",
        place="DNS host",
        title=msg("raise-ttl.title"),
        instruction=msg("raise-ttl.instruction-2"),
        expect=msg("raise-ttl.expect"),
        status=status,
    )
