"""Speed as ratios against something measured in the same run. Run with `make bench`; nothing here is a test."""

from __future__ import annotations

import asyncio
import multiprocessing
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from functools import partial
from multiprocessing.synchronize import Event
from pathlib import Path

import comparing
import engine
import planning
import reading

from homepath.app.driving import Driver
from homepath.app.project import open_project
from homepath.app.visit import builders, visit
from homepath.app.watch import check
from homepath.cli.story import STORY, opened
from homepath.net.network_file import Network, load_network
from homepath.net.session import session
from homepath.practice.scene_file import ResolverTable, SceneTable, load_scene
from homepath.practice.world import World

RUNS = 15
STANDS = "from homepath.app import decide as n; import time; n.assess_site(o(None), time.time())"
"""What `next` does without its network part."""
INSTALLED = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
"""Without it a start from source, compiled anew each time, would be held against an installed package."""
HOMEPATH = str(Path(sys.executable).parent / "homepath")
ONE_WORD = """
import typer
app = typer.Typer()
@app.command()
def main() -> None:
    print("word")
app()
"""


def timed(work: Callable[[], object]) -> float:
    begins = time.perf_counter()
    work()
    return time.perf_counter() - begins


def command(*words: str, folder: Path) -> Callable[[], object]:
    return lambda: subprocess.run(words, cwd=folder, env=INSTALLED, stdout=subprocess.DEVNULL, check=False)


def ratio(one: Callable[[], object], other: Callable[[], object], runs: int = RUNS) -> tuple[float, float, float]:
    """Both in turn, so that a noisy moment hits both; medians and the median of the pairwise ratios."""
    one(), other()
    pairs = [(timed(one), timed(other)) for _ in range(runs)]
    return (
        statistics.median(a for a, _ in pairs),
        statistics.median(b for _, b in pairs),
        statistics.median(a / b for a, b in pairs),
    )


def report(what: str, against: str, found: tuple[float, float, float], most: float) -> None:
    mine, theirs, times = found
    verdict = "within" if times <= most else "ABOVE"
    sys.stdout.write(f"{what}: {mine * 1000:.0f} ms; {against}: {theirs * 1000:.0f} ms; ")
    sys.stdout.write(f"ratio {times:.2f}, {verdict} {most}\n")
    sys.stdout.flush()


def start_up(folder: Path) -> None:
    program = folder / "one_word.py"
    program.write_text(ONE_WORD)
    bare = command(sys.executable, str(program), folder=folder)
    report("homepath --version", "a typer program", ratio(command(HOMEPATH, "--version", folder=folder), bare), 1.2)
    report("homepath plan", "a typer program", ratio(command(HOMEPATH, "plan", folder=folder), bare), 3.0)
    stands = f"import homepath.app.decide as n; from homepath.app.project import open_project as o; {STANDS}"
    report("where it stands", "a typer program", ratio(command(sys.executable, "-c", stands, folder=folder), bare), 3.0)


def slow_resolvers(folder: Path) -> None:
    """One look over 20 resolvers that take 20 to 300 ms, against the same look over the slowest alone."""
    project = open_project(folder / "homepath.toml")
    network = load_network(folder / "network.toml")
    alone = replace(network, resolvers=tuple(r for r in network.resolvers if r.label == "after 300 ms"))

    def once(where: Network) -> Callable[[], object]:
        return lambda: asyncio.run(check(project, where))

    found = ratio(once(network), once(alone), 9)
    report("watch over 20 resolvers", "over the slowest alone", found, 1.3)


@contextmanager
def in_another_process(scene: SceneTable, folder: Path) -> Iterator[None]:
    """A practice world that does not share its time with what is measured."""
    context = multiprocessing.get_context("spawn")
    ready, done = context.Event(), context.Event()
    process = context.Process(target=hold_open, args=(scene, folder, ready, done))
    process.start()
    ready.wait(30)
    try:
        yield
    finally:
        done.set()
        process.join(10)


def hold_open(scene: SceneTable, folder: Path, ready: Event, done: Event) -> None:
    with opened(World(scene, folder, 1)):
        ready.set()
        done.wait(300)


