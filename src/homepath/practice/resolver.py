"""Caching resolvers with habits of their own (RFC 1035 section 7, RFC 2308, RFC 8767)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace

from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet
from homepath.core.dns.soa import negative_ttl
from homepath.practice.zones import Reply

Lookup = Callable[[Name, str], Reply]
"""The world's authoritative answer for one name and type, one step of an alias chain at a time."""

STALE_FOR = 86400
STALE_TTL = 30
PORTAL = "198.51.100.254"


@dataclass(slots=True)
class _Kept:
    reply: Reply
    since: float
    until: float


@dataclass(slots=True)
class Cache:
    """One resolver. `habit` as in the scene file; `limit` is the floor of a clamping one, in story seconds.

    A `never-counting` one respects TTLs, but always returns the full TTL; a `captive` one answers for itself.
    """

    label: str
    habit: str
    limit: int
    lookup: Lookup
    _cache: dict[tuple[Name, str], _Kept] = field(default_factory=dict)

    def resolve(self, name: Name, rrtype: str, now: float) -> Reply:
        """Answer from the cache or the world, aliases followed, TTLs counted down."""
        if self.habit == "captive":  # a portal that returns its own address for every name
            sets = (RecordSet(name, "A", 60, (PORTAL,)),) if rrtype == "A" else ()
            return Reply("NOERROR", False, sets)
        chain: list[RecordSet] = []
        while len(chain) < 12:
            one = self._one(name, rrtype, now)
            alias = next((each for each in one.answer if each.type == "CNAME"), None)
            if alias is None or rrtype == "CNAME":
                return Reply(one.rcode, False, (*chain, *one.answer), one.authority)
            chain.append(alias)
            name = alias.values[0]
        return Reply("SERVFAIL", False)

    def _one(self, name: Name, rrtype: str, now: float) -> Reply:
        cached = self._cache.get((name, "CNAME")) or self._cache.get((name, rrtype))
        if cached and now < cached.until:
            if self.habit == "never-counting":
                return cached.reply
            return _counted_down(cached.reply, cached.since, now)
        if cached and self.habit == "stale-serving" and now < cached.until + STALE_FOR:
            # answers at once with what has expired and queries again in the background
            stale = cached.reply
            self._fetch(name, rrtype, now)
            return replace(stale, answer=tuple(replace(each, ttl=STALE_TTL) for each in stale.answer))
        return self._fetch(name, rrtype, now)

    def _fetch(self, name: Name, rrtype: str, now: float) -> Reply:
        fresh = self.lookup(name, rrtype)
        if fresh.rcode not in ("NOERROR", "NXDOMAIN"):
            return Reply("SERVFAIL", False)
        alias = next((each for each in fresh.answer if each.type == "CNAME"), None)
        first = alias or next(iter(fresh.answer), None)
        answer: tuple[RecordSet, ...] = (first,) if first else ()
        ttl = first.ttl if first else min((negative_ttl(s) for s in fresh.authority if s.type == "SOA"), default=0)
        if self.habit == "clamping":
            ttl = max(ttl, self.limit)
            answer = tuple(replace(each, ttl=ttl) for each in answer)
        one = Reply(fresh.rcode, False, answer, () if answer else fresh.authority)
        self._cache.pop((name, "CNAME"), None)
        self._cache[name, "CNAME" if alias else rrtype] = _Kept(one, now, now + ttl)
        return one


def _counted_down(reply: Reply, since: float, now: float) -> Reply:
    gone = int(now - since)

    def less(sets: tuple[RecordSet, ...]) -> tuple[RecordSet, ...]:
        return tuple(replace(each, ttl=max(0, each.ttl - gone)) for each in sets)

    return replace(reply, answer=less(reply.answer), authority=less(reply.authority))
