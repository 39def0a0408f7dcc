"""Which names a forwarder of one's own has to answer for."""

from __future__ import annotations

from homepath.app.project import Project
from homepath.core.dns.names import shown


def names_to_forward(project: Project) -> tuple[str, ...]:
    """The site's other names, and both names of each further domain."""
    own = [shown(name) for name in project.wanted.names if name != project.wanted.primary]
    further = [name for domain in project.site.also for name in (domain, f"www.{domain}")]
    return tuple(dict.fromkeys([*own, *further]))