def sixty_vantages(folder: Path) -> None:
    """One round over 60 vantages with 20 to 300 ms of delay, against the slowest chain of them alone."""
    delays = [20 + round(280 * at / 59) for at in range(60)]
    scene = replace(
        load_scene("first-site"),
        resolvers=tuple(ResolverTable(f"after {delay} ms, {at}", "slow", delay) for at, delay in enumerate(delays)),
    )
    with in_another_process(scene, folder):
        begin = STORY[0].command.split()[1:]
        subprocess.run([HOMEPATH, *begin], cwd=folder, stdout=subprocess.DEVNULL, check=True)
        words = [HOMEPATH, "survey", "--network", "network.toml"]
        subprocess.run(words, cwd=folder, stdout=subprocess.DEVNULL, check=False)
        words = [HOMEPATH, "send", "--key", "mossgate.key", "--yes", "--network", "network.toml"]
        subprocess.run(words, cwd=folder, stdout=subprocess.DEVNULL, check=True)
        project = open_project(folder / "homepath.toml")
        network = load_network(folder / "network.toml")
        alone = replace(network, resolvers=network.resolvers[-1:])

        def once(where: Network) -> Callable[[], object]:
            return lambda: asyncio.run(check(project, where))

        found = ratio(once(network), once(alone), 9)
        report("watch over 60 vantages", "the slowest chain alone", found, 1.2)


async def one_way(folder: Path, url: str) -> None:
    project = open_project(folder / "homepath.toml")
    network = load_network(folder / "network.toml")
    await Driver(network, session(network), builders=builders(project))._follow(url, {})


def four_ways(folder: Path) -> None:
    """A whole visit against an edge that takes 100 ms for each round trip, against its longest single way."""
    scene = replace(load_scene("web"), builder=replace(load_scene("web").builder, round_trip=100))
    with in_another_process(scene, folder):
        words = [HOMEPATH, "survey", "--network", "network.toml"]
        subprocess.run(words, cwd=folder, stdout=subprocess.DEVNULL, check=False)
        words = [HOMEPATH, "practice", "builder", "connect", "tidewick-kiln.example"]
        subprocess.run(words, cwd=folder, stdout=subprocess.DEVNULL, check=True)
        for _ in range(6):
            words = [HOMEPATH, "practice", "clock", "--skip", "2 h"]
            subprocess.run(words, cwd=folder, stdout=subprocess.DEVNULL, check=True)
        project, network = open_project(folder / "homepath.toml"), load_network(folder / "network.toml")

        def whole() -> object:
            return asyncio.run(visit(project, network))

        names = ("tidewick-kiln.example", "www.tidewick-kiln.example")
        urls = [f"{scheme}://{name}/" for name in names for scheme in ("http", "https")]
        alone = {
            url: statistics.median(timed(partial(asyncio.run, one_way(folder, url))) for _ in range(5)) for url in urls
        }
        longest = max(alone, key=lambda url: alone[url])
        found = ratio(whole, lambda: asyncio.run(one_way(folder, longest)), 9)
        report("visit of four ways", f"its longest way alone, {longest}", found, 1.5)


def main() -> None:
    delays = [20 + round(280 * at / 19) for at in range(20)]
    scene = replace(
        load_scene("first-site"), resolvers=tuple(ResolverTable(f"after {delay} ms", "slow", delay) for delay in delays)
    )
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        with opened(World(scene, folder, 1)):
            begin = STORY[0].command.split()[1:]
            subprocess.run([HOMEPATH, *begin], cwd=folder, stdout=subprocess.DEVNULL, check=True)
            words = [HOMEPATH, "survey", "--network", "network.toml"]
            subprocess.run(words, cwd=folder, stdout=subprocess.DEVNULL, check=False)
            start_up(folder)
            slow_resolvers(folder)
    with tempfile.TemporaryDirectory() as name:
        sixty_vantages(Path(name))
    with tempfile.TemporaryDirectory() as name:
        four_ways(Path(name))
    with tempfile.TemporaryDirectory() as name:
        comparing.main(Path(name), ratio, report, timed, sys.stdout.write)
    planning.main()
    reading.report()
    engine.main()
    subprocess.run(
        [sys.executable, str(Path(__file__).with_name("many.py")), "dns", "processes", "web", "cluster"], check=False
    )


if __name__ == "__main__":
    main()
