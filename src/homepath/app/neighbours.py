"""Other folders with a site file for the same domain: what they want is never taken for damage."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from functools import lru_cache
from pathlib import Path

from homepath.core.dns.names import Name, absolute, shown
from homepath.core.dns.records import RecordSet
from homepath.core.files.site_file import read_site
from homepath.core.model.problems import HomePathError
from homepath.core.site.case import Neighbour
from homepath.files import read_text
from homepath.journal.evidence import world_in

MOST = 200
"""Folders around the site's own that are searched."""


def neighbours(
    folder: Path, file_name: str, domain: Name, wants_of: Callable[[Path], tuple[RecordSet, ...]]
) -> tuple[Neighbour, ...]:
    """The folders beside this one, in it and around it whose site file is for the same domain, in the same world: both
    have checked it, from the same root servers on. What cannot be read there is none. `wants_of`: what a site file
    wants."""
    found = []
    for path in _for_domain(folder.resolve(), file_name, domain):
        with suppress(HomePathError):
            found.append(Neighbour(str(path.parent), wants_of(path)))
    return tuple(found)


@lru_cache(maxsize=64)
def _for_domain(own: Path, file_name: str, domain: Name) -> tuple[Path, ...]:
    """The other site files for a domain, searched for once in a command."""
    found: list[Path] = []
    world = ""
    with suppress(OSError):
        near = (own.parent, *own.parent.iterdir(), *own.iterdir())
        folders = {each.resolve() for each in near} - {own}  # a link to this folder is this folder
        beside = sorted(each / file_name for each in folders)
        for path in [each for each in beside if each.is_file()][:MOST]:
            with suppress(HomePathError):
                text = read_text(path, str(path))
                site = read_site(text, file_name) if shown(domain) in text else None
                if site is None or domain not in map(absolute, (site.domain, *site.also)):
                    continue
                world = world or world_in(own, domain)
                if world and world == world_in(path.parent, domain):
                    found.append(path)
    return tuple(found)
