"""`homepath watch`: who gives the new answer, who still the old one, and until when."""

from __future__ import annotations

import sys
from typing import TYPE_CHECKING, Annotated

import typer

from homepath.cli.options import DomainOption, JsonOption, NetworkOption, PlainOption, SiteOption, VerboseOption

if TYPE_CHECKING:
    from homepath.core.model.readings import Spread
    from homepath.net.network_file import Network
    from homepath.stations.project import Project


def watch(
    once: Annotated[bool, typer.Option("--once", help="Look once and end.")] = False,
    site: SiteOption = None,
    domain: DomainOption = None,
    network: NetworkOption = None,
    json: JsonOption = False,
    plain: PlainOption = False,
    verbose: VerboseOption = False,
) -> None:
    """Ask parent, name servers and resolvers for every wanted record, once or until all is settled."""
    from homepath.cli import status
    from homepath.cli.running import print_json, project_and_network, run
    from homepath.core.formats.contracts.watch import watch_json
    from homepath.stations.watch import look

    project, where = project_and_network(site, network, verbose, domain)
    if once:
        spread = run(look(project, where), "Looking ...")
    else:
        try:
            spread = run(_follow(project, where, plain, json))
        except KeyboardInterrupt:
            raise typer.Exit(status.NOT_YET) from None
    if json:
        print_json(watch_json(spread))
    elif once:
        from homepath.cli.show.paper import paper
        from homepath.cli.show.watch import show_spread

        show_spread(paper(plain), spread, where.clock.now())
    raise typer.Exit(status.OF_SPREAD[spread.verdict])


async def _follow(project: Project, network: Network, plain: bool, json: bool) -> Spread:
    """Until settled, or until something is wrong that waiting cannot mend."""
    if sys.stdout.isatty() and not plain and not json:
        from homepath.cli.show.live import follow_live

        return await follow_live(project, network)
    from homepath.cli.show.paper import paper
    from homepath.cli.show.watch import show_changes, show_spread
    from homepath.stations.watch import ends, follow

    sheet = paper(plain)
    last: Spread | None = None
    async for spread, _ in follow(project, network):
        if not json:
            show_changes(sheet, last, spread)
        last = spread
        if ends(spread):
            break
    assert last is not None
    if not json:
        sheet.blank()
        show_spread(sheet, last, network.clock.now())
    return last
