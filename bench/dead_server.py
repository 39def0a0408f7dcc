"""A list at a host of which one of two nameservers is dead, as a ratio to the same list with both alive, at the usual
pace."""

from __future__ import annotations

import tempfile
import time
from dataclasses import replace
from pathlib import Path

import homepath
from homepath.cli.story import opened
from homepath.practice.scene_file import load_scene
from homepath.practice.scene_tables import SceneTable
from homepath.practice.world import World

COUNT = 24
GOAL = 2.0
ZONE = """\
@ 3600 SOA ns1.mossgate.example. keeper.mossgate.example. 1 7200 900 1209600 300
@ 3600 NS ns1.mossgate.example.
@ 3600 NS ns2.mossgate.example.
@ 3600 A 198.51.100.7
www 3600 CNAME parking.mossgate.example.
@ 3600 MX 10 mx1.mossgate.example.
"""


def estate(dead: bool) -> SceneTable:
    """The demo's world with domains at Mossgate, whose second nameserver may be silent."""
    scene = load_scene("first-site")
    names = [f"d{number}.example." for number in range(COUNT)]
    zones = {**scene.zones, **dict.fromkeys(names, ZONE)}
    rows = [f"{name} 21600 IN NS ns{number}.mossgate.example." for name in names for number in (1, 2)]
    zones["example."] = "\n".join([scene.zones["example."], *rows]) + "\n"
    servers = [replace(s, zones=(*s.zones, *names)) if "mossgate" in s.name else s for s in scene.servers]
    if dead:
        servers = [replace(s, habit="silent") if s.name.startswith("ns2.mossgate") else s for s in servers]
    return replace(scene, zones=zones, servers=tuple(servers))


def seconds(dead: bool) -> float:
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as name:
        folder = Path(name)
        with opened(World(estate(dead), folder, 10)):
            rows = [f"d{number}.example,www,bricklark.brief.toml,20817,tk-4471" for number in range(COUNT)]
            (folder / "domains.csv").write_text("\n".join(["domain,primary,brief,site,code", *rows]) + "\n")
            domains = homepath.open_list(folder / "domains.csv", folder / "network.toml")
            begun = time.perf_counter()
            lines = list(domains.run())
            took = time.perf_counter() - begun
            assert {line["verdict"] for line in lines} == {"not-yet"}, lines[0]["trouble"]
            return took


def measure() -> list[tuple[str, float, float]]:
    """What was measured: a name, the ratio, and the goal that it must not exceed."""
    alive = seconds(dead=False)
    return [(f"{COUNT} domains, one of two nameservers dead, against both alive", seconds(dead=True) / alive, GOAL)]


if __name__ == "__main__":
    for name, ratio, goal in measure():
        print(f"{name}: {ratio:.2f} (goal {goal}){' MISSED' if ratio > goal else ''}")
