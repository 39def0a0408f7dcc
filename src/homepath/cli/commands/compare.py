"""`homepath compare`: the present and the new name servers side by side, before the switch."""

from __future__ import annotations

from homepath.cli.common import Common, about_a_site


@about_a_site()
def compare(
    common: Common,
) -> None:
    """Hold new name servers against the present ones.

    Before a switch, each is asked for all that must come along: may one switch, or what is missing?"""
    from homepath.app.decide import assess_after
    from homepath.app.watch import compare as station
    from homepath.cli import status
    from homepath.cli.common import run
    from homepath.cli.show.compare import show_compared
    from homepath.core.contracts.checks import compare_json

    project, where = common.surveyed()
    found = run(station(project, where), "Checking both sides ...")
    assessment = assess_after(project, where.clock.now())
    common.end(
        assessment,
        lambda: compare_json(found.compared),
        lambda sheet: show_compared(sheet, found.compared, assessment, found.former, project.brief.builder),
        status.of_compared(found.compared),
    )
