"""`send` when something goes wrong between the update and its answer: what may have been sent is always known."""

from __future__ import annotations

import json
import socket
import struct
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest

from homepath.net.network_file import load_network
from homepath.practice.world import World
from tests.conftest import START, Done, Run, run_in

HOST = ("203.0.113.53", 53)


def read(sock: socket.socket) -> bytes:
    head = sock.recv(2)
    octets = b""
    while len(octets) < struct.unpack("!H", head)[0]:
        octets += sock.recv(65535)
    return octets


@contextmanager
def between(folder: Path, act: Callable[[bytes, Callable[[bytes], bytes]], bytes | None]) -> Iterator[str]:
    """A server on loopback that is given each update and may pass it on; it answers with what `act` returns."""
    there = load_network(folder / "network.toml").reach[HOST]

    def passed_on(octets: bytes) -> bytes:
        with socket.create_connection(there) as onward:
            onward.sendall(struct.pack("!H", len(octets)) + octets)
            return read(onward)

    with socket.create_server(("127.0.0.1", 0)) as server:

        def serve() -> None:
            while True:
                try:
                    client, _ = server.accept()
                except OSError:
                    return
                with client:
                    answer = act(read(client), passed_on)
                    if answer is not None:
                        client.sendall(struct.pack("!H", len(answer)) + answer)

        thread = threading.Thread(target=serve, daemon=True)
        thread.start()
        yield f"127.0.0.1:{server.getsockname()[1]}"
        server.close()


@pytest.fixture
def ready(world: World, homepath: Run) -> World:
    assert homepath(*START).status == 0
    assert homepath("next").status == 1
    return world


def sent(folder: Path, where: str, *more: str) -> Done:
    return run_in(folder, "send", "--key", "mossgate.key", "--yes", "--early", "--server", where, *more)


def log(folder: Path) -> list[str]:
    return [line for line in run_in(folder, "log").out.splitlines() if " send " in line]


def test_a_lost_answer_is_unknown_and_found_out_by_looking(ready: World, homepath: Run, tmp_path: Path) -> None:
    def lose(octets: bytes, passed_on: Callable[[bytes], bytes]) -> None:
        passed_on(octets)

    with between(tmp_path, lose) as where:
        done = sent(tmp_path, where, "--json")
    assert (done.status, json.loads(done.out)["state"]) == (4, "unknown")
    assert "whether the update was carried out is not known" in done.err.lower()
    assert "no answer came" in log(tmp_path)[0]
    again = homepath("next")
    assert "was carried out: all of it is there" in again.out
    assert "(no answer" not in log(tmp_path)[0]
    assert "was carried out" not in homepath("next").out


def test_an_update_that_never_arrived_is_found_not_to_be_there(ready: World, homepath: Run, tmp_path: Path) -> None:
    with between(tmp_path, lambda octets, passed_on: b"garbage that is no answer at all") as where:
        done = sent(tmp_path, where)
    assert done.status == 4
    assert "key" not in done.err
    assert "Error" not in done.err
    later = homepath("send", "--key", "mossgate.key", "--yes", "--early")
    assert "was not carried out: everything is as before" in " ".join(later.out.split())
    assert later.status == 1
    assert ["not carried out" in line for line in log(tmp_path)] == [True, False]


def test_a_journal_that_fails_after_the_update_is_said(ready: World, homepath: Run, tmp_path: Path) -> None:
    journal, away = tmp_path / "homepath.journal", tmp_path / "away"

    def spoil(octets: bytes, passed_on: Callable[[bytes], bytes]) -> bytes:
        answer = passed_on(octets)
        for each in (journal, *tmp_path.glob("homepath.journal-*")):
            each.rename(away.with_suffix(each.suffix + ".x"))
        journal.mkdir()
        return answer

    with between(tmp_path, spoil) as where:
        done = sent(tmp_path, where)
    assert done.status == 1
    assert "sent and accepted, but could not be written to the journal" in done.err
    journal.rmdir()
    for each in tmp_path.glob("away*.x"):
        each.rename(tmp_path / ("homepath" + each.suffixes[0] if len(each.suffixes) > 1 else "homepath.journal"))
    assert "no answer noted" in log(tmp_path)[0]
    assert "was carried out" in homepath("next").out


def test_a_journal_that_cannot_be_written_sends_nothing(ready: World, tmp_path: Path) -> None:
    asked: list[bytes] = []

    def count(octets: bytes, passed_on: Callable[[bytes], bytes]) -> bytes:
        asked.append(octets)
        return passed_on(octets)

    journal = tmp_path / "homepath.journal"
    journal.write_bytes(b"no database at all" * 100)
    with between(tmp_path, count) as where:
        done = sent(tmp_path, where)
    assert (done.status, asked) == (2, [])


def test_nobody_listening_is_no_update(ready: World, tmp_path: Path) -> None:
    with socket.create_server(("127.0.0.1", 0)) as taken:
        port = taken.getsockname()[1]
    done = sent(tmp_path, f"127.0.0.1:{port}")
    assert done.status == 4
    assert "nothing was sent" in done.err.lower()
    assert "no server listens" in " ".join(run_in(tmp_path, "log").out.split())
