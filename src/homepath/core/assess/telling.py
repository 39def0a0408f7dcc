"""Steps at the builder: telling it of the domain, its own further steps, its check, the certificate, HTTPS only."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from homepath.core.assess.draft import Done, Draft, LeftOut, Open, Standing
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
    HttpsOnly,
    PublishAgain,
    TellBuilder,
    Wait,
)
from homepath.core.model.brief import BriefStep, When, numbered
from homepath.core.model.evidence import BuilderWait
from homepath.core.model.findings import Finding
from homepath.core.model.times import lasting
from homepath.core.propagation.verdicts import last_copy
from homepath.core.site.wanted import ALIAS


def claim(view: View) -> Draft:
    wanted = view.case.wanted
    names = " and ".join(shown(name) for name in wanted.names)
    limits = "".join(f" {limit}" for limit in wanted.limits)
    main = f" and make {shown(wanted.primary)} the main address" if len(wanted.names) > 1 else ""
    if wanted.destination not in ("", wanted.primary):
        main = f"; all of it leads to {shown(wanted.destination)}"
    return Draft(
        kind="claim",
        place="builder",
        title=f"Tell {view.builder} about the domain",
        instruction=f"In the settings of your site at {view.builder}, connect {names}{main}.{limits}",
        expect='Its first check fails or stays at "pending". That is normal: it looks for records that come later.',
        stands=_claimed(view),
        way_back=f"Remove the domain again in {view.builder}'s settings.",
    )


def _claimed(view: View) -> Standing:
    """Seen where the builder's edge serves the name. An edge that has not checked yet tells nothing: the word counts.

    Where all is right, the longest wait is over, and the edge still does not serve the name, it was not enough.
    """
    edge, told = view.evidence.edge, view.told("claim")
    if view.served:
        return Done(edge.since if edge and edge.since is not None else told)
    act = _telling(view)
    if told is None:
        return Open(act)
    if why := _refused_by_its_servers(view, told):
        return Open(act, why, urgent=True)
    wait, says = view.builder_wait if view.caches is None else None, view.builder_says
    if wait is not None and wait.over(view.now) and says is not None and says.shows != "missing":
        since = lasting(view.now - wait.began)
        shows = {"connected": "shows the domain as connected", "checking": "is still checking"}[says.shows]
        why = (
            f"{view.builder} {shows}, but its servers do not serve the name, although every record has been right for "
            f"{since}. Save the domain again in its settings; if that does not help, remove it there and add it again. "
            "The records stay as they are."
        )
        return Open(act, why, urgent=True)
    return Done(told, "told")


def _refused_by_its_servers(view: View, told: float) -> str:
    """Why to add the domain once more: the builder's own nameservers still refuse it, all of them, after the time that
    loading takes. Empty where that was done already: then something else is wrong.
    """
    over, compared = view.over, view.compared
    if over is None or not over.by_builder or view.handed_over or compared is None or compared.held:
        return ""
    longest, planned = over.new_zone.loads_within, view.evidence.job_since
    again = planned is not None and told - planned >= longest
    if again or view.now < told + longest or {each.state for each in compared.new} - {"refusing", "lame"}:
        return ""
    return (
        f"{view.builder}'s nameservers do not have {shown(view.case.domain)} {lasting(view.now - told)} after you said "
        "that you added it. Check in its settings that it is there, and spelled correctly. If not, add it again."
    )


def _telling(view: View) -> TellBuilder:
    """All names that must arrive, and where they end: of a further domain that is the site's own primary address."""
    wanted = view.case.wanted
    if wanted.destination in ("", wanted.primary):
        return TellBuilder(wanted.names, wanted.primary)
    return TellBuilder((*wanted.names, wanted.destination), wanted.destination)


def builder_steps(view: View, when: When) -> Iterator[Draft]:
    for about, step in numbered(view.case.wanted.steps):
        if step.when != when:
            continue
        step_id = f"builder-step:{about}"
        act = PublishAgain() if step.publishes else BuilderStep(step.title, step.instruction or step.title)
        told = view.told(step_id)
        stands: Standing = Open(act)
        if told is not None:
            doubt = _without_effect(view, step, told)
            stands = Open(act, doubt) if doubt else Done(told, "told")
        elif view.arrived_web and when != "after-certificate":
            stands = Done(view.visit.at if view.visit else None)
        yield Draft(
            kind="builder-step",
            about=about,
            place="builder",
            title=step.title,
            instruction=step.instruction or step.title,
            expect=step.expect or "The builder shows it as done.",
            stands=stands,
        )


