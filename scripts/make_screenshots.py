"""Takes the pictures in docs/screenshots/: the real commands on the demo's data, in an xterm under Xvfb.

Needs xvfb, xterm, imagemagick and a monospace font. Run with `make screenshots`.
"""

from __future__ import annotations

import os
import shlex
import shutil
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from homepath.cli.story import DOMAIN, STORY, opened
from homepath.practice.scene_file import SceneTable, load_scene
from homepath.practice.world import World

SHOTS = Path(__file__).parents[1] / "docs" / "screenshots"
DISPLAY = ":97"
COMMAND = Path(sys.executable).parent / "homepath"
START = STORY[0].command
PAGE = """Connect your domain
Delete these records if they are there:
A\t@\t198.51.100.7
Then add these records:
Type\tHost\tPoints to\tTTL
A\t@\t192.0.2.10\tAutomatic\tCopy
A\t@\t192.0.2.44\tAutomatic\tCopy
CNAME\twww.yourdomain.example\tsite-20817.edge.bricklark.example\tAutomatic\tCopy
and a TXT record with the host \u201c@\u201d and the value \u201cbricklark-owner=tk-4471\u201d.
Your old site (203.0.113.80) may show for up to 48 hours. Questions? Our office is at 203.0.113.7.
"""

KEPT = """@ 3600 IN SOA ns1.mossgate.example. dns.mossgate.example. 1 7200 900 1209600 900
@ 3600 IN NS ns1.mossgate.example.
@ 3600 IN NS ns2.mossgate.example.
@ 3600 IN MX 10 mx1.mossgate.example.
"""
PARKED = "@ 3600 IN A 198.51.100.7\nwww 3600 IN CNAME parking.mossgate.example.\n"
ENTERED = (
    '@ 3600 IN A 192.0.2.10\n@ 3600 IN A 192.0.2.44\n@ 3600 IN TXT "bricklark-owner=tk-4471"\n'
    "www 3600 IN CNAME site-20817.edge.bricklark.example.\n"
)
STATES = {
    "arrived": ("glaze kiln clay wheel bowl cup plate vase tile mug jug", ENTERED),
    "waiting": ("slip bisque ash", ENTERED),
    "unaware": ("lantern crate", ENTERED),
    "parked": ("ember flint loam marl peat quarry", PARKED),
    "wrong": ("saucer ladle tureen", ENTERED.replace("192.0.2.44", "192.0.2.24")),
    "stray": ("pestle mortar", f"{ENTERED}@ 3600 IN AAAA 2001:db8::66\n"),
    "half": ("trivet ewer", ENTERED.replace("@ 3600 IN A 192.0.2.44\n", "")),
    "lame": ("cistern", ""),
}
"""Thirty domains of the agency that looks after the pottery and its neighbours, by what was done for them so far."""


def estate() -> SceneTable:
    """The demo's world with thirty more domains at Mossgate."""
    scene = load_scene("first-site")
    zones, delegations = dict(scene.zones), [scene.zones["example."]]
    for state, (words, records) in STATES.items():
        for word in words.split():
            domain = f"{word}-works.example."
            delegations += [f"{domain} 21600 IN NS ns{number}.mossgate.example." for number in (1, 2)]
            if state != "lame":
                zones[domain] = KEPT + records
    zones["example."] = "\n".join(delegations) + "\n"
    mine = tuple(zone for zone in zones if zone.endswith("-works.example."))
    servers = [replace(s, zones=s.zones + mine) if "mossgate" in s.name else s for s in scene.servers]
    host = replace(scene.host, zones=scene.host.zones + mine)
    return replace(scene, zones=zones, servers=tuple(servers), host=host)


def many(folder: Path) -> None:
    """Thirty domains in several states, as `many` lists them."""
    world = World(estate(), folder, 10)
    with opened(world):
        for state in ("arrived", "waiting"):
            for word in STATES[state][0].split():
                world.control.connect({"domain": f"{word}-works.example", "primary": "www", "code": "tk-4471"})
            if state == "arrived":
                for _ in range(6):
                    world.skip(3600)
        rows = [
            f"{word}-works.example,www,bricklark.brief.toml,mossgate.notation.toml,20817,tk-4471"
            for words, _ in STATES.values()
            for word in words.split()
        ]
        rows.sort(key=hash_of)
        (folder / "domains.csv").write_text("\n".join(["domain,primary,brief,notation,site,code", *rows]) + "\n")
        with (folder / "network.toml").open("a") as network:
            network.write("\n[pace]\nserver = 1000\nresolver = 1000\n")
        shot("many", "homepath many domains.csv", folder, 0, 1150)


