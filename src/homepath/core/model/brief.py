"""What a builder asks for."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from homepath.core.dns.names import Name
from homepath.core.message import Text

RedirectPlace = Literal["builder", "forwarding", "proxy", "own-server", "nobody"]


@dataclass(frozen=True, slots=True)
class Redirects:
    """`names` point to the primary address from `place`. `secure`: https works there too. `others`: what else would do,
    each with a word on it."""

    place: RedirectPlace
    names: tuple[Name, ...]
    secure: bool
    reason: Text
    others: tuple[Text, ...] = ()


@dataclass(frozen=True, slots=True)
class BriefRecord:
    """One record set of a brief; `values` may hold `{site}`-like places to fill. TTL in seconds.

    An `optional` set is right when it is there and right when it is not. `purpose` is what further records are for.
    """

    type: str
    values: tuple[str, ...]
    host: str = "@"
    ttl: int | None = None
    line: int = 0
    optional: bool = False
    purpose: str = "website"


When = Literal[
    "first", "before-nameservers", "after-nameservers", "after-records", "after-verification", "after-certificate"
]


@dataclass(frozen=True, slots=True)
class BriefStep:
    """Something the builder wants done beside the records: where in the order, and what.

    `publishes`: it is publishing the site again.
    """

    when: When
    title: str
    instruction: str = ""
    expect: str = ""
    publishes: bool = False


def numbered(steps: Sequence[BriefStep]) -> Iterator[tuple[str, BriefStep]]:
    """Each step with a word of its own that stays the same from plan to plan: made of its title."""
    seen: dict[str, int] = {}
    for step in steps:
        word = re.sub(r"[^a-z0-9]+", "-", step.title.lower()).strip("-")[:60] or "step"
        seen[word] = seen.get(word, 0) + 1
        yield (word if seen[word] == 1 else f"{word}-{seen[word]}"), step


@dataclass(frozen=True, slots=True)
class ValueAsked:
    """A value that belongs to one site, with the words to ask for it."""

    name: str
    ask: str
    example: str = ""


Route = Literal["records", "nameservers", "advise", "undo", "leave"]
Existing = Literal["scan", "import", "form", "support", "none"]
"""What anyone who takes a domain over does with the records that exist: copies what it can guess, reads a master file,
has a form for them, has only a support that enters them, or has no place for any."""
LOADS_WITHIN = 3600
"""Seconds; how long new nameservers take to hold a domain, where no one says."""


@dataclass(frozen=True, slots=True)
class NewZone:
    """What anyone who takes a domain over makes of it. `loads_within`: seconds until its servers hold it, at most."""

    existing: tuple[Existing, ...] = ()
    loads_within: int = LOADS_WITHIN


PLAIN_ZONE = NewZone()


@dataclass(frozen=True, slots=True)
class MoveTo:
    """Another DNS host is to run the domain. `to`: the file of its notation; `servers`: those that it assigned."""

    to: str
    servers: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class WayBack:
    """What `homepath undo` takes back: the way that was gone. `to`: the moment whose state is restored (Unix seconds),
    None for the one before the last change."""

    of: Literal["records", "nameservers"]
    to: float | None = None


Redirector = Literal["builder", "record", "nobody", "unknown"]
"""Who redirects the second name to the primary address; `unknown` where the brief does not say."""


@dataclass(frozen=True, slots=True)
class HttpsFacts:
    """How the builder gets certificates; waits in seconds. `waits_said`: the brief says how long it takes."""

    issuers: tuple[str, ...] = ()
    usual_wait: int = 1800
    longest_wait: int = 172800
    wildcard: bool = False
    issuing_days: tuple[str, ...] = ()
    waits_said: bool = False


@dataclass(frozen=True, slots=True)
class ReservedName:
    """Labels that the builder keeps for itself, by a pattern in which `*` means anything, and why."""

    pattern: str
    reason: str = ""


@dataclass(frozen=True, slots=True)
class Brief:
    """A whole brief. `apex`, `www` and `label` are the record sets for such a name.

    `apex_alias`: the target for DNS hosts that have an alias at the apex. `www_by_address`, `label_by_address`:
    instead of an alias, where one cannot stand. `further`: records beside the website's. `limits`: sentences about
    what the builder allows.
    """

    builder: str
    free_address: str | None = None
    asked: tuple[ValueAsked, ...] = ()
    ownership: tuple[BriefRecord, ...] = ()
    apex: tuple[BriefRecord, ...] = ()
    www: tuple[BriefRecord, ...] = ()
    label: tuple[BriefRecord, ...] = ()
    apex_alias: str | None = None
    www_by_address: tuple[BriefRecord, ...] = ()
    label_by_address: tuple[BriefRecord, ...] = ()
    further: tuple[BriefRecord, ...] = ()
    nameservers: tuple[str, ...] = ()
    new_zone: NewZone = PLAIN_ZONE
    redirects_by: Redirector = "unknown"
    redirect_records: tuple[BriefRecord, ...] = ()
    reserved_names: tuple[ReservedName, ...] = ()
    https: HttpsFacts = HttpsFacts()
    limits: tuple[str, ...] = ()
    steps: tuple[BriefStep, ...] = ()
    deletes: tuple[BriefRecord, ...] = ()
    """What the builder's page says is to be deleted."""
    file: str = ""
    old_keys: tuple[tuple[str, str], ...] = ()
    """Keys of the file that have another name today, with that name."""


