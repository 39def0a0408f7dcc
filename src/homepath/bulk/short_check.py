"""A short check, which asks only whether anything changed: a domain that has arrived costs a few queries.

After a full check, digests of the answers of the domain's own servers are kept. The next checks query the parent zone
for the delegation, each server for its serial, and one server for every record set that exists and for some of those
that do not; where a serial changed, for all of them. Any difference or missing answer triggers a full check.
"""

from __future__ import annotations

import hashlib
import json
import zlib
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from homepath.app.driving import Driver
from homepath.core.dns.answers import Answer, Question, Server
from homepath.core.dns.names import Name
from homepath.core.dns.records import Key
from homepath.core.dns.soa import serial_of
from homepath.core.dns.walk import LostWay
from homepath.core.model.problems import HomePathError
from homepath.core.model.survey import Registration
from homepath.core.model.visits import Hop, Visit
from homepath.core.observe.survey import registration_check
from homepath.core.observe.zone_questions import usual_keys
from homepath.net.rechecking import Known
from homepath.net.sharing import SharingAsker
from homepath.net.signatures import check_signatures

TURNS = 30
"""Checks within which each missing record set is queried again."""


@dataclass(frozen=True, slots=True)
class Fingerprints:
    """What a full check saw, short enough to be kept for each of a million domains.

    `servers`: the places of the zone's servers; `serial` of its SOA, and the fingerprint `soa` of that answer;
    `there`: the questions with the fingerprints of their answers; `absent`: those of what did not exist, in as many
    parts as there are turns, each a text that is only read when it is due; `handed` and `keys`: the fingerprints of the
    delegation and of its DS; `ways`: each URL with the fingerprint of its hops; `until`: when time alone may change the
    verdict; `builders`: a name of the builder's own, by which its default certificate is known; `wanted` and
    `registration`: fingerprints of what was wanted and of what the registry says, empty where it was not asked.
    """

    servers: tuple[str, ...]
    serial: str
    soa: str
    there: Mapping[Key, str]
    absent: tuple[str, ...]
    handed: str
    keys: str
    signed: str
    ways: Mapping[str, str]
    until: float
    builders: str = ""
    wanted: str = ""
    registration: str = ""

    def packed(self) -> bytes:
        data = [
            [*self.servers],
            *(self.serial, self.soa),
            [[*key, fingerprint] for key, fingerprint in self.there.items()],
            [*self.absent],
            *(self.handed, self.keys, self.signed, dict(self.ways), self.until, self.builders, self.wanted),
            self.registration,
        ]
        return zlib.compress(json.dumps(data, separators=(",", ":")).encode(), 6)


MOST_UNPACKED = 4_000_000
"""Bytes of unpacked digests; more were not written by Home Path."""


def fingerprints_from(octets: bytes) -> Fingerprints | None:
    """What `packed` made; None for anything else."""
    try:
        unpacked = zlib.decompressobj().decompress(octets, MOST_UNPACKED)
        servers, serial, soa, there, absent, handed, keys, signed, ways, until, *words = json.loads(unpacked)
        builders, wanted, registration = map(str, words)
        if not all(isinstance(part, str) for part in absent):
            return None
        return Fingerprints(
            tuple(servers),
            serial,
            soa,
            {(name, kind): fingerprint for name, kind, fingerprint in there},
            tuple(absent),
            handed,
            str(keys),
            signed,
            ways,
            float(until),
            builders,
            wanted,
            registration,
        )
    except (ValueError, TypeError, RecursionError, zlib.error):
        return None


LEADING = ("A", "AAAA", "HTTPS")
"""Types that lead visitors: what comes up there is noticed at the next check, whatever a server does with its
serial."""


def fingerprints_of(
    domain: Name, names: Collection[Name], asker: SharingAsker, visit: Visit | None, signed: str, until: float
) -> Fingerprints | None:
    """The digests of a full check, from the answers it got; None where servers disagreed or kept silent.

    `names`: those of the website; each check queries their addresses even where there were none.
    """
    answers = asker.own
    soas = {
        answer.server: answer
        for (name, kind, *_), answer in answers.items()
        if (name, kind) == (domain, "SOA") and answer.usable and answer.authoritative
    }
    serials = {_serial(answer, domain) for answer in soas.values()}
    keys = next((each for each in answers.values() if each.question == Question(domain, "DS") and each.usable), None)
    if not soas or len(serials) != 1 or visit is None or keys is None:
        return None
    there: dict[Key, str] = {}
    absent: dict[Key, str] = {}
    for (name, kind, server, recurse, dnssec, _), answer in answers.items():
        if recurse or dnssec or server not in soas or kind == "SOA":
            continue
        if not answer.usable:
            return None
        # the fingerprint of an alias covers the name; the alias's target belongs to another zone
        leads = name in names and kind in LEADING
        kept = there if leads or answer.found(name, kind) is not None else absent
        if kept.setdefault((name, kind), answer.fingerprint) != answer.fingerprint:
            return None  # its servers do not say the same
    known = {name for name, _ in (*there, *absent)}
    absent |= {key: "NXDOMAIN" for key in usual_keys(domain, above_branches=True) if key[0] not in known}
    return Fingerprints(
        servers=tuple(sorted(server.place for server in soas)),
        serial=next(iter(serials)),
        soa=next(iter(soas.values())).fingerprint,
        there=there,
        absent=_in_parts(absent),
        handed=_handed(domain, answers.values(), {server.place for server in soas}),
        keys=keys.fingerprint,
        signed=signed,
        ways=url_fingerprints(visit),
        until=until,
    )


Part = Literal["", "time", "delegation", "servers", "DS", "records", "serial", "signatures", "ways", "registry"]
"""What a short check found to differ; "" for nothing."""


