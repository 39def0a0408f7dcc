"""Each address of a name on its own: a site that works over one and not over another is found."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from homepath.core.model.findings import Finding
from homepath.core.model.visits import AddressTried, Way
from homepath.core.web.findings import web_finding


def judge_addresses(way: Way, addresses: Sequence[AddressTried]) -> tuple[Way, list[Finding]]:
    """The way with its addresses; a way that arrives over one address and not over another does not arrive."""
    way = replace(way, addresses=tuple(addresses))
    dead = [address for address in addresses if not address.opens]
    if way.state != "arrived" or not dead:
        return way, []
    what = ", ".join(f"{_family(address)} {address.address} ({_why(address)})" for address in dead)
    found = web_finding("address-dead", way.url, f"it arrives over one address, and not over {what}")
    return replace(way, state="no-answer", words=found.message), [found]


def _family(address: AddressTried) -> str:
    return "IPv6" if ":" in address.address else "IPv4"


def _why(address: AddressTried) -> str:
    if address.status is None:
        return address.detail.removeprefix(f"{address.address}: ") or "no answer"
    return f"certificate {address.certificate.state}" if address.certificate else str(address.status)