@dataclass(frozen=True, slots=True)
class Notation:
    """How one DNS host's form wants records, what it lacks, and what its parking and forwarding look like.

    `servers`: patterns of its nameservers' names. `apex_alias`: the form's word for an alias at the apex, None where
    it has none. `text_limit`: the longest text the form takes. `most_values`: how many records of one type it takes
    at one name. `proxy`: it has a web proxy with certificates and redirect rules. `known`: someone wrote it down; what
    an unwritten one does not say is not known.
    """

    host: str = "your DNS host"
    servers: tuple[str, ...] = ()
    apex: Literal["@", "blank", "full"] = "@"
    names: Literal["relative", "full"] = "relative"
    final_dot: Literal["required", "forbidden", "tolerated"] = "tolerated"
    quotes: Literal["required", "forbidden", "tolerated"] = "tolerated"
    ttl_choices: tuple[int, ...] = ()
    lacks: tuple[str, ...] = ()
    apex_alias: str | None = None
    text_limit: int | None = None
    most_values: int | None = None
    delete: str = ""
    parking_addresses: tuple[str, ...] = ()
    parking_targets: tuple[str, ...] = ()
    parking_host: str = ""
    """Whose parking page that is, where it is not this host's own."""
    forwarding: bool = False
    forwarding_https: bool = False
    forwarding_addresses: tuple[str, ...] = ()
    proxy: bool = False
    known: bool = True
    complete: bool = True
    """Whether what it does not name is absent; else it is only not known, as after reading a few rows of the form."""
    new_zone: NewZone = PLAIN_ZONE
    learned: tuple[str, ...] = ()
    """What a typing mistake showed of a form that was not written down."""


NO_NOTATION = Notation(known=False)


@dataclass(frozen=True, slots=True)
class Site:
    """What one owner wants: the domain, its primary address, and the builder's brief.

    `ownership`: the type of verification record chosen among the brief's; `purposes`: the owner's word on what a
    record is for, by "name TYPE". `leads_to`: the primary address of the site, where this is a further domain.
    `redirect`: where the second name is redirected, if the owner says so; `own_server`: addresses of a web server of
    the owner's own that may do it. `accepted`: changes of records that were to stay and that were meant, by
    "name TYPE": the values that stand there now. `apex`: what the DNS host has for a domain without www that gets no
    addresses, where the owner says so. `values_of`: values of the brief that differ for a further domain, by its name:
    builders may give each domain a code of its own. `move`: another DNS host takes the domain over. `undo`: what the
    way `undo` takes back. `leave_behind`: records, by "name TYPE", that need not come along to new nameservers.
    `sign`: the domain is to be signed (DNSSEC) again after a hand-over. `form`: what a typing mistake showed of the DNS
    host's form, where no notation file describes it.
    """

    domain: str
    primary: str
    brief: str
    also: tuple[str, ...] = ()
    notation: str | None = None
    route: Route = "advise"
    values: Mapping[str, str] = field(default_factory=dict)
    keep: tuple[str, ...] = ()
    ownership: str | None = None
    purposes: Mapping[str, str] = field(default_factory=dict)
    leads_to: str = ""
    redirect: Literal["builder", "forwarding", "proxy", "own-server"] | None = None
    own_server: tuple[str, ...] = ()
    accepted: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    apex: Literal["alias", "forwarding", "none"] | None = None
    values_of: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    move: MoveTo | None = None
    undo: WayBack | None = None
    leave_behind: tuple[str, ...] = ()
    sign: bool = False
    trusted: tuple[str, ...] = ()
    """Addresses of the brief that hold although nothing serves them, by "name TYPE": the page still says so."""
    form: Mapping[str, str] = field(default_factory=dict)


def unwritten_notation(site: Site) -> Notation:
    """The DNS host's notation where no file describes it: only what its form has shown so far."""
    shown: dict[str, Any] = dict(site.form)
    return replace(NO_NOTATION, **shown, learned=tuple(shown))
