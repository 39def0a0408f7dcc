"""What is contacted and what never is, whoever names it."""

from __future__ import annotations

import asyncio
from dataclasses import replace
from ipaddress import ip_network
from pathlib import Path

import pytest

from homepath.app.project import open_project
from homepath.app.survey import survey
from homepath.core.dns.answers import Server
from homepath.core.dns.records import RecordSet, Zone
from homepath.net.network_file import Network, OffLimits, load_network, not_public
from homepath.net.vantages import Resolver
from homepath.practice.world import World
from tests.conftest import START, run_in
from tests.refusals import refused

ROUTER = Resolver(Server("192.168.1.1"), "the router")
OPEN = Network(resolvers=(ROUTER,))


@pytest.mark.parametrize(
    ("address", "why"),
    [
        ("192.168.1.1", "private use"),
        ("224.0.0.251", "multicast"),
        ("ff02::fb", "multicast"),
        ("64:ff9b::10.0.0.1", "translated"),
        ("64:ff9b:1::1", "translated"),
        ("2002:a00:1::1", "6to4"),
        ("::127.0.0.1", "embedded"),
        ("::ffff:10.0.0.1", "mapped"),
        ("::", "embedded"),
        ("fec0::1", "site local"),
        ("fe80::1%eth0", "interface"),
        ("192.0.2.10", "documentation"),
        ("3fff::1", "documentation"),
        ("100.64.0.1", "shared"),
        ("255.255.255.255", "reserved"),
    ],
)
def test_what_no_public_server_has_is_refused(address: str, why: str) -> None:
    assert why in not_public(address)
    for port in (53, 80, 443):
        if (address, port) != ("192.168.1.1", 53):
            with refused(OffLimits, "not a public address"):
                OPEN.place(address, port)
    with refused(OffLimits, "not a public address"):
        OPEN.web_place(address, 443)


@pytest.mark.parametrize("address", ["198.41.0.4", "2001:4860::1", "2a00::1", "192.0.1.1", "223.255.255.254"])
def test_what_a_public_server_may_have_is_not(address: str) -> None:
    assert not_public(address) == ""
    assert OPEN.web_place(address, 443) == (address, 443)


def test_the_table_agrees_with_the_standard_library_where_that_says_private() -> None:
    """Ours is wider (multicast, embedded IPv4), never narrower at the borders of a range."""
    for text in ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "fc00::/7", "fe80::/10"):
        network = ip_network(text)
        assert not_public(str(network[0]))
        assert not_public(str(network[-1]))


def test_a_listed_resolver_is_asked_at_exactly_its_place_and_gets_no_request_for_pages() -> None:
    assert OPEN.place("192.168.1.1", 53) == ("192.168.1.1", 53)
    for port in (80, 443, 5353):
        with pytest.raises(OffLimits):
            OPEN.place("192.168.1.1", port)
    for port in (80, 443):
        with pytest.raises(OffLimits):
            OPEN.web_place("192.168.1.1", port)
    own = Network(roots=(Server("198.41.0.4"),), resolvers=(Resolver(Server("127.0.0.53"), "this machine"),))
    assert own.place("127.0.0.53", 53) == ("127.0.0.53", 53)
    with pytest.raises(OffLimits):
        own.web_place("127.0.0.53", 80)


def test_a_closed_world_contacts_only_itself() -> None:
    closed = Network(roots=(Server("127.0.0.1"),), reach={("192.0.2.10", 80): ("127.0.0.1", 8080)})
    assert closed.web_place("192.0.2.10", 80) == ("127.0.0.1", 8080)
    assert closed.web_place("127.0.0.9", 8443) == ("127.0.0.9", 8443)
    for address in ("192.0.2.10", "198.41.0.4", "10.0.0.1"):
        with refused(OffLimits, "not part of this network file"):
            closed.web_place(address, 443)


def test_an_address_of_ipv6_is_not_asked_where_this_machine_has_none(world: World, tmp_path: Path) -> None:
    """The silence would be this machine's own: no nameserver of the domain is lame for it, none at the parent."""
    run_in(tmp_path, *START)
    for name in ("ns1.mossgate.example.", "a.registry.example."):
        for zone in [each for each in world.zones.ids() if (name, "A") in world.zones.get(each).sets]:
            sets = world.zones.get(zone).sets
            world.zones.add(zone, Zone(zone, {**sets, (name, "AAAA"): RecordSet(name, "AAAA", 300, ("2001:db8::53",))}))
    network = load_network(tmp_path / "network.toml")
    project = open_project(tmp_path / "homepath.toml")
    found = {has: asyncio.run(survey(project, replace(network, ipv6=has))).survey.servers for has in (True, False)}
    assert [each.address for each in found[True] if each.state == "silent"] == ["2001:db8::53"]
    assert {each.state for each in found[False]} == {"agrees"}
    assert {each.name for each in found[False]} == {each.name for each in found[True]}
    assert replace(network, ipv6=False).usable(["2001:db8::53"]) == ("2001:db8::53",), "where it is the only one"
