"""The records that a site needs, each with the line of the brief that asks for it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal, cast

from homepath.core.model.brief import (
    NO_NOTATION,
    PLAIN_ZONE,
    Brief,
    BriefRecord,
    BriefStep,
    HttpsFacts,
    NewZone,
    Notation,
    Site,
)
from homepath.core.model.meant import Meant
from homepath.core.model.names import BadName, Name, absolute, child, is_within, shown
from homepath.core.model.plan import Purpose
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.records import WEB_TYPES, Key, RecordSet
from homepath.core.model.redirects import Redirects
from homepath.core.model.values import BadValue, canonical, text_value
from homepath.core.wanted.choices import Choice, Present, choose, with_owners_word
from homepath.core.wanted.redirects import choose_redirects
from homepath.core.wanted.traces import Traces, all_records, domains_of, own_names

USUAL_TTL = 3600
"""Seconds; used where a brief names no TTL."""
ALIAS = "ALIAS"
"""Stands for the DNS host's own kind of alias at the apex; on the wire it is seen as the target's addresses."""


@dataclass(frozen=True, slots=True)
class Want:
    """A record set that must be there. Of a joined type, the values must be among others, else they are all.

    An `optional` one may be missing, but if it is there it must be this one.
    """

    record: RecordSet
    purpose: Purpose
    reason: str
    optional: bool = False

    @property
    def meant(self) -> Meant:
        return Meant(*self.record.key, self.record.values, (), self.optional)

    @property
    def joined(self) -> bool:
        return self.meant.joined

    def met_by(self, present: RecordSet | None) -> bool:
        return self.meant.met_by(present)


@dataclass(frozen=True, slots=True, kw_only=True)
class HandOver:
    """Other name servers take the domain over. `host`: who runs them. `by_builder`: they are the builder's own, and
    lead the website's names by themselves. `unsaid`: values of the brief that are not known yet: assigned servers."""

    servers: tuple[Name, ...]
    host: str
    by_builder: bool
    new_zone: NewZone = PLAIN_ZONE
    unsaid: tuple[str, ...] = ()


NO_TRACES = Traces()
Going = Literal["there", "back", "away"]
"""Whether a site is brought to its builder, the last change is taken back, or the builder is left for good."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """Everything one site wants. `names` are the addresses visitors may type, the primary first.

    `forwarded`: names that the DNS host forwards by itself. `purposes`: the owner's word on what records are for.
    """

    domain: Name
    primary: Name
    names: tuple[Name, ...]
    wants: tuple[Want, ...]
    builder: str
    https: HttpsFacts
    protected: frozenset[Key]
    free_address: Name | None = None
    choice: Choice = field(default_factory=lambda: Choice("records"))
    forwarded: tuple[Name, ...] = ()
    purposes: Mapping[Key, Purpose] = field(default_factory=dict)
    nameservers: tuple[Name, ...] = ()
    refuses: tuple[str, ...] = ()
    other_proofs: tuple[str, ...] = ()
    """Types of proof of ownership that the builder takes instead of the one chosen."""
    limits: tuple[str, ...] = ()
    steps: tuple[BriefStep, ...] = ()
    redirects: Redirects | None = None
    accepted: Mapping[Key, tuple[str, ...]] = field(default_factory=dict)
    """What the owner said is meant, of sets that were to stay: the values that stand there now."""
    destination: Name = ""
    """Where visitors end; the primary address of the site, also for a further domain that only leads there."""
    hand_over: HandOver | None = None
    going: Going = "there"
    back_to: float | None = None
    """The moment whose state is put back, Unix seconds; None for the one before the last change."""
    traces: Traces = NO_TRACES
    left_behind: frozenset[Key] = frozenset()
    """What need not come along to new name servers, by the owner's word."""
    sign: bool = False

    @property
    def edge(self) -> Name:
        """A name of the builder's own that leads to its edge."""
        alias = next((want.record.values[0] for want in self.wants if want.record.type in ("CNAME", ALIAS)), ".")
        return self.free_address or alias

    def at(self, name: Name) -> list[Want]:
        return [want for want in self.wants if want.record.name == name]

    def get(self, name: Name, rrtype: str) -> Want | None:
        return next((want for want in self.wants if want.record.key == (name, rrtype)), None)

    @property
    def web_names(self) -> tuple[Name, ...]:
        """The names at which a web record is wanted, so that other web records there must go."""
        return tuple(
            name for name in self.names if any(want.record.type in (*WEB_TYPES, ALIAS) for want in self.at(name))
        )

    @property
    def primary_url(self) -> str:
        return f"https://{shown(self.destination or self.primary)}/"


