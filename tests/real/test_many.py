"""Many domains against BIND and nginx: courtesy is counted, a killed run and a dead worker lose and double nothing."""

from __future__ import annotations

import json
import os
import random
import signal
import subprocess
import sys
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import COMMAND, Done, run_in
from tests.real import servers
from tests.real.estate import EDGE, HOSTS, Estate, estate

pytestmark = pytest.mark.real
COUNT = 32
PARKED = range(0, COUNT, 8)
ARRIVED = COUNT - len(PARKED)
STAGES = {"arrived": ARRIVED, "enter": len(PARKED)}
Lines = list[dict[str, Any]]


@pytest.fixture(scope="module")
def place(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Estate]:
    lacking = servers.missing()
    if lacking:
        message = f"left out, missing: {', '.join(lacking)}"
        if os.environ.get("HOMEPATH_REQUIRE_REAL"):
            pytest.fail(message)
        pytest.skip(message)
    with estate(tmp_path_factory.mktemp("estate"), COUNT, parked=PARKED, log=True) as made:
        yield made


def many(place: Estate, *words: str, name: str = "domains.csv") -> Done:
    return run_in(place.folder, "many", name, "--json", *words)


def settled(text: str) -> Lines:
    """The lines without their moments: what two runs must agree in. How fast a server was is one of them."""
    found = [json.loads(line) for line in text.splitlines()]
    for line in found:
        if line["assessment"]:
            line["assessment"]["at"] = None
            each = line["assessment"]["findings"]
            line["assessment"]["findings"] = [finding for finding in each if finding["code"] != "server-slow"]
    moments = ("looked_at", "next_look", "since", "change")
    return [{k: v for k, v in line.items() if k not in moments} for line in found]


def fresh_list(place: Estate, name: str) -> Path:
    """The same list under another name, of which nothing is known yet."""
    path = place.folder / name
    path.write_text((place.folder / "domains.csv").read_text())
    return path


@pytest.fixture(scope="module")
def unbroken(place: Estate) -> Lines:
    """A whole run in one process."""
    done = many(place)
    assert done.status == 1
    found = settled(done.out)
    assert [line["domain"] for line in found] == [f"{name}." for name in place.names]
    assert Counter(line["stage"] for line in found) == STAGES
    return found


def test_an_arrived_domain_costs_few_questions_and_what_hosts_share_is_asked_once(
    place: Estate, unbroken: Lines
) -> None:
    place.forget_questions()
    assert [line["changed"] for line in settled(many(place).out)] == [False] * COUNT
    asked = place.asked()
    arrived = [question for _, _, question in asked if int(_number(question) or 0) % 8]
    assert len(arrived) / ARRIVED <= 25, Counter(map(_number, arrived)).most_common(3)
    doubled = [
        each for each, count in Counter((server, question) for _, server, question in asked).items() if count > 1
    ]
    assert not doubled
    shared = [question for _, _, question in asked if _number(question) is None]
    assert len(shared) < 20, "root, top level, the host's and the builder's names are asked for all at once"


def _number(question: str) -> str | None:
    label = question.split()[0].removesuffix(".example").split(".")[-1]
    return label[1:] if label[:1] == "d" and label[1:].isdigit() else None


def test_a_domain_that_changes_is_noticed_among_all(place: Estate, unbroken: Lines) -> None:
    before = (place.folder / "arrived.zone").read_text()
    try:
        _load(place, before.replace("mx1.mossgate", "mx9.mossgate").replace(" 1 7200", " 2 7200"), "SOA", "2")
        news: dict[str, dict[str, Any]] = {}
        for _ in range(4):  # a page that a busy machine gave too late is there at the next run
            news |= {line["domain"]: line for line in settled(many(place, "--changed").out)}
            codes = {(line["worst"] or {}).get("code") for line in news.values()}
            if (len(news), codes) == (ARRIVED, {"kept-record-changed"}):
                break
        assert (len(news), codes) == (ARRIVED, {"kept-record-changed"})
    finally:
        _load(place, before.replace(" 1 7200", " 3 7200"), "SOA", "3")
    for _ in range(4):  # a page that a busy machine gave too late is there at the next run
        stages = Counter(line["stage"] for line in settled(many(place).out))
        if stages == STAGES:
            break
    assert stages == STAGES


def test_what_leads_visitors_astray_is_noticed_though_the_serial_stays(place: Estate, unbroken: Lines) -> None:
    (place.folder / "few.csv").write_text("".join(_rows(place)[:6]))
    assert many(place, name="few.csv").status == 1
    before = (place.folder / "arrived.zone").read_text()
    try:
        _load(place, before + "@ AAAA 2001:db8::66\n", "AAAA", "2001:db8::66")
        found = settled(many(place, "--changed", name="few.csv").out)
        assert [(line["stage"], line["act"]["kind"]) for line in found] == [("mend", "enter")] * 4
    finally:
        _load(place, before.replace(" 3 7200", " 4 7200"), "SOA", "4")


