"""One site of a list as a project, and one answer for many of them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from pathlib import Path

from homepath.app.decide import decided, say_done
from homepath.app.project import Project
from homepath.bulk.lists import NamedFiles, site_files_of
from homepath.bulk.site_check import project_of
from homepath.bulk.site_state import SiteState
from homepath.bulk.state import State, open_state, state_file
from homepath.bulk.views import Filter
from homepath.core.contracts.assessment import Json
from homepath.core.dns.names import BadName, Name, absolute, shown
from homepath.core.files.site_file import write_site
from homepath.core.message import Text, messages, msg, reason
from homepath.core.model.brief import Site
from homepath.core.model.problems import BadInput, Problem
from homepath.journal.journal import Journal
from homepath.journal.packed import Packed


def open_from(path: Path, domain: str, now: float) -> Project:
    """The project of one domain of a list. Raises BadInput where the list or the domain is not known."""
    try:
        name = absolute(domain.strip().lower())
    except BadName as error:
        raise BadInput(Problem(reason(error), key="DOMAIN", seen=domain[:80])) from error
    site_state = _site_state(path, name)
    project = project_of(site_state, site_files_of(site_state.listed, NamedFiles(), site_state.site))
    if site_state.listed.own:
        return project.fresh(now)

    @contextmanager
    def memory() -> Iterator[Journal]:
        yield from _at_work(path, name)

    def writes(changed: Site) -> None:
        with open_state(path) as state:
            there = state.get(name)
            if there is not None:
                state.keep_journal(name, there.journal or Packed().packed(), write_site(changed))

    found = replace(project, memory=memory, writes=None if site_state.listed.file else writes).fresh(now)
    _ = found.wanted  # so that a missing value is reported now
    return found


def _site_state(path: Path, name: Name) -> SiteState:
    if not state_file(path).exists():
        hint = msg("opened.kept.hint", path=str(path))
        raise BadInput(Problem(msg("opened.kept"), str(path), hint=hint))
    with open_state(path) as state:
        site_state = state.get(name)
    if site_state is None:
        hint = msg("opened.kept.hint-2")
        raise BadInput(Problem(msg("opened.kept-2"), str(path), key="DOMAIN", seen=shown(name), hint=hint))
    return site_state


def _at_work(path: Path, name: Name) -> Iterator[Journal]:
    """The journal for one piece of work; what was written to it goes back into the state."""
    site_state = _site_state(path, name)
    packed = Packed(site_state.journal)
    try:
        with packed.open() as journal:
            yield journal
        if packed.changed:
            with open_state(path) as state:
                state.keep_journal(name, packed.packed(), site_state.site)
    finally:
        packed.close()


@dataclass(frozen=True, slots=True)
class Asking:
    """A domain whose question has this answer. `loses`: the records that it gives up by it."""

    domain: Name
    loses: tuple[Json, ...] = ()
    done: bool = False
    """Whether the answer is that a step is done."""


def asking(state: State, chosen: Filter, decide: str, done: str) -> list[Asking]:
    """The domains, of those chosen, that ask this question or are at this step, in the list's order."""
    found = []
    for line in chosen.of(state, upto=state.changes.last()):
        act = line["act"] or {}
        choice = next((each for each in act.get("choices", ()) if decide and each["then"][-1] == decide), None)
        if choice is not None:
            found.append(Asking(line["domain"], tuple(choice["loses"]), "--done" in choice["then"]))
        elif done and (line["assessment"] or {}).get("step") == done:
            found.append(Asking(line["domain"], done=True))
    return found


def record(path: Path, them: Sequence[Asking], decide: str, done: str, now: float) -> list[Text]:
    """Record it for each; what went wrong, and for which. One that fails stops no other."""
    failed: list[Text] = []
    for each in them:
        try:
            project = open_from(path, shown(each.domain), now)
            if each.done:
                say_done(project, decide or done, now)
            else:
                decided(project, decide, now)
        except BadInput as error:
            message = messages((problem.message for problem in error.problems), "clauses")
            failed.append(msg("answers.failed", domain=shown(each.domain), error=message))
    return failed
