"""The job against BIND, Unbound and nginx, with nothing but a network file."""

from __future__ import annotations

import json
import os
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from homepath.core.model.times import from_rfc3339
from homepath.practice.scene_file import load_scene
from tests.conftest import START, Done, run_in
from tests.practice.forecast_seen import TTL, compare, unbound_expectation, unbound_visits
from tests.real import servers

pytestmark = pytest.mark.real
DOMAIN = "tidewick-kiln.example"


@pytest.fixture
def folder(tmp_path: Path, request: pytest.FixtureRequest) -> Iterator[Path]:
    """A folder with the brief, and every server running; the parameter says what is special."""
    lacking = servers.missing()
    if lacking and not os.environ.get("HOMEPATH_REQUIRE_REAL"):
        pytest.skip(f"needs {', '.join(lacking)}")
    assert not lacking, f"the real servers are required here: {lacking}"
    os.environ["PATH"] += ":/usr/sbin:/sbin"
    for name, text in load_scene("first-site").files.items():
        (tmp_path / name).write_text(text)
    with servers.running(tmp_path, time.time(), getattr(request, "param", "")):
        yield tmp_path


def read(folder: Path, command: str, *more: str) -> tuple[int, dict[str, Any]]:
    done = run_in(folder, command, "--json", *more)
    assert done.out, done.err
    return done.status, json.loads(done.out)


def ask(server: str, name: str, rrtype: str) -> str:
    words = ["dig", f"@{server}", name, rrtype, "+short", "+tries=1"]
    return subprocess.run(words, capture_output=True, text=True, check=True).stdout


def update(folder: Path, text: str) -> None:
    subprocess.run(
        ["nsupdate", "-k", "owner.key"],
        cwd=folder,
        input=f"server {servers.HOST}\n{text}\nsend\n",
        text=True,
        check=True,
    )


def send(folder: Path) -> Done:
    return run_in(folder, "send", "--key", "owner.key", "--yes", "--early")


def test_the_whole_job(folder: Path) -> None:
    assert run_in(folder, *START).status == 0
    status, survey = read(folder, "survey")
    assert (status, [server["state"] for server in survey["servers"]]) == (1, ["agrees"])
    assert survey["delegation"] == {
        "parent": "example.",
        "servers": ["ns1.mossgate.example."],
        "ttl": 60,
        "signed": False,
        "signatures": "none",
        "trouble": "",
    }
    assert read(folder, "plan")[0] == 1
    assert run_in(folder, "send", "--dry-run").status == 1

    for cache in servers.CACHES:  # visitors come by, so that the caches hold the old answers
        assert ask(cache, f"www.{DOMAIN}", "A") == "parking.mossgate.example.\n198.51.100.7\n"
        assert ask(cache, DOMAIN, "A") == "198.51.100.7\n"
    sent = send(folder)
    assert sent.status == 1, sent.out + sent.err
    assert ask(servers.HOST, DOMAIN, "MX") == "10 mx1.mossgate.example.\n"

    status, spreading = read(folder, "watch", "--once")
    assert (status, spreading["verdict"]) == (1, "spreading")
    apex = next(r for r in spreading["records"] if (r["name"], r["type"]) == (f"{DOMAIN}.", "A"))
    states = {(reading["role"], reading["state"]) for reading in apex["readings"]}
    assert states == {("authoritative", "new"), ("resolver", "old")}
    assert all(0 <= r["ttl"] <= servers.TTL for r in apex["readings"] if r["state"] == "old")

    end = from_rfc3339(spreading["settled_by"])
    assert end - time.time() < servers.TTL + 3
    time.sleep(max(0.0, end + 1 - time.time()))  # real caches forget in real time, some seconds here
    status, settled = read(folder, "watch", "--once")
    assert (status, settled["verdict"]) == (1, "settled")  # whether the builder serves it was not tried yet

    status, visit = read(folder, "visit")
    assert (status, visit["verdict"]) == (0, "arrived")
    assert {way["certificate"]["state"] for way in visit["ways"]} == {"good"}
    assert read(folder, "next")[1]["stage"] == "arrived"
    assert read(folder, "plan")[0] == 0


def test_a_zone_changed_by_somebody_else_is_refused_whole(folder: Path) -> None:
    run_in(folder, *START)
    run_in(folder, "survey")
    update(folder, f"update add {DOMAIN}. 60 A 198.51.100.8")
    done = send(folder)
    assert (done.status, "was changed since the survey" in done.err) == (3, True)
    assert ask(servers.HOST, f"www.{DOMAIN}", "CNAME") == "parking.mossgate.example.\n"
    assert ask(servers.HOST, DOMAIN, "TXT") == '"v=spf1 mx -all"\n'