def _rows(place: Estate) -> list[str]:
    return (place.folder / "domains.csv").read_text().splitlines(keepends=True)


def _load(place: Estate, text: str, rrtype: str, shows: str) -> None:
    """Give all domains that have arrived this zone, and wait until BIND gives it."""
    (place.folder / "arrived.zone").write_text(text)
    subprocess.run(["pkill", "-HUP", "-f", str(place.folder / "hosts.conf")], check=True)
    for name in place.names[1::8]:
        for _ in range(2000):
            words = ["dig", "+short", f"@{HOSTS[0]}", f"{name}.", rrtype]
            if shows in subprocess.run(words, capture_output=True, text=True, check=True).stdout.split():
                break
            time.sleep(0.05)
        else:
            pytest.fail(f"BIND does not give {name} {rrtype} {shows}")


def slow_network(place: Estate) -> Path:
    """The same servers, asked 120 times a second at most."""
    slow = place.folder / "slow.toml"
    text = (place.folder / "network.toml").read_text()
    slow.write_text(text.replace("server = 1000000", "server = 120"))
    return slow


def test_no_server_is_asked_faster_than_the_network_file_says(place: Estate, unbroken: Lines) -> None:
    slow = slow_network(place)
    (place.folder / "paced.csv").write_text("".join(_rows(place)[:7]))
    place.forget_questions()
    done = run_in(place.folder, "many", "paced.csv", HOMEPATH_NETWORK=slow.name)
    assert done.status == 1
    for address in HOSTS:
        times = [at for at, server, _ in place.asked() if server == address]
        assert max(sum(1 for at in times if begin <= at < begin + 1) for begin in times) <= 121


def test_a_run_that_is_killed_again_and_again_ends_as_an_unbroken_one(place: Estate, unbroken: Lines) -> None:
    fresh_list(place, "killed.csv")
    dice = random.Random(4)
    env = {**os.environ, "HOMEPATH_NETWORK": "network.toml"}
    for _ in range(6):
        words = [COMMAND, "many", "killed.csv", "--json"]
        process = subprocess.Popen(words, cwd=place.folder, env=env, stdout=subprocess.PIPE, stderr=subprocess.PIPE)
        try:
            out, _ = process.communicate(timeout=dice.uniform(0.8, 3.0))
        except subprocess.TimeoutExpired:
            process.kill()
            process.communicate()
        else:
            assert settled(out.decode()) == unbroken
    done = many(place, name="killed.csv")
    assert settled(done.out) == unbroken
    assert done.status == 1


def test_ctrl_c_ends_cleanly_and_the_next_run_goes_on(place: Estate, unbroken: Lines) -> None:
    fresh_list(place, "stopped.csv")
    env = {**os.environ, "HOMEPATH_NETWORK": slow_network(place).name}
    words = [COMMAND, "many", "stopped.csv", "--json"]
    process = subprocess.Popen(
        words,
        cwd=place.folder,
        env=env,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
        preexec_fn=lambda: signal.signal(signal.SIGINT, signal.SIG_DFL),
    )
    for _ in range(1200):
        time.sleep(0.1)
        if _looked(place.folder / "stopped.csv.homepath-many"):
            break
    process.send_signal(signal.SIGINT)
    out, err = process.communicate(timeout=200)
    assert process.returncode == 130
    assert out == ""
    assert "Stopped:" in err
    assert "Traceback" not in err
    again = many(place, name="stopped.csv")
    assert "Continuing an interrupted run" in again.err
    assert settled(again.out) == unbroken


def _looked(state: Path) -> int:
    import sqlite3

    if not state.exists():
        return 0
    try:
        with sqlite3.connect(f"file:{state}?mode=ro", uri=True) as opened:
            return int(opened.execute("select count(*) from sites where line != ''").fetchone()[0])
    except sqlite3.Error:
        return 0


def test_two_processes_give_the_same_lines_and_one_that_dies_is_replaced(place: Estate, unbroken: Lines) -> None:
    fresh_list(place, "workers.csv")
    env = {**os.environ, "HOMEPATH_NETWORK": "network.toml"}
    words = [COMMAND, "many", "workers.csv", "--json", "--workers", "2"]
    process = subprocess.Popen(
        words, cwd=place.folder, env=env, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    )
    victims: list[int] = []
    for _ in range(1200):  # until its processes are there
        children = subprocess.run(["pgrep", "-P", str(process.pid), "-f", "spawn_main"], capture_output=True, text=True)
        victims = [int(each) for each in children.stdout.split()]
        if len(victims) == 2:
            break
        time.sleep(0.05)
    assert victims
    os.kill(victims[0], signal.SIGKILL)
    out, err = process.communicate(timeout=600)
    assert settled(out) == unbroken, err
    assert process.returncode == 1


