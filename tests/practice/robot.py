"""A robot that knows nothing but `next --json`: it does what `act` says at the practice world's forms, and waits."""

from __future__ import annotations

import asyncio
import json
import math
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from homepath.app.decide import say_done
from homepath.app.next import find_next
from homepath.app.project import open_project
from homepath.core.contracts.assessment import next_json, with_assessment
from homepath.core.dns.names import is_within, relative, shown
from homepath.core.dns.policies import is_spf
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.dns.values import strings
from homepath.core.files.exports import write_master_lines
from homepath.core.files.site_file import read_site
from homepath.core.model.problems import BadInput
from homepath.core.model.times import from_rfc3339
from homepath.net.network_file import load_network
from homepath.practice.world import World
from tests.conftest import run_in

Json = dict[str, Any]
DOMAIN = "tidewick-kiln.example"
MOST_ACTS = 60
ONLY_TOLD = ("tell-builder", "check-again", "publish-again", "builder-step")
"""Acts after which a person says that they are done, because no one can see it."""


SEEN_LATE = 900.0
"""Seconds of the fast clock in which a look may notice what was typed."""


@dataclass
class Robot:
    """`said`: every answer in its order. `code`: the ownership code that the builder shows."""

    world: World
    folder: Path
    code: str = "tk-4471"
    site: str = "homepath.toml"
    said: list[Json] = field(default_factory=list)
    typed_at: float = 0.0
    """When the zone was last changed: whatever a cache holds was fetched before that."""
    there: set[RecordSet] = field(default_factory=set)
    longest: int = 0
    """The longest TTL that any set of the host's zones ever had."""
    unseen: bool = False
    """Old records were gone before the first check: only the caches' own countdown tells of them, clamped or not."""
    mail: frozenset[str] | None = None
    """Where mail must be delivered at every moment, asked through each cache that keeps the rules."""
    switched_at: float = 0.0
    delegations: tuple[tuple[str, ...], ...] = ()
    publishes: bool = True
    """Whether it really publishes the site when it is asked to; else it only says so."""
    witness: Callable[[Robot, Json], None] | None = None
    """Called with every answer, before anything is done."""

    def __post_init__(self) -> None:
        self.typed_at = self.world.clock.now()
        self.longest = max(record.ttl for zone in self._zones() for record in zone)

    def _zones(self) -> list[Zone]:
        """Every copy of the zones that the host's customers edit."""
        ids = [each for each in self.world.zones.ids() if each.split("@")[0] in self.world.scene.host.zones]
        return [self.world.zones.get(zone) for zone in ids]

    def next(self, done: str | None = None) -> Json:
        network = load_network(self.folder / "network.toml")
        project = open_project(self.folder / self.site, now=network.clock.now())
        if done:
            say_done(project, done, network.clock.now())
        seen = asyncio.run(find_next(project, network))
        answer: Json = json.loads(json.dumps(with_assessment(next_json(seen.assessment), seen.assessment)))
        if answer["act"]["kind"] == "wait":  # a witness may take longer than the rest of the wait
            assert from_rfc3339(answer["act"]["until"]) > self.world.clock.now() - 60, "a wait that has ended"
        self.check(answer)
        self.check_mail()
        self.said.append(answer)
        if self.witness is not None:
            self.witness(self, answer)
        return answer

    def walk(self, until: str = "none") -> Json:
        """Do one act after another until one of this kind; fails when it takes too many or goes round in circles."""
        answer = self.next()
        for _ in range(MOST_ACTS):
            if answer["act"]["kind"] == until:
                return answer
            again = sum(each["act"] == answer["act"] and each["step"] == answer["step"] for each in self.said)
            assert again <= 3, f"{again} times without effect: {answer['act']}"
            answer = self.next(self.do(answer))
        raise AssertionError(f"not at {until} after {MOST_ACTS} acts: {[each['act']['kind'] for each in self.said]}")

    def do(self, answer: Json) -> str | None:
        """Do what the act says; the step whose doing nobody but the robot can tell, if it is one."""
        act, told = answer["act"], answer["step"]["id"]
        match act["kind"]:
            case "enter":
                self.enter(act)
                return None
            case "tell-builder":
                self.tell(act)
                return str(told)
            case "check-again":
                self.world.control.check({})
                return str(told)
            case "publish-again":
                self.publish()
                return str(told)
            case "builder-step":
                if told == "new-zone":
                    self.world.control.open_zone({"domain": DOMAIN, "at": self.new_host})
                elif any(word in act["title"] for word in ("Save", "Publish")):
                    self.publish()
                elif answer["step"]["kind"] in ("visit", "certificate"):
                    self.world.control.support({})
                    self.tell_again()
                return str(told)
            case "name-servers":
                self.world.control.servers({"domain": DOMAIN, "servers": act["servers"]})
                return None
            case "remove-ds":
                self.world.control.ds({"domain": DOMAIN, "values": []})
                return None
            case "add-ds":
                self.world.control.ds({"domain": DOMAIN, "values": act["values"]})
                return None
            case "https-only":
                self.world.control.https_only({"on": True})
                return None
            case "forward":
                domain = self.domain_of(act["name"])
                at = self.new_host if answer["where"] == "new DNS host" else ""
                asked = {"domain": domain, "name": relative(act["name"], f"{domain}."), "at": at}
                self.world.control.forward(asked)
                return None
            case "wait":
                self.wait(act)
                return None
            case "decide":
                if told == "new-zone":
                    self.tell_again()
                    return "claim" if self.new_host == self.world.scene.builder.name else None
                self.choose(act)
                return None
        raise AssertionError(f"nothing in the practice world does this: {act}")

    def choose(self, act: Json) -> None:
        """A file is the surest answer, the page or an export; else what loses nothing."""
        safe = [each["then"] for each in act["choices"] if not each["loses"]]
        words = next((then for then in safe if "FILE" in then), None)
        if words is None:
            words = next(then for then in safe if not any(" NAME" in f" {word}" for word in then))
        (self.folder / "export.zone").write_text(self.export())
        file = "page.txt" if "--page" in words else "export.zone"
        words = [file if word == "FILE" else word for word in words]
        if words[0] != "start":
            words += ["--site", self.site]
        done = run_in(self.folder, *words)
        assert done.status in (0, 1, 3), done

    def export(self) -> str:
        """What the DNS host's form gives as a file."""
        return write_master_lines(list(self.world.zones.get(f"{DOMAIN}.")))

    @property
    def new_host(self) -> str:
        """Who takes over in this scene: by the site file another DNS host, else the builder."""
        site = read_site((self.folder / self.site).read_text(), self.site)
        return "Thornlea" if site.move else self.world.scene.builder.name

    def publish(self) -> None:
        if self.publishes:
            self.world.control.publish({"domain": DOMAIN})

    def domain_of(self, name: str) -> str:
        return next(shown(zone) for zone in self.world.scene.host.zones if is_within(name, zone))

    def enter(self, act: Json) -> None:
        """Set by set: what goes, then what comes. A form that refuses is asked again by the next answer."""
        at = self.new_host if act["where"] == "new DNS host" else ""
        keys = dict.fromkeys((e["name"], e["type"]) for e in (*act["delete"], *act["enter"]))
        names = dict.fromkeys(name for name, _ in keys)
        for name in names:
            for deed in ("delete", "enter"):
                for each in act[deed]:
                    if each["name"] == name:
                        self.type(deed, each, at)

    def type(self, deed: str, entry: Json, at: str = "") -> None:
        domain = self.domain_of(entry["name"])
        value = "".join(strings(entry["value"])) if entry["type"] == "TXT" else entry["value"]
        asked = {"domain": domain, "name": relative(entry["name"], f"{domain}."), "type": entry["type"], "value": value}
        asked["at"] = at
        if deed == "enter":
            asked["ttl"] = entry["ttl"]
        getattr(self.world.control, deed)(asked)
        self.typed_at = self.world.clock.now()

    def tell(self, act: Json) -> None:
        assert act["primary"] in act["names"]
        self.world.control.connect({"names": act["names"], "primary": act["primary"], "code": self.code})

    def tell_again(self) -> None:
        """What the owner sees in the builder's settings, and sets right: its domains, and where each name leads."""
        for act in [each["act"] for each in self.said if each["act"]["kind"] == "tell-builder"]:
            self.tell(act)

    def wait(self, act: Json) -> None:
        left = from_rfc3339(act["until"]) - self.world.clock.now()
        while left > 0:
            step = min(left, 6 * 3600.0)
            self.world.skip(step)
            self.check_mail()
            left -= step

    def check_mail(self) -> None:
        for label in ("plain cache", "validating cache") if self.mail is not None else ():
            if label in self.world.caches:
                said = self.world.caches[label].resolve(f"{DOMAIN}.", "MX", self.world.clock.now())
                given = frozenset(v for each in said.answer if each.type == "MX" for v in each.values)
                assert given == self.mail, f"mail is lost behind {label}: {said}"

    def check(self, answer: Json) -> None:
        """What must hold for every answer."""
        zones = self._zones()
        there = {record for zone in zones for record in zone if record.type != "SOA"}
        parent, zones_there = self.world.zones.get("example."), self.world.scene.host.zones
        delegation = tuple(parent.values(zone, rrtype) for zone in zones_there for rrtype in ("NS", "DS"))
        if delegation != self.delegations:
            self.delegations, self.switched_at = delegation, self.world.clock.now()
        if there != self.there:  # whoever typed it, the robot or a mistake
            self.there, self.typed_at = there, self.world.clock.now()
        self.longest = max(self.longest, *(record.ttl for zone in zones for record in zone))
        clamped = max((each.limit for each in self.world.scene.resolvers if each.habit == "clamping"), default=0)
        longest = max(self.longest, clamped) if self.unseen else self.longest
        if answer["act"]["kind"] == "wait" and answer["act"]["for"] in ("caches", "absence"):
            late = from_rfc3339(answer["act"]["until"]) - (self.typed_at + longest)
            assert late <= SEEN_LATE, f"{late:.0f} s longer than any cache can hold it"
        if answer["act"]["kind"] == "wait" and answer["act"]["for"] == "parent" and self.said:
            # a server of the zone above that was behind at the last look may have followed just now
            behind = self.world.clock.now() if self.said[-1]["step"]["id"] == "name-servers" else 0.0
            begun = max(self.switched_at, self.typed_at, behind)
            late = from_rfc3339(answer["act"]["until"]) - (begun + 21600 + self.longest)
            assert late <= SEEN_LATE, f"{late:.0f} s longer than any cache can hold the old nameservers"
        states = Counter(step["state"] for step in answer["steps"])
        arrived = answer["act"]["kind"] == "none"
        assert states["now"] + states["waiting"] == (0 if arrived else 1), states
        assert (answer["step"] is None) == arrived
        ids = [step["id"] for step in answer["steps"]]
        assert len(set(ids)) == len(ids)
        if self.said:
            before = {step["id"] for step in self.said[-1]["steps"]}
            assert before <= set(ids), f"gone: {before - set(ids)}"
        for step in answer["steps"]:
            assert (step["number"] is None) == (step["state"] == "left-out")
            assert (step["since"] is not None) == (step["state"] in ("done", "undone")), step
            assert (step["until"] is not None) == (step["state"] == "waiting"), step
        if answer["act"]["kind"] == "wait":
            assert answer["wait_until"] == answer["act"]["until"] == answer["step"]["until"]
            assert from_rfc3339(answer["act"]["until"]) >= math.floor(self.world.clock.now()) - 2
        if answer["act"]["kind"] == "enter":
            assert answer["act"]["delete"] or answer["act"]["enter"]
            assert all(isinstance(each["ttl"], int) for each in answer["act"]["enter"])