def work_out(site: Site, brief: Brief, notation: Notation = NO_NOTATION, present: Present | None = None) -> Wanted:
    """Fill the brief with the site's values. Raises BadInput with every value that is missing or wrong.

    `notation`: of the DNS host at which the website's records are typed.
    """
    going: Going = "back" if site.route == "undo" else "away" if site.route == "leave" else "there"
    way = site.undo.of if site.undo and going == "back" else "advise"
    taken = site if going == "there" else replace(site, route=way)
    wanted = _work_out(taken, brief, notation, present, going == "away")
    wanted = replace(wanted, going=going, sign=site.sign)
    if going == "back" and site.undo is not None:
        wanted = replace(wanted, back_to=site.undo.to)
    if going == "away":
        moved = wanted.hand_over if wanted.choice.by_move else None  # a builder that is left takes nothing over
        wanted = replace(wanted, wants=(), forwarded=(), redirects=None, hand_over=moved)
    return replace(wanted, destination=absolute(site.leads_to)) if site.leads_to else wanted


def _work_out(site: Site, brief: Brief, notation: Notation, present: Present | None, leaving: bool = False) -> Wanted:
    domain = absolute(site.domain)
    primary = domain if site.primary == "apex" else child(site.primary, domain)
    choice = choose(site, brief, notation, present)
    problems = _unfilled(site, brief)
    if problems:
        raise BadInput(*problems)
    parts = _parts(site, brief, choice, domain, primary)
    if choice.by_records and not leaving:
        otherwise = choice.apex != "records" or any(record.host == "@" for record in brief.redirect_records)
        missing = [name for name, records in parts if not records and not (name == domain and otherwise)]
        if missing:
            raise BadInput(_no_records(brief, missing[0], domain))
    else:
        parts = [(name, ()) for name, _ in parts]
    filler = _Filler({**site.values, "domain": shown(domain)}, brief)
    wants = [filler.want(record, name, "website") for name, records in parts for record in records]
    if choice.by_records:
        wants += [filler.want(record, domain, cast(Purpose, record.purpose)) for record in brief.further]
        wants += [filler.want(record, domain, "website") for record in brief.redirect_records]
    if choice.by_records and choice.apex == "own-server":
        wants += [_own_server(site, domain, rrtype) for rrtype in ("A", "AAAA") if _of_type(site, rrtype)]
    if choice.ownership and choice.by_records:  # the builder's own name servers prove it by themselves
        wants.append(filler.want(choice.ownership, domain, "proof of ownership"))
    names = tuple(sorted((name for name, _ in parts), key=lambda name: name != primary))
    has_records = not choice.by_records or choice.apex in ("records", "alias")
    hand_over = _hand_over(site, brief, notation, choice, filler)
    return Wanted(
        domain,
        primary,
        names,
        _united(wants),
        brief.builder,
        brief.https,
        frozenset(_keys(site.keep, domain, "keep.records")),
        absolute(filler.fill(brief.free_address)) if brief.free_address else None,
        choice,
        (domain,) if choice.apex in ("forwarding", "proxy") and choice.by_records else (),
        {
            key: cast(Purpose, word)
            for key, word in zip(_keys(site.purposes, domain, "purposes"), site.purposes.values(), strict=True)
        },
        hand_over.servers if hand_over else _servers(filler, brief)[0],
        brief.refuses_redirect_from,
        tuple(proof.type for proof in brief.ownership if proof != choice.ownership),
        brief.limits,
        brief.steps,
        redirects=choose_redirects(site, brief, with_owners_word(notation, site), names[1:], has_records),
        accepted=dict(zip(_keys(site.accepted, domain, "accepted"), site.accepted.values(), strict=True)),
        hand_over=hand_over,
        left_behind=frozenset(_keys(site.leave_behind, domain, "leave_behind")),
        traces=_traces(brief, filler, parts, domain),
    )


