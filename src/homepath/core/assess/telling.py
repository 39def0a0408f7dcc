"""Steps at the builder: adding the domain, its own further steps, HTTPS only."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from homepath.core.assess.draft import Done, Draft, LeftOut, Open, Standing
from homepath.core.assess.view import View
from homepath.core.dns.names import shown
from homepath.core.model.acts import (
    BuilderStep,
    Choice,
    Decide,
    HttpsOnly,
    PublishAgain,
    TellBuilder,
)
from homepath.core.model.brief import BriefStep, When, numbered
from homepath.core.model.times import lasting


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
        return "you said that it is done before the new nameservers were seen; before that it has no effect"
    if step.publishes and view.unaware and view.now >= told + view.case.wanted.https.usual_wait:
        return "you said that it is done, but the builder's servers do not show the site yet"
    return ""


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
