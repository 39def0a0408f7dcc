"""Where redirects live, and the configurations that carry them out."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from homepath.core.model.brief import Notation
from homepath.core.model.problems import BadInput
from homepath.core.plan.plan import make_plan
from homepath.core.site.wanted import work_out
from homepath.report.server_config import WRITERS, Forwarder, checked
from tests.core.cases import BASE, BRIEF, SITE, case, kinds

NO_APEX = replace(BRIEF, apex=())
HTTP_ONLY = Notation("Mossgate", forwarding=True)
SECURE = replace(HTTP_ONLY, forwarding_https=True)
OWN = replace(SITE, own_server=("203.0.113.7", "2001:db8::7"))


@pytest.mark.parametrize(
    ("site", "brief", "notation", "place", "secure", "others"),
    [
        (SITE, BRIEF, Notation(), "builder", True, 0),
        (SITE, BRIEF, SECURE, "builder", True, 1),
        (replace(SITE, redirect="forwarding"), BRIEF, SECURE, "forwarding", True, 1),
        (SITE, NO_APEX, SECURE, "forwarding", True, 0),
        (SITE, NO_APEX, HTTP_ONLY, "forwarding", False, 0),
        (OWN, NO_APEX, HTTP_ONLY, "own-server", True, 1),
        (OWN, NO_APEX, SECURE, "forwarding", True, 1),
        (replace(OWN, redirect="own-server"), NO_APEX, SECURE, "own-server", True, 1),
        (SITE, NO_APEX, replace(HTTP_ONLY, proxy=True), "proxy", True, 1),
        (SITE, replace(BRIEF, redirects_by="nobody"), Notation(), "nobody", False, 0),
        (replace(SITE, primary="shop"), BRIEF, SECURE, None, None, None),
    ],
)
def test_the_place_follows_from_what_there_is(
    site: Any, brief: Any, notation: Any, place: str | None, secure: bool | None, others: int | None
) -> None:
    found = work_out(site, brief, notation).redirects
    if place is None:
        assert found is None
        return
    assert found is not None
    assert (found.place, found.secure, len(found.others)) == (place, secure, others)


def test_a_server_of_ones_own_brings_its_records_and_its_step() -> None:
    made = make_plan(case(BASE, OWN, NO_APEX, notation=HTTP_ONLY))
    records = {(change.type, change.values) for change in made.work if change.name == "tidewick-kiln.example."}
    assert {("A", ("203.0.113.7",)), ("AAAA", ("2001:db8::7",))} <= records
    assert "redirect" in kinds(case(BASE, OWN, NO_APEX, notation=HTTP_ONLY))
    assert made.redirects is not None
    assert made.redirects.place == "own-server"
    by_proxy = kinds(case(BASE, SITE, NO_APEX, notation=replace(HTTP_ONLY, proxy=True)))
    assert by_proxy.count("redirect") == 1
    assert "forward" not in by_proxy


TWO = Forwarder(("tidewick-kiln.example", "tidewick-pots.example"), "www.tidewick-kiln.example")


@pytest.mark.parametrize("kind", WRITERS)
def test_no_promise_unless_asked_for(kind: str) -> None:
    plain, sticky = WRITERS[kind](TWO), WRITERS[kind](replace(TWO, hsts=300))
    assert "max-age" not in plain
    assert "max-age" in sticky
    assert all(name in plain for name in (*TWO.names, TWO.to))
    assert checked(TWO) == TWO


def test_a_forwarder_listens_everywhere_or_where_it_is_told() -> None:
    assert [line for line in WRITERS["nginx"](TWO).splitlines() if "listen" in line][:2] == [
        "    listen 80;",
        "    listen [::]:80;",
    ]
    at = replace(TWO, listen=("192.0.2.9", "2001:db8::9"))
    places = {line.split()[1].rstrip(";") for line in WRITERS["nginx"](at).splitlines() if "listen " in line}
    assert places == {"192.0.2.9:80", "[2001:db8::9]:80", "192.0.2.9:443", "[2001:db8::9]:443"}


@pytest.mark.parametrize("kind", WRITERS)
def test_certificates_are_the_ones_named_or_are_got_by_the_server(kind: str) -> None:
    own = replace(TWO, certificate="/etc/own/chain.pem", key="/etc/own/key.pem")
    assert checked(own) == own
    given, none = WRITERS[kind](own), WRITERS[kind](TWO)
    if kind != "proxy":
        assert "/etc/own/chain.pem" in given
        assert "/etc/own/key.pem" in given
    assert "/etc/own" not in none
    marks = {"nginx": "/etc/ssl/tidewick-kiln.example/chain.pem", "apache": "MDomain tidewick-kiln.example"}
    if mark := marks.get(kind):
        assert mark in none
        assert mark not in given
    assert Forwarder(("a.example",), "b.example").hsts == 0


@pytest.mark.parametrize("kind", ["nginx", "apache", "caddy"])
def test_a_server_listens_only_where_it_is_told(kind: str) -> None:
    told = WRITERS[kind](replace(TWO, listen=("192.0.2.9",)))
    assert "192.0.2.9" in told
    assert "192.0.2.9" not in WRITERS[kind](TWO)
    assert "*:443" not in told


@pytest.mark.parametrize(
    "change",
    [
        {"names": ("a.example; } evil {",)},
        {"names": ("a.example\n",)},
        {"names": ("-a.example",)},
        {"names": ("example",)},
        {"to": "a b.example"},
        {"names": ("www.tidewick-kiln.example",)},
        {"certificate": "/etc/x.pem"},
        {"certificate": "/etc/x y.pem", "key": "/etc/k.pem"},
        {"certificate": "relative.pem", "key": "/etc/k.pem"},
        {"listen": ("everywhere",)},
    ],
)
def test_nothing_gets_into_a_configuration_that_changes_its_meaning(change: dict[str, Any]) -> None:
    with pytest.raises(BadInput):
        checked(replace(TWO, **change))
