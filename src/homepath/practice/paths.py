"""Paths of the practice world's control server, and who is asked for a name: from the root down by delegations, as
every resolver does it (RFC 1034 section 5.3.3)."""

from __future__ import annotations

import http.client
import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from homepath.core.dns.names import ROOT, Name, is_within
from homepath.core.dns.records import RecordSet
from homepath.core.model.problems import BadInput, CouldNotCheck, Problem
from homepath.practice.zones import Reply, ZoneId, Zones, reply

STATE_FILE = "world.json"
"""Where an open world says how to reach it; readable by its owner alone."""


def do(folder: Path, deed: str, **asked: Any) -> dict[str, Any]:
    """Ask the world that is open in `folder`. Raises BadInput when it says no, CouldNotCheck when none is open."""
    try:
        state = json.loads((folder / STATE_FILE).read_text(encoding="utf-8"))
        connection = http.client.HTTPConnection("127.0.0.1", int(state["control"]), timeout=10)
        body = json.dumps({"deed": deed, "token": state["token"], **asked})
        connection.request("POST", "/", body, {"Content-Type": "application/json"})
        response = connection.getresponse()
        answer = dict(json.loads(response.read(1_000_000)))
    except (OSError, ValueError, KeyError, http.client.HTTPException) as error:
        raise CouldNotCheck(
            f"no practice world is open in {folder}", "Open one with `homepath practice open` in another terminal."
        ) from error
    if response.status != 200:
        raise BadInput(
            Problem(
                str(answer.get("message", "the practice world refused")),
                key=answer.get("key"),
                seen=answer.get("seen"),
                hint=answer.get("hint"),
            )
        )
    return answer


Serves = Callable[[Name], Mapping[Name, ZoneId] | None]
"""The zones that a nameserver holds now, by its name; None for one that does not answer, or is none."""
MOST_CUTS = 12


@dataclass(slots=True)
class Known:
    """A delegation as a cache keeps it: the servers of a zone, and the DS record that the parent zone gave."""

    servers: tuple[Name, ...]
    until: float
    ds: RecordSet | None = None


@dataclass(slots=True)
class Paths:
    """Walks through the world's zones. With `cuts` of a cache, delegations are remembered for their TTL."""

    zones: Zones
    serves: Serves
    roots: tuple[Name, ...]
    cuts: dict[Name, Known] = field(default_factory=dict)

    def ask(self, name: Name, rrtype: str, now: float, remember: bool = False) -> tuple[Reply, Name]:
        """The answer of the servers that the name is delegated to, and the zone that they were asked as.

        SERVFAIL where none of them holds it.
        """
        cuts = self.cuts if remember else {}
        at = self._nearest(name, rrtype, cuts, now)
        servers = cuts[at].servers if at in cuts else self.roots
        for _ in range(MOST_CUTS):
            answer = self._first(servers, name, rrtype)
            if answer is None:
                return Reply("SERVFAIL", False), at
            handed = next((each for each in answer.authority if each.type == "NS"), None)
            if answer.authoritative or answer.answer or handed is None or not is_within(handed.name, at):
                return answer, at
            ds = self._first(servers, handed.name, "DS")
            found = next((each for each in ds.answer if each.type == "DS"), None) if ds else None
            at, servers = handed.name, handed.values
            cuts[at] = Known(servers, now + handed.ttl, found)
        return Reply("SERVFAIL", False), at

    def ds(self, zone: Name) -> RecordSet | None:
        """The DS record that is remembered of a zone."""
        return self.cuts[zone].ds if zone in self.cuts else None

    def _nearest(self, name: Name, rrtype: str, cuts: Mapping[Name, Known], now: float) -> Name:
        known = (at for at, cut in tuple(cuts.items()) if cut.until > now and is_within(name, at))
        found = [at for at in known if not (rrtype == "DS" and at == name)]
        return max(found, key=len, default=ROOT)

    def _first(self, servers: Sequence[Name], name: Name, rrtype: str) -> Reply | None:
        for server in servers:
            held = self.serves(server)
            found = reply(self.zones, held, name, rrtype) if held is not None else None
            if found is not None and found.rcode in ("NOERROR", "NXDOMAIN"):
                return found
        return None
