"""Steps of going back to what was before, and of leaving a builder for good."""

from __future__ import annotations

from homepath.core.assess.draft import Done, Draft, Open, Status, enter_act
from homepath.core.assess.view import View
from homepath.core.dns.names import shown
from homepath.core.message import msg
from homepath.core.model.acts import BuilderStep
from homepath.core.plan.leaving import pointing


def take_back(view: View) -> Draft:
    """The change's values are deleted, and those that it replaced are entered again."""
    act = enter_act(view.work, view.host_side)
    goes, comes = len(act.delete), len(act.enter)
    nothing = view.findings("nothing-to-take-back")
    return Draft(
        kind="take-back",
        place=view.host_side,
        title=msg("take-back.title"),
        instruction=msg("enter.instruction", host=view.case.notation.host, goes=goes, comes=comes)
        if view.work
        else nothing[0].message
        if nothing
        else msg("take-back.instruction"),
        expect=msg("take-back.expect"),
        status=Open(act) if view.work else Done(view.right_since if view.desired else None),
        way_back=msg("take-back.way-back"),
    )


def let_go(view: View) -> Draft:
    """Every name that points to the builder is taken out while the builder still serves it."""
    act = enter_act(view.work, view.host_side)
    return Draft(
        kind="let-go",
        place=view.host_side,
        title=msg("let-go.title", builder=view.builder),
        instruction=msg(
            "let-go.instruction",
            host=view.case.notation.host,
            count_delete=len(act.delete),
            comes=msg("count.enter", count=len(act.enter)) if act.enter else "",
        )
        if view.work
        else msg("let-go.instruction-2", builder=view.builder),
        expect=msg("let-go.expect", builder=view.builder),
        status=Open(act, because=view.findings("points-to-the-builder")) if view.work else Done(view.right_since),
        way_back=msg("let-go.way-back"),
    )


def leave_builder(view: View) -> Draft:
    """The domain is removed only when no cache sends visitors there, so that no one reaches another customer's page."""
    confirmed = view.confirmed("leave-builder")
    edge = view.evidence.edge
    title = msg("leave-builder.title", domain=view.case.domain, builder=view.builder)
    instruction = msg("leave-builder.instruction", builder=view.builder, domain=view.case.domain)
    status: Status = Open(BuilderStep(title, instruction))
    if confirmed is not None and confirmed >= view.right_since:
        status = Done(confirmed, "told")
    elif edge is not None and edge.knows is False and edge.at >= view.right_since:
        status = Done(edge.at)
    elif confirmed is not None:
        status = Open(BuilderStep(title, instruction), msg("leave-builder.why"))
    return Draft(
        kind="leave-builder",
        place="builder",
        title=title,
        instruction=instruction,
        expect=msg("leave-builder.expect", builder=view.builder),
        status=status,
        way_back=msg("leave-builder.way-back"),
    )


def left(view: View) -> Draft:
    """The end: a check shows that nothing points there any more."""
    still = [each for each in pointing(view.case) if each.leads]
    names = ", ".join(dict.fromkeys(shown(each.record.name) for each in still))
    accepted = bool(still) and all(view.case.wanted.accepted.get(e.record.key) == e.record.values for e in still)
    survey = view.evidence.survey
    status: Status = Done(survey.at if survey else None)
    if still and not accepted:
        status = Open(
            BuilderStep(msg("ask-the-new-host.choice"), msg("left.instruction")), msg("left.why", names=names)
        )
    return Draft(
        kind="left",
        place="here",
        title=msg("left.title", builder=view.builder),
        instruction=msg("left.instruction-2"),
        expect=msg("left.expect", domain=view.case.domain, builder=view.builder),
        status=status,
    )
