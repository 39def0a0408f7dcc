"""Where the redirect from the second name to the primary address lives."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import Name

RedirectPlace = Literal["builder", "forwarding", "proxy", "own-server", "nobody"]


@dataclass(frozen=True, slots=True)
class Redirects:
    """`names` lead to the primary address from `place`. `secure`: https works there too. `others`: what else would do,
    each with a word on it."""

    place: RedirectPlace
    names: tuple[Name, ...]
    secure: bool
    reason: str
    others: tuple[str, ...] = ()
