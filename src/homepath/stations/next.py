"""Looks at everything and says where the domain stands (N34)."""

from __future__ import annotations

from homepath.core.formats.contracts.next import next_json
from homepath.core.model.path import Next
from homepath.core.model.visits import Visit
from homepath.core.path.stage import View, place_on_path
from homepath.journal.journal import open_journal
from homepath.net.network_file import Network
from homepath.stations import survey, visit, watch
from homepath.stations.plan import plan_from
from homepath.stations.project import Project


async def find_next(project: Project, network: Network) -> Next:
    """A fresh survey, one look at the vantages, and a visit where DNS is ready for one."""
    surveyed = await survey.survey(project, network)
    project = project.seen(surveyed.survey)
    planned = plan_from(project, surveyed.survey)
    knows = await visit.builder_knows(project, network) if planned.work else None
    spread = await watch.look(project, network)
    seen: Visit | None = None
    if not planned.work and spread.verdict in ("settled", "spreading"):
        seen = await visit.visit(project, network)
    found = place_on_path(View(planned, project.brief.builder, spread, knows, seen))
    with open_journal(project.folder) as journal:
        journal.record_look(network.clock.now(), "next", project.domain, found.stage, next_json(found))
    return found
