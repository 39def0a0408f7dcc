"""Checks of practice walks as they were recorded: the folder before each `next`, and everything that came back over the
network while it ran. A check is played again without a socket, as often as anyone likes, and always the same way.
"""

from __future__ import annotations

import asyncio
import base64
import dataclasses
import hashlib
import importlib
import json
import lzma
import pkgutil
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path
from typing import Any

import pytest

import homepath.core
from homepath.app.next import NextResult, find_next
from homepath.app.project import Project, open_project
from homepath.core.dns.answers import Answer, Question, Server
from homepath.core.dns.walk import Cut
from homepath.core.web.hops import Fetch, Fetched
from homepath.journal.journal import FILE
from homepath.net import fetch, registry, signatures
from homepath.net.network_file import Network
from homepath.net.session import RememberingAsker, Session
from homepath.net.vantages import Resolver

Json = dict[str, Any]
HERE = Path(__file__).parent
CASES = HERE / "walks.json.xz"
EXPECTED = HERE / "expected.txt"
LABEL = "hp-0123456789ab"
"""In place of the random label: questions are found again by their names."""


@dataclass(frozen=True)
class Recorded:
    """`name`: the walk and the number of the step. `files`: the folder's texts, `journal`: its octets. `heard`: what
    came back, by a word for what was asked."""

    name: str
    site: str
    at: float
    files: Mapping[str, str]
    journal: str
    resolvers: tuple[Any, ...]
    roots: tuple[Any, ...]
    heard: Mapping[str, Any]


@cache
def _classes() -> dict[str, type]:
    """Every dataclass of the core by its name."""
    found: dict[str, type] = {"Resolver": Resolver}
    for module in pkgutil.walk_packages(homepath.core.__path__, "homepath.core."):
        for kind in vars(importlib.import_module(module.name)).values():
            if isinstance(kind, type) and dataclasses.is_dataclass(kind):
                found.setdefault(kind.__name__, kind)
    return found


def packed(value: Any) -> Any:
    """A value of the core as JSON: a dataclass names its class, a mapping is a list of pairs."""
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        fields = [f for f in dataclasses.fields(value) if f.init]
        given = {f.name: getattr(value, f.name) for f in fields}
        usual = {f.name: f.default for f in fields}
        return {"": type(value).__name__, **{k: packed(v) for k, v in given.items() if v != usual[k]}}
    if isinstance(value, Mapping):
        return {"": "of", "pairs": [[packed(k), packed(v)] for k, v in value.items()]}
    return [packed(each) for each in value] if isinstance(value, tuple | list) else value


def unpacked(value: Any) -> Any:
    if isinstance(value, list):
        return tuple(unpacked(each) for each in value)
    if not isinstance(value, dict):
        return value
    if value[""] == "of":
        return {unpacked(k): unpacked(v) for k, v in value["pairs"]}
    return _classes()[value[""]](**{k: unpacked(v) for k, v in value.items() if k})


def asked(question: Question, server: Server, *flags: bool) -> str:
    return " ".join((question.name, question.type, server.address, str(server.port), *(str(int(f)) for f in flags)))


def fetched(want: Fetch, builders: str | None) -> str:
    return json.dumps(["page", packed(want), builders])


