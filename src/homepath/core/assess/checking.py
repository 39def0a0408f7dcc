"""The builder's check and its certificate: waited for, asked about, compared with what the nameservers return."""

from __future__ import annotations

from collections.abc import Sequence

from homepath.core.assess.draft import Done, Draft, Open, Standing
from homepath.core.assess.view import View
from homepath.core.dns.names import relative, shown
from homepath.core.dns.records import Key
from homepath.core.findings.registry import kind_of
from homepath.core.model.acts import (
    BuilderStep,
    Cause,
    CheckAgain,
    Choice,
    Decide,
    Wait,
)
from homepath.core.model.evidence import BuilderWait
from homepath.core.model.findings import Finding
from homepath.core.model.times import lasting
from homepath.core.propagation.verdicts import last_copy
from homepath.core.site.wanted import ALIAS


def check_again(view: View) -> Draft:
    return Draft(
        kind="check-again",
        place="builder",
        title=f"Let {view.builder} check again",
        instruction=f"Press the check button in {view.builder}'s settings once, or wait for its own next check. If it "
        "names a record as missing, say which: homepath next --decide 'builder:missing NAME TYPE'",
        expect=f"{view.builder}'s settings show the domain as connected.",
        stands=_checked(view),
        longest_wait=view.case.wanted.https.longest_wait,
    )


def _checked(view: View) -> Standing:
    if view.served:
        edge = view.evidence.edge
        return Done(edge.since if edge else None)
    told = view.told("check-again")
    if not view.source_right or told is None or told < view.right_since:
        return Open(CheckAgain())
    says, wait = view.builder_says, view.builder_wait
    if says is not None and says.missing is not None:
        return _said_missing(view, says.at, says.missing)
    if says is None and wait is not None and view.now >= wait.began + min(wait.usual, wait.longest):
        return Open(_what_it_shows(view))
    return Open(_until_next_check(view, "builder") or CheckAgain())


def _what_it_shows(view: View) -> Decide:
    """Only the builder's own page tells why its check takes so long, and only the owner can read it."""
    word = ("next", "--decide")
    records = dict.fromkeys(want.record.key for want in view.case.wanted.wants if want.record.type != ALIAS)
    missing = [
        Choice(
            f"It says that the {rrtype} record at {shown(name)} is missing or wrong",
            (*word, f"builder:missing {relative(name, view.case.domain)} {rrtype}"),
        )
        for name, rrtype in records
    ]
    return Decide(
        f"{view.builder} has not connected the domain yet, longer than usual. What do its settings show?",
        (
            Choice("It is still checking, or pending", (*word, "builder:checking")),
            Choice("It shows the domain as connected", (*word, "builder:connected")),
            *missing,
        ),
    )


def _said_missing(view: View, at: float, key: Key) -> Standing:
    """The builder names a record as missing: compared with what the domain's own servers return, and what caches hold.

    That the record really is missing is seen before this step, by the entry of the records.
    """
    name, rrtype = key
    record = f"the {rrtype} record at {shown(name)}"
    want = view.case.wanted.get(name, rrtype)
    if want is None:
        title = f"Read {view.builder}'s page again"
        return Open(
            BuilderStep(
                title,
                f"Its settings ask for {record}, which {view.builder}'s brief does not have. Copy its page into a "
                f"file, and run: homepath start {shown(view.case.domain)} --page FILE",
            )
        )
    held = last_copy(view.evidence.contents, [want.meant], view.now)
    if held is not None:
        why = f"{view.builder} asks through a cache that may still hold the old answer for {record}"
        return Open(held, why)
    title = f"Tell {view.builder}'s support that its page is wrong"
    values = " and ".join(want.record.values)
    instruction = (
        f"Its settings say that {record} is missing. Every nameserver of {shown(view.case.domain)} returns it: "
        f"{values}. That has been so for {lasting(at - view.right_since)}, and no cache that respects TTLs holds an "
        "older answer. Send them this, and ask them to check again. Change no record."
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
    when = f" It is issued only on {', '.join(days)}." if days else ""
    return Draft(
        kind="certificate",
        place="builder",
        title="Wait for the padlock (certificate)",
        instruction=f"Nothing to do: {view.builder} orders it by itself once its check has passed. "
        f'"Not secure" until then is normal.{when}{_unsaid(view)}',
        expect="The browser shows the padlock on every address.",
        stands=_certified(view),
        longest_wait=view.case.wanted.https.longest_wait,
    )


def _unsaid(view: View) -> str:
    https = view.case.wanted.https
    if https.waits_said:
        return ""
    return f" Its brief does not say how long that takes; {lasting(https.longest_wait)} is taken as the most."


def _certified(view: View) -> Standing:
    visit = view.visit
    if visit is not None and not _pending(view):
        if all(way.certificate is None or way.certificate.state in ("good", "ending") for way in visit.ways):
            return Done(visit.at)
        return Open(_trouble_act(view, visit.findings))
    wait = _until_next_check(view, "certificate")
    if wait is not None or view.builder_wait is None:
        return Open(wait or CheckAgain(), because=_pending(view))
    waited = lasting(view.now - view.builder_wait.began)
    why = (
        f"It has been waited for {waited}, longer than it ever should. Save the domain again in "
        f"{view.builder}'s settings; if that does not help, remove it there and add it again. The records stay."
    )
    return Open(BuilderStep("Have the certificate ordered anew", why), why, _pending(view))


def _pending(view: View) -> tuple[Finding, ...]:
    return tuple(each for each in view.open if kind_of(each).waited_for)


def _trouble_act(view: View, findings: Sequence[Finding]) -> BuilderStep | CheckAgain:
    first = next((finding for finding in findings if finding.level != "note"), None)
    return BuilderStep(first.message, first.cure) if first else CheckAgain()
