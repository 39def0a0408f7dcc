"""The model of caches between visitors and the zone.

A visitor asks a cache. A cache that holds a copy returns it; else it fetches what the zone returns now, and keeps that
for its TTL. Requests reach each cache at random moments (a Poisson process), so between the death of a copy and the
next fetch lies an exponentially distributed pause. Nothing else is assumed.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from homepath.core.dns.names import Name
from homepath.core.message import Text

Gives = Literal["old", "new", "nothing"]
"""What the zone returns at some time, as a visitor gets it."""
GIVES: tuple[Gives, ...] = ("new", "old", "nothing")


@dataclass(frozen=True, slots=True)
class Phase:
    """From `at` seconds after the start on the zone returns this, to be kept for `ttl` seconds.

    `servers_ttl`, of a first phase only: the next change is one of nameservers, whose names caches keep so long;
    until a cache forgets them it goes on fetching from the former ones.
    """

    at: float
    gives: Gives
    ttl: int
    servers_ttl: int = 0


@dataclass(frozen=True, slots=True)
class Busy:
    """So much of all visitors (`share` of 1) sits behind caches that are asked for a name so often."""

    share: float
    per_hour: float


@dataclass(frozen=True, slots=True)
class Caches:
    """The caches between visitors and the zone.

    `clamped`: the share that keeps nothing for less than `floor` seconds. `stale`: the share that returns an expired
    answer to the first visitor after it has run out, for at most `stale_for` seconds (RFC 8767), and fetches again.
    """

    busy: tuple[Busy, ...] = (Busy(0.5, 600.0), Busy(0.3, 20.0), Busy(0.2, 1.0))
    clamped: float = 0.0
    floor: int = 3600
    stale: float = 0.0
    stale_for: int = 86400


@dataclass(frozen=True, slots=True)
class Minute:
    """Shares of the visitors at one moment, `at` seconds after the start; they sum to 1."""

    at: float
    new: float
    old: float
    nothing: float


@dataclass(frozen=True, slots=True)
class Moved:
    """Seconds after the start by which so many percent of the rule-keeping caches have let go of what they held."""

    half: float
    most: float
    nearly_all: float
    all: float


@dataclass(frozen=True, slots=True)
class Course:
    """What one order of steps does. `outage`: minutes for which all visitors together would have met nothing."""

    minutes: tuple[Minute, ...]
    moved: Moved
    outage: float


@dataclass(frozen=True, slots=True)
class Situation:
    """One name before the change. `old_ttl` None: nothing is there, and that is remembered for `absent_ttl`.

    `servers_ttl`: how long caches keep the names of the old nameservers, where those change; else 0. Seconds.
    """

    name: Name
    old_ttl: int | None
    new_ttl: int
    absent_ttl: int
    servers_ttl: int = 0


@dataclass(frozen=True, slots=True)
class Order:
    """One way to do it. `change_at`: when the new records are entered, seconds after the first step."""

    key: str
    title: Text
    change_at: float
    phases: tuple[tuple[Name, tuple[Phase, ...]], ...]


Use = Literal["in-use", "parked", "nothing", "unknown"]
"""What visitors meet there today: a site, the DNS host's parking page, nothing that answers; or no one looked."""


@dataclass(frozen=True, slots=True)
class CertificateGap:
    """A site in use has https, and the builder orders its own certificate only once DNS points there.

    `usual`, `longest`: how long that takes after the change, in seconds; `from_brief`: the brief says so. `binding`:
    the old site told browsers to come only over https (RFC 6797), so they cannot even pass the warning by.
    """

    usual: int
    longest: int
    from_brief: bool
    binding: bool


@dataclass(frozen=True, slots=True)
class Outlook:
    """What one order does to visitors, over all names alike. `warned`: for each minute, the share of those who come
    over https that gets a certificate error."""

    order: Order
    course: Course
    warned: tuple[float, ...] = ()

    @property
    def layers(self) -> list[tuple[float, float, float, float]]:
        """For each minute the shares from the bottom up: new, new with a certificate error, old, nothing."""
        warned = self.warned or (0.0,) * len(self.course.minutes)
        pairs = zip(self.course.minutes, warned, strict=True)
        return [(each.new - share, share, each.old, each.nothing) for each, share in pairs]

    @property
    def warned_minutes(self) -> float:
        """Minutes for which all visitors over https together would have met a certificate error."""
        return sum(self.warned)

    @property
    def mixed(self) -> float:
        """Seconds in which some visitors meet the new site and some still the old one."""
        return self.course.moved.all - self.order.change_at


@dataclass(frozen=True, slots=True)
class Forecast:
    """All orders compared. `closed`: for a single change, how far the closed form differs at most (share of 1)."""

    domain: Name
    caches: Caches
    situations: tuple[Situation, ...]
    use: Use
    outlooks: tuple[Outlook, ...]
    recommended: str
    because: Text
    closed: float | None = None
    gap: CertificateGap | None = None

    @property
    def best(self) -> Outlook:
        return next(each for each in self.outlooks if each.order.key == self.recommended)
