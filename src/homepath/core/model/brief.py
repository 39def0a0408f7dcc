"""What a builder asks for."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal


@dataclass(frozen=True, slots=True)
class BriefRecord:
    """One record set of a brief; `values` may hold `{account}`-like places to fill. TTL in seconds."""

    type: str
    values: tuple[str, ...]
    host: str = "@"
    ttl: int | None = None
    line: int = 0


@dataclass(frozen=True, slots=True)
class ValueAsked:
    """A value that belongs to one site, with the words to ask for it."""

    name: str
    ask: str
    example: str = ""


Redirector = Literal["builder", "record", "nobody"]


@dataclass(frozen=True, slots=True)
class HttpsFacts:
    """How the builder gets certificates; waits in seconds."""

    issuers: tuple[str, ...] = ()
    usual_wait: int = 1800
    longest_wait: int = 172800


@dataclass(frozen=True, slots=True)
class Brief:
    """A whole brief. `apex`, `www` and `label` are the record sets for such a name."""

    builder: str
    free_address: str | None = None
    asked: tuple[ValueAsked, ...] = ()
    ownership: tuple[BriefRecord, ...] = ()
    apex: tuple[BriefRecord, ...] = ()
    www: tuple[BriefRecord, ...] = ()
    label: tuple[BriefRecord, ...] = ()
    nameservers: tuple[str, ...] = ()
    redirects_by: Redirector = "builder"
    refuses_redirect_from: tuple[str, ...] = ()
    https: HttpsFacts = HttpsFacts()
    file: str = ""


@dataclass(frozen=True, slots=True)
class Notation:
    """How one DNS host's form wants entries, and what its parking looks like."""

    host: str = "your DNS host"
    apex: Literal["@", "blank", "full"] = "@"
    names: Literal["relative", "full"] = "relative"
    final_dot: Literal["required", "forbidden", "tolerated"] = "tolerated"
    ttl_choices: tuple[int, ...] = ()
    parking_addresses: tuple[str, ...] = ()
    parking_targets: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Site:
    """One owner's wish: the domain, its primary address, and whose brief applies."""

    domain: str
    primary: str
    brief: str
    also: tuple[str, ...] = ()
    notation: str | None = None
    route: Literal["records", "nameservers", "advise"] = "advise"
    values: Mapping[str, str] = field(default_factory=dict)
    keep: tuple[str, ...] = ()
