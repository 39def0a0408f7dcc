"""The registry of the practice world: registration data over RDAP (RFC 9082, 9083) and its bootstrap (RFC 9224)."""

from __future__ import annotations

import json
from collections.abc import Callable

from homepath.core.dns.names import Name, absolute, shown
from homepath.core.model.times import rfc3339
from homepath.practice.scene_file import RegistrationTable
from homepath.practice.web_server import Request, Response
from homepath.practice.zones import Zones

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
