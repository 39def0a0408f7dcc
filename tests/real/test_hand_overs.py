"""Hand-overs against BIND, Unbound with and without validation, and nginx: mail is there at every moment, real time."""

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
from tests.conftest import run_in
from tests.real import servers, two_hosts
from tests.real.two_hosts import BUILDER, DOMAIN, NEW, OLD, PLAIN, TOP, VALIDATING, mail_watched, silent, update

pytestmark = pytest.mark.real
Json = dict[str, Any]
FILES = load_scene("mail-comes-along").files
BRIEF = (  # the builder of the scene, in a world where waits take seconds
    FILES["fernhollow.brief.toml"]
    .replace('"24 h"', '"5 s"')
    .replace('"72 h"', '"1 min"')
    .replace('values = ["192.0.2.130"]', 'values = ["192.0.2.130"], ttl = 4')
    .replace('pages.fernhollow.example."]', 'pages.fernhollow.example."], ttl = 4')
)
SITE = """
format = "homepath.site/1"
domain = "tidewick-kiln.example"
primary = "www"
brief = "b.brief.toml"
notation = "n.notation.toml"
values = { site = "20817" }
"""
MOVE = '[move]\nto = "t.notation.toml"\nservers = ["ns-k7.thornlea.example."]\n'


@pytest.fixture
def folder(tmp_path: Path) -> Iterator[Path]:
    lacking = servers.missing()
    if lacking and not os.environ.get("HOMEPATH_REQUIRE_REAL"):
        pytest.skip(f"needs {', '.join(lacking)}")
    assert not lacking, f"the real servers are required here: {lacking}"
    os.environ["PATH"] += ":/usr/sbin:/sbin"
    (tmp_path / "b.brief.toml").write_text(BRIEF)
    for name, host in (("n", "Mossgate"), ("t", "Thornlea")):
        (tmp_path / f"{name}.notation.toml").write_text(f'format = "homepath.notation/1"\nhost = "{host}"\n')
    with two_hosts.running(tmp_path, time.time()):
        yield tmp_path


def look(folder: Path, *words: str) -> Json:
    done = run_in(folder, "next", "--json", *words)
    assert done.out, done.err
    return dict(json.loads(done.out))


def dig(server: str, name: str, rrtype: str) -> list[str]:
    words = ["dig", f"@{server}", name, rrtype, "+short", "+tries=2"]
    return sorted(subprocess.run(words, capture_output=True, text=True, check=True).stdout.split("\n")[:-1])


def do(folder: Path, act: Json, new: str) -> None:
    """One act, as somebody at a form, at the registrar, or waiting would do it."""
    if act["kind"] == "enter":
        place = new if act["where"] == "new DNS host" else OLD
        lines = [f"update delete {e['name']} {e['type']} {e['value']}" for e in act["delete"]]
        lines += [f"update add {e['name']} {e['ttl']} {e['type']} {e['value']}" for e in act["enter"]]
        update(folder, place, DOMAIN, lines)
    elif act["kind"] == "name-servers":
        names = [f"update add {DOMAIN} {two_hosts.TTL} NS {server}" for server in act["servers"]]
        update(folder, TOP, "example.", [f"update delete {DOMAIN} NS", *names])
    elif act["kind"] == "remove-ds":
        update(folder, TOP, "example.", [f"update delete {DOMAIN} DS"])
    elif act["kind"] == "decide":
        words = next(choice["then"] for choice in act["choices"] if not choice["loses"])
        assert run_in(folder, *words).status in (0, 1, 3)
    elif act["kind"] == "wait":
        left = from_rfc3339(act["until"]) - time.time()
        assert left < 60, act
        time.sleep(max(0.0, left))


def walk(folder: Path, new: str, until: str = "none") -> list[Json]:
    """Everything that `next` says, to its end or to an act of this kind."""
    said: list[Json] = []
    answer = look(folder)
    while answer["act"]["kind"] != until:
        said.append(answer)
        assert len(said) < 30, [each["step"]["id"] for each in said]
        assert sum(each["act"] == answer["act"] for each in said) < 3, answer["act"]
        do(folder, answer["act"], new)
        told = answer["act"]["kind"] in ("tell-builder", "check-again", "builder-step", "publish-again")
        answer = look(folder, *(["--done", answer["step"]["id"]] if told else []))
    return said


