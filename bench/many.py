"""Many domains, measured against real servers in one run: BIND with up to 100,000 zones, nginx, Dask, kill -9.

`python bench/many.py [PART ...]`, parts: whole, due, dns, processes, size, web, cluster, killed. Needs root or user
namespaces: it makes a network namespace with loopback alone for itself, so nothing leaves this machine.
"""

from __future__ import annotations

import asyncio
import json
import os
import random
import re
import shutil
import signal
import sqlite3
import statistics
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.real.estate import Estate, estate

from homepath.bulk.intake import taken_in
from homepath.bulk.lists import Listed, NamedFiles, listed_in
from homepath.bulk.short_check import Fingerprints, fingerprints_from
from homepath.bulk.site_check import check_site
from homepath.bulk.site_state import Result, SiteState
from homepath.bulk.state import State, open_state
from homepath.bulk.workers import commons_of, run_context_of
from homepath.net.network_file import Network, load_network

HOMEPATH = str(Path(sys.executable).parent / "homepath")
DIG_DOMAINS = 300
PAUSE_MS = 100
FAR_MS = 60


def say(words: str) -> None:
    sys.stdout.write(words + "\n")
    sys.stdout.flush()


def verdict(value: float, goal: float, less: bool = False) -> str:
    good = value <= goal if less else value >= goal
    return f"{'within' if good else 'MISSED'} {goal:g}"


@contextmanager
def folder() -> Iterator[Path]:
    room = Path("/dev/shm") if Path("/dev/shm").is_dir() else None
    with tempfile.TemporaryDirectory(dir=room) as made:
        yield Path(made)


def run_many(place: Estate, *words: str, name: str = "domains.csv") -> tuple[float, subprocess.CompletedProcess[str]]:
    env = {**os.environ, "HOMEPATH_NETWORK": "network.toml"}
    begins = time.perf_counter()
    done = subprocess.run([HOMEPATH, "many", name, *words], cwd=place.folder, env=env, capture_output=True, text=True)
    return time.perf_counter() - begins, done


# A domain that has arrived, as a whole look leaves it: made for each from one that was really looked at.


Template = tuple[str, Fingerprints, str]
"""A domain that was really looked at, with its marks and its line."""


def template(place: Estate) -> Template:
    network = load_network(place.folder / "network.toml")

    async def once() -> Template:
        commons = commons_of(run_context_of(network), 1)
        with open_state(place.folder / "one.csv") as state:
            kept = state.get(f"{place.names[0]}.")
            assert kept is not None
            result = await check_site(kept, NamedFiles(), network, commons)
        assert result.recheck is not None, result.line
        fingerprints = fingerprints_from(result.recheck)
        assert fingerprints is not None
        return f"{place.names[0]}.", fingerprints, result.line

    (place.folder / "one.csv").write_text("\n".join((place.folder / "domains.csv").read_text().splitlines()[:2]) + "\n")
    with open_state(place.folder / "one.csv") as state:
        list(taken_in(state, (each for each in listed_in(place.folder / "one.csv") if isinstance(each, Listed)), 0.0))
    return asyncio.run(once())


def arrived(place: Estate, like: Template, name: str = "domains.csv") -> None:
    """Let the state of a list know every domain as one that has arrived."""
    path = place.folder / name
    first, fingerprints, line = like

    def made(state: State) -> Iterator[Result]:
        for name in place.names:
            domain = f"{name}."
            there = {
                (key[0].replace(first, domain), key[1]): fingerprint for key, fingerprint in fingerprints.there.items()
            }
            absent = tuple(
                part.replace(first, domain) for part in fingerprints.absent
            )  # marks do not tell who was asked
            found = replace(fingerprints, there=there, absent=absent, ways={}, wanted="")
            said = line.replace(first, domain).replace(first[:-1], name)
            yield Result(domain, 0, said, "as-wanted", False, 0.0, 0.0, None, found.packed())

    with open_state(path) as state:
        list(taken_in(state, (each for each in listed_in(path) if isinstance(each, Listed)), 0.0))
        state.keep(made(state))
    with_wanted(path)


