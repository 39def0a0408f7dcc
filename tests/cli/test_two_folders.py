"""Two folders for one domain: neither wants back what the other one changed, and each is told of the other."""

from __future__ import annotations

import json
import shutil
from pathlib import Path

import pytest

from homepath.cli.story import opened
from homepath.practice.scene_file import load_scene
from homepath.practice.world import World
from tests.conftest import SPEED, START, run_in


@pytest.mark.parametrize("place", ["two", "one/two"])
def test_two_folders_for_one_domain_know_each_other(place: str, tmp_path: Path) -> None:
    one, two = tmp_path / "one", tmp_path / place
    one.mkdir()
    with opened(World(load_scene("first-site"), one, SPEED)):
        assert run_in(one, *START).status == 0
        run_in(one, "next")
        run_in(one, "send", "--key", "mossgate.key", "--yes", "--early")
        (tmp_path / "link").symlink_to(one)
        assert "second-folder" not in run_in(one, "next", "--json").out
        two.mkdir()
        for name in ("mossgate.notation.toml", "mossgate.key", "authority.pem"):
            shutil.copy(one / name, two / name)
        brief = (one / "bricklark.brief.toml").read_text().replace("Bricklark", "Fernhollow")
        (two / "bricklark.brief.toml").write_text(brief.replace("192.0.2.", "198.51.100.").replace("edge", "pages"))
        network = {"HOMEPATH_NETWORK": str(one / "network.toml")}
        assert run_in(two, *START, **network).status == 0
        run_in(two, "survey", **network)
        found = json.loads(run_in(two, "next", "--json", **network).out)
        said = [each for each in found["because"] if each["code"] == "second-folder"]
        assert ([each["level"] for each in said], str(one) in json.dumps(said)) == (["blocker"], True)
        assert run_in(two, "send", "--key", "mossgate.key", "--yes", "--early", **network).status == 3
        assert "put-back" not in {step["kind"] for step in found["steps"]}
        # nothing of the second folder is in the zone, so the first one goes on
        assert "second-folder" not in run_in(one, "next", "--json", **network).out
        (one / "homepath.toml").rename(one / "old.toml")
        alone = json.loads(run_in(two, "next", "--json", **network).out)
        assert "second-folder" not in json.dumps(alone["assessment"]["findings"])
