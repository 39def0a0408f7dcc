"""What the commands share: their options, how a site is opened, and how a command ends.

Only typer is imported at once; the rest comes with the command that needs it, so that `--version` starts quickly.
"""

from __future__ import annotations

import inspect
import sys
from collections.abc import Callable, Coroutine
from dataclasses import dataclass, fields, replace
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NoReturn, TypeVar

import typer

if TYPE_CHECKING:
    from homepath.app.project import Project
    from homepath.cli.show.paper import Paper
    from homepath.core.model.steps import Assessment
    from homepath.net.clock import Clock
    from homepath.net.network_file import Network

Result = TypeVar("Result")
KEYWORD_ONLY = inspect.Parameter.KEYWORD_ONLY

SiteOption = Annotated[
    Path | None,
    typer.Option(
        "--site",
        help="The site file, or LIST:DOMAIN. Default: the nearest homepath.toml here or above.",
        show_default=False,
    ),
]
DomainOption = Annotated[
    str | None,
    typer.Option("--domain", help="One of the site's further domains. Default: the main one.", show_default=False),
]
NetworkOption = Annotated[
    Path | None,
    typer.Option(
        "--network",
        envvar="HOMEPATH_NETWORK",
        help="Which servers to query and which authorities to trust. Default: the public Internet.",
        show_default=False,
    ),
]
JsonOption = Annotated[bool, typer.Option("--json", help="Print one JSON object and nothing else.")]
PlainOption = Annotated[bool, typer.Option("--plain", help="No colours, no drawn bars.")]
VerboseOption = Annotated[bool, typer.Option("--verbose", help="Show each query on stderr.")]
FolderOption = Annotated[Path, typer.Option("--folder", help="The folder to work in.")]


def quiet_app(add_completion: bool = False, **more: Any) -> typer.Typer:
    """An app with plain help pages; errors are left to `homepath.cli.app.main`."""
    return typer.Typer(add_completion=add_completion, pretty_exceptions_enable=False, rich_markup_mode=None, **more)


@dataclass(frozen=True, slots=True)
class Common:
    """The options that every command about a site has."""

    site: SiteOption = None
    domain: DomainOption = None
    network: NetworkOption = None
    json: JsonOption = False
    plain: PlainOption = False
    verbose: VerboseOption = False

    @property
    def paper(self) -> Paper:
        from homepath.cli.show.paper import paper

        return paper(self.plain)

    def online(self) -> tuple[Project, Network]:
        """The project, and the network to query. Raises BadInput."""
        from homepath.app.project import open_project
        from homepath.net.network_file import load_network

        where = load_network(self.network)
        now = where.clock.now()
        project = self._of_list(now) or open_project(self.site, None, self.domain, now)
        _say_left_out(project)
        return project, replace(where, trace=note) if self.verbose else where

    def live(self, network: Network) -> Network:
        """The network for a command that stays: a practice world's clock may be set meanwhile."""
        from homepath.net.clock import FastClock, SetClock
        from homepath.net.network_file import load_network

        file, clock = self.network, network.clock
        if file is None or not isinstance(clock, FastClock):
            return network
        return replace(network, clock=SetClock(file, lambda: load_network(file).clock, clock))

    def surveyed(self) -> tuple[Project, Network]:
        """The same once a survey is known: without one, nothing can be judged. Raises CouldNotCheck."""
        from homepath.app.survey import survey

        project, network = self.online()
        if project.evidence.survey is None:
            run(survey(project, network), f"Checking what {project.site.domain} has now ...")
            project = project.fresh(network.clock.now())
        return project, network

    def offline(self, route: str | None = None) -> tuple[Project, Clock]:
        """The project, and the clock of the network file where one is given: nothing is queried. Raises BadInput."""
        from homepath.app.project import open_project
        from homepath.core.site.choices import on_named_route
        from homepath.net.clock import MachineClock

        clock: Clock = MachineClock()
        if self.network is not None:
            from homepath.net.network_file import load_network

            clock = load_network(self.network).clock
        listed = self._of_list(clock.now())
        if listed is not None:
            project = replace(listed, site=on_named_route(listed.site, route))
        else:
            project = open_project(self.site, route, self.domain, clock.now())
        _say_left_out(project)
        return project, clock

    def _of_list(self, now: float) -> Project | None:
        """The project of `LIST:DOMAIN`, one domain of a list; None for a site file of its own. Raises BadInput."""
        listed, _, domain = str(self.site or "").rpartition(":")
        if self.site is None or self.site.exists() or not listed or not Path(listed).exists():
            return None
        from homepath.bulk.opened import open_from

        return open_from(Path(listed), domain, now)

    def end(
        self,
        assessment: Assessment,
        value: Callable[[], dict[str, Any]],
        show: Callable[[Paper], None],
        status: int | None = None,
    ) -> NoReturn:
        """Show the result as JSON or text, and end with the assessment's exit status, or the command's own."""
        if self.json:
            print_json(value(), assessment)
        else:
            show(self.paper)
        raise typer.Exit(assessment.exit if status is None else status)


def about_a_site(*without: str) -> Callable[[Callable[..., None]], Callable[..., None]]:
    """A command whose first parameter is a `Common`; the help lists its options after the command's own.

    `without`: those of them that the command has no use for.
    """

    def made(command: Callable[..., None]) -> Callable[..., None]:
        own = list(inspect.signature(command, eval_str=True).parameters.values())[1:]
        kinds = inspect.get_annotations(Common, eval_str=True)
        shared = [
            inspect.Parameter(
                each.name, inspect.Parameter.KEYWORD_ONLY, default=each.default, annotation=kinds[each.name]
            )
            for each in fields(Common)
            if each.name not in without
        ]
        names = {each.name for each in shared}

        def called(**given: Any) -> None:
            common = Common(**{name: given.pop(name) for name in names if name in given})
            command(common, **given)

        called.__name__, called.__doc__ = command.__name__, command.__doc__
        every = [*(each.replace(kind=KEYWORD_ONLY) for each in own), *shared]
        called.__signature__ = inspect.Signature(every)  # type: ignore[attr-defined]
        called.__annotations__ = {each.name: each.annotation for each in every}
        return called

    return made


def _say_left_out(project: Project) -> None:
    """What of the journal could not be read, named, on stderr: it does not count, and stops nothing."""
    from homepath.core.wording.say import say

    bad = project.evidence.left_out
    if bad:
        more = f", and {len(bad) - 3} more" if len(bad) > 3 else ""
        words = "; ".join(say(each)[:120] for each in bad[:3])
        note(f"Part of the journal cannot be read, and is ignored: {words}{more}.")


def note(words: str) -> None:
    """One line on stderr, harmless."""
    from homepath.core.model.visible import visible

    sys.stderr.write(f"{visible(words)}\n")


def run(work: Coroutine[Any, Any, Result], words: str = "") -> Result:
    """Run a check, with `words` on stderr meanwhile; on a terminal only."""
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
    import json

    sys.stdout.write(json.dumps(value, indent=2, ensure_ascii=True) + "\n")
