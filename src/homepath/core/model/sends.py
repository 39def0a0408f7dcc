"""What was sent, and what came back."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.model.names import Name
from homepath.core.model.plan import Change
from homepath.core.model.questions import Server


@dataclass(frozen=True, slots=True)
class Difference:
    """A record set that a server does not give as it was sent."""

    server: Name
    change: Change
    given: tuple[str, ...]
    why: str = ""


@dataclass(frozen=True, slots=True)
class Sent:
    """`differences` is empty when every authoritative server gives what was sent. `at`: Unix seconds."""

    server: Server
    at: float
    changes: tuple[Change, ...]
    differences: tuple[Difference, ...]