def _traces(brief: Brief, filler: _Filler, parts: Sequence[tuple[Name, Sequence[BriefRecord]]], domain: Name) -> Traces:
    """By what the builder is known, whichever of its ways was gone."""
    bases = dict.fromkeys([domain, child("www", domain), *(name for name, _ in parts)])
    sets: list[RecordSet] = []
    for record in all_records(brief):
        here = bases if record not in (*brief.further, *brief.redirect_records, *brief.ownership) else [domain]
        sets += [filler.want(record, base, "website").record for base in here if record.type != ALIAS]
    aliases = [value for each in sets if each.type == "CNAME" for value in each.values]
    texts = [filler.fill(text) for text in (brief.free_address or "", brief.apex_alias or "", *brief.nameservers)]
    addresses = frozenset(value for each in sets if each.type in ("A", "AAAA") for value in each.values)
    names = [name for name in (*aliases, *own_names(filter(None, texts))) if not is_within(name, domain)]
    return Traces(domains_of(names), addresses, tuple(sets))


def _hand_over(site: Site, brief: Brief, notation: Notation, choice: Choice, filler: _Filler) -> HandOver | None:
    if choice.route == "records":
        return None
    if choice.by_move and site.move is not None:
        servers = tuple(absolute(server) for server in site.move.servers)
        return HandOver(servers=servers, host=notation.host, by_builder=False, new_zone=notation.new_zone)
    servers, unsaid = _servers(filler, brief)
    return HandOver(servers=servers, host=brief.builder, by_builder=True, new_zone=brief.new_zone, unsaid=unsaid)


def _servers(filler: _Filler, brief: Brief) -> tuple[tuple[Name, ...], tuple[str, ...]]:
    """The builder's name servers, and the values that are missing to know them all. Raises BadInput."""
    unsaid = tuple(name for name in late_values(brief) if not filler.values.get(name, "").strip())
    if unsaid:
        return (), unsaid
    try:
        return tuple(absolute(filler.fill(server)) for server in brief.nameservers), ()
    except BadName as error:
        raise BadInput(
            Problem(f"with its values filled in, a name server of the brief cannot be written: {error}", brief.file)
        ) from error


def late_values(brief: Brief) -> tuple[str, ...]:
    """The values that only the brief's name servers need: the builder assigns those once it knows the domain."""
    elsewhere = (*brief.apex, *brief.www, *brief.label, *brief.ownership, *brief.further, *brief.redirect_records)
    elsewhere += (*brief.www_by_address, *brief.label_by_address)
    texts = " ".join(text for record in elsewhere for text in (*record.values, record.host))
    texts += f" {brief.free_address or ''} {brief.apex_alias or ''}"
    servers = " ".join(brief.nameservers)
    return tuple(v.name for v in brief.asked if f"{{{v.name}}}" in servers and f"{{{v.name}}}" not in texts)


def _of_type(site: Site, rrtype: str) -> tuple[str, ...]:
    return tuple(address for address in site.own_server if (":" in address) == (rrtype == "AAAA"))


def _own_server(site: Site, domain: Name, rrtype: str) -> Want:
    values = tuple(canonical(rrtype, address) for address in _of_type(site, rrtype))
    return Want(RecordSet(domain, rrtype, USUAL_TTL, values), "website", "your own server redirects this name")


