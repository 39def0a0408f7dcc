"""What is known of a name of the site before its pages are judged, HSTS included; and how a finding about a
URL is made."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from urllib.parse import urlsplit

from homepath.core.dns.names import BadName, Name, absolute, ancestors
from homepath.core.findings.registry import finding
from homepath.core.message import Text, msg
from homepath.core.model.findings import Finding, Level
from homepath.core.model.visits import Hsts, Visit, read_hsts
from homepath.core.site.wanted import Wanted


def web_finding(code: str, url: str, message: Text, level: Level | None = None, cure: Text | None = None) -> Finding:
    """A finding at the host of `url`; the standard, and cure and level where none is given, are those of its kind."""
    where = f"{urlsplit(url).hostname or ''}."
    return finding(code, where, "", msg("at-url", url=url, message=message), cure, level)


def one_each(findings: Sequence[Finding]) -> list[Finding]:
    """One finding of a kind for each name: its http and its https way say the same thing."""
    first: dict[tuple[str, Name], Finding] = {}
    for each in findings:
        first.setdefault((each.code, each.name), each)
    return list(first.values())


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


@dataclass(frozen=True, slots=True)
class NameKnown:
    """What is known of a name before its page is judged.

    `right`: DNS points it where the builder wants it. `since`: first moment that was seen so. `obstacle`: what stops
    the builder's authority from issuing, in words. `https_works`: the primary already has a good certificate, so that
    a builder which sends people to http does not do so for want of one. `edge_healthy`: the builder, asked directly,
    serves the name; None where it was not asked. `forwarded`: something other than the builder redirects the name.
    `hsts`: what the name told browsers before. `proxied`: DNS points elsewhere, and what answers there is the builder's
    page all the same. `mixed`: beside the builder's addresses it points to others, so that visitors meet now one, now
    the other. `stale_until`: a resolver still holds the old answer for it, so long. `certified`: a good certificate was
    seen for it since DNS is right. `unseen`: why it is not known where DNS points it.
    `served`: over http the builder serves the site under it, so that it knows the name. `certified_now`: a good
    certificate was shown for it at this visit or before, so that silence is no wait for one. `answers`: False where
    nothing answers over http either.
    """

    right: bool
    since: float | None = None
    obstacle: Text = ""
    detail: Text = ""
    https_works: bool = True
    edge_healthy: bool | None = None
    forwarded: bool = False
    hsts: Hsts | None = None
    proxied: bool = False
    mixed: bool = False
    stale_until: float | None = None
    certified: bool = False
    unseen: Text = ""
    served: bool = False
    certified_now: bool = False
    answers: bool = True

    @property
    def leads(self) -> bool:
        """Whether what answers at the name is the builder, or something that was meant to redirect it."""
        return self.right or self.proxied or self.forwarded

    def may_come(self, wanted: Wanted, now: float) -> bool:
        """Whether what is still missing here, the builder's page or its certificate, may come by waiting."""
        if self.obstacle or not (self.right or self.proxied):
            return False
        return self.since is None or now - self.since < wanted.https.longest_wait


def host_of(url: str) -> Name:
    return absolute(urlsplit(url).hostname or ".")
