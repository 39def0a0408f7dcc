"""Scene files, `homepath.scene/1`: a starting world as data."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib import resources
from ipaddress import ip_address
from typing import Any

import tomlkit

from homepath.core.dns.names import absolute, shown
from homepath.core.files.site_file import read_site
from homepath.core.files.strict import Field, Reader, list_of, map_of, number, one_of, read_file, table, text, yes_no
from homepath.core.model.brief import Site
from homepath.core.model.problems import BadInput, Problem
from homepath.practice.dns_server import FAULTS
from homepath.practice.scene_tables import (
    BuilderTable,
    Expected,
    HostTable,
    OtherHostTable,
    PageTable,
    RegistrationTable,
    ResolverTable,
    SceneTable,
    ServerTable,
)

FORMAT = "homepath.scene/1"
GROUPS = ("first time", "site in use", "nameservers", "web", "going back")
"""Scenes are listed in these groups, in this order."""
WORLD = "world"
"""What every scene is based on; not a scene itself."""
__all__ = [
    "GROUPS",
    "BuilderTable",
    "Expected",
    "HostTable",
    "OtherHostTable",
    "PageTable",
    "RegistrationTable",
    "ResolverTable",
    "SceneTable",
    "ServerTable",
    "load_scene",
    "names",
    "read_scene",
    "site_of",
]


_NAME = text(absolute)
_ADDRESSES = Field(list_of(text(lambda words: str(ip_address(words))), least=1))
_SECONDS = number(0, 10**8)
_HABITS = (
    "plain",
    "validating",
    "clamping",
    "slow",
    "stale-serving",
    "silent",
    "never-counting",
    "several",
    "captive",
    *FAULTS,
)


def _tables(make: Any, **fields: Field) -> Reader:
    return list_of(table(make, fields))


_FORM = table(
    SceneTable,
    {
        "title": Field(text()),
        "group": Field(one_of(*GROUPS)),
        "teaches": Field(text(), ""),
        "ends": Field(one_of("arrived", "back", "left"), "arrived"),
        "story_begins": Field(number(0, 1e11, whole=False)),
        "zones": Field(map_of(text(), absolute)),
        "servers": Field(
            _tables(
                ServerTable,
                name=Field(_NAME),
                addresses=_ADDRESSES,
                zones=Field(list_of(_NAME)),
                names=Field(list_of(_NAME), ()),
                habit=Field(one_of("plain", "silent", "recursive"), "plain"),
            )
        ),
        "resolvers": Field(
            _tables(
                ResolverTable, label=Field(text()), habit=Field(one_of(*_HABITS), "plain"), limit=Field(_SECONDS, 0)
            )
        ),
        "host": Field(
            table(
                HostTable,
                {
                    "name": Field(text()),
                    "zones": Field(list_of(_NAME)),
                    "server": Field(_NAME),
                    "dot_needed": Field(yes_no, True),
                    "ttl": Field(_SECONDS, 3600),
                    "alias": Field(yes_no, False),
                },
            )
        ),
        "builder": Field(
            table(
                BuilderTable,
                {
                    "name": Field(text()),
                    "addresses": _ADDRESSES,
                    "domain": Field(_NAME),
                    "issuer": Field(text()),
                    "proof": Field(text()),
                    "checks_addresses": Field(yes_no, True),
                    "serves": Field(one_of("both", "primary"), "both"),
                    "answers": Field(one_of("verified", "told"), "verified"),
                    "issuing_days": Field(list_of(text()), ()),
                    "certificate_for": Field(one_of("both", "primary"), "both"),
                    "redirects": Field(yes_no, True),
                    "redirect_status": Field(one_of(301, 302, 307, 308), 301),
                    "redirect_keeps": Field(one_of("all", "path", "nothing"), "all"),
                    "https_only": Field(yes_no, True),
                    "home_twin": Field(yes_no, False),
                    "round_trip": Field(number(0, 10000), 0),
                    "publish": Field(yes_no, False),
                    "connected": Field(list_of(_NAME), ()),
                    "stuck": Field(list_of(_NAME), ()),
                    "checks_every": Field(_SECONDS, 300),
                    "certificate_after": Field(_SECONDS, 600),
                },
            )
        ),
        "pages": Field(
            _tables(
                PageTable,
                addresses=_ADDRESSES,
                kind=Field(one_of("parking", "forwarder", "site", "proxy"), "parking"),
                https=Field(yes_no, False),
                names=Field(list_of(_NAME), ()),
                keeps=Field(one_of("all", "path", "nothing"), "all"),
                fetches=Field(one_of("http", "https"), "https"),
                hsts=Field(text(), ""),
                to=Field(text(), ""),
                status=Field(one_of(301, 302, 307, 308), 301),
            ),
            (),
        ),
        "hosts": Field(
            _tables(
                OtherHostTable,
                name=Field(text()),
                servers=Field(list_of(_NAME, least=1)),
                scans=Field(yes_no, False),
                form=Field(yes_no, True),
                loads_after=Field(_SECONDS, 0),
                alias=Field(yes_no, False),
                dot_needed=Field(yes_no, True),
                ttl=Field(_SECONDS, 3600),
                forwarder=Field(text(), ""),
                website_late=Field(yes_no, False),
            ),
            (),
        ),
        "signed": Field(list_of(_NAME), ()),
        "visited": Field(list_of(_NAME), ()),
        "files": Field(map_of(text()), {}),
        "values": Field(map_of(text()), {}),
        "registration": Field(
            table(
                RegistrationTable,
                {
                    "registrar": Field(text(), "Mossgate"),
                    "statuses": Field(list_of(text()), ("active",)),
                    "days_left": Field(number(-10000, 10000), 300),
                },
            ),
            RegistrationTable(),
        ),
        "expect": Field(
            table(
                Expected,
                {
                    "changes": Field(list_of(text()), ()),
                    "findings": Field(list_of(text()), ()),
                    "steps": Field(list_of(text()), ()),
                    "route": Field(text(), "records"),
                    "verdict": Field(one_of("", "arrived", "waiting", "broken"), ""),
                    "visit": Field(list_of(text()), ()),
                    "connected": Field(yes_no, True),
                    "hours": Field(number(0, 10000), 24),
                },
            ),
            Expected(),
        ),
    },
)


def site_of(scene: SceneTable) -> Site:
    """What a scene is about: its site file, or what the `homepath start` that it begins with will write."""
    text = scene.files.get("homepath.toml")
    return read_site(text, "homepath.toml") if text else Site(shown(scene.host.zones[0]), "www", "")


def read_scene(words: str, file: str) -> SceneTable:
    """Read a scene. Raises BadInput."""
    scene: SceneTable = read_file(words, file, _FORM, FORMAT)
    return scene


def names() -> list[str]:
    """The scenes that ship with the tool."""
    folder = resources.files("homepath.practice") / "scenes"
    return sorted(
        each.name.removesuffix(".scene.toml") for each in folder.iterdir() if each.name.endswith(".scene.toml")
    )


@cache
def load_scene(name: str) -> SceneTable:
    """A scene by its name; one with a `base` says only what differs from that. Raises BadInput."""
    if name not in names():
        raise BadInput(Problem("there is no such scene", key="--scene", seen=name, hint=f"known: {', '.join(names())}"))
    return read_scene(_whole(name), f"{name}.scene.toml")


@cache
def _whole(name: str) -> str:
    file = resources.files("homepath.practice") / "scenes" / (f"{name}.toml" if name == WORLD else f"{name}.scene.toml")
    words = file.read_text(encoding="utf-8")
    scene = tomllib.loads(words)
    base = scene.pop("base", None)
    if base is None:
        return words
    whole = tomllib.loads(_whole(str(base)))
    whole.pop("teaches", None)  # each scene teaches something of its own
    for key, value in scene.items():
        if key == "files":
            for kind in (".brief.toml", ".notation.toml"):  # a world holds one of each, those of its own scene
                if any(name.endswith(kind) for name in value):
                    for name in [name for name in whole[key] if name.endswith(kind)]:
                        del whole[key][name]
        if key == "hosts":  # by their names: a scene says only what differs of one of them
            value = _changed_hosts(whole.get(key, []), value)
        if key in ("zones", "files", "host", "builder"):
            whole[key].update(value)
        else:
            whole[key] = value
    return tomlkit.dumps(whole)


def _changed_hosts(there: Any, changed: Any) -> list[dict[str, Any]]:
    found = {str(each["name"]): dict(each) for each in there}
    for each in changed:
        found.setdefault(str(each["name"]), {}).update(each)
    return list(found.values())
