"""Where a domain stands on the path."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.model.findings import Finding
from homepath.core.model.names import Name
from homepath.core.model.plan import Place

Stage = Literal["look", "decide", "claim", "enter", "mend", "spread", "secure", "web", "arrived"]


@dataclass(frozen=True, slots=True)
class Next:
    """The one thing to do now, and where; `wait_until` (Unix seconds) where it is a wait."""

    domain: Name
    stage: Stage
    do: str
    where: Place
    wait_until: float | None
    because: tuple[Finding, ...]