@pytest.mark.parametrize("to", ["builder", "another DNS host"])
def test_a_signed_domain_is_handed_over_taken_back_and_left(to: str, folder: Path) -> None:
    """The old zone is signed: the DS record goes first. Then back, and, where records are typed, out of the builder."""
    new = BUILDER if to == "builder" else NEW
    more = 'route = "nameservers"\n' if to == "builder" else MOVE
    (folder / "homepath.toml").write_text(SITE + more)
    kept = (("", "MX"), ("", "TXT"), ("potters-list.", "MX"), ("kiln1._domainkey.", "TXT"), ("_dmarc.", "TXT"))
    before = {each: dig(OLD, f"{each[0]}{DOMAIN}", each[1]) for each in kept}
    assert all(before.values())
    with mail_watched() as mail:
        said = walk(folder, new)
        kinds = [each["step"]["kind"] for each in said]
        assert kinds.index("carry") < kinds.index("remove-ds") < kinds.index("wait-ds") < kinds.index("name-servers")
        for cache in (PLAIN, VALIDATING):
            assert {each: dig(cache, f"{each[0]}{DOMAIN}", each[1]) for each in kept} == before
            assert "192.0.2.130" in dig(cache, f"www.{DOMAIN}", "A")
        assert json.loads(run_in(folder, "compare", "--json").out)["old"][0]["state"] == "holds"
        assert run_in(folder, "undo").status in (1, 3)
        back = walk(folder, new)
        assert "name-servers" in [each["step"]["kind"] for each in back]
        for cache in (PLAIN, VALIDATING):
            assert "198.51.100.30" in dig(cache, f"www.{DOMAIN}", "A")
            assert {each: dig(cache, f"{each[0]}{DOMAIN}", each[1]) for each in kept} == before
        if to != "builder":
            assert run_in(folder, "undo", "--stop").status == 0
            walk(folder, new)
            assert run_in(folder, "leave").status in (0, 1)
            left = [each["step"]["kind"] for each in walk(folder, new)]
            assert left.index("let-go") < left.index("leave-builder")
            assert dig(PLAIN, f"www.{DOMAIN}", "A") == []
            assert dig(NEW, DOMAIN, "MX") == before["", "MX"]
    assert mail.looks > 20
    assert mail.gaps == []


def test_nothing_is_switched_while_a_server_keeps_silent(folder: Path) -> None:
    """Whether this is lost, or whether the domain is signed, is unknown then, also where it was known before."""
    (folder / "homepath.toml").write_text(SITE + MOVE)
    unanswered_why = [(OLD, DOMAIN, "MX"), (OLD, f"potters-list.{DOMAIN}", "MX"), (TOP, DOMAIN, "DS")]
    with silent(folder, *unanswered_why[2]):  # not known before either
        assert look(folder)["act"]["kind"] not in ("name-servers", "remove-ds")
    walk(folder, NEW, until="name-servers")
    assert run_in(folder, "compare").status == 0
    for each in (*unanswered_why, (OLD, f"_dmarc.{DOMAIN}", "TXT")):
        with silent(folder, *each):
            done = run_in(folder, "compare", "--json")
            assert (json.loads(done.out)["verdict"], done.status) == ("unknown", 4), each
            assert look(folder)["act"]["kind"] != "name-servers", each


def test_a_slip_that_only_the_new_host_had_is_in_no_cache(folder: Path) -> None:
    (folder / "homepath.toml").write_text(SITE + MOVE)
    walk(folder, NEW, until="remove-ds")
    update(
        folder, NEW, DOMAIN, [f"update add www.{DOMAIN} 3000 TXT slip", f"update add {DOMAIN} 3000 MX 5 mx9.example."]
    )
    assert look(folder)["act"]["kind"] == "enter"
    walk(folder, NEW)  # no wait in it is longer than a minute


def test_the_new_zone_loads_into_bind_unchanged_and_is_sent_by_update(folder: Path) -> None:
    (folder / "homepath.toml").write_text(SITE + MOVE)
    assert run_in(folder, "survey", "--transfer").status in (0, 1, 3)
    done = run_in(folder, "sheet", "--as", "zone", "--to", "new.zone")
    assert done.status in (0, 1), done.err
    words = ["named-checkzone", "-i", "none", "tidewick-kiln.example", "new.zone"]
    checked = subprocess.run(words, cwd=folder, capture_output=True, text=True, check=False)
    assert checked.returncode == 0, checked.stdout
    text = (folder / "new.zone").read_text()
    assert "198.51.100.30" not in text
    assert "RRSIG" not in text
    assert text.count("kiln-cam") == 2
    for step in ("claim", "inventory"):
        look(folder, "--done", step)
    sent = run_in(folder, "send", "--key", "owner.key", "--yes", "--json")
    assert (sent.status, json.loads(sent.out)["state"]) == (1, "sent"), sent.err
    compared = json.loads(run_in(folder, "compare", "--json").out)
    assert {each["state"] for each in compared["records"]} <= {"same", "as-planned"}
    assert "ds-does-not-fit" in {each["code"] for each in compared["findings"]}
    assert compared["verdict"] == "not-ready"
    assert look(folder)["act"]["kind"] == "remove-ds"
