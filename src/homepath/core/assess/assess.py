"""The one assessment of a domain: the site, all steps with their states, the one act that is now, what is open. Several
domains of one site are joined into one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from homepath.core.assess.draft import Done, Draft, LeftOut, Open, Undone
from homepath.core.assess.routes import drafts
from homepath.core.assess.view import RULED, View
from homepath.core.dns.names import is_within, labels, shown
from homepath.core.findings.registry import KINDS, finding, kind_of
from homepath.core.message import Text, msg
from homepath.core.model.acts import Act, BuilderStep, Decide, Enter, Nothing, TellBuilder, Wait
from homepath.core.model.evidence import Evidence
from homepath.core.model.findings import Finding, worst_first
from homepath.core.model.plan import Plan
from homepath.core.model.steps import Assessment, Step
from homepath.core.plan.going_back import former_servers
from homepath.core.site.case import Case


def joined(assessments: Sequence[Assessment]) -> Assessment:
    """One list of steps, one of them now. What can be done comes before what is waited for, the main domain first;
    of waits the one that ends first."""
    main = assessments[0]
    if len(assessments) == 1:
        return main
    chosen = _chosen(assessments)
    steps: list[Step] = []
    for assessment in assessments:
        steps += [_of(step, assessment, main, assessment is chosen) for step in assessment.steps]
    counted = [step for step in steps if step.state != "left-out"]
    numbers = {step.id: number for number, step in enumerate(counted, 1)}
    ordered = [*counted, *(step for step in steps if step.state == "left-out")]
    numbered = tuple(replace(step, number=numbers.get(step.id)) for step in ordered)
    current = None
    if chosen.step is not None:
        current = next(step for step in numbered if step.id == _id(chosen.step.id, chosen, main))
    notes = tuple(dict.fromkeys(note for assessment in assessments for note in assessment.notes))
    further = None if chosen is main else chosen.domain
    return Assessment(
        domain=main.domain,
        steps=numbered,
        step=current,
        act=_act_of(chosen, main),
        at=max(each.at for each in assessments),
        primary_url=main.primary_url,
        site_up=main.site_up,
        findings=tuple(worst_first([each for every in assessments for each in every.findings])),
        unchecked=main.unchecked,
        because=chosen.because,
        notes=notes,
        open_acts=tuple((_id(key, each, main), act) for each in assessments for key, act in each.open_acts),
        going=main.going,
        had_arrived=main.had_arrived,
        visited_at=main.visited_at,
        advice=chosen.advice,
        further=further,
    )


def _act_of(chosen: Assessment, main: Assessment) -> Act:
    """The act; commands about a further domain name that domain."""
    act = chosen.act
    if chosen is main or not isinstance(act, Decide):
        return act
    named = ("--domain", shown(chosen.domain))
    about_it = ("builder:", "none:")
    choices = [
        replace(each, then=(*each.then, *named)) if each.then[-1].startswith(about_it) else each for each in act.choices
    ]
    return replace(act, choices=tuple(choices))


def _chosen(assessments: Sequence[Assessment]) -> Assessment:
    blocked = [each for each in assessments if each.blocked]
    doing = [each for each in assessments if not isinstance(each.act, Wait | Nothing)]
    waiting = [each for each in assessments if isinstance(each.act, Wait)]
    waiting.sort(key=lambda each: each.act.until if isinstance(each.act, Wait) else 0.0)
    return next(iter([*blocked, *doing, *waiting, *assessments]))


def _id(step_id: str, assessment: Assessment, main: Assessment) -> str:
    """A further domain's steps carry its name, so that no id is there twice."""
    return step_id if assessment is main else f"{step_id}@{shown(assessment.domain)}"


def _of(step: Step, assessment: Assessment, main: Assessment, chosen: bool) -> Step:
    title = step.title if assessment is main else msg("of-domain", title=step.title, domain=assessment.domain)
    step = replace(step, id=_id(step.id, assessment, main), title=title)
    if step.state in ("now", "waiting") and not chosen:
        return replace(step, state="ahead", until=None)
    return step


