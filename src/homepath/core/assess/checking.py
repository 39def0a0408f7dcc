"""The builder's check and its certificate: waited for, asked about, compared with what the nameservers return."""

from __future__ import annotations

import math
from collections.abc import Sequence

from homepath.core.assess.draft import Done, Draft, Open, Status
from homepath.core.assess.view import View
from homepath.core.dns.names import relative
from homepath.core.dns.records import Key
from homepath.core.findings.registry import kind_of
from homepath.core.message import Text, msg
from homepath.core.model.acts import BuilderStep, Cause, CheckAgain, Choice, Decide, Wait
from homepath.core.model.evidence import BuilderWait
from homepath.core.model.findings import Finding
from homepath.core.propagation.verdicts import last_copy
from homepath.core.site.wanted import ALIAS
from homepath.core.web.known import host_of


def check_again(view: View) -> Draft:
    return Draft(
        kind="check-again",
        place="builder",
        title=msg("check-again.title", builder=view.builder),
        instruction=msg("check-again.instruction", builder=view.builder),
        expect=msg("check-again.expect", builder=view.builder),
        status=_checked(view),
        longest_wait=view.case.wanted.https.longest_wait,
    )


def _checked(view: View) -> Status:
    if view.served and view.source_right:
        edge = view.evidence.edge
        return Done(edge.since if edge else None)
    if (since := view.still_done("check-again")) is not None:
        return Done(since)
    if not view.source_right or not view.checked:
        return Open(CheckAgain())
    says, wait = view.builder_says, view.builder_wait
    if says is not None and says.missing is not None:
        return _said_missing(view, says.at, says.missing)
    if says is None and wait is not None and view.now >= wait.began + min(wait.usual, wait.longest):
        return Open(_what_it_shows(view))
    connected = says is not None and says.shows == "connected"
    why = msg("checked.connected", builder=view.builder) if connected else ""
    return Open(_until_next_check(view, "builder") or CheckAgain(), why)


def _what_it_shows(view: View) -> Decide:
    """Only the builder's own page says why its check takes long, and only the owner can read it."""
    word = ("next", "--decide")
    records = dict.fromkeys(want.record.key for want in view.case.wanted.wants if want.record.type != ALIAS)
    missing = [
        Choice(
            msg("what-it-shows.choice", rrtype=rrtype, name=name),
            (*word, f"builder:missing {relative(name, view.case.domain)} {rrtype}"),
        )
        for name, rrtype in records
    ]
    return Decide(
        msg("what-it-shows.question", builder=view.builder),
        (
            Choice(msg("what-it-shows.choice-2"), (*word, "builder:checking")),
            Choice(msg("what-it-shows.choice-3"), (*word, "builder:connected")),
            *missing,
        ),
    )


def _said_missing(view: View, at: float, key: Key) -> Status:
    """The builder names a record as missing: compared with what the domain's own servers return, and what caches hold.

    A record that really is missing is noticed before this step, when records are entered.
    """
    name, rrtype = key
    record = msg("said-missing.record", rrtype=rrtype, name=name)
    want = view.case.wanted.get(name, rrtype)
    if want is None:
        title = msg("said-missing.title", builder=view.builder)
        return Open(
            BuilderStep(
                title, msg("said-missing.instruction", record=record, builder=view.builder, domain=view.case.domain)
            )
        )
    held = last_copy(view.evidence.contents, [want.desired], view.now)
    if held is not None:
        why = msg("said-missing.why", builder=view.builder, record=record)
        return Open(held, why)
    if last_copy(view.evidence.contents, [want.desired], at) is not None:  # what it said then is no longer so
        return Open(CheckAgain(), msg("said-missing.outdated", builder=view.builder, record=record))
    title = msg("said-missing.title-2", builder=view.builder)
    instruction = msg(
        "said-missing.instruction-2",
        record=record,
        domain=view.case.domain,
        values=want.record.values,
        at=at - view.right_since,
    )
    return Open(BuilderStep(title, instruction), instruction)


def _until_next_check(view: View, cause: Cause) -> Wait | None:
    wait = view.builder_wait or BuilderWait(
        view.now, view.case.wanted.https.usual_wait, view.case.wanted.https.longest_wait
    )
    until = wait.next_check(view.now)
    return None if until is None else Wait(until, cause)


def certificate(view: View) -> Draft:
    days = view.case.wanted.https.issuing_days
    when = msg("certificate.when", days=tuple(days)) if days else ""
    return Draft(
        kind="certificate",
        place="builder",
        title=msg("certificate.title"),
        instruction=msg("certificate.instruction", builder=view.builder, when=when, unsaid=_unsaid(view)),
        expect=msg("certificate.expect"),
        status=_certified(view),
        longest_wait=view.case.wanted.https.longest_wait,
    )


def _unsaid(view: View) -> Text:
    https = view.case.wanted.https
    if https.waits_said:
        return ""
    return msg("unsaid", longest_wait=https.longest_wait)


LOOK_AGAIN = 600
"""Seconds until an unanswered query is sent again."""


def unseen(view: View) -> Open | None:
    """Where no server said where DNS points: nothing is known of the site until one does."""
    visit = view.visit
    if visit is None or visit.verdict != "unknown":
        return None
    found = tuple(each for each in visit.findings if each.code == "destination-unknown")
    return Open(Wait(math.ceil(visit.at + LOOK_AGAIN), "builder"), found[0].message, because=found)


def _certified(view: View) -> Status:
    if not_seen := unseen(view):
        return not_seen
    visit = view.visit
    if visit is not None and not _pending(view):
        own = [way for way in visit.ways if host_of(way.url) not in view.case.wanted.forwarded]
        if all(way.certificate is None or way.certificate.state in ("good", "ending") for way in own):
            return Done(view.done_since("certificate", visit.at))
        return Open(_trouble_act(view, visit.findings))
    before = view.was("certificate")
    if visit is None and before is not None and before.state == "done" and _still_good(view):
        return Done(before.since)
    wait = _until_next_check(view, "certificate")
    if wait is not None or view.builder_wait is None:
        return Open(wait or CheckAgain(), because=_pending(view))
    waited = view.now - view.builder_wait.began
    why = msg("certified.why", waited=waited, builder=view.builder)
    return Open(BuilderStep(msg("certified.title"), why), why, _pending(view))


def _still_good(view: View) -> bool:
    """Whether the last visit, though from before what is wanted now, met a good certificate: none was seen to go."""
    seen = view.evidence.visit
    return seen is not None and view.case.wanted.primary in seen.certified


def _pending(view: View) -> tuple[Finding, ...]:
    return tuple(each for each in view.open if kind_of(each).waited_for)


def _trouble_act(view: View, findings: Sequence[Finding]) -> BuilderStep | CheckAgain:
    first = next((finding for finding in findings if finding.level != "note"), None)
    return BuilderStep(first.message, first.cure) if first else CheckAgain()
