"""Going back, and leaving: the route is written into the site file, so that every command knows it."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from homepath.app.project import Project
from homepath.core.message import msg
from homepath.core.model.brief import WayBack
from homepath.core.model.problems import BadInput, CouldNotCheck, Problem
from homepath.core.model.times import from_rfc3339, rfc3339
from homepath.core.plan.going_back import first_seen
from homepath.core.wording.say import say


def moment_of(text: str, now: float) -> float:
    """The moment that was typed. Raises BadInput."""
    try:
        moment = from_rfc3339(text)
    except ValueError as error:
        hint = msg("returning.moment-of.hint")
        raise BadInput(Problem(msg("returning.moment-of"), key="--to", seen=text[:60], hint=hint)) from error
    if moment > now:
        raise BadInput(Problem(msg("returning.moment-of-2"), key="--to", seen=text[:60]))
    return moment


def back(project: Project, moment: float | None, now: float) -> Project:
    """The project with the last change to be undone. Raises CouldNotCheck before the first
    check, BadInput for a moment before it."""
    _looked(project)
    begin = first_seen(project.evidence.contents)
    if moment is not None and (begin is None or moment < begin):
        since = rfc3339(begin) if begin is not None else "never"
        raise BadInput(
            Problem(
                msg("returning.back"), key="--to", seen=rfc3339(moment), hint=msg("returning.back.hint", since=since)
            )
        )
    site = project.site
    of = site.undo.of if site.route == "undo" and site.undo else _now_gone(project)
    return replace(project, site=replace(site, route="undo", undo=WayBack(of, moment))).fresh(now)


def _now_gone(project: Project) -> Literal["records", "nameservers"]:
    return "nameservers" if project.wanted.hand_over is not None else "records"


def away(project: Project, now: float) -> Project:
    """The project on the way out of the builder. Raises CouldNotCheck before the first check."""
    _looked(project)
    return replace(project, site=replace(project.site, route="leave", undo=None)).fresh(now)


def keep(project: Project) -> None:
    """Write the way into the site file; its comments stay."""
    project.keep_site(project.site)


def stopped(project: Project) -> str:
    """Go on as before; what that means, in words."""
    site = project.site
    if site.route not in ("undo", "leave"):
        return say(msg("returning.stopped", domain=project.domain, builder=project.brief.builder))
    route = site.undo.of if site.undo else "advise"
    keep(replace(project, site=replace(site, route=route, undo=None)))
    return say(msg("returning.stopped-2", domain=project.domain, builder=project.brief.builder))


def _looked(project: Project) -> None:
    if project.evidence.survey is None:
        raise CouldNotCheck(msg("returning.looked", domain=project.domain), msg("project.plan-2"))