def test_what_the_server_silently_ignored_is_named(folder: Path) -> None:
    """A CNAME beside a record that no survey asks for: the server says NOERROR and leaves it out (RFC 2136 3.4.2.2)."""
    www = f"www.{DOMAIN}."
    update(folder, f"update delete {www} CNAME\nupdate add {www} 4 A 198.51.100.7\nupdate add {www} 4 HINFO a b")
    run_in(folder, *START)
    run_in(folder, "survey")
    done = send(folder)
    assert done.status == 3
    assert f"does not return CNAME at www.{DOMAIN} as sent" in done.out


def test_a_key_the_server_does_not_know(folder: Path) -> None:
    run_in(folder, *START)
    run_in(folder, "survey")
    text = (folder / "owner.key").read_text()
    for wrong in (text.replace("owner-key", "other-key"), text.replace('secret "', 'secret "AAAA')):
        (folder / "wrong.key").write_text(wrong)
        done = run_in(folder, "send", "--key", "wrong.key", "--yes", "--early")
        assert (done.status, "key" in done.err) == (3, True), done.err
    assert ask(servers.HOST, DOMAIN, "A") == "198.51.100.7\n"


def test_the_whole_zone_by_transfer(folder: Path) -> None:
    update(folder, f"update add wiki.{DOMAIN}. 60 A 192.0.2.77")
    run_in(folder, *START)
    refused = read(folder, "survey", "--transfer")[1]
    assert any("refused a zone transfer" in spot for spot in refused["blind_spots"])
    given = read(folder, "survey", "--transfer", "--key", "owner.key")[1]
    records = {(r["name"], r["type"]): r for r in given["records"]}
    assert records[f"wiki.{DOMAIN}.", "A"]["sources"] == ["transfer from ns1.mossgate.example"]
    assert records[f"{DOMAIN}.", "A"]["sources"] == ["ns1.mossgate.example", "transfer from ns1.mossgate.example"]


@pytest.mark.parametrize(("folder", "signatures"), [("good", "good"), ("broken", "broken")], indirect=["folder"])
def test_signatures(folder: Path, signatures: str) -> None:
    run_in(folder, *START)
    survey = read(folder, "survey")[1]
    assert (survey["delegation"]["signed"], survey["delegation"]["signatures"]) == (True, signatures)
    found = {finding["code"] for finding in survey["findings"]}
    assert ("signature-broken" in found) == (signatures == "broken")


def test_what_a_dname_or_a_wildcard_makes_up_is_no_entry(folder: Path) -> None:
    """BIND answers every name below a DNAME with a CNAME of its own making (RFC 6672), and a wildcard's likewise."""
    run_in(folder, *START)
    update(folder, f"update add *.{DOMAIN} 60 A 192.0.2.10")
    survey = read(folder, "survey")[1]
    inside = [record for record in survey["records"] if record["name"].endswith(f"{DOMAIN}.")]
    names = {record["name"] for record in inside if record["type"] == "A"}
    assert names == {f"{DOMAIN}.", f"*.{DOMAIN}."}
    watched = read(folder, "watch", "--once")[1]
    assert "name-doubled" not in {finding["code"] for finding in watched["findings"]}
    update(folder, f"update delete *.{DOMAIN} A\nupdate add deep.{DOMAIN} 60 DNAME elsewhere.example.")
    (folder / "homepath.toml").write_text(
        (folder / "homepath.toml").read_text().replace('primary = "www"', 'primary = "deep"')
    )
    asked = run_in(folder, "survey", "--json")
    types = {record["type"] for record in json.loads(asked.out)["records"] if record["name"] == f"deep.{DOMAIN}."}
    assert types == {"DNAME"}
    assert not [r for r in json.loads(asked.out)["records"] if r["type"] == "CNAME" and "elsewhere" in r["values"][0]]


def test_resolvers_over_tls_and_https(folder: Path) -> None:
    """BIND as a resolver over TLS (RFC 7858) and HTTPS (RFC 8484); a certificate for another name is not believed."""
    with servers.private_resolver(folder, time.time()) as address:
        kinds = [("tls", 853, "dot"), ("https", 443, "doh")]
        lists = 'format = "homepath.resolvers/1"\n'
        for transport, port, label in kinds:
            for name in ("dns.mossgate.example", "other.mossgate.example"):
                lists += f'[[resolvers]]\naddress = "{address}:{port}"\ntransport = "{transport}"\n'
                lists += f'name = "{name}"\nlabel = "{label} {name[:3]}"\n'
        (folder / "lists.toml").write_text(lists)
        assert run_in(folder, *START).status == 0
        assert run_in(folder, "survey").status == 1
        assert send(folder).status == 1
        _, found = read(folder, "watch", "--once", "--resolvers", "lists.toml")
        (record,) = [each for each in found["records"] if each["type"] == "CNAME"]
        observed = {r["vantage"]: (r["state"], r["detail"]) for r in record["readings"] if r["role"] == "resolver"}
        assert {name: state for name, (state, _) in observed.items()} == {
            "dot dns": "new",
            "doh dns": "new",
            "dot oth": "broken",
            "doh oth": "broken",
        }
        assert all("is not trusted" in observed[name][1] for name in ("dot oth", "doh oth"))


