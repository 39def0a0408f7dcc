"""What names told browsers, as visits saw it, and what of that still binds (RFC 6797)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from urllib.parse import urlsplit

from homepath.core.dns.names import BadName, Name, absolute, ancestors
from homepath.core.model.hsts import Hsts, read_hsts
from homepath.core.model.visits import Visit


@dataclass(frozen=True, slots=True)
class HstsSeen:
    """The fields that hosts sent at one visit: pairs of host and field."""

    at: float
    fields: tuple[tuple[str, ...], ...]


def hsts_seen(visit: Visit) -> HstsSeen | None:
    """What a visit saw; None where no host sent any."""
    hops = [hop for way in visit.ways for hop in way.hops if hop.hsts]
    pairs = {(urlsplit(hop.url).hostname or "", hop.hsts) for hop in hops}
    return HstsSeen(visit.at, tuple(sorted(pairs))) if pairs else None


def hsts_in_force(seen: Iterable[HstsSeen], now: float) -> dict[Name, Hsts]:
    """For each host the latest HSTS that still binds browsers at `now`. `seen`: oldest first."""
    latest: dict[Name, tuple[float, Hsts]] = {}
    for each in seen:
        for host, field in each.fields:
            hsts = read_hsts(field)
            try:
                name = absolute(host)
            except BadName:
                continue
            if hsts is not None and host:
                latest[name] = each.at, hsts
    return {name: hsts for name, (at, hsts) in latest.items() if at + hsts.max_age > now}


def hsts_of(names: Sequence[Name], in_force: Mapping[Name, Hsts]) -> dict[Name, Hsts]:
    """What binds browsers at each of `names`: its own, or that of a name above it which speaks for those below."""
    found = {}
    for name in names:
        above = (
            in_force[each] for each in ancestors(name) if each in in_force and (each == name or in_force[each].below)
        )
        hsts = next(above, None)
        if hsts is not None:
            found[name] = hsts
    return found