@contextmanager
def recording(folder: Path, site: str, name: str, network: Network, into: list[Recorded]) -> Iterator[Session]:
    """Everything that comes back while the body runs, with the session that it must use."""
    files = {each.name: each.read_text() for each in sorted(folder.glob("*.toml")) if each.name != "network.toml"}
    journal = (folder / FILE).read_bytes() if (folder / FILE).exists() else b""
    at = network.clock.now()
    heard: dict[str, Any] = {}

    async def check_signatures(asker: Any, cut: Cut) -> Any:
        heard[f"signatures {cut.zone}"] = found = await signatures.check_signatures(asker, cut)
        return found

    async def ask_registry(domain: str, *more: Any) -> Any:
        heard[f"registry {domain}"] = found = await registry.ask_registry(domain, *more)
        return found

    async def fetch_page(want: Fetch, where: Network, anchors: Any, builders: str | None, site: Any) -> Fetched:
        heard[fetched(want, builders)] = found = await fetch.fetch(want, where, anchors, builders, site)
        return found

    asker = RememberingAsker(network)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("homepath.app.driving.check_signatures", check_signatures)
        patch.setattr("homepath.app.driving.ask_registry", ask_registry)
        patch.setattr("homepath.app.driving.fetch", fetch_page)
        patch.setattr("homepath.app.survey.random_label", lambda: f"{LABEL}-2")
        yield Session(asker, label=LABEL)
    for (qname, qtype, *_, recurse, dnssec, unchecked), answer in asker._known.items():
        assert (qname, qtype) == answer.question.key
        heard[asked(answer.question, answer.server, recurse, dnssec, unchecked)] = answer
    packs = {key: packed(value) for key, value in sorted(heard.items())}
    octets = base64.b85encode(journal).decode()
    into.append(Recorded(name, site, at, files, octets, packed(network.resolvers), packed(network.roots), packs))


class Replaying(RememberingAsker):
    """Answers from the record; what was never asked fails the test that asks it."""

    def __init__(self, network: Network, heard: Mapping[str, Any]) -> None:
        super().__init__(network)
        self.heard = heard
        self.used: set[str] = set()

    def _begin(self, question: Question, server: Server, *more: Any) -> None:
        *flags, done = more
        asyncio.get_running_loop().call_soon(done, replace(self.take(asked(question, server, *flags)), server=server))

    def take(self, key: str) -> Any:
        assert key in self.heard, f"not in the record: {key}"
        self.used.add(key)
        return unpacked(self.heard[key])


@dataclass(frozen=True)
class _Still:
    """A clock that stands."""

    at: float
    slack: float = 3.0

    def now(self) -> float:
        return self.at


def replayed(case: Recorded, folder: Path) -> tuple[Project, NextResult, set[str]]:
    """What `next` finds, the project after it, and what it asked. The site's folder has no neighbours that count."""
    folder = folder / "around" / "own"
    folder.mkdir(parents=True)
    for name, text in case.files.items():
        (folder / name).write_text(text)
    if case.journal:
        (folder / FILE).write_bytes(base64.b85decode(case.journal))
    clock: Any = _Still(case.at)
    network = Network(unpacked(list(case.roots)), unpacked(list(case.resolvers)), clock=clock)
    asker = Replaying(network, case.heard)

    async def check_signatures(_: Any, cut: Cut) -> Any:
        return asker.take(f"signatures {cut.zone}")

    async def ask_registry(domain: str, *_: Any) -> Any:
        return asker.take(f"registry {domain}")

    async def fetch_page(want: Fetch, _: Network, __: Any, builders: str | None, site: Any) -> Fetched:
        found: Fetched = asker.take(fetched(want, builders))
        return found

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("homepath.app.driving.check_signatures", check_signatures)
        patch.setattr("homepath.app.driving.ask_registry", ask_registry)
        patch.setattr("homepath.app.driving.fetch", fetch_page)
        patch.setattr("homepath.app.driving.load_anchors", lambda _: [])
        patch.setattr("homepath.app.survey.random_label", lambda: f"{LABEL}-2")
        patch.setattr("homepath.app.next.session", lambda _: Session(asker, label=LABEL))
        seen = asyncio.run(find_next(open_project(folder / case.site, now=case.at), network))
    return open_project(folder / case.site, now=case.at), seen, asker.used


def load() -> list[Recorded]:
    return [Recorded(**each) for each in json.loads(lzma.decompress(CASES.read_bytes()))]


def save(cases: list[Recorded]) -> None:
    text = json.dumps([dataclasses.asdict(each) for each in cases], separators=(",", ":"))
    CASES.write_bytes(lzma.compress(text.encode(), preset=9 | lzma.PRESET_EXTREME))


def digest(value: object) -> str:
    return hashlib.sha256(json.dumps(value, sort_keys=True, default=str).encode()).hexdigest()[:8]


__all__ = ["Answer", "Recorded", "digest", "load", "recording", "replayed", "save"]