def hash_of(row: str) -> str:
    """An order that mixes the states, the same one each time."""
    return row[2:8]


def main() -> None:
    wanted = set(sys.argv[1:])
    for tool in ("Xvfb", "xterm", "import"):
        if shutil.which(tool) is None:
            sys.exit(f"{tool} is missing; on Debian: apt-get install xvfb xterm imagemagick fonts-dejavu-core")
    SHOTS.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(prefix="pottery-") as name:
        folder = Path(name)
        with opened(World(load_scene("first-site"), folder, 10)):
            story(folder, wanted)
    if not wanted or "many" in wanted:
        with tempfile.TemporaryDirectory(prefix="works-") as name:
            many(Path(name))
    if not wanted or "compare" in wanted:
        with tempfile.TemporaryDirectory(prefix="moved-") as name:
            folder = Path(name)
            with opened(World(load_scene("no-alias-at-the-apex"), folder, 10)):
                follow = (folder / "forward.homepath.toml").read_text()
                (folder / "homepath.toml").write_text(follow)
                run(f"homepath practice builder connect {DOMAIN}", folder)
                run(f"homepath practice form add-domain {DOMAIN} --at Thornlea", folder)
                run("homepath survey --ask kiln-hours", folder)
                shot("compare", "homepath compare", folder, 0, 800)
    if not wanted or "demo" in wanted:
        with tempfile.TemporaryDirectory(prefix="pottery-") as name:
            shot("demo", f"homepath demo --folder {name}", Path(name), 0, 1000)


def story(folder: Path, wanted: set[str]) -> None:
    """The pottery's way, with a picture at each station."""

    def take(name: str, command: str, live: float = 0, height: int = 800) -> None:
        if not wanted or name in wanted:
            shot(name, command, folder, live, height)
        elif command != "homepath watch":  # which would not end
            run(command, folder)

    run(START, folder)
    (folder / "page.txt").write_text(PAGE)
    take(
        "brief-read", f"homepath start {DOMAIN} --page page.txt --builder Bricklark --leave 7 --folder page", height=520
    )
    take("next-first", "homepath next", height=640)
    take("survey", "homepath survey", height=900)
    take("plan", "homepath plan", height=1200)
    take("forecast", "homepath forecast", height=700)
    if not wanted or "forecast-figure" in wanted:
        figure("forecast-figure", "homepath forecast --wait 15min --clamped 10 --stale 5", folder)
    take("sheet", "homepath sheet", height=1150)
    if not wanted or "sheet-page" in wanted:
        run("homepath sheet --as html --to sheet.html", folder)
        page_shot("sheet-page", folder / "sheet.html", folder)
    run(f"homepath practice builder connect {DOMAIN}", folder)
    run("homepath next --done claim", folder)
    typing = threading.Thread(target=type_two_records, args=(folder, 5.0 if not wanted or "follow" in wanted else 0.0))
    typing.start()
    if not wanted or "follow" in wanted:
        shot("follow", "homepath next --follow", folder, 17, 1000)
    typing.join()
    take("watch-mistake", "homepath watch --once")
    run("homepath send --key mossgate.key --yes", folder)
    take("watch-spreading", "homepath watch", 8)
    for _ in range(9):
        run("homepath practice clock --skip '11 min'", folder)
        run("homepath watch --once", folder)
    if not wanted or "spread-figure" in wanted:
        figure("spread-figure", "homepath watch --once", folder)
    take("visit-waiting", "homepath visit", height=900)
    if not wanted or "report" in wanted:
        run("homepath next", folder)
        run("homepath report --to report.html", folder)
        page_shot("report", folder / "report.html", folder, 1800)
    run("homepath practice builder check", folder)
    run("homepath practice builder check", folder)
    take("visit", "homepath visit")
    run("homepath next", folder)
    take("leave", "homepath leave --dry-run", height=1000)


def type_two_records(folder: Path, pause: float) -> None:
    """What the person types into the form meanwhile; the second record has a wrong digit."""
    time.sleep(pause)
    run(f"homepath practice form edit {DOMAIN} @ A 198.51.100.7 192.0.2.10", folder)
    time.sleep(pause)
    run(f"homepath practice form enter {DOMAIN} @ A 192.0.2.24", folder)


