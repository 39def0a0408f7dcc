"""Each address of a name on its own: a site that works over one and not over another is found (N27)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from homepath.core.model.findings import Finding
from homepath.core.model.visits import Door, Way
from homepath.core.web.findings import web_finding


def judge_doors(way: Way, doors: Sequence[Door]) -> tuple[Way, list[Finding]]:
    """The way with its doors; a way that arrives over one address and not over another does not arrive."""
    way = replace(way, doors=tuple(doors))
    dead = [door for door in doors if not door.opens]
    if way.state != "arrived" or not dead:
        return way, []
    what = ", ".join(f"{_family(door)} {door.address} ({_why(door)})" for door in dead)
    found = web_finding("address-dead", way.url, f"it arrives over one address, and not over {what}")
    return replace(way, state="no-answer", words=found.message), [found]


def _family(door: Door) -> str:
    return "IPv6" if ":" in door.address else "IPv4"


def _why(door: Door) -> str:
    if door.status is None:
        return door.detail.removeprefix(f"{door.address}: ") or "no answer"
    return f"certificate {door.certificate.state}" if door.certificate else str(door.status)
