"""What a site tells browsers: to come only over https (HTTP Strict Transport Security, RFC 6797)."""

from __future__ import annotations

import re
from dataclasses import dataclass

from homepath.core.message import Text, msg


@dataclass(frozen=True, slots=True)
class Hsts:
    """For `max_age` seconds after each visit over https, browsers refuse plain http and bad certificates there.

    `below`: for every name below it too. `preload`: the site asks to be put on lists that ship with browsers.
    """

    max_age: int
    below: bool = False
    preload: bool = False

    @property
    def binds(self) -> bool:
        """False for one of no length, which takes back an earlier one (RFC 6797 section 6.1.1)."""
        return self.max_age > 0

    @property
    def words(self) -> Text:
        more = msg("hsts.words.more") if self.below else ""
        listed = msg("hsts.words.listed") if self.preload else ""
        return msg("hsts.words", max_age=self.max_age, more=more, listed=listed)


def read_hsts(field: str) -> Hsts | None:
    """What a header field says; None where it is empty or breaks the grammar, as a browser would ignore it."""
    ages: list[int] = []
    seen: set[str] = set()
    for part in field.split(";"):
        name, _, value = part.strip().partition("=")
        name, value = name.strip().lower(), value.strip().strip('"')
        if not name:
            continue
        if name in seen:  # a directive given twice makes the whole field void (RFC 6797 section 6.1)
            return None
        seen.add(name)
        if name == "max-age":
            if not re.fullmatch(r"[0-9]{1,18}", value):
                return None
            ages.append(int(value))
    if not ages:
        return None
    return Hsts(ages[0], "includesubdomains" in seen, "preload" in seen)
