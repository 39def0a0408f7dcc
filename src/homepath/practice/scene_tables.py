"""The tables of a scene file as values: servers, hosts, builder, caches, pages, and what is expected."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.dns.names import Name


@dataclass(frozen=True, slots=True)
class ServerTable:
    """A nameserver: the zones it answers for, by the addresses of the story."""

    name: Name
    addresses: tuple[str, ...]
    zones: tuple[Name, ...]
    names: tuple[Name, ...] = ()
    """Further names that it goes by, one for each address."""
    habit: str = "plain"
    """`silent`, `recursive` (it asks others and holds nothing), or plain."""


@dataclass(frozen=True, slots=True)
class OtherHostTable:
    """Another DNS host that can run the domain, or, under the builder's name, the builder's own nameservers.

    `servers`: those that it assigns. A builder's zone begins when the domain is connected, and holds the website.
    `scans`: it copies what it can guess of the existing zone. `form`: people can type records. `loads_after`: story
    seconds until its servers hold a new zone. `alias`, `dot_needed`, `ttl`: its form. `forwarder`: the address of its
    forwarding service, empty where it has none. `website_late`: a builder that adds the website only once the
    nameservers have changed.
    """

    name: str
    servers: tuple[Name, ...]
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
    """The builder: its servers, what it checks, and how long it takes (story seconds).

    `proof`: the text of a TXT record, or `CNAME host target`, or empty. `checks_addresses`: its check also asks whether
    the names point to its servers; a builder that takes proxies in front does not. `serves`: both names, or the
    primary. `answers`: it serves a name only once its check has passed, or as soon as the name was added. `connected`:
    names that it has served for a year already, the primary first. `stuck`: domains whose first connection fails for
    good, until they are added again. `issuing_days`: certificates come on these days of the week only.
    `certificate_for`: a careless builder orders for the primary alone. `redirects`: whether the second name redirects
    to the primary, with which status, and whether path and query come along. `https_only`: http redirects to https once
    there is a certificate. `home_twin`: the home page also answers at /home. `round_trip`: real milliseconds before its
    servers answer.
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
    """Once its own nameservers run the domain, the site is served only after it was published again."""
    connected: tuple[Name, ...] = ()
    stuck: tuple[Name, ...] = ()


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
    """A whole starting world; `files` are written to the folder to work in, `values` is what the brief asks for.

    `files` with a name like `NAME.homepath.toml` are other plans for the same domain. `ends`: how the walk ends, with
    the domain connected, back at the old site, or out of the builder.
    """

    title: str
    group: str
    teaches: str
    ends: str
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
