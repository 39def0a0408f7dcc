"""Registration data as registries answer it: bootstrap (RFC 9224) and domain objects (RFC 9083)."""

from __future__ import annotations

import json
from typing import Any

from homepath.core.dns.names import BadName, Name, absolute, ancestors, shown
from homepath.core.message import msg
from homepath.core.model.survey import Registration
from homepath.core.model.times import from_rfc3339
from homepath.core.model.visible import visible


class BadRegistration(ValueError):
    """Text that is no such answer; the message says why."""


def service_for(bootstrap: str, domain: Name) -> str | None:
    """The base address of the service for `domain`: the entry with the longest matching suffix (RFC 9224 section 4).

    Raises BadRegistration.
    """
    try:
        services = json.loads(bootstrap)["services"]
        places = {
            str(name).lower().strip("."): [str(url) for url in urls if str(url).startswith(("https://", "http://"))]
            for names, urls in services
            for name in names
        }
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError) as error:
        raise BadRegistration(msg("rdap.service-for")) from error
    for at in ancestors(domain):
        urls = places.get(shown(at) if at != "." else "", [])
        chosen = next((url for url in urls if url.startswith("https://")), next(iter(urls), None))
        if chosen:
            return chosen if chosen.endswith("/") else f"{chosen}/"
    return None


def read_domain_object(text: str, source: str) -> Registration:
    """Registrar, statuses, end and nameservers of a domain object. Raises BadRegistration."""
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise BadRegistration(msg("rdap.read-domain-object")) from error
    if not isinstance(data, dict) or data.get("objectClassName") != "domain":
        raise BadRegistration(msg("rdap.read-domain-object-2"))
    return Registration(
        _registrar(_list(data, "entities")),
        tuple(_clean(each, 80) for each in _list(data, "status")[:20]),
        _expiry(_list(data, "events")),
        tuple(sorted(_names(_list(data, "nameservers")[:20]))),
        source,
    )


def _clean(text: object, most: int) -> str:
    """A text of the registry's as it may be shown and stored anywhere."""
    return visible(str(text)[:most])


def _list(data: dict[str, Any], key: str) -> list[Any]:
    found = data.get(key)
    return found if isinstance(found, list) else []


def _registrar(entities: list[Any]) -> str:
    """The formatted name of the entity with that role (RFC 9083 section 5.1, RFC 7095)."""
    for entity in entities:
        if isinstance(entity, dict) and "registrar" in _list(entity, "roles"):
            card = entity.get("vcardArray")
            rows = card[1] if isinstance(card, list) and len(card) > 1 and isinstance(card[1], list) else []
            for row in rows:
                if isinstance(row, list) and len(row) > 3 and row[0] == "fn" and isinstance(row[3], str):
                    return _clean(row[3], 120)
            return _clean(entity.get("handle", "the registrar"), 120)
    return "the registrar"


def _expiry(events: list[Any]) -> float | None:
    for event in events:
        if isinstance(event, dict) and event.get("eventAction") == "expiration":
            try:
                return from_rfc3339(str(event.get("eventDate")))
            except (ValueError, OverflowError):
                return None
    return None


def _names(servers: list[Any]) -> list[Name]:
    found = []
    for server in servers:
        try:
            found.append(absolute(str(server["ldhName"])))
        except (BadName, KeyError, TypeError):
            continue
    return found