def _united(wants: list[Want]) -> tuple[Want, ...]:
    """Wants of one record set become one: a proof and another text at the same name are values of one set."""
    found: dict[Key, Want] = {}
    for want in wants:
        before = found.get(want.record.key)
        if before is None:
            found[want.record.key] = want
        else:
            record = before.record
            both = RecordSet(*record.key, min(record.ttl, want.record.ttl), record.values + want.record.values)
            found[want.record.key] = Want(both, before.purpose, before.reason, before.optional and want.optional)
    return tuple(found.values())


def _parts(
    site: Site, brief: Brief, choice: Choice, domain: Name, primary: Name
) -> list[tuple[Name, tuple[BriefRecord, ...]]]:
    """Which names get which of the brief's records: apex and `www` together, or one label alone."""
    if site.primary not in ("apex", "www"):
        return [(primary, brief.label_by_address if choice.by_address else brief.label)]
    apex = brief.apex
    if choice.apex == "alias" and brief.apex_alias:
        apex = (BriefRecord(ALIAS, (brief.apex_alias,)),)
    return [(domain, apex), (child("www", domain), brief.www_by_address if choice.by_address else brief.www)]


def _no_records(brief: Brief, name: Name, domain: Name) -> Problem:
    part = "apex" if name == domain else "www" if name == child("www", domain) else "label"
    return Problem(
        f"{brief.builder}'s brief has no records for {shown(name)}, so it cannot be reached",
        brief.file,
        key=f"routes.records.{part}",
        hint=f"add {part} = [...] to [routes.records], or choose another primary address",
    )


def _unfilled(site: Site, brief: Brief) -> list[Problem]:
    late = late_values(brief)
    return [
        Problem(
            f"{brief.builder} needs a value that is not filled in: {asked.ask}",
            "homepath.toml",
            key=f"values.{asked.name}",
            hint=f'add under [values]: {asked.name} = "..."',
        )
        for asked in brief.asked
        if asked.name not in late and not site.values.get(asked.name, "").strip()
    ]


@dataclass(frozen=True, slots=True)
class _Filler:
    """Puts the site's values into the places of the brief."""

    values: Mapping[str, str]
    brief: Brief

    def fill(self, text: str) -> str:
        for name, value in self.values.items():
            text = text.replace("{" + name + "}", value.strip())
        return text

    def want(self, record: BriefRecord, base: Name, purpose: Purpose) -> Want:
        filled = [self.fill(value) for value in record.values]
        rrtype = "CNAME" if record.type == ALIAS else record.type
        try:
            name = child(self.fill(record.host), base)
            canonicals = tuple(text_value(value) if rrtype == "TXT" else canonical(rrtype, value) for value in filled)
        except (BadName, BadValue) as error:
            raise BadInput(
                Problem(
                    f"with its values filled in, a record of the brief cannot be written: {error}",
                    self.brief.file,
                    record.line or None,
                    seen=", ".join(filled),
                    hint="look at [values] in homepath.toml",
                )
            ) from error
        place = f"{self.brief.file}, line {record.line}" if record.line else self.brief.file
        ttl = USUAL_TTL if record.ttl is None else record.ttl
        reason = f"{self.brief.builder} asks for it ({place})"
        return Want(RecordSet(name, record.type, ttl, canonicals), purpose, reason, record.optional)


def _keys(texts: object, domain: Name, key: str) -> list[Key]:
    """Records named in the site file as `name TYPE`. Raises BadInput."""
    assert isinstance(texts, tuple | Mapping)
    found = []
    for text in texts:
        host, _, rrtype = text.strip().rpartition(" ")
        if not host or not rrtype.isalnum():
            hint = 'for example "_sip._tcp SRV"'
            raise BadInput(Problem("a record is named here as name and type", "homepath.toml", None, key, text, hint))
        found.append((child(host, domain), rrtype.upper()))
    return found