def content(world: World, domain: str = f"{DOMAIN}.") -> dict[tuple[str, str], tuple[int, tuple[str, ...]]]:
    """What the zone holds that the delegation points to, except what its server writes itself."""
    zone = world.zone_now(domain)
    assert zone is not None
    return {
        key: (record.ttl, record.values)
        for key, record in world.zones.get(zone).sets.items()
        if key[1] not in ("SOA", "DNSKEY")
    }


def kept(world: World, domain: str = "tidewick-kiln.example.") -> dict[tuple[str, str], frozenset[str]]:
    """What must survive where the delegation leads: mail, texts, other names; not the website's own records."""
    website = {domain, f"www.{domain}"}
    found = {}
    zone = world.zone_now(domain)
    assert zone is not None, "nobody holds the domain"
    for record in world.zones.get(zone):
        if record.type in ("SOA", "NS", "DNSKEY") or (
            record.name in website and record.type in ("A", "AAAA", "CNAME", "HTTPS")
        ):
            continue
        found[record.key] = record.meanings
    return found


def lost(before: dict[tuple[str, str], frozenset[str]], world: World) -> dict[tuple[str, str], frozenset[str]]:
    """What was there before and is not any more."""
    now = kept(world)
    found = {}
    for key, values in before.items():
        there = now.get(key, frozenset())
        if gone := {value for value in values - there if not mended(value, there)}:
            found[key] = frozenset(gone)
    return found


def mended(text: str, there: frozenset[str]) -> bool:
    """Whether the one SPF text that is there allows all that another did, but for the website's own host (`a`), which
    the plan replaces by its addresses, and for how it ends where two were joined."""
    policies = [each for each in there if is_spf(each)]
    if not is_spf(text) or len(policies) != 1:
        return False
    words = [w for w in text.split() if w.lstrip("+?~-").split(":")[0] not in ("a", "all")]
    website = len(words) < len([w for w in text.split() if not w.endswith("all")])
    return set(words) <= set(policies[0].split()) and (not website or "ip4:" in policies[0] or "ip6:" in policies[0])


__all__ = ["BadInput", "Robot", "kept", "lost"]
