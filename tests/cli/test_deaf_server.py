"""A DNS host whose servers drop one kind of question: the tool stops there, says why, and goes on when it is told."""

from __future__ import annotations

import contextlib
import json
import socket
import threading
from collections.abc import Iterator
from pathlib import Path

import dns.message
import dns.rdatatype

from homepath.practice.world import World
from tests.conftest import START, Run

DOMAIN = "tidewick-kiln.example"


@contextlib.contextmanager
def deaf(folder: Path, name: str, rrtype: str, servers: int = 2) -> Iterator[None]:
    """In front of the DNS host's servers stands something that drops questions for one type at one name."""
    path = folder / "network.toml"
    before = path.read_text()
    text, closing = before, []
    for address in ("203.0.113.53", "203.0.113.54")[:servers]:
        (line,) = [each for each in before.splitlines() if each.startswith(f'"{address}:53"')]
        host, port = line.split('"')[3].rsplit(":", 1)
        front = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        front.bind(("127.0.0.1", 0))
        text = text.replace(line, f'"{address}:53" = "127.0.0.1:{front.getsockname()[1]}"')
        threading.Thread(target=_serve, args=(front, (host, int(port)), name, rrtype), daemon=True).start()
        closing.append(front)
    path.write_text(text)
    yield
    path.write_text(before)
    for front in closing:
        front.close()


def _serve(front: socket.socket, there: tuple[str, int], name: str, rrtype: str) -> None:
    while True:
        try:
            octets, client = front.recvfrom(4096)
        except OSError:
            return
        question = dns.message.from_wire(octets).question[0]
        asked = question.name.to_text(omit_final_dot=True).lower(), dns.rdatatype.to_text(question.rdtype)
        if asked == (name, rrtype):
            continue
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as onward:
            onward.settimeout(5)
            onward.sendto(octets, there)
            with contextlib.suppress(OSError):
                front.sendto(onward.recv(65535), client)


def test_the_tool_stops_at_what_nobody_answers_and_goes_on_when_it_is_told(
    world: World, homepath: Run, tmp_path: Path
) -> None:
    assert homepath(*START).status == 0
    with deaf(tmp_path, DOMAIN, "AAAA"):
        survey = json.loads(homepath("survey", "--json").out)
        assert [(each["name"], each["type"]) for each in survey["unknown"]] == [(f"{DOMAIN}.", "AAAA")]
        assert {server["state"] for server in survey["servers"]} == {"agrees"}
        plan = homepath("plan", "--json")
        assert plan.status == 4
        touched = {c["name"] for c in json.loads(plan.out)["changes"] if c["move"] != "keep"}
        assert touched == {f"www.{DOMAIN}."}
        assert "unanswered" in plan.out
        assert f"First: find out which records are at {DOMAIN}" in homepath("sheet").out
        assert "not decided yet" in homepath("plan").out
        sent = homepath("send", "--key", "mossgate.key", "--yes", "--early")
        assert (sent.status, "nothing was sent" in sent.err.lower()) == (3, True)
        asked = json.loads(homepath("next", "--json").out)
        assert asked["act"]["kind"] == "decide"
        words = [choice["then"] for choice in asked["act"]["choices"]]
        assert ["survey"] in words
        told = next(each for each in words if each[:2] == ["next", "--decide"])
        text = homepath("survey").out
        assert f"AAAA at {DOMAIN}" in text.partition("Not seen")[2]
        assert homepath(*told).status in (1, 3)
        after = json.loads(homepath("plan", "--json").out)
        assert f"{DOMAIN}." in {c["name"] for c in after["changes"] if c["move"] != "keep"}
    assert homepath("send", "--key", "mossgate.key", "--yes", "--early").status == 1


def test_one_deaf_server_of_two_changes_nothing(world: World, homepath: Run, tmp_path: Path) -> None:
    assert homepath(*START).status == 0
    with deaf(tmp_path, DOMAIN, "A", servers=1):
        survey = json.loads(homepath("survey", "--json").out)
        assert survey["unknown"] == []
        assert "servers-disagree" not in {finding["code"] for finding in survey["findings"]}
        changes = {(c["name"], c["type"]): c["move"] for c in json.loads(homepath("plan", "--json").out)["changes"]}
        assert changes[f"{DOMAIN}.", "A"] == "replace"


def test_a_transfer_answers_what_questions_do_not(world: World, homepath: Run, tmp_path: Path) -> None:
    assert homepath(*START).status == 0
    with deaf(tmp_path, DOMAIN, "A"):
        assert json.loads(homepath("survey", "--json").out)["unknown"]
        export = tmp_path / "zone.txt"
        export.write_text(f"$ORIGIN {DOMAIN}.\n$TTL 60\n@ A 198.51.100.7\n")
        known = json.loads(homepath("survey", "--zone", "zone.txt", "--json").out)
        assert known["unknown"] == []
        plan = json.loads(homepath("plan", "--json").out)
        (change,) = [c for c in plan["changes"] if (c["name"], c["type"]) == (f"{DOMAIN}.", "A")]
        assert (change["move"], change["before"]) == ("replace", ["198.51.100.7"])


def test_the_front_passes_on_what_it_does_not_drop(world: World, homepath: Run, tmp_path: Path) -> None:
    assert homepath(*START).status == 0
    with deaf(tmp_path, "nothing.example", "A"):
        assert json.loads(homepath("survey", "--json").out)["unknown"] == []
