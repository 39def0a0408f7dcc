"""The SOA record and its serial (RFC 1035 section 3.3.13, RFC 1982): every other module reads them from here."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cmp_to_key

from homepath.core.dns.answers import Answer, Server
from homepath.core.dns.names import Name
from homepath.core.dns.records import RecordSet


@dataclass(frozen=True, slots=True)
class Soa:
    """The fields of an SOA record. `primary`: where updates go; times in seconds."""

    primary: Name
    mailbox: Name
    serial: int
    refresh: int
    retry: int
    expire: int
    minimum: int

    @property
    def timers(self) -> str:
        """The times as they are written in a master file."""
        return f"{self.refresh} {self.retry} {self.expire} {self.minimum}"


def read_soa(record: RecordSet | None) -> Soa | None:
    """The fields of an SOA set; None where there is none."""
    if record is None or not record.values:
        return None
    primary, mailbox, *numbers = record.values[0].split()
    serial, refresh, retry, expire, minimum = (int(each) for each in numbers)
    return Soa(primary, mailbox, serial, refresh, retry, expire, minimum)


def negative_ttl(soa: RecordSet) -> int:
    """How long "it does not exist" may be cached: the smaller of the SOA's TTL and its minimum field.

    Seconds; RFC 2308 section 5.
    """
    found = read_soa(soa)
    return min(soa.ttl, found.minimum) if found else soa.ttl


def newer(one: int, other: int) -> bool:
    """Whether serial `one` comes after `other`, also past the wrap-around (RFC 1982 section 3.2).

    Where they are exactly half the space apart, that is not defined, and neither is newer.
    """
    return 0 < (one - other) % 2**32 < 2**31


def soa_answered(answers: Sequence[Answer], zone: Name) -> Answer | None:
    """A server's answer to the question for the zone's SOA, if it was asked."""
    return next((each for each in answers if each.question.key == (zone, "SOA")), None)


def holds_zone(answers: Sequence[Answer], zone: Name) -> bool:
    """Whether a server answers for the zone with authority and with its SOA, which every zone has (RFC 1034 section
    4.2.1). Authority without it says nothing: some servers claim it for every name that they are asked for."""
    first = soa_answered(answers, zone)
    return first is not None and first.usable and first.authoritative and first.found(zone, "SOA") is not None


def serial_of(answers: Sequence[Answer], zone: Name) -> int | None:
    """The serial of a server's SOA answer; None without one."""
    first = soa_answered(answers, zone)
    found = read_soa(first.found(zone, "SOA")) if first is not None and first.usable else None
    return found.serial if found else None


def newest_first(rounds: Mapping[Server, Sequence[Answer]], zone: Name) -> list[Server]:
    """The servers that hold the zone; the one with the newest, whose word counts where they differ, comes first."""

    def compare(one: int | None, other: int | None) -> int:
        if one is None or other is None:
            return (one is None) - (other is None)
        return -1 if newer(one, other) else int(newer(other, one))

    holding = {server: serial_of(answers, zone) for server, answers in rounds.items() if holds_zone(answers, zone)}
    by_serial = cmp_to_key(compare)
    return sorted(holding, key=lambda server: by_serial(holding[server]))
