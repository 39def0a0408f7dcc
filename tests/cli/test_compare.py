"""A hand-over as a user types it: compare, the sheet in all its forms, what is sent, the registrar's form."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import jsonschema
import pytest

from homepath.cli.story import opened
from homepath.practice.scene_file import load_scene
from homepath.practice.world import World
from tests.conftest import SPEED, Run, follow_plan, run_in

DOMAIN = "tidewick-kiln.example"
SCHEMAS = Path(__file__).parents[2] / "docs" / "schemas"


def compared(folder: Path) -> dict[str, Any]:
    done = run_in(folder, "compare", "--json")
    value = dict(json.loads(done.out))
    jsonschema.validate(value, json.loads((SCHEMAS / "compare.schema.json").read_text()))
    assert done.status == {"ready": 0, "not-ready": 1, "unknown": 4}[value["verdict"]]
    return value


def states(value: dict[str, Any]) -> dict[str, str]:
    return {f"{each['name'].split('.')[0]} {each['type']}": each["state"] for each in value["records"]}


def test_from_the_first_look_to_ready(tmp_path: Path) -> None:
    with opened(World(load_scene("no-alias-at-the-apex"), tmp_path, SPEED)):
        follow_plan(tmp_path, "forward")
        run_in(tmp_path, "practice", "builder", "connect", DOMAIN)
        found = compared(tmp_path)  # looks by itself where nobody has looked yet
        assert found["verdict"] == "not-ready"
        assert "new-server-not-ready" in {each["code"] for each in found["findings"]}
        added = run_in(tmp_path, "practice", "form", "add-domain", DOMAIN, "--at", "thornlea")
        assert "ns-k7.thornlea.example, ns-m3.thornlea.example" in added.out
        assert "kiln-hours" not in added.out  # nobody can guess that name
        assert "kiln-hours" not in run_in(tmp_path, "survey").out
        assert "kiln-hours" in run_in(tmp_path, "survey", "--ask", "kiln-hours").out
        assert run_in(tmp_path, "survey", "--ask", "a b").status == 2
        found = compared(tmp_path)
        assert {"kiln-hours A": "missing", "www CNAME": "differs", "_dmarc TXT": "same"}.items() <= states(
            found
        ).items()
        text = run_in(tmp_path, "compare").out
        assert "Not ready: do not change the nameservers yet." in text
        for step in ("claim", "inventory"):
            run_in(tmp_path, "next", "--done", step)
        sheet = run_in(tmp_path, "sheet").out
        assert "Thornlea's new zone" in sheet
        assert "Left behind on purpose" in sheet
        assert "kiln-hours" in run_in(tmp_path, "sheet", "--as", "letter").out
        for form in ("markdown", "html", "csv"):
            assert "198.51.100.72" in run_in(tmp_path, "sheet", "--as", form).out.replace("<wbr>", "")
        assert run_in(tmp_path, "sheet", "--as", "zone", "--to", "new.zone").status == 1
        (tmp_path / "bad.zone").write_text("www 3600 IN A 300.1.1.1\n")
        for file in ("bad.zone", "none.zone"):  # nothing is taken from a file with a mistake in it
            assert run_in(tmp_path, "practice", "form", "import", DOMAIN, file, "--at", "Thornlea").status == 2
        assert compared(tmp_path)["records"] == found["records"]
        sent = run_in(tmp_path, "send", "--key", "thornlea.key", "--yes", "--json")
        assert sent.out, sent.err
        assert (sent.status, json.loads(sent.out)["state"]) == (1, "sent")
        assert compared(tmp_path)["verdict"] == "ready"
        taken = run_in(tmp_path, "practice", "form", "import", DOMAIN, "new.zone", "--at", "Thornlea")
        assert "record sets were taken from new.zone" in taken.out
        assert compared(tmp_path)["verdict"] == "ready"
        assert "Switching loses nothing" in run_in(tmp_path, "compare").out
        assert run_in(tmp_path, "practice", "registrar", "servers", DOMAIN, "not a name").status == 2
        shown = run_in(
            tmp_path, "practice", "registrar", "servers", DOMAIN, "ns-k7.thornlea.example", "ns-m3.thornlea.example"
        )
        assert "Nameservers: ns-k7.thornlea.example, ns-m3.thornlea.example" in shown.out
        assert "DS records: none" in run_in(tmp_path, "practice", "registrar", "show", DOMAIN).out
        run_in(tmp_path, "next")
        watched = json.loads(run_in(tmp_path, "watch", "--once", "--json").out)
        assert {"NS", "SOA", "CNAME"} <= {each["type"] for each in watched["records"]}
        assert watched["settled_by"]
        assert "The old zone is still there" in run_in(tmp_path, "compare").out
        run_in(tmp_path, "practice", "form", "delete-domain", DOMAIN)
        assert "old-zone-gone" in run_in(tmp_path, "watch", "--once").out
        assert "The old zone was deleted" in run_in(tmp_path, "compare").out


@pytest.mark.parametrize("word", ["servers:nine", "servers:", "value:nobody=x", "leave-behind:@", "sign:maybe"])
def test_words_that_decide_nothing_say_what_does(word: str, tmp_path: Path) -> None:
    with opened(World(load_scene("no-alias-at-the-apex"), tmp_path, SPEED)):
        follow_plan(tmp_path, "forward")
        before = (tmp_path / "homepath.toml").read_text()
        done = run_in(tmp_path, "next", "--decide", word)
        assert (done.status, "--decide" in done.err) == (2, True)
        assert (tmp_path / "homepath.toml").read_text() == before


def test_without_a_hand_over_there_is_nothing_to_compare(world: World, homepath: Run, tmp_path: Path) -> None:
    words = ("--brief", "bricklark.brief.toml", "--value", "site=20817", "--value", "code=tk-4471")
    assert homepath("start", DOMAIN, *words).status == 0
    done = homepath("compare")
    assert (done.status, "are not to change" in done.err) == (2, True)
    assert homepath("sheet", "--as", "letter").status in (1, 4)  # to the present DNS host
    for line in ("[move]\nto = 3\n", '[move]\nto = "none.toml"\n', '[move]\nto = "n.toml"\nservers = ["x"]\n'):
        site = tmp_path / "homepath.toml"
        text = site.read_text()
        site.write_text(f"{text}\n{line}")
        assert homepath("compare").status == 2
        site.write_text(text)