def test_the_forecast_against_real_caches(folder: Path) -> None:
    """Many names in each of two Unbound caches, changed at once: the shares seen are those forecast.

    About 240 visitors in each span, and whole-second TTLs: some points of difference are chance and rounding.
    """
    phases, caches = unbound_expectation()
    visits = unbound_visits(folder, servers.CACHES, TTL + 2.0, 240)
    buckets = compare(visits, phases, caches, [2.0 * at for at in range(TTL // 2 + 1)])
    apart = [abs(bucket.seen[0] - bucket.predicted[0]) for bucket in buckets]
    assert sum(apart) / len(apart) < 0.12, buckets
    late = [kind for at, kind in visits if at > TTL + 1.2]
    assert late
    assert set(late) == {"new"}


def kinds(folder: Path) -> set[str]:
    return {step["kind"] for step in read(folder, "next")[1]["steps"]}


def test_two_spf_texts_become_one_and_nothing_of_it_is_wanted_back(folder: Path) -> None:
    update(folder, f'update add {DOMAIN}. 60 TXT "v=spf1 a include:post.fernhollow.example ~all"')
    run_in(folder, *START)
    run_in(folder, "survey")
    assert send(folder).status == 1
    (policy,) = [line for line in ask(servers.HOST, DOMAIN, "TXT").splitlines() if "v=spf1" in line]
    assert policy == '"v=spf1 ip4:198.51.100.7 include:post.fernhollow.example mx ~all"'
    assert "put-back" not in kinds(folder)
    assert "spf-twice" not in read(folder, "plan")[1]["findings"]


def test_what_a_server_writes_for_itself_is_never_asked_for(folder: Path) -> None:
    update(folder, f"update add {DOMAIN}. 60 TYPE65400 \\# 5 0d00010000")
    run_in(folder, *START)
    given = read(folder, "survey", "--transfer", "--key", "owner.key")[1]
    assert any(record["type"] == "TYPE65400" for record in given["records"])
    run_in(folder, "next")
    update(folder, f"update delete {DOMAIN}. TYPE65400")
    run_in(folder, "survey")
    assert "put-back" not in kinds(folder)


def test_names_below_a_dname_are_entered_once_they_can_be_seen(folder: Path) -> None:
    """What the zone holds below a DNAME is hidden (RFC 6672 section 2.4); an update that ignores it is refused."""
    update(folder, f"update add {DOMAIN}. 60 DNAME elsewhere.example.")
    run_in(folder, *START)
    run_in(folder, "survey")
    run_in(folder, "next", "--decide", "drop:@ DNAME")
    for _ in range(2):
        assert send(folder).status == 1, send(folder).err
        run_in(folder, "survey")
    assert ask(servers.HOST, DOMAIN, "DNAME") == ""
    assert ask(servers.HOST, f"www.{DOMAIN}", "CNAME").startswith("site-20817.")


def test_an_old_answer_that_only_one_cache_counts_down_is_waited_for(folder: Path) -> None:
    """All web records were gone before the first check: only the cache still knows them."""
    update(folder, f"update delete {DOMAIN}. A\nupdate add {DOMAIN}. 200 A 198.51.100.7")
    assert ask(servers.CACHES[0], DOMAIN, "A") == "198.51.100.7\n"
    update(folder, f"update delete {DOMAIN}. A\nupdate delete www.{DOMAIN}. CNAME")
    fetched = time.time()
    run_in(folder, *START)
    run_in(folder, "survey")
    assert send(folder).status == 1
    _, found = read(folder, "watch", "--once")
    assert found["verdict"] == "spreading"
    assert abs(from_rfc3339(found["settled_by"]) - (fetched + 200)) < 10


@pytest.mark.parametrize("folder", ['@ CAA 0 issue "other.example"'], indirect=True)
def test_an_own_caa_set_against_an_inherited_one_belongs_to_the_job(folder: Path) -> None:
    """RFC 8659 section 3: the zone above forbids the certificate, until the domain has a CAA set of its own."""
    run_in(folder, *START)
    run_in(folder, "survey")
    assert ask(servers.CACHES[0], DOMAIN, "CAA") == ""  # it now holds that the domain has no set of its own
    assert send(folder).status == 1
    assert "tallowseal.example" in ask(servers.HOST, DOMAIN, "CAA")
    _, found = read(folder, "watch", "--once")
    assert found["verdict"] == "spreading"
    assert run_in(folder, "undo").status in (1, 3)
    deleted = {(each["name"], each["type"]) for each in read(folder, "next")[1]["act"]["delete"]}
    assert (f"{DOMAIN}.", "CAA") in deleted
