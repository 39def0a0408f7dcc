"""What there is to say of one finding."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.model.findings import Level


@dataclass(frozen=True, slots=True)
class Page:
    """What `explain` prints of a finding. `mend` is also the cure shown with a web finding."""

    code: str
    level: Level
    standard: str
    means: str
    hurts: str
    mend: str