def assess(case: Case, plan: Plan, evidence: Evidence, now: float) -> Assessment:
    """Where the domain is at `now` (Unix seconds): a pure function of the plan, the evidence and the time."""
    view = View(case, plan, evidence, now)
    made = drafts(view)
    current = _current(made)
    steps = _with_remembered([_step(draft, draft is current, view) for draft in made], view)
    numbered = _numbered(steps)
    step = next((each for each in numbered if current is not None and each.id == current.id), None)
    act: Act = Nothing()
    because: tuple[Finding, ...] = ()
    if current is not None and isinstance(current.status, Open):
        act = current.status.act
        because = tuple(replace(each, level=view.level_of(each)) for each in current.status.because)
    blockers = [finding for finding in because if finding.level == "blocker"]
    unseen = bool(blockers) and all(kind_of(finding).unseen for finding in blockers)
    advice = _advice(step, act, view.had_arrived)

    def advised(each: Finding) -> Finding:
        return replace(each, cure=advice[each.code]) if each.code in advice else each

    return Assessment(
        domain=case.domain,
        steps=numbered,
        step=step,
        act=act,
        at=now,
        primary_url=case.wanted.primary_url,
        site_up=view.site_up,
        findings=tuple(map(advised, worst_first([*view.open, *_own_notes(view)]))),
        unchecked=view.unchecked or unseen,
        because=tuple(map(advised, because)),
        notes=tuple(map(advised, _notes(view, because))),
        open_acts=tuple((draft.id, draft.status.act) for draft in made if isinstance(draft.status, Open)),
        going=case.wanted.going,
        had_arrived=view.had_arrived,
        visited_at=view.visit_of_now.at if view.visit_of_now else None,
        advice=advice,
    )


def _advice(step: Step | None, act: Act, had_arrived: bool) -> dict[str, Text]:
    """The cure of each kind of finding that the step now is about: at the builder that step is the one cure of what
    the builder's servers show; before that, what they do by themselves comes later."""
    if step is None or (had_arrived and step.place != "builder"):
        return {}
    by_themselves = [kind.code for kind in KINDS.values() if kind.waited_for]
    if step.place != "builder":
        blocked = step.kind in ("mend", "decide")
        first = msg("first-the-blocker.cure") if blocked else msg("first-this.cure", title=step.title)
        return dict.fromkeys(by_themselves, first)
    if isinstance(act, Wait):
        return dict.fromkeys(by_themselves, msg("waited-for.cure"))
    cure: Text
    match act:
        case BuilderStep(title, instruction):
            cure = msg("first-this.cure", title=title) if step.kind == "builder-step" else instruction
        case Decide():
            cure = act.question
        case TellBuilder():
            cure = step.why or step.instruction
        case _:
            cure = step.instruction
    return {kind.code: cure for kind in KINDS.values() if kind.builder_shows}


def _current(made: Sequence[Draft]) -> Draft | None:
    """The first urgent one, else the first that is open; None when all is done."""
    still = [draft for draft in made if isinstance(draft.status, Open)]
    urgent = [draft for draft in still if isinstance(draft.status, Open) and draft.status.urgent]
    return next(iter([*urgent, *still]), None)


def _step(draft: Draft, current: bool, view: View) -> Step:
    """One step with its state; its number comes later."""
    step = Step(
        id=draft.id,
        number=None,
        kind=draft.kind,
        place=view.host_side if draft.place == "DNS host" else draft.place,
        title=draft.title,
        instruction=draft.instruction,
        expect=draft.expect,
        longest_wait=draft.longest_wait,
        way_back=draft.way_back,
        state="ahead",
    )
    match draft.status:
        case Done(since, by):
            return replace(step, state="done", since=_since(since, draft.id, view), by=by)
        case Undone(since, why):
            return replace(step, state="undone", since=since, by="seen", why=why)
        case LeftOut(why):
            return replace(step, state="left-out", why=why)
        case Open(Wait(until, _), why) if current:
            return replace(step, state="waiting", until=until, why=why)
        case Open(act, why):
            if not why and view.confirmed(draft.id) is not None:
                why = _not_seen(act, draft)
            return replace(step, state="now" if current else "ahead", why=why)