def _without_effect(view: View, step: BriefStep, told: float) -> str:
    """Why what was said to be done has to be done again; empty where the word counts.

    Before the new name servers are seen it has no effect; after that it must show at the builder's edge.
    """
    if step.when != "after-nameservers" or view.over is None:
        return ""
    switched = view.switched_at
    if switched is None or told < switched:
        return "it was said to be done before the new name servers were seen; before that it has no effect"
    if step.publishes and view.unaware and view.now >= told + view.case.wanted.https.usual_wait:
        return "it was said to be done, and is not seen: the builder's servers do not show the site yet"
    return ""


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


def https_only(view: View) -> Draft:
    return Draft(
        kind="https-only",
        place="builder",
        title='Switch on "HTTPS only"',
        instruction=f'Every padlock is good: switch on "HTTPS only" at {view.builder}, so that http leads to https. '
        "Let it tell browsers to keep to https (HSTS) only after some calm weeks, for 5 minutes first, then a week.",
        expect="`homepath visit` says arrived, from http too.",
        stands=_enforced(view),
        way_back='Switch "HTTPS only" off; HSTS holds in browsers until it runs out or is renewed with max-age=0.',
    )


def _enforced(view: View) -> Standing:
    if view.arrived_web:
        return Done(view.visit.at if view.visit else None)
    return Open(HttpsOnly())


def redirect(view: View) -> Iterator[Draft]:
    """Where something else than the builder or the host's forwarding page redirects the second name."""
    there = view.case.wanted.redirects
    if there is None or there.place not in ("proxy", "own-server"):
        return
    names = " and ".join(shown(name) for name in there.names)
    if there.place == "proxy":
        title, how = f"Let the proxy redirect {names}", "`homepath forwarder --for proxy` has the rule in words."
    else:
        title = f"Set your own server up to redirect {names}"
        how = "`homepath forwarder --for nginx`, `apache` or `caddy` writes its configuration."
    instruction = f"{how} It must answer http and https, and keep path and query."
    stands: Standing = Open(BuilderStep(title, instruction))
    told = view.told("redirect")
    ways = view.visit.ways if view.visit else ()
    mine = [way for way in ways if any(f"://{shown(name)}/" in way.url for name in there.names)]
    if mine and all(way.state == "arrived" for way in mine):
        stands = Done(view.visit.at if view.visit else None)
    elif told is not None and not mine:
        stands = Done(told, "told")
    yield Draft(
        kind="redirect",
        place="DNS host" if there.place == "proxy" else "here",
        title=title,
        instruction=instruction,
        expect=f"https://{shown(there.names[0])}/ leads to {view.case.wanted.primary_url}",
        stands=stands,
        way_back="Take the rule or the configuration away again.",
    )


def take_back_hsts(view: View) -> Iterator[Draft]:
    """Before the change, where the old site made browsers keep to https and the new place cannot yet (RFC 6797)."""
    wanted = view.case.wanted
    names = [shown(name) for name in wanted.names if (told := view.case.hsts.get(name)) and told.binds]
    if not names:
        return
    word = view.told("take-back-hsts")
    edge = view.evidence.edge
    stands: Standing = Open(_hsts_question(names), because=view.findings("sticky-https-too-early"))
    if edge is not None and edge.secure:
        stands = Done(edge.at)
    elif view.source_right:
        stands = LeftOut("the change was made without it")
    elif word is not None:
        stands = Done(word, "told")
    yield Draft(
        kind="take-back-hsts",
        place="here",
        title="Have the certificate first, or let the old site take HSTS back",
        instruction=f"The old site told browsers to come to {' and '.join(names)} only over https. If the builder "
        "cannot have a certificate before the change, let the old site answer "
        '"Strict-Transport-Security: max-age=0" for as long as most visitors take to come back.',
        expect="`homepath visit --ahead` shows a good certificate, or `homepath visit` no HSTS any more.",
        stands=stands,
        longest_wait=7 * 86400,
        way_back="Let the old site send HSTS again.",
    )


def _hsts_question(names: Sequence[str]) -> Decide:
    return Decide(
        f"The old site told browsers to come to {' and '.join(names)} only over https, and the builder has no "
        "certificate for it yet. After the change returning visitors meet an error until it comes. Go on?",
        (
            Choice("Go on now, or the old site has taken it back", ("next", "--done", "take-back-hsts")),
            Choice("Look again whether the old site still says so", ("visit",)),
        ),
    )