def figure(name: str, command: str, folder: Path) -> None:
    """A figure as the command itself draws it."""
    run(f"{command} --figure {SHOTS / name}.png", folder)
    sys.stdout.write(f"{name}.png\n")


def page_shot(name: str, page: Path, folder: Path, height: int = 800) -> None:
    """A page in headless Chromium, which reaches no network."""
    browser = shutil.which("chromium")
    if browser is None:
        sys.stdout.write(f"{name}.png left out: chromium is missing\n")
        return
    flags = ["--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-sync"]
    flags += [
        "--hide-scrollbars",
        "--disable-background-networking",
        "--disable-component-update",
        f"--user-data-dir={folder}/browser",
    ]
    made = [folder / f"{name}-{width}.png" for width in (1280, 500)]
    for width, to in zip((1280, 500), made, strict=True):  # a desktop, and a phone held upright
        words = [browser, *flags, f"--window-size={width},{height}", f"--screenshot={to}", page.as_uri()]
        subprocess.run(words, check=True, stderr=subprocess.DEVNULL, stdout=subprocess.DEVNULL, timeout=60)
    both = ["convert", *map(str, made), "-bordercolor", "#999", "-border", "1", "+append", str(SHOTS / f"{name}.png")]
    subprocess.run(both, check=True)
    sys.stdout.write(f"{name}.png\n")


def environment() -> dict[str, str]:
    path = f"{COMMAND.parent}:{os.environ['PATH']}"
    return {**os.environ, "PATH": path, "HOMEPATH_NETWORK": "network.toml", "DISPLAY": DISPLAY, "TZ": "UTC"}


def run(command: str, folder: Path) -> None:
    subprocess.run(shlex.split(command), cwd=folder, env=environment(), check=False, stdout=subprocess.DEVNULL)


def shot(name: str, command: str, folder: Path, live: float, height: int) -> None:
    """One picture: the command typed at a prompt, and what came of it.

    The picture is taken when the command has ended, or, for one that goes on, after `live` seconds.
    """
    marker = folder / ".ended"
    marker.unlink(missing_ok=True)
    screen = subprocess.Popen(["Xvfb", DISPLAY, "-screen", "0", f"1270x{height}x24"], stderr=subprocess.DEVNULL)
    wait_for(lambda: Path(f"/tmp/.X11-unix/X{DISPLAY[1:]}").exists(), 20)
    prompt = f"printf '\\033[?25l\\033[1m> %s\\033[0m\\n' {shlex.quote(command)}"
    typed = f"{prompt}; {command} </dev/null; touch .ended; sleep 60"
    look = ["-fa", "DejaVu Sans Mono", "-fs", "11", "-bg", "#fbfaf7", "-fg", "#22262b", "-b", "14", "+sb", "-bw", "0"]
    colours = [
        word
        for number, colour in {1: "#b3261e", 2: "#1b6e3c", 3: "#8a5a00", 6: "#0b5f73"}.items()
        for word in ("-xrm", f"XTerm*color{number}: {colour}")
    ]
    size = ["-geometry", f"138x{(height - 28) // 18}+0+0"]
    words = ["xterm", *look, *colours, "-xrm", "XTerm*colorBD: #22262b", *size, "-e", "sh", "-c", typed]
    window = subprocess.Popen(words, cwd=folder, env=environment())
    ended = wait_for(marker.exists, live or 120)
    if not (ended or live):
        sys.exit(f"{command} did not end")
    time.sleep(1)  # the window draws what it was given last
    subprocess.run(["import", "-window", "root", str(SHOTS / f"{name}.png")], env=environment(), check=True)
    crop = ["mogrify", "-trim", "-bordercolor", "#fbfaf7", "-border", "16", str(SHOTS / f"{name}.png")]
    subprocess.run(crop, check=True)
    window.terminate()
    window.wait()
    screen.terminate()
    screen.wait()
    sys.stdout.write(f"{name}.png\n")


def wait_for(ready: Callable[[], bool], seconds: float) -> bool:
    ends = time.monotonic() + seconds
    while time.monotonic() < ends:
        if ready():
            return True
        time.sleep(0.1)
    return ready()


if __name__ == "__main__":
    main()