def with_wanted(path: Path) -> None:
    """A list read anew marks what is wanted of each row; the state gets these marks, so that nothing is judged anew."""
    named_files = NamedFiles()
    with open_state(path) as state:
        run = state.begin_run(["bench"], 0.0, True)
        after = None
        changed = []
        while some := state.sites_to_check(run, None, 1000, after):
            after = (some[-1][0], some[-1][1].listed.domain)
            for _, kept in some:
                fingerprints = fingerprints_from(kept.recheck or b"")
                assert fingerprints is not None
                octets = replace(fingerprints, wanted=named_files.fingerprint(kept.listed)).packed()
                changed.append(
                    Result(kept.listed.domain, kept.turn, kept.line, "as-wanted", False, 0.0, 0.0, None, octets)
                )
        state.keep(changed)


def dns(count: int = 4000) -> None:
    """Domains a second times questions a domain, against `dig -f` with the same questions."""
    with folder() as here, estate(here, count, certificates=1) as place:
        arrived(place, template(place))
        seen: list[str] = []
        sample = [f"{name}." for name in place.names[:DIG_DOMAINS]]
        rounds = []
        for number in range(3):
            asked, seconds, domains = measured(place, seen if number == 0 else None, sample)
            (here / "dig.txt").write_text("\n".join(seen) + "\n")
            begins = time.perf_counter()
            subprocess.run(["dig", "-f", str(here / "dig.txt")], stdout=subprocess.DEVNULL, check=True)
            theirs = len(seen) / (time.perf_counter() - begins)
            rounds.append((asked / seconds, theirs, domains / seconds, asked / domains))
        mine, theirs, rate, each = (statistics.median(values) for values in zip(*rounds, strict=True))
        ratio = statistics.median(a / b for a, b, _, _ in rounds)
        say(
            f"many, DNS part, one process: {rate:.0f} domains/s x {each:.1f} questions = {mine:.0f} questions/s;"
            f" dig -f {theirs:.0f}/s; ratio {ratio:.2f}, {verdict(ratio, 1.2)}"
        )