async def difference(
    domain: Name, driver: Driver, asker: SharingAsker, fingerprints: Fingerprints, turn: int, now: float
) -> Part:
    """The first part whose answers are not those of the last full check. `turn` counts the checks of this domain."""
    if now >= fingerprints.until:
        return "time"
    try:
        cut = await driver.walker.cut(domain)
    except LostWay:
        return "delegation"
    servers = list({server.place: server for server in reversed(cut.servers)}.values())
    if (
        cut.zone != domain
        or tuple(sorted(server.place for server in servers)) != fingerprints.servers
        or not cut.parents
    ):
        return "delegation"
    if _handed(domain, asker.own.values(), fingerprints.servers) != fingerprints.handed:
        return "delegation"
    turn += zlib.crc32(domain.encode())  # so that not all checks of a run ask the same server
    server, parent = servers[turn % len(servers)], cut.parents[turn % len(cut.parents)]
    begins = [Known(Question(domain, "SOA"), each, fingerprints.soa) for each in servers]
    above = Known(Question(domain, "DS"), parent, fingerprints.keys)
    due = {**fingerprints.there, **_read(fingerprints.absent[turn % TURNS :][:1])}
    found = await asker.check_all([*begins, above, *_known(due, server)])
    soas, (ds, *records) = found[: len(begins)], found[len(begins) :]
    serials = {_serial(answer, domain) if answer else fingerprints.serial for answer in soas}
    if "" in serials:
        return "servers"
    driver.session.differing = _differing(due, records) if len(serials) == 1 else None
    if ds or any(records):
        return "DS" if ds else "records"
    if len(serials) != 1:
        return "serial"
    if serials != {fingerprints.serial}:
        rest = {key: fingerprint for key, fingerprint in _read(fingerprints.absent).items() if key not in due}
        found = await asker.check_all(_known(rest, server))
        if any(found):
            driver.session.differing = _differing(rest, found)
            return "serial"
    if fingerprints.signed != "none" or fingerprints.ways:
        asker.read_what_came()
    if fingerprints.signed != "none" and (await check_signatures(asker, cut)).signatures != fingerprints.signed:
        return "signatures"
    return "" if await _redirects_unchanged(driver, fingerprints) else "ways"


async def is_registration_unchanged(domain: Name, driver: Driver, fingerprints: Fingerprints) -> bool:
    """Whether the registry says of the registration what it said; also where it says nothing now."""
    found = await driver.drive(registration_check(domain)) if fingerprints.registration else None
    return found is None or registration_fingerprint(found) == fingerprints.registration


def registration_fingerprint(found: Registration | None) -> str:
    return _digest([found.registrar, found.statuses, found.expires, found.missing]) if found else ""


def _differing(fingerprints: Mapping[Key, str], found: Sequence[Answer | None]) -> tuple[Key, ...]:
    return tuple(key for key, answer in zip(fingerprints, found, strict=True) if answer)


def _known(fingerprints: Mapping[Key, str], server: Server) -> list[Known]:
    return [Known(Question(*key), server, fingerprint) for key, fingerprint in fingerprints.items()]


async def _redirects_unchanged(driver: Driver, fingerprints: Fingerprints) -> bool:
    try:
        walked = await driver.follow_all(list(fingerprints.ways))
    except HomePathError:
        return False
    return all(
        hops_fingerprint(hops) == fingerprint
        for hops, fingerprint in zip(walked, fingerprints.ways.values(), strict=True)
    )


def _in_parts(absent: Mapping[Key, str]) -> tuple[str, ...]:
    """The record sets that do not exist, in parts: after `TURNS` checks, each was queried once."""
    lines = [f"{name}\t{kind}\t{fingerprint}" for (name, kind), fingerprint in absent.items()]
    return tuple("\n".join(lines[turn::TURNS]) for turn in range(TURNS))


def _read(parts: Iterable[str]) -> dict[Key, str]:
    """The queries of some parts, with the digests of their answers."""
    rows = (line.split("\t") for part in parts for line in part.split("\n") if line)
    return {(name, kind): fingerprint for name, kind, fingerprint in rows}


def _serial(answer: Answer, domain: Name) -> str:
    """The serial of the zone, "" where the answer does not tell it with authority."""
    serial = serial_of([answer], domain) if answer.authoritative else None
    return "" if serial is None else str(serial)


def _handed(domain: Name, answers: Iterable[Answer], own: Collection[str]) -> str:
    """The digest of the delegation, as the parent zone returns it. `own`: the places of the zone's own servers."""
    for answer in answers:
        if answer.question == Question(domain, "NS") and answer.usable and answer.server.place not in own:
            for each in (*answer.answer, *answer.authority):
                if each.key == (domain, "NS"):
                    return _digest(each.values)
    return ""


def url_fingerprints(visit: Visit) -> dict[str, str]:
    """Each URL to try again, with the fingerprint of its hops: with a path and a query where it redirects, because only
    they show a redirect that loses them."""
    tried = [way.probe or way.hops for way in visit.ways]
    return {
        hops[0].url if hops else way.url: hops_fingerprint(hops) for way, hops in zip(visit.ways, tried, strict=True)
    }


def hops_fingerprint(hops: Iterable[Hop]) -> str:
    """The digest of a redirect chain: its URLs, statuses and certificates, without the text of pages."""
    parts = []
    for hop in hops:
        seen = hop.certificate
        parts.append(
            [
                *(hop.url, hop.status, hop.location, hop.hsts, hop.by_page),
                [seen.state, seen.covers, seen.issuer, seen.not_after] if seen else None,
            ]
        )
    return _digest(parts)


def _digest(value: object) -> str:
    return hashlib.blake2b(json.dumps(value, separators=(",", ":")).encode(), digest_size=8).hexdigest()
