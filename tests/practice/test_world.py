"""The parts of the practice world, each against the rules that its real counterpart keeps."""

from __future__ import annotations

from dataclasses import replace

import dns.message
import dns.name
import dns.tsig
import dns.update
import pytest

from homepath.core.dns.records import RecordSet
from homepath.core.files.key_file import TsigKey
from homepath.core.model.problems import BadInput
from homepath.core.plan.plan import make_plan, make_update
from homepath.net.update import build
from homepath.practice.builder import Builder
from homepath.practice.form import carry_out, delete, enter
from homepath.practice.resolver import Cache
from homepath.practice.scene_file import load_scene, read_scene
from homepath.practice.web_server import Authority, Request
from homepath.practice.world import World
from homepath.practice.zones import Reply, Zones, reply
from tests.core.cases import case
from tests.refusals import refused

SCENE = load_scene("first-site")
D = "tidewick-kiln.example."
ALL = tuple(SCENE.zones)


@pytest.fixture
def zones() -> Zones:
    return Zones(dict(SCENE.zones))


@pytest.mark.parametrize(
    ("served", "name", "rrtype", "rcode", "authoritative", "answers"),
    [
        ((D,), D, "A", "NOERROR", True, ["198.51.100.7"]),
        ((D,), f"x.{D}", "A", "NXDOMAIN", True, []),
        ((D,), D, "AAAA", "NOERROR", True, []),
        ((D,), f"www.{D}", "A", "NOERROR", True, ["parking.mossgate.example."]),
        ((D, "mossgate.example."), f"www.{D}", "A", "NOERROR", True, ["parking.mossgate.example."]),
        (("example.",), f"www.{D}", "A", "NOERROR", False, []),
        (("bricklark.example.",), "a.edge.bricklark.example.", "A", "NOERROR", True, ["192.0.2.10", "192.0.2.44"]),
        (("bricklark.example.",), "dns.bricklark.example.", "AAAA", "NOERROR", True, []),
        ((D,), "other.test.", "A", "REFUSED", False, []),
    ],
)
def test_authoritative_answers(
    zones: Zones, served: tuple[str, ...], name: str, rrtype: str, rcode: str, authoritative: bool, answers: list[str]
) -> None:
    found = reply(zones, served, name, rrtype)
    assert (found.rcode, found.authoritative) == (rcode, authoritative)
    assert [value for record in found.answer for value in record.values] == answers
    if not answers and rcode != "REFUSED":
        assert found.authority[0].type == ("SOA" if authoritative else "NS")


def changing(answers: list[str]) -> Cache:
    """A cache in a world where each look gives the next answer."""
    left = iter(answers)

    def lookup(name: str, rrtype: str) -> Reply:
        return Reply("NOERROR", True, (RecordSet(name, "A", 60, (next(left),)),))

    return Cache("c", "plain", 300, lookup)


@pytest.mark.parametrize(
    ("habit", "seen"),
    [
        ("plain", [("1", 60), ("1", 20), ("2", 60), ("3", 60)]),
        ("clamping", [("1", 300), ("1", 260), ("1", 230), ("2", 300)]),
        ("stale-serving", [("1", 60), ("1", 20), ("1", 30), ("2", 30)]),
    ],
)
def test_habits_of_caches(habit: str, seen: list[tuple[str, int]]) -> None:
    cache = replace(changing([f"192.0.2.{n}" for n in range(1, 9)]), habit=habit)
    found = []
    for now in (0, 40, 70, 400):
        (record,) = cache.resolve("a.example.", "A", now).answer
        found.append((record.values[0][-1], record.ttl))
    assert found == seen


def test_what_is_missing_is_remembered_too(zones: Zones) -> None:
    """RFC 2308: the smaller of the SOA's TTL and its minimum field, 900 here."""
    cache = Cache("c", "plain", 0, lambda name, rrtype: reply(zones, ALL, name, rrtype))
    assert cache.resolve(f"new.{D}", "A", 0).rcode == "NXDOMAIN"
    enter(zones, D, "new", "A", "192.0.2.1", 60, True)
    assert cache.resolve(f"new.{D}", "A", 899).rcode == "NXDOMAIN"
    assert cache.resolve(f"new.{D}", "A", 900).answer[0].values == ("192.0.2.1",)


KEY = TsigKey("k.", "hmac-sha256", b"x" * 32)


