"""Steps of going back to what was before, and of leaving a builder for good."""

from __future__ import annotations

from homepath.core.assess.draft import Done, Draft, Open, Standing, enter_act
from homepath.core.assess.view import View
from homepath.core.dns.names import shown
from homepath.core.model.acts import BuilderStep
from homepath.core.plan.leaving import pointing
from homepath.core.wording.words import counted


def take_back(view: View) -> Draft:
    """What the change replaced is entered again, and what it gave is deleted."""
    act = enter_act(view.work, view.host_side)
    goes, comes = len(act.delete), len(act.enter)
    nothing = view.findings("nothing-to-take-back")
    return Draft(
        kind="take-back",
        place=view.host_side,
        title="Put back what stood there before",
        instruction=f"In the form of {view.case.notation.host}: {counted(goes, 'delete')}, {counted(comes, 'type')}. "
        "`homepath sheet` has them to copy; `homepath send` enters them where the host takes signed updates."
        if view.work
        else nothing[0].message
        if nothing
        else "All of it is as it was.",
        expect="`homepath next` sees the entries as they were, with what came since beside them.",
        stands=Open(act) if view.work else Done(view.right_since if view.meant else None),
        way_back="`homepath undo --stop`: the way that was gone before goes on.",
    )


def let_go(view: View) -> Draft:
    """Every name that leads to the builder is taken out while the builder still serves it."""
    act = enter_act(view.work, view.host_side)
    return Draft(
        kind="let-go",
        place=view.host_side,
        title=f"Take out what leads to {view.builder}",
        instruction=f"In the form of {view.case.notation.host}: {counted(len(act.delete), 'delete')}"
        f"{', ' + counted(len(act.enter), 'type') if act.enter else ''}. Where a new site is to stand, enter its own "
        "values in their place. Leave the domain connected at the builder for now."
        if view.work
        else f"Nothing leads to {view.builder} any more.",
        expect=f"`homepath next` sees no entry that leads to {view.builder}.",
        stands=Open(act, because=view.findings("points-to-the-builder")) if view.work else Done(view.right_since),
        way_back="`homepath log` shows what stood there; as long as the domain is connected, enter that again.",
    )


def leave_builder(view: View) -> Draft:
    """Only when no cache leads anybody there is the domain removed, so that nobody meets a page of somebody else's."""
    told = view.told("leave-builder")
    edge = view.evidence.edge
    title = f"Remove {shown(view.case.domain)} at {view.builder}"
    instruction = (
        f"In the settings of your site at {view.builder}, remove {shown(view.case.domain)}; then the account may be "
        "closed. Save what you want to keep of the site first."
    )
    stands: Standing = Open(BuilderStep(title, instruction))
    if told is not None and told >= view.right_since:
        stands = Done(told, "told")
    elif edge is not None and edge.knows is False and edge.at >= view.right_since:
        stands = Done(edge.at)
    elif told is not None:
        stands = Open(
            BuilderStep(title, instruction), "you said that it is done while names still led there; check again"
        )
    return Draft(
        kind="leave-builder",
        place="builder",
        title=title,
        instruction=instruction,
        expect=f"{view.builder} no longer shows the domain.",
        stands=stands,
        way_back="Connect the domain there again, as long as nobody else has.",
    )


def left(view: View) -> Draft:
    """The end: a look shows that nothing leads there any more."""
    still = [each for each in pointing(view.case) if each.leads]
    names = ", ".join(dict.fromkeys(shown(each.record.name) for each in still))
    kept = bool(still) and all(view.case.wanted.accepted.get(e.record.key) == e.record.values for e in still)
    survey = view.evidence.survey
    stands: Standing = Done(survey.at if survey else None)
    if still and not kept:
        stands = Open(BuilderStep("Look again", "Run `homepath next`."), f"these still lead there: {names}")
    return Draft(
        kind="left",
        place="here",
        title=f"Nothing leads to {view.builder} any more",
        instruction="`homepath survey` looks at every entry that is known.",
        expect=f"No entry of {shown(view.case.domain)} leads to {view.builder}.",
        stands=stands,
    )
