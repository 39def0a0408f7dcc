"""The routes: for each, the kinds of steps in their order; and the steps of going back and of leaving a builder."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.assess import at_builder, checking, entering, handing_over, inventory, repairs, switching
from homepath.core.assess.draft import Done, Draft, Open, Status, enter_act
from homepath.core.assess.view import View
from homepath.core.dns.names import shown
from homepath.core.message import msg
from homepath.core.model.acts import BuilderStep
from homepath.core.plan.leaving import pointing


def take_back(view: View) -> Draft:
    """The change's values are deleted, and those that it replaced are entered again."""
    act = enter_act(view.work, view.host_side)
    nothing, hindered = view.findings("nothing-to-take-back"), view.findings("in-the-way-now")
    return Draft(
        kind="take-back",
        place="DNS host",
        title=msg("take-back.title"),
        instruction=entering.enter_words(view, act)
        if view.work
        else msg("take-back.in-the-way")
        if hindered
        else nothing[0].message
        if nothing
        else msg("take-back.instruction"),
        expect=msg("take-back.expect"),
        status=Open(act) if view.work or hindered else Done(view.right_since if view.desired else None),
        way_back=msg("take-back.way-back"),
    )


def let_go(view: View) -> Draft:
    """Every name that points to the builder is taken out while the builder still serves it."""
    act = enter_act(view.work, view.host_side)
    return Draft(
        kind="let-go",
        place="DNS host",
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


def by_records(view: View) -> Iterator[Draft]:
    """The website's records are entered at the present DNS host."""
    yield at_builder.claim(view)
    yield from at_builder.further_steps(view, "first")
    yield from at_builder.take_back_hsts(view)
    yield from entering.lower_ttl(view)
    yield from entering.enter(view)
    yield from entering.forward(view)
    yield from at_builder.redirect(view)
    yield from at_builder.further_steps(view, "after-records")
    yield entering.spread(view)
    yield from _to_the_end(view)
    yield from entering.raise_ttl(view)


def by_name_servers(view: View) -> Iterator[Draft]:
    """Other nameservers take the domain over: the builder's own, or those of another DNS host."""
    yield at_builder.claim(view)
    yield from at_builder.further_steps(view, "first")
    yield inventory.inventory(view)
    yield from inventory.assigned(view)
    yield from to_other_servers(view)
    if view.over is not None and not view.over.by_builder:
        yield from at_builder.further_steps(view, "after-records")
    yield from at_builder.further_steps(view, "after-nameservers")
    yield from _to_the_end(view)
    yield switching.old_zone(view)
    yield from switching.add_ds(view)


def to_other_servers(view: View) -> Iterator[Draft]:
    """From a zone at the new nameservers until no cache uses the old ones."""
    if view.over is None or not view.over.servers:
        return
    yield from switching.switched_too_early(view)
    if view.over.by_builder:  # what its support enters may be all that its new zone will have
        yield from at_builder.further_steps(view, "before-nameservers")
        yield handing_over.new_zone(view)
    else:
        yield handing_over.new_zone(view)
        yield from at_builder.further_steps(view, "before-nameservers")
    yield from handing_over.lacking(view)
    yield from handing_over.carry(view)
    yield from entering.forward(view)
    yield handing_over.compare(view)
    yield from switching.remove_ds(view)
    yield switching.name_servers(view)
    typed = view.work or view.was("enter") is not None
    if view.case.wanted.going == "there" and view.handed_over and typed:
        yield from entering.enter(view)
    yield switching.spread(view)


def _to_the_end(view: View) -> Iterator[Draft]:
    yield checking.check_again(view)
    yield from at_builder.further_steps(view, "after-verification")
    yield checking.certificate(view)
    yield from entering.forward(view, late=True)
    yield from at_builder.further_steps(view, "after-certificate")
    yield at_builder.https_only(view)
    yield repairs.visited(view)


def back(view: View) -> Iterator[Draft]:
    """What was before the last change is restored: its records, or the nameservers."""
    if view.over is None:
        yield take_back(view)
        yield entering.spread(view)
        return
    yield inventory.inventory(view)
    yield from to_other_servers(view)
    yield switching.old_zone(view)
    yield from switching.add_ds(view)


def away(view: View) -> Iterator[Draft]:
    """Out of the builder: DNS first, the caches, and only then the builder itself."""
    if view.over is not None:
        yield inventory.inventory(view)
        yield from inventory.assigned(view)
        yield from to_other_servers(view)
        if view.handed_over and (view.work or view.was("let-go") is not None):
            yield let_go(view)
    else:
        yield let_go(view)
        yield entering.spread(view)
    yield leave_builder(view)
    yield left(view)


WAYS = {"records": by_records, "nameservers": by_name_servers, "undo": back, "leave": away}


def drafts(view: View) -> list[Draft]:
    """All steps of the plan's route; what must be fixed first comes first."""
    first = [*switching.nameservers_changed(view), *repairs.restore_lost(view), *repairs.decisions(view)]
    route = list(WAYS[view.plan.route](view))
    ids = {draft.id for draft in route}  # the route may have its own step for a question that you answered before
    return [*(each for each in first if not (isinstance(each.status, Done) and each.id in ids)), *route]