def test_the_update_we_send_is_the_one_a_server_carries_out(zones: Zones) -> None:
    before = case("")
    plan = make_plan(replace(before, zone=zones.get(D)))
    message = build(make_update(zones.get(D), plan.changes), KEY)
    wire = message.to_wire()
    ring = {dns.name.from_text("k."): dns.tsig.Key("k.", b"x" * 32, "hmac-sha256.")}
    received = dns.message.from_wire(wire, keyring=ring)
    assert isinstance(received, dns.update.UpdateMessage)
    serial = zones.get(D).values(D, "SOA")[0].split()[2]
    assert carry_out(zones, {D: D}, received) == "NOERROR"
    assert make_plan(replace(before, zone=zones.get(D))).work == ()
    assert zones.get(D).values(D, "MX") == ("10 mx1.mossgate.example.",)
    assert int(zones.get(D).values(D, "SOA")[0].split()[2]) == int(serial) + 1
    assert carry_out(zones, {D: D}, received) == "NXRRSET"  # sent again: the prerequisites no longer hold


def test_the_form_does_to_names_and_targets_what_forms_do(zones: Zones) -> None:
    assert enter(zones, D, f"www2.{D}", "A", "192.0.2.1", 60, True).name == f"www2.{D}{D}"
    assert enter(zones, D, "a", "CNAME", "host.example", 60, True).values == (f"host.example.{D}",)
    assert enter(zones, D, "b", "CNAME", "host.example", 60, False).values == ("host.example.",)
    for host, rrtype, value in (
        ("www", "A", "192.0.2.1"),
        ("c", "A", "300.1.1.1"),
        ("c", "LOC", "x"),
        ("a b", "A", "192.0.2.1"),
    ):
        with pytest.raises(BadInput):
            enter(zones, D, host, rrtype, value, 60, True)
    with pytest.raises(BadInput):
        delete(zones, D, "@", "A", "192.0.2.99", True)
    delete(zones, D, "@", "A", None, True)
    assert zones.get(D).get(D, "A") is None


def test_the_builder_serves_a_domain_only_when_dns_is_right(zones: Zones) -> None:
    builder = Builder(SCENE.builder, zones, lambda n, t: _whole(zones, n, t), Authority("root", 0), 0)
    host = Request("GET", "www.tidewick-kiln.example", "/p?q=1", False)
    assert builder.serve(host).status == 404
    claim = builder.connect(D, (D, f"www.{D}"), f"www.{D}", "tk-4471", 0)
    assert (claim.state, builder.serve(host).status) == ("waiting for DNS", 404)
    for name, rrtype in (("@", "A"), ("www", "CNAME")):
        delete(zones, D, name, rrtype, None, True)
    enter(zones, D, "@", "TXT", "bricklark-owner=tk-4471", 60, True)
    enter(zones, D, "www", "CNAME", "site-20817.edge.bricklark.example.", 60, True)
    enter(zones, D, "@", "A", "192.0.2.10", 60, True)
    enter(zones, D, "@", "A", "198.51.100.99", 60, True)
    builder.tick(300)
    assert "points to 198.51.100.99" in claim.words
    delete(zones, D, "@", "A", "198.51.100.99", True)
    enter(zones, D, "@", "CAA", '0 issue "other.example"', 60, True)
    builder.tick(600)
    assert claim.state == "waiting for certificate"
    assert builder.serve(replace(host, path="/")).status == 200
    assert builder.serve(host).status == 404
    builder.tick(600 + SCENE.builder.certificate_after)
    assert "may not issue" in claim.words
    enter(zones, D, "@", "CAA", '0 issue "tallowseal.example"', 60, True)
    builder.tick(90000)
    assert str(claim.state) == "connected"
    there = builder.serve(replace(host, host="tidewick-kiln.example"))
    assert (there.status, there.headers["Location"]) == (301, "https://www.tidewick-kiln.example/p?q=1")
    assert builder.disconnect(D)
    assert builder.serve(host).status == 404


def _whole(zones: Zones, name: str, rrtype: str) -> Reply:
    found = reply(zones, ALL, name, rrtype)
    last = found.answer[-1] if found.answer else None
    if last is None or last.type != "CNAME" or rrtype == "CNAME":
        return found
    return replace(found, answer=(*found.answer, *reply(zones, ALL, last.values[0], rrtype).answer))


def test_scenes_are_read_strictly() -> None:
    with pytest.raises(BadInput) as caught:
        read_scene('format = "homepath.scene/1"\ntitle = 3\nserverz = []\n', "s")
    assert {"title", "serverz", "zones", "host", "builder"} <= {problem.key for problem in caught.value.problems}
    with refused(BadInput, "no such scene"):
        load_scene("../../etc/passwd")


def test_a_body_of_brackets_is_a_bad_request(world: World) -> None:
    request = Request("POST", "127.0.0.1", "/", False, b"[" * 100_000)
    assert world.control.handle(request).status == 400
