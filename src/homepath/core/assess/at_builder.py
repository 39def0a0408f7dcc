"""Steps at the builder: adding the domain, its own further steps, HTTPS only."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from homepath.core.assess.draft import Done, Draft, LeftOut, Open, Status
from homepath.core.assess.view import View
from homepath.core.dns.names import Name, shown
from homepath.core.message import Text, msg
from homepath.core.model.acts import BuilderStep, Choice, Decide, HttpsOnly, PublishAgain, TellBuilder
from homepath.core.model.brief import BriefStep, When, numbered


def claim(view: View) -> Draft:
    wanted = view.case.wanted
    limits = "".join(f" {limit}" for limit in wanted.limits)
    main = msg("claim.main", primary=wanted.primary) if len(_names(view)) > 1 else ""
    if wanted.destination not in ("", wanted.primary):
        main = msg("claim.main-2", destination=wanted.destination)
    return Draft(
        kind="claim",
        place="builder",
        title=msg("claim.title", builder=view.builder),
        instruction=msg("claim.instruction", builder=view.builder, names=_names(view), main=main, limits=limits),
        expect=msg("claim.expect"),
        status=_claimed(view),
        way_back=msg("claim.way-back", builder=view.builder),
    )


def _claimed(view: View) -> Status:
    """Seen where the builder's servers serve the name. A builder that has not checked yet shows nothing: then the
    owner's word counts.

    Where all is right, the longest wait is over, and the builder still does not serve the name, it was not enough.
    """
    edge, confirmed = view.evidence.edge, view.confirmed("claim")
    if view.served:
        return Done(edge.since if edge and edge.since is not None else confirmed)
    act = _telling(view)
    lost = tuple(each for each in view.findings("builder-unaware") if view.served_once(each.name))
    if not lost and (since := view.still_done("claim")) is not None:
        return Done(since)
    if confirmed is None or lost:
        return Open(act, msg("claimed.lost", builder=view.builder) if lost else "", lost, urgent=bool(lost))
    if why := _refused_by_its_servers(view, confirmed):
        return Open(act, why, urgent=True)
    wait, says = view.builder_wait if view.caches is None else None, view.builder_says
    late = wait is not None and wait.over(view.now) and view.checked and not _left_to_do(view)
    if wait is not None and late and says is not None and says.shows != "missing":
        since = view.now - wait.began
        shows = {"connected": msg("claimed.shows"), "checking": msg("claimed.shows-2")}[says.shows]
        why = msg("claimed.why", builder=view.builder, shows=shows, since=since)
        return Open(act, why, urgent=True)
    return Done(confirmed, "told")


def _left_to_do(view: View) -> bool:
    """Whether a step that the builder itself asks for before its check is not done: then that is what is missing."""
    first = ("first", "before-nameservers", "after-nameservers", "after-records")
    steps = [(about, step) for about, step in numbered(view.case.wanted.steps) if step.when in first]
    confirmed = {about: view.confirmed(f"builder-step:{about}") for about, _ in steps}
    return any(
        confirmed[about] is None or _without_effect(view, step, confirmed[about] or 0.0) for about, step in steps
    )


def _refused_by_its_servers(view: View, confirmed: float) -> Text:
    """Why to add the domain once more: the builder's own nameservers still refuse it, all of them, after the time that
    loading takes. Empty where that was done already: then something else is wrong.
    """
    over, compared = view.over, view.compared
    if over is None or not over.by_builder or view.handed_over or compared is None or compared.held:
        return ""
    longest, planned = over.new_zone.loads_within, view.evidence.job_since
    again = planned is not None and confirmed - planned >= longest
    if again or view.now < confirmed + longest or {each.state for each in compared.new} - {"refusing", "lame"}:
        return ""
    return msg("refused-by-its-servers", builder=view.builder, domain=view.case.domain, now=view.now - confirmed)


def _telling(view: View) -> TellBuilder:
    """All names that must arrive, and where they end: of a further domain that is the site's own primary address."""
    wanted = view.case.wanted
    if wanted.destination in ("", wanted.primary):
        return TellBuilder(_names(view), wanted.primary)
    return TellBuilder((*_names(view), wanted.destination), wanted.destination)


def _names(view: View) -> tuple[Name, ...]:
    """The names that the builder is to serve: not those that the DNS host forwards."""
    return tuple(name for name in view.case.wanted.names if name not in view.case.wanted.forwarded)


