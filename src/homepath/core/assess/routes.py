"""The routes: for each, the kinds of steps in their order."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.assess import at_builder, checking, entering, handing_over, inventory, repairs, returning, switching
from homepath.core.assess.draft import Draft
from homepath.core.assess.view import View


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
        yield returning.take_back(view)
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
            yield returning.let_go(view)
    else:
        yield returning.let_go(view)
        yield entering.spread(view)
    yield returning.leave_builder(view)
    yield returning.left(view)


WAYS = {"records": by_records, "nameservers": by_name_servers, "undo": back, "leave": away}


def drafts(view: View) -> list[Draft]:
    """All steps of the plan's route; what must be fixed first comes first."""
    first = [*switching.nameservers_changed(view), *repairs.restore_lost(view), *repairs.decisions(view)]
    return [*first, *WAYS[view.plan.route](view)]
