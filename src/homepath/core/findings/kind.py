"""What there is to say of one kind of finding."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.model.findings import Level


@dataclass(frozen=True, slots=True)
class Kind:
    """One code with the level that it usually has, the text that says so, and what `explain` prints.

    `mend` is also the cure where a sighting has none of its own.
    """

    code: str
    level: Level
    standard: str
    means: str
    hurts: str
    mend: str
    formerly: str = ""
    """The code that it had in an earlier version; `explain` still knows it."""