def further_steps(view: View, when: When) -> Iterator[Draft]:
    for about, step in numbered(view.case.wanted.steps):
        if step.when != when:
            continue
        step_id = f"builder-step:{about}"
        act = PublishAgain() if step.publishes else BuilderStep(step.title, step.instruction or step.title)
        confirmed = view.confirmed(step_id)
        status: Status = Open(act)
        if confirmed is not None:
            doubt = _without_effect(view, step, confirmed)
            status = Open(act, doubt) if doubt else Done(confirmed, "told")
        elif view.arrived_web and when != "after-certificate":
            status = Done(view.visit.at if view.visit else None)
        yield Draft(
            kind="builder-step",
            about=about,
            place="builder",
            title=step.title,
            instruction=step.instruction or step.title,
            expect=step.expect or msg("builder-steps.expect"),
            status=status,
        )


def _without_effect(view: View, step: BriefStep, confirmed: float) -> Text:
    """Why what was said to be done has to be done again; empty where the word counts.

    Before the new nameservers are seen it has no effect; after that it must show at the builder's servers.
    """
    if step.when != "after-nameservers" or view.over is None:
        return ""
    switched = view.switched_at
    if switched is None or confirmed < switched:
        return msg("without-effect")
    if step.publishes and view.unaware and view.now >= confirmed + view.case.wanted.https.usual_wait:
        return msg("without-effect-2")
    return ""


def https_only(view: View) -> Draft:
    return Draft(
        kind="https-only",
        place="builder",
        title=msg("https-only.title"),
        instruction=msg("https-only.instruction", builder=view.builder),
        expect=msg("https-only.expect"),
        status=_enforced(view),
        way_back=msg("https-only.way-back"),
    )


def _enforced(view: View) -> Status:
    if view.arrived_web:
        return Done(view.visit.at if view.visit else None)
    since = view.still_done("https-only")
    return Open(HttpsOnly()) if since is None or view.findings("https-not-enforced") else Done(since)


def redirect(view: View) -> Iterator[Draft]:
    """Where something else than the builder or the host's forwarding page redirects the second name."""
    there = view.case.wanted.redirects
    if there is None or there.place not in ("proxy", "own-server"):
        return
    if there.place == "proxy":
        title, how = msg("redirect", names=there.names), msg("redirect-2")
    else:
        title = msg("redirect.title", names=there.names)
        how = msg("redirect.how")
    instruction = msg("redirect.instruction", how=how)
    status: Status = Open(BuilderStep(title, instruction))
    confirmed = view.confirmed("redirect")
    ways = view.visit.ways if view.visit else ()
    mine = [way for way in ways if any(f"://{shown(name)}/" in way.url for name in there.names)]
    if mine and all(way.state == "arrived" for way in mine):
        status = Done(view.visit.at if view.visit else None)
    elif confirmed is not None and not mine:
        status = Done(confirmed, "told")
    yield Draft(
        kind="redirect",
        place="DNS host" if there.place == "proxy" else "here",
        title=title,
        instruction=instruction,
        expect=msg("redirect.expect", names=there.names[0], primary_url=view.case.wanted.primary_url),
        status=status,
        way_back=msg("redirect.way-back"),
    )


def take_back_hsts(view: View) -> Iterator[Draft]:
    """Before the change, where the old site made browsers keep to https and the new place cannot yet (RFC 6797)."""
    wanted = view.case.wanted
    names = [shown(name) for name in wanted.names if (confirmed := view.case.hsts.get(name)) and confirmed.binds]
    if not names:
        return
    word = view.confirmed("take-back-hsts")
    edge = view.evidence.edge
    status: Status = Open(_hsts_question(names), because=view.findings("sticky-https-too-early"))
    if edge is not None and edge.secure:
        status = Done(edge.at)
    elif view.source_right:
        status = LeftOut(msg("lower-ttl.left-out"))
    elif word is not None:
        status = Done(word, "told")
    yield Draft(
        kind="take-back-hsts",
        place="here",
        title=msg("take-back-hsts.title"),
        instruction=msg("take-back-hsts.instruction", names=tuple(names)),
        expect=msg("take-back-hsts.expect"),
        status=status,
        longest_wait=7 * 86400,
        way_back=msg("take-back-hsts.way-back"),
    )


def _hsts_question(names: Sequence[str]) -> Decide:
    return Decide(
        msg("hsts-question.question", names=tuple(names)),
        (
            Choice(msg("hsts-question.choice"), ("next", "--done", "take-back-hsts")),
            Choice(msg("hsts-question.choice-2"), ("visit",)),
        ),
    )
