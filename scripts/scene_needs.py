"""Which scene of the practice world shows which need: docs/reference/scenes.md, read from the scene files."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from homepath.core.files.brief_file import read_brief
from homepath.core.files.site_file import read_site
from homepath.core.model.brief import Brief, Site
from homepath.practice.scene_file import GROUPS, SceneTable, load_scene, names

MOST_NAMED = 8
TYPED_WRONG = ("name-doubled", "target-unfinished", "wrong-name", "near-miss", "pasted-quote")


@dataclass(frozen=True)
class Scene:
    """A scene with its brief and the site files of its plans, as `homepath` reads them."""

    name: str
    table: SceneTable

    @cached_property
    def brief(self) -> Brief:
        name = next(name for name in self.table.files if name.endswith(".brief.toml"))
        return read_brief(self.table.files[name], name)

    @cached_property
    def sites(self) -> list[Site]:
        return [read_site(text, name) for name, text in self.table.files.items() if name.endswith("homepath.toml")]

    @cached_property
    def zone(self) -> str:
        return self.table.zones[self.table.host.zones[0]]

    @cached_property
    def findings(self) -> set[str]:
        return {each.split()[0] for each in (*self.table.expect.findings, *self.table.expect.visit)}

    @cached_property
    def pages(self) -> set[str]:
        return {page.kind for page in self.table.pages}

    def step(self, kind: str) -> bool:
        return kind in self.table.expect.steps


def every(scene: Scene) -> bool:
    return True


NEEDS: dict[int, tuple[str, Callable[[Scene], bool]]] = {
    1: ("the address", every),
    2: ("what the builder requires", lambda s: bool(s.brief.asked) or "page.txt" in s.table.files),
    3: (
        "alternatives",
        lambda s: len(s.brief.ownership) > 1 or bool(s.brief.apex_alias) or bool(s.brief.www and s.brief.nameservers),
    ),
    4: ("extra domains", lambda s: any(site.also for site in s.sites)),
    5: ("the builder's own limits", lambda s: bool(s.brief.limits or s.brief.reserved_names)),
    6: ("live survey", every),
    7: ("exported zones", lambda s: s.step("inventory")),
    8: ("who runs what", lambda s: bool(s.table.registration.registrar) and s.step("name-servers")),
    9: ("what each record is for", lambda s: " MX " in s.zone and bool(s.findings & {"parked", "address-elsewhere"})),
    10: ("how the old site answers", lambda s: "site" in s.pages),
    11: ("the exact changes", lambda s: bool(s.table.expect.changes)),
    12: ("conflicts", lambda s: bool(s.table.expect.findings)),
    13: ("the order", lambda s: bool(s.brief.steps) or s.step("name-servers")),
    14: ("TTL", lambda s: s.step("lower-ttl")),
    15: ("an apex without fixed addresses", lambda s: bool(s.brief.www) and not s.brief.apex),
    16: ("switching nameservers", lambda s: s.step("name-servers")),
    17: ("forecast", lambda s: bool(s.table.expect.changes)),
    18: ("a sheet to copy from", lambda s: any(name.endswith(".notation.toml") for name in s.table.files)),
    19: ("reading back", lambda s: bool(s.findings & set(TYPED_WRONG))),
    20: ("sending", lambda s: any(change.split()[2] != "NS:" for change in s.table.expect.changes)),
    21: ("verification record", lambda s: bool(s.findings & {"proof-missing"})),
    22: ("propagation", every),
    23: ("the deadline", every),
    24: ("when to check again", every),
    25: ("the builder's check", lambda s: bool(s.table.builder.stuck) or s.table.builder.publish),
    26: ("before the switch", lambda s: s.table.builder.answers == "told"),
    27: ("every address", lambda s: bool(s.table.expect.verdict)),
    28: (
        "where the redirect lives",
        lambda s: s.brief.redirects_by == "record" or bool({"forwarder", "proxy"} & s.pages),
    ),
    29: (
        "certificate",
        lambda s: (
            bool(s.table.builder.issuing_days)
            or s.table.builder.certificate_for != "both"
            or s.table.builder.certificate_after > 10800
        ),
    ),
    30: ("permission to issue", lambda s: " CAA " in s.zone),
    31: ("a proxy in front", lambda s: "proxy" in s.pages),
    32: (
        "HTTPS only",
        lambda s: (
            not s.table.builder.https_only
            or any(page.hsts for page in s.table.pages)
            or any(step.when == "after-certificate" for step in s.brief.steps)
        ),
    ),
    33: ("after the move", lambda s: s.table.builder.home_twin or bool(s.brief.free_address)),
    34: ("next", every),
    35: ("report", every),
    36: ("calendar", every),
    37: ("history", every),
    38: ("many domains", lambda s: any(site.also for site in s.sites)),
    39: ("practice", every),
    40: ("explain", every),
    41: ("undo and leave", lambda s: s.table.ends != "arrived"),
    42: ("one step at a time", every),
    43: ("the guard", lambda s: " MX " in s.zone),
    44: ("the brief is out of date", lambda s: "brief-outdated" in s.findings),
    45: ("mail is affected too", lambda s: "spf-follows-website" in s.findings or "mail-left-behind" in s.findings),
    46: ("vantages that give false answers", lambda s: any(each.habit == "captive" for each in s.table.resolvers)),
    47: ("a separate DNS host", lambda s: any(site.move for site in s.sites)),
    48: ("text for other people", lambda s: bool(s.table.builder.stuck) or "form" in s.brief.new_zone.existing),
}
"""Each need of a person, and by what in a scene it is recognised; `every` scene shows the rest."""


def scenes() -> list[Scene]:
    """All scenes in the order of their groups."""
    found = [Scene(name, load_scene(name)) for name in names()]
    return sorted(found, key=lambda scene: (GROUPS.index(scene.table.group), scene.name))


def page() -> str:
    """docs/reference/scenes.md."""
    all_scenes = scenes()
    common = [f"N{number} {title}" for number, (title, shows) in NEEDS.items() if shows is every]
    others = {number: need for number, need in NEEDS.items() if need[1] is not every}
    text = "# Scenes\n\nGenerated from the scene files. `homepath practice open FOLDER --scene NAME` opens one.\n"
    for group in GROUPS:
        text += f"\n## {group.capitalize()}\n\n| scene | what it teaches | needs that it shows |\n| --- | --- | --- |\n"
        for scene in (each for each in all_scenes if each.table.group == group):
            shown = ", ".join(f"N{number}" for number, (_, shows) in others.items() if shows(scene))
            text += f"| `{scene.name}` | {scene.table.teaches or scene.table.title} | {shown} |\n"
    text += "\n## Needs, and the scenes that show them\n\n| need | scenes |\n| --- | --- |\n"
    for number, (title, shows) in others.items():
        mine = [f"`{each.name}`" for each in all_scenes if shows(each)]
        more = f", and {len(mine) - MOST_NAMED} more" if len(mine) > MOST_NAMED else ""
        text += f"| N{number} {title} | {', '.join(mine[:MOST_NAMED])}{more} |\n"
    return f"{text}\nEvery scene shows the rest: {'; '.join(common)}.\n"
