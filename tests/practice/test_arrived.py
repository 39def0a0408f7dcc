"""What happens to a domain that had arrived: the same harm has the same level, and is over once it is fixed."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import cycle
from pathlib import Path

from homepath.bulk.short_check import url_fingerprints
from homepath.cli.story import opened
from homepath.core.model.visits import Hop, Visit, Way
from homepath.practice.scene_file import load_scene
from homepath.practice.world import World
from tests.conftest import START, run_in
from tests.practice.agreement import agree, assessment_of, run_here, run_inside
from tests.practice.incidents import DAY, INCIDENTS, NAMES, Incidents, Town, scene
from tests.practice.robot import DOMAIN, Robot

WWW = "site-20817.edge.bricklark.example."


def test_harm_after_arrival_is_wrong_not_merely_ahead(world: World, tmp_path: Path) -> None:
    assert run_in(tmp_path, *START).status == 0
    robot = Robot(world, tmp_path)
    robot.walk()
    form = {"domain": DOMAIN}
    deeds = [
        ("site-record-gone", "delete", {"name": "www", "type": "CNAME"}, "enter", {"value": WWW}),
        ("issuer-not-allowed", "enter", {"name": "@", "type": "CAA", "value": '0 issue "other.example"'}, "delete", {}),
        ("ipv6-elsewhere", "enter", {"name": "@", "type": "AAAA", "value": "2001:db8::66"}, "delete", {}),
    ]
    for code, deed, record, cure, more in deeds:
        world.skip(600)
        getattr(world.control, deed)(form | record)
        answer = robot.next()
        assert (answer["assessment"]["exit"], answer["act"]["kind"]) == (3, "enter"), code
        assert answer["because"][0]["code"] == code
        if code == "site-record-gone":
            assert answer["assessment"]["site_up"] is False
            assert next(step["state"] for step in answer["steps"] if step["kind"] == "visit") == "undone"
        getattr(world.control, cure)(form | record | more)
        world.skip(4000)
        assert robot.walk()["assessment"]["exit"] == 0, code
        watched = run_in(tmp_path, "watch", "--once", "--json")
        assert (watched.status, json.loads(watched.out)["verdict"]) == (0, "settled"), code


def test_harm_in_the_middle_of_a_journey_is_named_and_mended(world: World, tmp_path: Path) -> None:
    assert run_in(tmp_path, *START).status == 0
    robot = Robot(world, tmp_path)
    while robot.walk("wait")["act"]["for"] != "certificate":
        robot.do(robot.said[-1])
    form = {"domain": DOMAIN, "name": "@"}
    spf, caa = {"type": "TXT", "value": "v=spf1 -all"}, {"type": "CAA", "value": '0 issue "other.example"'}
    deeds: list[tuple[str, str, Callable[[], object]]] = [
        ("issuer-not-allowed", "enter", lambda: world.control.enter(form | caa)),
        ("spf-twice", "enter", lambda: world.control.enter(form | spf)),
        (
            "nameservers-changed",
            "name-servers",
            lambda: world.control.servers({"domain": DOMAIN, "servers": ["ns1.gone.example"]}),
        ),
        ("builder-unaware", "tell-builder", lambda: world.builder.disconnect(f"{DOMAIN}.")),
    ]
    for code, act, deed in deeds:
        world.skip(600)
        deed()
        for turn in ("first", "again"):  # the answer is the same until something is done about it
            answer = robot.next()
            assert (answer["act"]["kind"], answer["because"][0]["code"]) == (act, code), turn
        assert answer["assessment"]["exit"] == (1 if act == "tell-builder" else 3)
        agree(robot, answer)
        robot.next(robot.do(answer))
        while robot.walk("wait")["act"]["for"] not in ("certificate", "builder"):
            robot.do(robot.said[-1])
    assert robot.walk()["assessment"]["exit"] == 0


def test_a_former_host_that_drops_the_zone_early_is_no_reason_to_wait(tmp_path: Path) -> None:
    with opened(world := World(load_scene("mail-comes-along"), tmp_path, 60)):
        robot = Robot(world, tmp_path)
        wanted = robot.walk("name-servers")["act"]
        served, former = world.served_by, world.zones.get("example.").values(f"{DOMAIN}.", "NS")
        world.served_by = lambda server: {} if server in former else served(server)  # type: ignore[method-assign]
        for _ in range(2):
            answer = robot.next()
            assert (answer["act"], answer["because"][0]["code"]) == (wanted, "zone-not-served")
            assert run_in(tmp_path, "compare").status == 0


@dataclass
class Owner:
    """Of one domain of a list."""

    folder: Path
    site: str
    said: list[str]


def test_all_commands_agree_on_what_broke_after_arrival_and_that_it_is_mended(tmp_path: Path) -> None:
    broken = {
        "issuer-forbidden": (3, "enter"),
        "spf-twice": (3, "enter"),
        "zone-deleted": (3, "builder-step"),
        "one-server-behind": (0, "none"),
        "servers-of-nobody": (3, "name-servers"),
        "on-hold": (3, "builder-step"),
        "disconnected": (3, "tell-builder"),
        "page-broken": (3, "builder-step"),
    }
    world = World(scene(), tmp_path, 10)
    kinds = {each.name: each for each in INCIDENTS}
    domains = dict(zip(broken, NAMES[10:], strict=False))
    checks = cycle(("visit", "watch --once", "survey"))
    rows = (f"{name},www,bricklark.brief.toml,mossgate.notation.toml,20817,tk-4471\n" for name in domains.values())
    (tmp_path / "list.csv").write_text("domain,primary,brief,notation,site,code\n" + "".join(rows))

    def found(kind: str, exit_status: int, act: str) -> None:
        owner = Owner(tmp_path, f"list.csv:{domains[kind]}", ["once"])
        first, status = assessment_of(owner, next(checks))  # the first to see what happened says what all others say
        assert (kind, status, first["act"] if first else act) == (kind, exit_status, act)
        answer = json.loads(run_here(owner, "next", "--json").out)
        assert (kind, answer["assessment"]["exit"], answer["act"]["kind"]) == (kind, exit_status, act)
        if exit_status or kind == "zone-deleted":  # when all is well again, once is enough
            agree(owner, answer)
            agree(replace(owner, said=["once", "twice"]), answer)

    with opened(world):
        (tmp_path / "network.toml").open("a").write("\n[pace]\nserver = 100000\nresolver = 100000\n")
        town = Town(world)
        assert run_inside(tmp_path, "many", "list.csv").status == 0
        under_way = {kind: Incidents(town, domain) for kind, domain in domains.items()}
        for kind, incident in under_way.items():
            kinds[kind].deed(incident)
        world.skip(2 * DAY)
        run_inside(tmp_path, "many", "list.csv", "--due")
        for kind, expected in broken.items():
            found(kind, *expected)
        for incident in under_way.values():
            incident.over()
        for _ in range(4):
            world.skip(DAY)
            run_inside(tmp_path, "many", "list.csv", "--due")
        for kind in broken:
            found(kind, 0, "none")


def test_after_a_hand_over_records_are_entered_at_the_new_host(tmp_path: Path) -> None:
    with opened(world := World(load_scene("mail-comes-along"), tmp_path, 60)):
        robot = Robot(world, tmp_path)
        robot.walk()
        form = {"domain": DOMAIN, "at": robot.new_host, "name": "@"}
        for deed, record, code in (
            ("delete", {"type": "MX", "value": None}, "kept-record-gone"),
            ("enter", {"type": "CAA", "value": '0 issue "other.example"'}, "issuer-not-allowed"),
            ("enter", {"type": "AAAA", "value": "2001:db8::66"}, "address-dead"),
        ):
            getattr(world.control, deed)(form | record)
            world.skip(4000)
            answer = robot.next()
            assert (answer["act"]["kind"], answer["act"]["where"]) == ("enter", "new DNS host")
            assert answer["because"][0]["code"] == code
            agree(robot, answer)
            world.skip(10)
            assert robot.walk()["assessment"]["exit"] == 0


def test_a_redirect_that_begins_to_lose_the_path_is_seen_by_the_short_check() -> None:
    home, typed = "https://www.x.example/", "http://x.example/"

    def seen(to: str) -> dict[str, str]:
        probe = (Hop(f"{typed}a?b=c", 301, to, None), Hop(to, 404, None, None))
        first = Way(
            typed, home, "arrived", (Hop(typed, 301, home, None), Hop(home, 200, None, None)), None, probe=probe
        )
        last = Way(home, home, "arrived", (Hop(home, 200, None, None),), None)
        return url_fingerprints(Visit("x.example.", 0.0, home, "arrived", (first, last), ()))

    before = seen(f"{home}a?b=c")
    assert list(before) == [f"{typed}a?b=c", home]
    assert before != seen(home)


def test_a_proxy_that_serves_the_site_is_named_before_it_is_replaced(tmp_path: Path) -> None:
    scene = load_scene("proxy-in-front")
    pages = tuple(replace(page, fetches="https") if page.kind == "proxy" else page for page in scene.pages)
    with opened(World(replace(scene, pages=pages), tmp_path, 60)):
        for first in ("visit", "next"):  # the visit came before the first check, and nothing has changed since
            answer = json.loads(run_in(tmp_path, first, "--json").out)
        assert answer["assessment"]["site_up"] is True
        assert answer["because"][0]["code"] == "proxy-serves"
        for form in ("markdown", "html"):
            assert "ask them before you change" in run_in(tmp_path, "sheet", "--as", form).out, form
        assert "ask them before you change" in " ".join(run_in(tmp_path, "sheet").out.split())
