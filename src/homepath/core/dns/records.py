"""Record sets and zones: what a server holds, without saying how we learned it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field

from homepath.core.dns.names import Name
from homepath.core.dns.values import meaning

Key = tuple[Name, str]
"""Owner name and record type."""

ADDRESS_TYPES = ("A", "AAAA")
WEB_TYPES = ("A", "AAAA", "CNAME", "HTTPS", "SVCB")
"""Types that decide where a browser goes, so that a stale one sends visitors to the wrong place."""
LED_TO = ("A", "AAAA", "CNAME")
"""Types by which a name points to a server."""
WILD_TYPES = ("A", "AAAA", "CNAME", "TXT", "MX")
"""Types at which a wildcard's answers are distinguished from real records."""
JOINED_TYPES = ("TXT", "CAA", "MX", "SRV")
"""Types whose sets are shared by several uses: one more value is added, others stay."""
SIGNING = ("RRSIG", "NSEC", "NSEC3", "DNSKEY")
"""Types that a signing server writes by itself (RFC 4034)."""


@dataclass(frozen=True, slots=True)
class RecordSet:
    """An RRset (RFC 2181 section 5): values sorted, in presentation form; TTL in seconds."""

    name: Name
    type: str
    ttl: int
    values: tuple[str, ...]

    def __post_init__(self) -> None:
        object.__setattr__(self, "values", tuple(sorted(set(self.values))))

    @property
    def key(self) -> Key:
        return self.name, self.type

    @property
    def meanings(self) -> frozenset[str]:
        return frozenset(meaning(self.type, value) for value in self.values)


@dataclass(frozen=True, slots=True)
class Zone:
    """All record sets known of one domain. Absence means "not seen", see the survey's blind spots."""

    origin: Name
    sets: Mapping[Key, RecordSet] = field(default_factory=dict)
    _by_name: Mapping[Name, list[RecordSet]] = field(init=False, repr=False, compare=False)
    mail_hosts: frozenset[Name] = field(init=False, repr=False, compare=False)
    """The names that MX records of the zone point to."""

    def __post_init__(self) -> None:
        names: dict[Name, list[RecordSet]] = {}
        for each in self.sets.values():
            names.setdefault(each.name, []).append(each)
        hosts = {value.split()[-1] for each in self.sets.values() if each.type == "MX" for value in each.values}
        object.__setattr__(self, "_by_name", names)
        object.__setattr__(self, "mail_hosts", frozenset(hosts))

    @classmethod
    def of(cls, origin: Name, sets: Iterable[RecordSet]) -> Zone:
        """Collect sets; several parts of one set are united, the lowest TTL wins (RFC 2181 section 5.2)."""
        parts: dict[Key, list[RecordSet]] = {}
        for each in sets:
            parts.setdefault(each.key, []).append(each)
        joined = {
            key: found[0]
            if len(found) == 1
            else RecordSet(*key, min(each.ttl for each in found), tuple(v for each in found for v in each.values))
            for key, found in parts.items()
        }
        return cls(origin, joined)

    def __iter__(self) -> Iterator[RecordSet]:
        return iter(self.sets.values())

    def get(self, name: Name, rrtype: str) -> RecordSet | None:
        return self.sets.get((name, rrtype))

    def at(self, name: Name) -> list[RecordSet]:
        """Every set at exactly this name."""
        return list(self._by_name.get(name, ()))

    def values(self, name: Name, rrtype: str) -> tuple[str, ...]:
        found = self.sets.get((name, rrtype))
        return found.values if found else ()
