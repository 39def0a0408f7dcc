"""From options to a project, a network and a running check."""

from __future__ import annotations

import json
import sys
from collections.abc import Coroutine
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

if TYPE_CHECKING:
    from homepath.app.project import Project
    from homepath.core.model.steps import Assessment
    from homepath.net.clock import Clock
    from homepath.net.network_file import Network

Result = TypeVar("Result")


def project_and_network(
    site: Path | None, network: Path | None, verbose: bool = False, domain: str | None = None
) -> tuple[Project, Network]:
    """Read both files strictly; with `verbose`, every question is said on stderr. Raises BadInput."""
    from homepath.app.project import open_project
    from homepath.net.network_file import load_network

    where = load_network(network)
    project = _from_list(site, where.clock.now()) or open_project(site, None, domain, where.clock.now())
    _say_left_out(project)
    return project, replace(where, trace=said) if verbose else where


def project_and_clock(
    site: Path | None, network: Path | None, domain: str | None = None, route: str | None = None
) -> tuple[Project, Clock]:
    """The project, and the clock of the network file where one is given: nothing is asked. Raises BadInput."""
    from homepath.app.project import on_named_route, open_project
    from homepath.net.clock import MachineClock

    clock: Clock = MachineClock()
    if network is not None:
        from homepath.net.network_file import load_network

        clock = load_network(network).clock
    listed = _from_list(site, clock.now())
    if listed is not None:
        project = replace(listed, site=on_named_route(listed.site, route))
    else:
        project = open_project(site, route, domain, clock.now())
    _say_left_out(project)
    return project, clock


def _from_list(site: Path | None, now: float) -> Project | None:
    """The project of `LIST:DOMAIN`, one domain of a list; None for a site file of its own. Raises BadInput."""
    listed, _, domain = str(site or "").rpartition(":")
    if site is None or site.exists() or not listed or not Path(listed).exists():
        return None
    from homepath.bulk.opened import open_from

    return open_from(Path(listed), domain, now)


def _say_left_out(project: Project) -> None:
    """What of the journal could not be read, named, on stderr: it does not count, and stops nothing."""
    bad = project.evidence.left_out
    if bad:
        more = f", and {len(bad) - 3} more" if len(bad) > 3 else ""
        said(f"The journal holds what cannot be read and is left out: {'; '.join(bad[:3])}{more}.")


def surveyed(project: Project, network: Network) -> tuple[Project, Network]:
    """The project once a survey is known: without one, nothing that is seen can be judged. Raises CouldNotLook."""
    from homepath.app.survey import survey

    if project.evidence.survey is None:
        run(survey(project, network), f"Checking what {project.site.domain} has now ...")
        project = project.fresh(network.clock.now())
    return project, network


def said(words: str) -> None:
    """One line on stderr, harmless."""
    from homepath.core.model.visible import visible

    sys.stderr.write(f"{visible(words)}\n")


def run(work: Coroutine[Any, Any, Result], words: str = "") -> Result:
    """Run a check; `words` are on stderr meanwhile, on a terminal only, and are gone afterwards."""
    import asyncio

    shown = bool(words) and sys.stderr.isatty()
    if shown:
        sys.stderr.write(words)
        sys.stderr.flush()
    try:
        return asyncio.run(work)
    finally:
        if shown:
            sys.stderr.write("\r\x1b[K")
            sys.stderr.flush()


def print_json(value: dict[str, Any], assessment: Assessment | None = None) -> None:
    """One object on stdout, with the assessment where it is about a domain; JSON itself escapes control characters."""
    if assessment is not None:
        from homepath.core.contracts.assessment import with_assessment

        value = with_assessment(value, assessment)
    sys.stdout.write(json.dumps(value, indent=2, ensure_ascii=True) + "\n")
