"""Registration data (RFC 9082), from the service that the bootstrap list (RFC 9224) names for a domain."""

from __future__ import annotations

import asyncio
from pathlib import Path

from homepath.core.dns.names import Name, shown
from homepath.core.files.rdap import BadRegistration, read_domain_object, service_for
from homepath.core.message import Text, msg, reason
from homepath.core.model.problems import BadInput
from homepath.core.model.survey import Registration
from homepath.core.model.visible import visible
from homepath.files import read_octets
from homepath.net.fetch import BIGGEST_PAGE, NoSuchPage, Unreadable, read_page
from homepath.net.network_file import Network
from homepath.net.session import Walker


async def ask_registry(
    domain: Name, network: Network, walker: Walker, texts: dict[str, asyncio.Task[str]]
) -> tuple[Registration | None, Text]:
    """The registration, or None and the reason. Never raises for what a registry does.

    `texts`: what was read already and holds for every domain, by its place.
    """
    if network.bootstrap is None:
        return None, msg("registration.ask-registry")
    try:
        bootstrap = await _bootstrap(network.bootstrap, network, walker, texts)
        base = service_for(bootstrap, domain)
        if base is None:
            return None, msg("registration.ask-registry-2", domain=domain)
        url = f"{base}domain/{shown(domain)}"
        try:
            return read_domain_object(await _read(url, network, walker), url), ""
        except NoSuchPage:
            return Registration("", (), None, (), url, missing=True), ""
    except (Unreadable, BadRegistration) as error:
        detail = reason(error)
        return None, msg("registration.ask-registry-3", error=visible(detail) if isinstance(detail, str) else detail)


async def _bootstrap(place: str, network: Network, walker: Walker, texts: dict[str, asyncio.Task[str]]) -> str:
    """The list of services, read once."""
    if place not in texts:
        texts[place] = asyncio.ensure_future(_read(place, network, walker))
    return await asyncio.shield(texts[place])


async def _read(place: str, network: Network, walker: Walker) -> str:
    if place.startswith(("http://", "https://")):
        return await read_page(place, network, walker)
    try:
        return await asyncio.to_thread(_file, place)
    except (OSError, ValueError) as error:
        raise Unreadable(f"{place}: {error}") from error


def _file(place: str) -> str:
    try:
        return read_octets(Path(place), place)[:BIGGEST_PAGE].decode("utf-8")
    except BadInput as error:
        raise ValueError(error.problems[0].message) from error