def processes(count: int = 20_000) -> None:
    """Two processes against one: beside a BIND that shares the processors, and with nameservers that are far away."""
    with folder() as here, estate(here, count, certificates=1) as place:
        like = template(place)
        arrived(place, like)
        half = Estate(here, place.names[: count // 2]), Estate(here, place.names[count // 2 :])
        rows = (here / "domains.csv").read_text().splitlines(keepends=True)
        for name, part in zip(("first.csv", "second.csv"), half, strict=True):
            mine = set(part.names)
            (here / name).write_text(rows[0] + "".join(row for row in rows if row.split(",")[0] in mine))
            arrived(part, like, name)
        one, two = times_of(place)
        begins = time.perf_counter()
        env = {**os.environ, "HOMEPATH_NETWORK": "network.toml"}
        words = ("--restart", "--changed")
        at_once = [
            subprocess.Popen([HOMEPATH, "many", name, *words], cwd=here, env=env)
            for name in ("first.csv", "second.csv")
        ]
        assert [each.wait() for each in at_once] == [0, 0]
        limit = one / (time.perf_counter() - begins)
        say(
            f"many, whole command over {count} arrived domains, DNS part: {one:.1f} s; two processes {two:.1f} s;"
            f" {one / two:.2f} x, {verdict(one / two, 1.7)}; two commands of half the list each, at the same time:"
            f" {limit:.2f} x, which is what {os.cpu_count()} processors that BIND shares can give"
        )
    if shutil.which("dnsdist", path=_PATH) is None:
        say("many, name servers far away: NOT MEASURED, missing: dnsdist")
        return
    with folder() as here, estate(here, count // 5, certificates=1, far_ms=FAR_MS) as place:
        arrived(place, template(place))
        one, two = times_of(place)
        say(
            f"many, whole command over {count // 5} arrived domains, name servers {FAR_MS} ms away: {one:.1f} s;"
            f" two processes {two:.1f} s; {one / two:.2f} x, {verdict(one / two, 1.7)}"
        )


def times_of(place: Estate) -> tuple[float, float]:
    """Seconds of the whole command in one process and in two."""
    found = []
    for words in ((), ("--workers", "2")):
        seconds, done = run_many(place, "--restart", "--changed", *words)
        assert done.returncode == 0, done.stderr
        found.append(seconds)
    return found[0], found[1]


def measured(place: Estate, seen: list[str] | None, sample: list[str]) -> tuple[int, float, int]:
    """Questions, seconds and domains of one run in this process."""
    network = load_network(place.folder / "network.toml")
    if seen is not None:
        traced = set(sample)

        def trace(words: str) -> None:
            found = re.fullmatch(r"dns (\S+) (\S+) (\S+): .*", words)
            if found and any(found[2].endswith(each) for each in traced):
                seen.append(f"@{found[1]} {found[2]} {found[3]} +noedns +norecurse")

        network = replace(network, trace=trace)
    with open_state(place.folder / "domains.csv") as state:
        run = state.begin_run(["bench", str(time.time())], 0.0, True)
        tasks = [kept for _, kept in state.sites_to_check(run, None, 10**9, None)]
    if seen is not None:
        tasks = [kept for kept in tasks if kept.listed.domain in traced]

    async def all_of_them() -> int:
        from homepath.bulk.workers import checked_here

        asked = 0
        async for result in checked_here(iter(tasks), run_context_of(network)):
            assert result.verdict == "as-wanted", result.line
            asked += result.asked
        return asked

    begins = time.perf_counter()
    asked = asyncio.run(all_of_them())
    seconds = time.perf_counter() - begins
    if seen is not None:
        return measured(place, None, sample)
    return asked, seconds, len(tasks)


def size() -> None:
    """From 1,000 to 100,000 domains: time for each, memory, and questions."""
    with folder() as here, estate(here, 100_000, web=True, certificates=1) as place:
        like = template(place)
        rows = (here / "domains.csv").read_text().splitlines(keepends=True)
        found: dict[int, tuple[float, float]] = {}
        start = 0.0
        for count in (1, 1_000, 10_000, 100_000):  # with one domain: what a start costs
            (here / "domains.csv").write_text("".join(rows[: count + 1]))
            part = Estate(here, place.names[:count])
            for old in here.glob("domains.csv.homepath-many*"):
                old.unlink()
            arrived(part, like)
            words = [sys.executable, "-c", _PEAK]
            env = {**os.environ, "HOMEPATH_NETWORK": "network.toml"}
            done = subprocess.run(words, cwd=here, env=env, capture_output=True, text=True, check=False)
            seconds, peak, status = done.stdout.strip().splitlines()[-1].split()
            assert status == "0", done.stderr[-2000:]
            if count == 1:
                start = float(seconds)
                continue
            found[count] = ((float(seconds) - start) / count, int(peak) / 1024)
            say(
                f"many, {count} arrived domains, DNS part: {found[count][0] * 1000:.2f} ms each,"
                f" {found[count][1]:.0f} MB"
            )
        apart = found[100_000][0] / found[1_000][0]
        say(
            f"many, a domain of 100,000 against one of 1,000: {apart:.2f}, {verdict(abs(apart - 1), 0.15, True)} apart;"
            f" memory {verdict(found[100_000][1], 300, True)} MB"
        )


_PEAK = """
import contextlib, io, pathlib, re, sys, time
sys.argv = ["homepath", "many", "domains.csv", "--changed"]
from homepath.cli.app import main
begins, status = time.perf_counter(), 0
try:
    main()
except SystemExit as end:
    status = end.code or 0
peak = re.search(r"VmHWM:\\s+([0-9]+)", pathlib.Path("/proc/self/status").read_text())[1]
print(time.perf_counter() - begins, peak, status)
"""


ROUNDS = 6


def whole(count: int = 30) -> None:
    """A domain checked whole, and the same once more, when it is as it was: the least of several rounds, since whatever
    else the machine does only adds to it."""
    costs = []
    for _ in range(ROUNDS):
        with folder() as here, estate(here, count, web=True, certificates=count) as place:
            network = load_network(here / "network.toml")
            with open_state(here / "domains.csv") as state:
                rows = [each for each in listed_in(here / "domains.csv") if isinstance(each, Listed)]
                list(taken_in(state, iter(rows), 0.0))
                for part in ("whole", "short"):
                    tasks = [kept for name in place.names if (kept := state.get(f"{name}."))]
                    begins = time.process_time()
                    results = asyncio.run(results_of(tasks, network))
                    costs.append((part, (time.process_time() - begins) / count, sum(r.asked for r in results) / count))
                    state.keep(results)
    seconds, less = (min(cost for part, cost, _ in costs if part == name) for name in ("whole", "short"))
    asked, fewer = (max(asked for part, _, asked in costs if part == name) for name in ("whole", "short"))
    say(
        f"many, a whole check: {asked:.0f} queries, {verdict(asked, 90, True)};"
        f" {seconds:.3f} s of processor time, {verdict(seconds, 0.08, True)};"
        f" a short one: {fewer:.0f} queries, {verdict(fewer, 21, True)}; {seconds / less:.1f} times its processor time"
    )


async def results_of(tasks: list[SiteState], network: Network) -> list[Result]:
    from homepath.bulk.workers import checked_here

    return [each async for each in checked_here(iter(tasks), run_context_of(network))]


def due(count: int = 200_000) -> None:
    """A timer's run in which nothing is due."""
    with folder() as here, estate(here, 2) as place:
        like = template(place)
        every = Estate(here, tuple(f"d{number}.example" for number in range(count)))
        first, row = (here / "domains.csv").read_text().splitlines()[:2]
        rows = (row.replace(place.names[0], name) for name in every.names)
        (here / "domains.csv").write_text("\n".join([first, *rows]) + "\n")
        arrived(every, like)
        with sqlite3.connect(here / "domains.csv.homepath-many") as state:
            state.execute("update sites set next_look = ?", (time.time() + 1e6,))
        run_many(place, "--due", "--changed")  # what is new in the list is taken in once
        seconds, done = run_many(place, "--due", "--changed")
        assert (done.returncode, done.stdout) == (0, ""), done.stderr
        start, _ = run_many(place, "--help")
        say(
            f"many --due, nothing due of {count}: {seconds:.2f} s, {verdict(seconds, 1.0, True)}; --help: {start:.2f} s"
        )


def pages_of_one(place: Estate) -> int:
    """How many pages the check of a domain that is as it was asks for."""
    traced: list[str] = []
    network = replace(load_network(place.folder / "network.toml"), trace=traced.append)
    with open_state(place.folder / "domains.csv") as state:
        tasks = [kept for name in place.names[:1] if (kept := state.get(f"{name}."))]
    asyncio.run(results_of(tasks, network))
    return sum(line.startswith("web ") for line in traced)


def web(count: int = 1000) -> None:
    """Four ways of each domain against nginx that answers after 100 ms."""
    from homepath.net.sharing import PAGES_AT_ONCE

    with folder() as here, estate(here, count, web=True, pause_ms=PAUSE_MS) as place:
        run_many(place, "--workers", "2")  # the whole look, after which each is only checked to be as it was
        _, seconds, domains = measured(place, None, [])
        requests = domains * pages_of_one(place)
        least = requests * PAUSE_MS / 1000 / PAGES_AT_ONCE
        say(
            f"many, web part: {domains} domains, four ways, {requests} requests of {PAUSE_MS} ms,"
            f" {PAGES_AT_ONCE} at once: {seconds:.1f} s;"
            f" at least {least:.1f} s; {seconds / least:.2f} x, {verdict(seconds / least, 1.3, True)}"
        )


def cluster(count: int = 1000) -> None:
    """Two Dask workers against one, on the same machine: looks with their web part, at a site that answers slowly."""
    with folder() as here, estate(here, count, web=True, pause_ms=PAUSE_MS) as place:
        run_many(place, "--workers", "2")  # the whole look, after which each is only checked to be as it was
        times = {}
        for workers in (1, 2):
            with dask(here, workers) as address:
                run_many(place, "--restart", "--changed", "--cluster", address)
                words = ("--restart", "--changed", "--cluster", address)
                times[workers] = min(run_many(place, *words)[0] for _ in range(2))
        ratio = times[1] / times[2]
        say(
            f"many, {count} arrived domains on Dask, four ways each, {PAUSE_MS} ms a page:"
            f" one worker {times[1]:.1f} s, two {times[2]:.1f} s; {ratio:.2f} x, {verdict(ratio, 1.6)};"
            f" {count / times[2] / 2:.0f} domains/s for each worker"
        )


@contextmanager
def dask(here: Path, workers: int) -> Iterator[str]:
    words = [sys.executable, "-m", "dask"]
    common = ["--no-dashboard", "--host", "127.0.0.1"]
    address = "tcp://127.0.0.1:8786"
    with (here / "dask.txt").open("wb") as log:
        started = [subprocess.Popen([*words, "scheduler", *common, "--port", "8786"], stderr=log, stdout=log)]
        time.sleep(3)
        for _ in range(workers):
            more = ["--nworkers", "1", "--nthreads", "2", "--no-nanny"]
            started.append(
                subprocess.Popen([*words, "worker", address, *common, *more], cwd=here, stderr=log, stdout=log)
            )
        time.sleep(4)
        try:
            yield address
        finally:
            for each in started[::-1]:
                each.kill()
                each.wait()


def killed(count: int = 2000, times: int = 50) -> None:
    """kill -9 at random moments; the lines after resuming against those of an unbroken run."""
    dice = random.Random(7)
    with folder() as here, estate(here, count, web=True) as place:
        arrived(place, template(place))
        seconds, whole = run_many(place, "--restart", "--json")
        env = {**os.environ, "HOMEPATH_NETWORK": "network.toml"}
        begun, ended, again = 0, 0, True
        for _ in range(times):
            words = [HOMEPATH, "many", "domains.csv", "--json", *(["--restart"] if again else [])]
            process = subprocess.Popen(words, cwd=here, env=env, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)
            again = False
            try:
                process.communicate(timeout=dice.uniform(0.6, 0.6 + seconds / 2))
                again, ended = True, ended + 1
            except subprocess.TimeoutExpired:
                process.send_signal(signal.SIGKILL)
                process.communicate()
                begun += 1
        _, last = run_many(place, "--json")
        same = settled(last.stdout) == settled(whole.stdout)
        count_of = Counter(each["domain"] for each in settled(last.stdout))
        say(
            f"many, {count} domains, killed {begun} times, ended {ended} times in between: the lines are"
            f" {'the same' if same and set(count_of.values()) == {1} else 'NOT the same'} as of an unbroken run"
        )


def settled(text: str) -> list[dict[str, object]]:
    found = [json.loads(line) for line in text.splitlines()]
    return [{k: v for k, v in line.items() if k not in ("looked_at", "next_look", "since")} for line in found]


PARTS = {each.__name__: each for each in (whole, due, dns, processes, size, web, cluster, killed)}


def main() -> None:
    lacking = [name for name in ("named", "dig", "nginx", "ip", "unshare") if shutil.which(name, path=_PATH) is None]
    if lacking:
        say(f"many domains: NOT MEASURED, missing: {', '.join(lacking)}")
        return
    if "HOMEPATH_BENCH_INSIDE" not in os.environ:
        env = {**os.environ, "HOMEPATH_BENCH_INSIDE": "1", "PATH": f"{os.environ['PATH']}:/usr/sbin:/sbin"}
        own = ["unshare", "-n"] if os.geteuid() == 0 else ["unshare", "-rn"]
        inside = ["sh", "-c", 'ip link set lo up; exec "$0" "$@"', sys.executable, __file__, *sys.argv[1:]]
        sys.exit(subprocess.run([*own, *inside], env=env, check=False).returncode)
    for name in sys.argv[1:] or PARTS:
        PARTS[name]()


_PATH = "/usr/sbin:/usr/bin:/sbin:/bin"

if __name__ == "__main__":
    main()
