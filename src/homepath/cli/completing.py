"""How a word may go on in a shell: file names, ids of steps, scenes, codes of findings, domains of a list."""

from __future__ import annotations

import contextlib
import inspect
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any, get_args, get_type_hints

MOST = 500
"""Words offered at most."""


def completed(command: Any) -> None:
    """Let the parameters of a command, and of those below it, complete what they know."""
    for below in getattr(command, "commands", {}).values():
        completed(below)
    paths = _path_names(command.callback)
    for param in command.params:
        words = _BY_NAME.get(param.name) or (_files if param.name in paths else None)
        if words is not None:
            param._custom_shell_complete = _teller(words)


def _path_names(function: Any) -> set[str]:
    """The parameters of a command's function that are paths, by its own annotations."""
    if function is None:
        return set()
    hints = get_type_hints(inspect.unwrap(function))
    return {name for name, hint in hints.items() if hint is Path or Path in get_args(hint)}


def _teller(words: Callable[[Any, str], Iterable[str]]) -> Callable[[Any, Any, str], list[str]]:
    def tell(context: Any, param: Any, incomplete: str) -> list[str]:
        with contextlib.suppress(Exception):  # whatever is wrong with files here, a shell must not be told of it
            return [each for each in words(context, incomplete) if each.startswith(incomplete)][:MOST]
        return []

    return tell


def _files(context: Any, incomplete: str) -> Iterable[str]:
    """Files and folders, folders with a slash so that one can go on."""
    head, slash, start = incomplete.rpartition("/")
    folder = Path(f"{head}{slash}" or ".").expanduser()
    for path in sorted(folder.iterdir()):
        if path.name.startswith(start) and (start.startswith(".") or not path.name.startswith(".")):
            yield f"{head}{slash}{path.name}{'/' if path.is_dir() else ''}"


def _steps(context: Any, incomplete: str) -> Iterable[str]:
    """The ids of the site's steps, as the journal knows them."""
    from homepath.app.project import open_project

    site = context.params.get("site")
    for project in open_project(Path(site) if site else None).all_domains(0.0):
        yield from (step.id for step in project.evidence.remembered)


def _codes(context: Any, incomplete: str) -> Iterable[str]:
    from homepath.core.findings.registry import KINDS

    return KINDS


def _scenes(context: Any, incomplete: str) -> Iterable[str]:
    from homepath.practice.scene_file import names

    return names()


def _domains(context: Any, incomplete: str) -> Iterable[str]:
    """The domains of the list that was named before."""
    from homepath.bulk.state import open_state
    from homepath.core.dns.names import shown

    listed = context.params.get("listed")
    if listed is not None:
        with open_state(Path(listed)) as state:
            yield from (shown(name) for name in state.names(incomplete, MOST))


def _stages(context: Any, incomplete: str) -> Iterable[str]:
    from homepath.bulk.views import STAGES

    return STAGES


def _levels(context: Any, incomplete: str) -> Iterable[str]:
    from homepath.core.model.findings import LEVELS

    return LEVELS


def _forms(context: Any, incomplete: str) -> Iterable[str]:
    from homepath.cli.commands.sheet import FORMS

    return FORMS


def _readers(context: Any, incomplete: str) -> Iterable[str]:
    from homepath.cli.commands.report import READERS

    return READERS


_BY_NAME: dict[str, Callable[[Any, str], Iterable[str]]] = {
    "done": _steps,
    "step": _steps,
    "code": _codes,
    "scene": _scenes,
    "name": _domains,
    "only": _stages,
    "worst": _levels,
    "form": _forms,
    "reader": _readers,
    "route": lambda context, incomplete: ("records", "nameservers", "undo", "leave"),
}
