"""The registrar's form: name servers and DS records of a domain, as the zone above publishes them at once."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from homepath.core.dns.names import BadName, Name, absolute, is_host, labels, shown
from homepath.core.dns.records import RecordSet
from homepath.core.model.problems import BadInput, Problem
from homepath.practice.zones import Zones

DELEGATION_TTL = 21600
DS_TTL = 3600


def above(zones: Zones, domain: Name) -> Name:
    """The zone that delegates the domain. Raises BadInput."""
    found = domain.partition(".")[2]
    if found not in zones.ids() or not zones.get(found).values(domain, "NS"):
        raise BadInput(Problem("nobody registered this domain here", key="DOMAIN", seen=shown(domain)))
    return found


def set_servers(zones: Zones, domain: Name, servers: Sequence[str]) -> None:
    """Replace all name servers by these. Raises BadInput as a form would: it takes any host name."""
    parent = above(zones, domain)
    names = []
    for text in servers:
        try:
            name = absolute(text)
        except BadName as error:
            raise BadInput(Problem(f"the form refuses it: {error}", key="SERVER", seen=text)) from error
        if not is_host(name) or len(labels(name)) < 2:
            raise BadInput(Problem("the form refuses it: this is no host name", key="SERVER", seen=text))
        names.append(name)
    if not names:
        raise BadInput(Problem("the form wants at least one name server", key="SERVER"))
    sets = dict(zones.get(parent).sets)
    before = sets[domain, "NS"]
    sets[domain, "NS"] = RecordSet(domain, "NS", before.ttl, tuple(names))
    zones.replace(parent, sets)


def set_ds(zones: Zones, domain: Name, values: Sequence[str]) -> None:
    """Replace all DS records by these; none takes them away."""
    parent = above(zones, domain)
    sets = dict(zones.get(parent).sets)
    sets.pop((domain, "DS"), None)
    if values:
        sets[domain, "DS"] = RecordSet(domain, "DS", DS_TTL, tuple(values))
    zones.replace(parent, sets)


def shown_form(zones: Zones, domain: Name) -> dict[str, Any]:
    """What the form shows."""
    zone = zones.get(above(zones, domain))
    return {
        "servers": [shown(name) for name in zone.values(domain, "NS")],
        "ds": list(zone.values(domain, "DS")),
    }
