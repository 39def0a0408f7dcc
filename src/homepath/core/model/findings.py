"""One thing that is wrong, risky or worth knowing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import Name
from homepath.core.message import Text

Level = Literal["blocker", "risk", "note"]
LEVELS: tuple[Level, ...] = ("blocker", "risk", "note")


@dataclass(frozen=True, slots=True)
class Finding:
    """`message` says what was seen, `cure` what to do, `standard` which text says so."""

    code: str
    level: Level
    name: Name
    type: str
    message: Text
    cure: Text
    standard: str


def worst_first(findings: list[Finding]) -> list[Finding]:
    """Blockers, then risks, then notes; the order within a level is kept. Duplicates are dropped."""
    return sorted(dict.fromkeys(findings), key=lambda finding: LEVELS.index(finding.level))
