"""The registry of the practice world: registration data over RDAP (RFC 9082, 9083) and its bootstrap (RFC 9224)."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from typing import Any

from homepath.core.dns.names import BadName, Name, absolute, is_host, labels, shown
from homepath.core.dns.records import RecordSet
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import rfc3339
from homepath.practice.scene_file import RegistrationTable
from homepath.practice.web_server import Request, Response
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


_JSON = {"Content-Type": "application/rdap+json"}


class Registry:
    """Answers for every domain that the registry's zone delegates. The time comes from the world's clock."""

    def __init__(self, table: RegistrationTable, zones: Zones, suffix: Name, begins: float) -> None:
        self._table, self._zones, self._suffix, self._begins = table, zones, suffix, begins

    def bootstrap(self, base: str) -> str:
        return json.dumps({"version": "1.0", "services": [[[shown(self._suffix)], [base]]]})

    def handler(self, base: Callable[[], str]) -> Callable[[Request], Response]:
        """Serves `/dns.json` and `/rdap/domain/NAME`."""

        def serve(request: Request) -> Response:
            if request.path == "/dns.json":
                return Response(200, self.bootstrap(base()), {"Content-Type": "application/json"})
            name = request.path.removeprefix("/rdap/domain/")
            found = self._object(absolute(name)) if name != request.path else None
            return Response(200, json.dumps(found), _JSON) if found else Response(404, "{}", _JSON)

        return serve

    def _object(self, domain: Name) -> dict[str, object] | None:
        servers = self._zones.get(self._suffix).values(domain, "NS")
        if not servers:
            return None
        expires = self._begins + self._table.days_left * 86400
        return {
            "objectClassName": "domain",
            "ldhName": shown(domain),
            "status": list(self._table.statuses),
            "events": [{"eventAction": "expiration", "eventDate": rfc3339(expires)}],
            "nameservers": [{"objectClassName": "nameserver", "ldhName": shown(server)} for server in servers],
            "entities": [
                {
                    "objectClassName": "entity",
                    "roles": ["registrar"],
                    "vcardArray": [
                        "vcard",
                        [["version", {}, "text", "4.0"], ["fn", {}, "text", self._table.registrar]],
                    ],
                }
            ],
        }
