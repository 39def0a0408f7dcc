"""Scene files, `homepath.scene/1`: a starting world as data."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import resources
from ipaddress import ip_address
from typing import Any

import tomlkit

from homepath.core.formats.strict import Field, Reader, list_of, map_of, number, one_of, read_file, table, text, yes_no
from homepath.core.model.names import Name, absolute
from homepath.core.model.problems import BadInput, Problem
from homepath.practice.dns_server import FAULTS

FORMAT = "homepath.scene/1"


@dataclass(frozen=True, slots=True)
class ServerTable:
    """A name server: the zones it answers for, by the addresses of the story."""

    name: Name
    addresses: tuple[str, ...]
    zones: tuple[Name, ...]
    names: tuple[Name, ...] = ()
    """Further names that it goes by, one for each address."""
    habit: str = "plain"
    """`silent`, `recursive` (it asks others and holds nothing), or plain."""


@dataclass(frozen=True, slots=True)
class OtherHostTable:
    """Whoever else can run the domain: another DNS host, or the builder with name servers of its own.

    `servers`: those that it assigns. `by_builder`: its zone begins when the builder is told, and leads the website.
    `scans`: it copies what it can guess of the zone that is there. `form`: people can type entries. `loads_after`:
    story seconds until its servers hold a new zone. `alias`, `dot_needed`, `ttl`: its form. `forwarder`: the address
    of its forwarding service, empty where it has none. `website_late`: a builder that leads the website only once the
    name servers have changed.
    """

    name: str
    servers: tuple[Name, ...]
    by_builder: bool = False
    scans: bool = False
    form: bool = True
    loads_after: int = 0
    alias: bool = False
    dot_needed: bool = True
    ttl: int = 3600
    forwarder: str = ""
    website_late: bool = False


@dataclass(frozen=True, slots=True)
class ResolverTable:
    """A caching resolver; `limit` is what its habit needs: the floor of a clamping one in story seconds, the delay
    of a slow one in real milliseconds."""

    label: str
    habit: str
    limit: int


@dataclass(frozen=True, slots=True)
class HostTable:
    """The DNS host: which zones its customers edit, and how its form treats what is typed.

    `alias`: its form has a kind of alias for the apex, flattened to the target's addresses.
    """

    name: str
    zones: tuple[Name, ...]
    server: Name
    dot_needed: bool
    ttl: int
    alias: bool = False


@dataclass(frozen=True, slots=True)
class BuilderTable:
    """The builder: its edge, what it checks, and how long it takes (story seconds).

    `proof`: the text of a TXT record, or `CNAME host target`, or empty. `checks_addresses`: its check also asks whether
    the names lead to its edge; a builder that takes proxies in front does not. `serves`: both names, or the primary.
    `answers`: its edge serves a name only once its check has passed, or as soon as it was told of it.
    `issuing_days`: certificates come in batches on these days of the week only. `certificate_for`: a careless builder
    orders for the primary alone. `redirects`: whether the second name leads to the primary, with which status, and
    whether path and query come along. `https_only`: http leads to https once there is a certificate. `home_twin`: the
    home page also answers at /home. `round_trip`: real milliseconds before its edge answers.
    """

    name: str
    addresses: tuple[str, ...]
    domain: Name
    issuer: str
    proof: str
    checks_every: int
    certificate_after: int
    checks_addresses: bool = True
    serves: str = "both"
    answers: str = "verified"
    issuing_days: tuple[str, ...] = ()
    certificate_for: str = "both"
    redirects: bool = True
    redirect_status: int = 301
    redirect_keeps: str = "all"
    https_only: bool = True
    home_twin: bool = False
    round_trip: int = 0
    publish: bool = False
    """Once its own name servers run the domain, the site is served only after it was published again."""


@dataclass(frozen=True, slots=True)
class PageTable:
    """Another web server of the story: a parking page, an old site, a forwarder that answers a name only to redirect
    it, or a proxy in front of the builder.

    `https`: it has certificates for `names`. `keeps`: what of path and query a forwarder hands on. `fetches`: how a
    proxy asks the builder for what it was asked over https. `hsts`: an old site's Strict-Transport-Security.
    """

    addresses: tuple[str, ...]
    kind: str
    to: str
    status: int
    https: bool = False
    names: tuple[Name, ...] = ()
    keeps: str = "all"
    fetches: str = "https"
    hsts: str = ""


@dataclass(frozen=True, slots=True)
class RegistrationTable:
    """What the registry says of every domain of the world."""

    registrar: str = "Mossgate"
    statuses: tuple[str, ...] = ("active",)
    days_left: int = 300


@dataclass(frozen=True, slots=True)
class Expected:
    """What a plan in this world must be: changes as `move name TYPE: values`, findings as `code name`, step kinds.

    Of a scene in which all is entered: what a visit must say, findings as `code name`. `connected`: the builder has
    been told. `hours`: how long after.
    """

    changes: tuple[str, ...] = ()
    findings: tuple[str, ...] = ()
    steps: tuple[str, ...] = ()
    route: str = "records"
    verdict: str = ""
    visit: tuple[str, ...] = ()
    connected: bool = True
    hours: int = 24


@dataclass(frozen=True, slots=True)
class SceneTable:
    """A whole starting world; `files` are put into the folder to work in, `values` is what the brief asks for."""

    title: str
    task: str
    teaches: str
    story_begins: float
    zones: dict[Name, str]
    servers: tuple[ServerTable, ...]
    resolvers: tuple[ResolverTable, ...]
    host: HostTable
    builder: BuilderTable
    pages: tuple[PageTable, ...]
    visited: tuple[Name, ...]
    files: dict[str, str]
    values: dict[str, str]
    expect: Expected
    registration: RegistrationTable
    hosts: tuple[OtherHostTable, ...] = ()
    signed: tuple[Name, ...] = ()
    """Zones that the DNS host signs (DNSSEC), with a DS record at the registry."""


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
        "task": Field(text(), ""),
        "teaches": Field(text(), ""),
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
                ResolverTable,
                label=Field(text()),
                habit=Field(one_of(*_HABITS), "plain"),
                limit=Field(_SECONDS, 0),
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
                by_builder=Field(yes_no, False),
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


def load_scene(name: str) -> SceneTable:
    """A scene by its name; one with a `base` says only what differs from that. Raises BadInput."""
    if name not in names():
        raise BadInput(Problem("there is no such scene", key="--scene", seen=name, hint=f"known: {', '.join(names())}"))
    return read_scene(_whole(name), f"{name}.scene.toml")


def _whole(name: str) -> str:
    file = resources.files("homepath.practice") / "scenes" / f"{name}.scene.toml"
    words = file.read_text(encoding="utf-8")
    said = tomlkit.parse(words)
    base = said.pop("base", None)
    if base is None:
        return words
    whole = tomlkit.parse(_whole(str(base)))
    for key, value in said.items():
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