@contextmanager
def cluster(folder: Path, *tls: str) -> Iterator[tuple[str, list[subprocess.Popen[bytes]]]]:
    """A scheduler and two worker processes on loopback. `tls`: the options that give them certificates."""
    env = {**os.environ, "DASK_DISTRIBUTED__COMM__TIMEOUTS__CONNECT": "20s"}
    dask = [sys.executable, "-m", "dask"]
    address = f"{'tls' if tls else 'tcp'}://127.0.0.1:8786"
    common = ["--no-dashboard", "--host", "127.0.0.1", *tls]
    with (folder / "log.txt").open("wb") as log, ExitStack() as stack:
        started: list[subprocess.Popen[bytes]] = []

        def start(*words: str) -> None:
            started.append(subprocess.Popen([*dask, *words, *common], cwd=folder, env=env, stderr=log))
            stack.callback(_kill, started[-1])

        start("scheduler", "--port", "8786")
        servers._await(lambda: servers._listens("127.0.0.1", 8786), folder)
        for _ in range(2):
            start("worker", address, "--nworkers", "1", "--nthreads", "2", "--no-nanny")
        yield address, started


def _kill(process: subprocess.Popen[bytes]) -> None:
    process.kill()
    process.wait(20)


def begun(place: Estate, name: str, address: str, network: str = "network.toml") -> subprocess.Popen[str]:
    """A run on a cluster, of which the first domain is checked."""
    env = {**os.environ, "HOMEPATH_NETWORK": network}
    words = [COMMAND, "many", name, "--json", "--cluster", address]
    pipe = subprocess.PIPE
    process = subprocess.Popen(words, cwd=place.folder, env=env, stdout=pipe, stderr=pipe, text=True)
    for _ in range(300):
        time.sleep(0.1)
        if _looked(place.folder / f"{name}.homepath-many") or process.poll() is not None:
            break
    return process


def test_a_cluster_gives_the_same_lines_though_a_worker_dies(place: Estate, unbroken: Lines, tmp_path: Path) -> None:
    fresh_list(place, "cluster.csv")
    with cluster(tmp_path) as (address, started):
        process = begun(place, "cluster.csv", address)
        started[1].kill()
        out, err = process.communicate(timeout=600)
    assert settled(out) == unbroken, err
    assert process.returncode == 1
    nobody = run_in(place.folder, "many", "cluster.csv", "--cluster", f"tcp://{EDGE}:9")
    assert nobody.status == 4
    assert "No cluster" in nobody.err


def test_a_command_and_a_scheduler_that_die_lose_nothing(place: Estate, unbroken: Lines, tmp_path: Path) -> None:
    fresh_list(place, "lost.csv")
    slow = slow_network(place).name
    with cluster(tmp_path) as (address, _):
        process = begun(place, "lost.csv", address, slow)
        process.kill()
        process.communicate()
        process = begun(place, "lost.csv", address, slow)
    out, err = process.communicate(timeout=120)  # the scheduler is gone now
    assert (process.returncode, out) == (4, ""), err
    assert "scheduler" in err
    assert "Traceback" not in err
    with cluster(tmp_path) as (address, _):
        again = run_in(place.folder, "many", "lost.csv", "--json", "--cluster", address)
    assert settled(again.out) == unbroken, again.err


def test_a_cluster_with_certificates_gives_the_same_lines(place: Estate, unbroken: Lines, tmp_path: Path) -> None:
    """As docs/how-to/cluster.md says; without certificates the scheduler lets no one in."""
    words = ["openssl", "req", "-x509", "-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:P-256", "-nodes"]
    words += ["-days", "1", "-subj", "/CN=cluster"]
    words += ["-addext", "subjectAltName=IP:127.0.0.1", "-keyout", "me.key", "-out", "me.pem"]
    subprocess.run(words, cwd=tmp_path, check=True, capture_output=True)
    pem, key = str(tmp_path / "me.pem"), str(tmp_path / "me.key")
    options = ("--tls-ca-file", pem, "--tls-cert", pem, "--tls-key", key)
    fresh_list(place, "tls.csv")
    tls = "DASK_DISTRIBUTED__COMM__TLS__"
    with cluster(tmp_path, *options) as (address, _):
        words = ["many", "tls.csv", "--json", "--cluster", address]
        bare = run_in(place.folder, *words)
        assert bare.status == 2
        assert "tls:// address needs certificates" in bare.err
        env = {
            "DASK_DISTRIBUTED__COMM__REQUIRE_ENCRYPTION": "true",
            f"{tls}CA_FILE": pem,
            f"{tls}CLIENT__CERT": pem,
            f"{tls}CLIENT__KEY": key,
        }
        done = run_in(place.folder, *words, **env)
    assert settled(done.out) == unbroken, done.err
