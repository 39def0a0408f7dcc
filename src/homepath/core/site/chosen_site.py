"""The site on the route, or for the further domain, that was typed with a command."""

from __future__ import annotations

from dataclasses import replace
from typing import cast, get_args

from homepath.core.dns.names import absolute, child
from homepath.core.message import msg
from homepath.core.model.brief import Route, Site, WayBack
from homepath.core.model.problems import BadInput, Problem


def on_named_route(site: Site, route: str | None) -> Site:
    """The site on the way that was typed; None: as it is. Raises BadInput."""
    if route is None:
        return site
    if route not in get_args(Route):
        hint = msg("project.routes")
        raise BadInput(Problem(msg("project.on-named-route"), key="--route", seen=route, hint=hint))
    if route == "records":  # typed, it asks for the present DNS host; in the site file it would contradict [move]
        site = replace(site, move=None)
    return on_route(site, cast(Route, route))


def on_route(site: Site, route: Route) -> Site:
    """The site on another way. To take back without a word on what, it is what was wanted until now."""
    if route == "undo" and site.undo is None:
        moved = site.route == "nameservers" or (site.move is not None and site.route != "records")
        return replace(site, route=route, undo=WayBack("nameservers" if moved else "records"))
    return replace(site, route=route)


def further_site(site: Site, domain: str) -> Site:
    """The site as one of its further domains sees it: the same builder, and all of it points to the primary. Raises
    BadInput for a name that is none of them."""
    name = domain.strip().lower().removesuffix(".")
    if name == site.domain:
        return site
    if name not in site.also:
        known = ", ".join((site.domain, *site.also))
        raise BadInput(
            Problem(
                msg("project.further"),
                key="--domain",
                seen=domain,
                hint=msg("driving.chosen-resolver.hint", known=known),
            )
        )
    main = absolute(site.domain)
    primary = main if site.primary == "apex" else child(site.primary, main)
    return replace(
        site,
        domain=name,
        primary="www",
        also=(),
        keep=(),
        purposes={},
        accepted={},
        leads_to=primary,
        values={**site.values, **site.values_of.get(name, {})},
        move=None,
        leave_behind=(),
        undo=WayBack("records", site.undo.to) if site.undo and site.move else site.undo,
    )
