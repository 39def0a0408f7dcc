"""The comparison before a switch of nameservers: Home Path queries every server of both sides."""

from __future__ import annotations

from dataclasses import dataclass, replace

from homepath.app.driving import Driver
from homepath.app.project import Project
from homepath.core.dns.names import Name
from homepath.core.dns.records import Zone
from homepath.core.message import msg
from homepath.core.model.compared import Compared
from homepath.core.model.problems import BadInput, Problem
from homepath.core.observe.compare import Sides, compare_look
from homepath.core.plan.going_back import former_servers
from homepath.core.plan.new_zone import due, glue_names
from homepath.core.site.zone_facts import handed_over
from homepath.net.network_file import Network
from homepath.net.session import Session, session


@dataclass(frozen=True, slots=True)
class Both:
    """What was compared, and the project as the journal knows it then."""

    compared: Compared
    project: Project
    former: bool = False
    """Whether the switch is over, so that the old side is the one of before."""


async def compare(project: Project, network: Network, within: Session | None = None) -> Both:
    """Ask every present and every new name server for all that must come along, and keep it in the journal.

    Raises BadInput where no hand-over is wanted or its servers are not known, CouldNotLook.
    """
    over = project.wanted.hand_over
    if over is None:
        raise BadInput(
            Problem(
                msg("compare.compare", domain=project.domain),
                key="route",
                hint=msg("compare.compare.hint"),
            )
        )
    if not over.servers:
        raise BadInput(Problem(msg("compare.compare-2", host=over.host), key="servers", hint="homepath next"))
    case = project.case
    former = former_servers(project.evidence.contents, project.domain, over.servers) if handed_over(case) else ()
    sides = Sides(over.servers, _glue(project, glue_names(case)), former)
    within = within or session(network)
    found = await Driver(network, within).drive(compare_look(case, due(case), sides, within.label))
    compared = found.compared
    kept = tuple(each for each in compared.records if each.state != "same")
    with project.journal() as journal:
        short = replace(compared, records=kept, same=len(compared.records) - len(kept))
        journal.record_look(compared.at, "compare", project.domain, compared.verdict, short)
        if not former:
            journal.record_contents(compared.at, found.new_sets, "new")
    return Both(compared, project.fresh(network.clock.now()), bool(former))


def _glue(project: Project, names: tuple[Name, ...]) -> dict[Name, tuple[str, ...]]:
    """Addresses of new servers below the domain itself: as the present zone, or a look at the new one, gives them."""
    zones: list[Zone] = [project.case.zone]
    return {
        name: tuple(value for zone in zones for rrtype in ("A", "AAAA") for value in zone.values(name, rrtype))
        for name in names
    }
