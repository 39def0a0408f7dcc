"""Scene files, `homepath.scene/1`: a starting world as data."""

from __future__ import annotations

from importlib import resources
from ipaddress import ip_address
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from homepath.core.formats.strict import Table, read_table
from homepath.core.model.names import absolute
from homepath.core.model.problems import BadInput, Problem

FORMAT = "homepath.scene/1"


def _address(text: str) -> str:
    return str(ip_address(text))


NameText = Annotated[str, AfterValidator(absolute)]
Address = Annotated[str, AfterValidator(_address)]
Seconds = Annotated[int, Field(ge=0)]


class ServerTable(Table):
    """A name server: the zones it answers for, by the addresses of the story."""

    name: NameText
    addresses: Annotated[tuple[Address, ...], Field(strict=False)]
    zones: Annotated[tuple[NameText, ...], Field(strict=False)]


class ResolverTable(Table):
    """A caching resolver; `limit` in seconds is what its habit needs (a floor for `clamping`, a delay in ms)."""

    label: str
    habit: Literal["plain", "clamping", "slow", "stale-serving", "silent"] = "plain"
    limit: Seconds = 0


class HostTable(Table):
    """The DNS host: which zones its customers edit, and how its form treats what is typed."""

    name: str
    zones: Annotated[tuple[NameText, ...], Field(strict=False)]
    server: NameText
    dot_needed: bool = True
    ttl: Seconds = 3600


class BuilderTable(Table):
    """The builder: its edge, what it checks, and how long it takes (story seconds)."""

    name: str
    addresses: Annotated[tuple[Address, ...], Field(strict=False)]
    domain: NameText
    issuer: str
    proof: str
    checks_every: Seconds = 300
    certificate_after: Seconds = 600


class PageTable(Table):
    """Another web server of the story: a parking page, or a forwarder that answers a name only to redirect it."""

    addresses: Annotated[tuple[Address, ...], Field(strict=False)]
    kind: Literal["parking", "forwarder"] = "parking"
    to: str = ""
    status: Literal[301, 302, 307, 308] = 301


class SceneTable(Table):
    format: str
    title: str
    story_begins: float
    zones: dict[NameText, str]
    servers: Annotated[tuple[ServerTable, ...], Field(strict=False)]
    resolvers: Annotated[tuple[ResolverTable, ...], Field(strict=False)]
    host: HostTable
    builder: BuilderTable
    pages: Annotated[tuple[PageTable, ...], Field(strict=False)] = ()
    visited: Annotated[tuple[NameText, ...], Field(strict=False)] = ()
    files: dict[str, str] = Field(default_factory=dict)


def read_scene(text: str, file: str) -> SceneTable:
    """Read a scene. Raises BadInput."""
    return read_table(text, file, SceneTable, FORMAT)


def names() -> list[str]:
    """The scenes that ship with the tool."""
    folder = resources.files("homepath.practice") / "scenes"
    return sorted(
        each.name.removesuffix(".scene.toml") for each in folder.iterdir() if each.name.endswith(".scene.toml")
    )


def load_scene(name: str) -> SceneTable:
    """A scene by its name. Raises BadInput."""
    if name not in names():
        raise BadInput(Problem("there is no such scene", key="--scene", seen=name, hint=f"known: {', '.join(names())}"))
    file = resources.files("homepath.practice") / "scenes" / f"{name}.scene.toml"
    return read_scene(file.read_text(encoding="utf-8"), file.name)