def _not_seen(act: Act, draft: Draft) -> Text:
    """What Home Path sees of a step of which the person said that it is done."""
    if isinstance(act, Enter):
        lists = {"delete": act.delete, "enter": act.enter}
        deeds = [msg(f"count.{deed}", count=len(each)) for deed, each in lists.items() if each]
        return msg("not-seen", deeds=tuple(deeds))
    return msg("not-seen-2", expect=draft.expect)


def _since(since: float | None, step_id: str, view: View) -> float:
    """From when on a step is done: as it is known, else as it was first noted, else now."""
    if since is not None:
        return min(since, view.now)
    was = view.was(step_id)
    return was.since if was and was.state == "done" and was.since is not None else view.now


_TURNED = {"back": msg("assess.turned"), "away": msg("assess.turned-2")}


def _with_remembered(steps: Sequence[Step], view: View) -> list[Step]:
    """Ids never disappear: a step that the plan no longer has is done, if it was, or left out."""
    here = {step.id for step in steps}
    turned = _TURNED.get(view.case.wanted.going)
    gone = []
    for step in view.evidence.remembered:
        if step.id not in here and step.state == "done" and turned is None:
            gone.append(replace(step, until=None))
        elif step.id not in here:
            why = step.why if step.state == "left-out" else turned or msg("with-remembered.why")
            gone.append(replace(step, state="left-out", since=None, by=None, until=None, why=why))
    return [*steps, *gone]


def _numbered(steps: Sequence[Step]) -> tuple[Step, ...]:
    """Numbers in order; a step that is left out has none and comes last."""
    counted = [step for step in steps if step.state != "left-out"]
    out = [replace(step, number=None) for step in steps if step.state == "left-out"]
    return (*(replace(step, number=number) for number, step in enumerate(counted, 1)), *out)


def _still_used(view: View) -> str:
    """The records that still point to the host that ran the domain before, such as its mail servers."""
    over = view.over
    former = former_servers(view.evidence.contents, view.case.domain, over.servers) if over else ()
    domains = {".".join(labels(server)[-2:]) + "." for server in former}
    found = [
        f"{record.type} at {shown(record.name)}"
        for record in view.case.zone
        if record.type in ("MX", "CNAME", "SRV")
        and any(is_within(value.split()[-1].lower(), each) for value in record.values for each in domains)
    ]
    return ", ".join(found[:3])


def _own_notes(view: View) -> list[Finding]:
    """What the way itself has to say, also its steps."""
    found = list(view.findings("nothing-to-take-back", "mentions-the-builder"))
    if view.over is not None and view.handed_over and view.caches is None and not view.parents_behind:
        used = _still_used(view)
        message = msg("own-notes.said", former_host=view.former_host)
        if used:
            message = msg("own-notes.in-use", former_host=view.former_host, in_use=used)
        found.append(finding("old-zone-deletable", view.case.domain, "NS", message))
        if view.was("remove-ds") is not None and not view.case.wanted.sign:
            found[-1] = replace(found[-1], message=msg("own-notes", said=message))
    return found


def _notes(view: View, because: Sequence[Finding]) -> tuple[Finding, ...]:
    """What is worth knowing beside the act: all that is risky, and notes of the last checks."""
    seen = [each for each in (view.evidence.spread.findings if view.evidence.spread else ()) if each.code not in RULED]
    seen += [*(view.visit.findings if view.visit else ()), *_own_notes(view)]
    observed = {(each.code, each.name) for each in seen}
    named = {(finding.code, finding.name) for finding in because}
    every = [each for each in (*view.open, *_own_notes(view)) if (each.code, each.name) not in named]
    if view.arrived_web and view.caches is None:  # what one resolver does by a rule of its own is no one's concern now
        every = [each for each in every if kind_of(each).who != "resolver"]
    return tuple(each for each in every if each.level != "note" or (each.code, each.name) in observed)
