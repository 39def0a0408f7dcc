"""The ways: for each, the kinds of steps in their order."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.journey import entering, handing_over, mending, telling
from homepath.core.journey.draft import Draft
from homepath.core.journey.view import View


def by_records(view: View) -> Iterator[Draft]:
    """The website's records are entered at the present DNS host."""
    yield telling.claim(view)
    yield from telling.builder_steps(view, "first")
    yield from telling.take_back_hsts(view)
    yield from entering.lower_ttl(view)
    yield from entering.enter(view)
    yield from entering.forward(view)
    yield from telling.redirect(view)
    yield from telling.builder_steps(view, "after-records")
    yield entering.spread(view)
    yield from _to_the_end(view)
    yield from entering.raise_ttl(view)


def by_name_servers(view: View) -> Iterator[Draft]:
    """The builder's own name servers take the domain over."""
    yield telling.claim(view)
    yield from telling.builder_steps(view, "first")
    yield handing_over.inventory(view)
    yield from telling.builder_steps(view, "before-nameservers")
    yield from handing_over.carry(view)
    yield from handing_over.remove_ds(view)
    yield handing_over.name_servers(view)
    yield handing_over.spread(view)
    yield from telling.builder_steps(view, "after-nameservers")
    yield from _to_the_end(view)


def _to_the_end(view: View) -> Iterator[Draft]:
    yield telling.check_again(view)
    yield from telling.builder_steps(view, "after-verification")
    yield telling.certificate(view)
    yield from telling.builder_steps(view, "after-certificate")
    yield telling.https_only(view)
    yield mending.visited(view)


WAYS = {"records": by_records, "nameservers": by_name_servers}


def drafts(view: View) -> list[Draft]:
    """All steps of the way that the plan takes; what must be mended first stands first."""
    return [*mending.put_back_lost(view), *mending.decisions(view), *WAYS[view.plan.route](view)]
