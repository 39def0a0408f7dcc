"""Looks at everything and says where the domain stands, and what to put into a calendar."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from homepath.core.formats.calendar_file import Appointment, merged
from homepath.core.formats.contracts.next import next_json
from homepath.core.model.names import shown
from homepath.core.model.path import Next
from homepath.core.model.survey import Survey
from homepath.core.model.visits import Visit
from homepath.core.path.stage import View, place_on_path
from homepath.journal.journal import open_journal
from homepath.net.network_file import Network
from homepath.stations import survey, visit, watch
from homepath.stations.files import read_text, write_text
from homepath.stations.plan import plan_from
from homepath.stations.project import Project


@dataclass(frozen=True, slots=True)
class Seen:
    """The next thing to do, and all that was looked at to say so."""

    next: Next
    view: View
    survey: Survey


async def find_next(project: Project, network: Network) -> Seen:
    """A fresh survey, one look at the vantages, and a visit where DNS is ready for one."""
    surveyed = await survey.survey(project, network)
    project = project.seen(surveyed.survey)
    planned = plan_from(project, surveyed.survey)
    knows = await visit.builder_knows(project, network) if planned.work else None
    spread = await watch.look(project, network)
    seen: Visit | None = None
    if not planned.work and spread.verdict in ("settled", "spreading"):
        seen = await visit.visit(project, network)
    view = View(planned, project.brief.builder, spread, knows, seen)
    found = place_on_path(view)
    with open_journal(project.folder) as journal:
        journal.record_look(network.clock.now(), "next", project.domain, found.stage, next_json(found))
    return Seen(found, view, surveyed.survey)


def appointments(seen: Seen) -> Iterator[Appointment]:
    """The ends of waits, and what expires."""
    name, found = shown(seen.next.domain), seen.next
    if seen.view.spread.settled_by is not None:
        yield Appointment(
            "spread",
            seen.view.spread.settled_by,
            f"{name}: caches have let go",
            "No cache that keeps the rules holds the old answer any more. Run: homepath next",
        )
    if found.wait_until is not None and found.stage != "spread":
        yield Appointment(found.stage, found.wait_until, f"{name}: this wait is over", f"{found.do} Run: homepath next")
    registration = seen.survey.registration
    if registration and registration.expires is not None:
        yield Appointment(
            "registration",
            registration.expires,
            f"{name}: the registration ends",
            f"Renew it at {registration.registrar} well before; without it site and mail are gone.",
        )
    ends = [
        hop.certificate.not_after
        for way in (seen.view.visit.ways if seen.view.visit else ())
        for hop in way.hops
        if hop.certificate and hop.certificate.state in ("good", "ending") and hop.certificate.not_after is not None
    ]
    if ends:
        yield Appointment(
            "certificate",
            min(ends),
            f"{name}: the certificate ends",
            "It should be renewed by itself some weeks before. Run: homepath visit",
        )


def write_calendar(seen: Seen, path: Path, now: float) -> int:
    """Bring the calendar file up to date, or make it; how many appointments it has now. Raises BadInput."""
    there = read_text(path, "the calendar") if path.exists() else None
    wanted = list(appointments(seen))
    write_text(path, merged(there, seen.next.domain, wanted, now, str(path)))
    return len(wanted)
