"""The records that a site needs, each with the line of the brief that asks for it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal, cast

from homepath.core.dns.names import Name, absolute, child, shown
from homepath.core.dns.records import WEB_TYPES, Key, RecordSet
from homepath.core.dns.values import canonical
from homepath.core.message import msg
from homepath.core.model.brief import (
    NO_NOTATION,
    Brief,
    BriefRecord,
    BriefStep,
    HttpsFacts,
    Notation,
    Redirects,
    ReservedName,
    Site,
)
from homepath.core.model.plan import Purpose
from homepath.core.model.problems import BadInput, Problem
from homepath.core.site.choices import Choice, Present, choose, choose_redirects, with_owners_word
from homepath.core.site.filling import (
    ALIAS,
    USUAL_TTL,
    Filler,
    HandOver,
    Traces,
    Want,
    hand_over_of,
    late_values,
    servers_of,
    traces_of,
)

__all__ = ["ALIAS", "NO_TRACES", "USUAL_TTL", "Going", "HandOver", "Want", "Wanted", "late_values", "work_out"]

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
    reserved: tuple[ReservedName, ...] = ()
    other_proofs: tuple[str, ...] = ()
    """Types of ownership record that the builder takes instead of the one chosen."""
    limits: tuple[str, ...] = ()
    steps: tuple[BriefStep, ...] = ()
    redirects: Redirects | None = None
    accepted: Mapping[Key, tuple[str, ...]] = field(default_factory=dict)
    """What the owner said is meant, of sets that were to stay: the values that stand there now."""
    destination: Name = ""
    """Where visitors end; the primary address of the site, also for a further domain that only points there."""
    hand_over: HandOver | None = None
    going: Going = "there"
    back_to: float | None = None
    """The moment whose state is restored, Unix seconds; None for the one before the last change."""
    traces: Traces = NO_TRACES
    left_behind: frozenset[Key] = frozenset()
    """What need not come along to new nameservers, by the owner's word."""
    sign: bool = False
    deletes: tuple[RecordSet, ...] = ()
    """What the builder's page says is to be deleted."""
    trusted: frozenset[Key] = frozenset()
    """Addresses of the brief that hold by the owner's word, whatever answers there."""
    old_keys: tuple[tuple[str, str, str], ...] = ()
    """What the brief still calls by an old name: file, old key, and the name that it has today."""

    @property
    def edge(self) -> Name:
        """A name of the builder's own that points to its servers; the root where the brief has none.

        The target of the site's own records comes first: its servers are those that the site will have. A free address
        may be served by others.
        """
        website = (want.record for want in self.wants if want.purpose == "website")
        alias = next((record.values[0] for record in website if record.type in ("CNAME", ALIAS)), None)
        return alias or self.free_address or "."

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
    if going == "there" and site.move is not None and site.route == "records":
        hint = msg("wanted.moves.hint", to=site.move.to)
        raise BadInput(Problem(msg("wanted.moves"), "homepath.toml", key="route", seen=site.route, hint=hint))
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
    filler = Filler({**site.values, "domain": shown(domain)}, brief)
    wants = [filler.want(record, name, "website") for name, records in parts for record in records]
    if choice.by_records:
        further = () if site.leads_to else brief.further  # a domain that only redirects sends no mail
        wants += [filler.want(record, domain, cast(Purpose, record.purpose)) for record in further]
        wants += [filler.want(record, domain, "website") for record in brief.redirect_records]
    if choice.by_records and choice.apex == "own-server":
        wants += [_own_server(site, domain, rrtype) for rrtype in ("A", "AAAA") if _of_type(site, rrtype)]
    if choice.ownership and choice.by_records:  # the builder's own nameservers prove it by themselves
        wants.append(filler.want(choice.ownership, domain, "proof of ownership"))
    names = tuple(sorted((name for name, _ in parts), key=lambda name: name != primary))
    has_records = not choice.by_records or choice.apex in ("records", "alias")
    hand_over = hand_over_of(site, brief, notation, choice, filler)
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
        hand_over.servers if hand_over else servers_of(filler, brief)[0],
        brief.reserved_names,
        tuple(proof.type for proof in brief.ownership if proof != choice.ownership),
        brief.limits,
        brief.steps,
        redirects=choose_redirects(site, brief, with_owners_word(notation, site), names[1:], has_records),
        accepted=dict(zip(_keys(site.accepted, domain, "accepted"), site.accepted.values(), strict=True)),
        hand_over=hand_over,
        left_behind=frozenset(_keys(site.leave_behind, domain, "leave_behind")),
        traces=traces_of(brief, filler, parts, domain),
        deletes=tuple(filler.want(record, domain, "other").record for record in brief.deletes),
        trusted=frozenset(_keys(site.trusted, domain, "trusted")),
        old_keys=tuple((brief.file, *each) for each in brief.old_keys),
    )


def _of_type(site: Site, rrtype: str) -> tuple[str, ...]:
    return tuple(address for address in site.own_server if (":" in address) == (rrtype == "AAAA"))


def _own_server(site: Site, domain: Name, rrtype: str) -> Want:
    values = tuple(canonical(rrtype, address) for address in _of_type(site, rrtype))
    return Want(RecordSet(domain, rrtype, USUAL_TTL, values), "website", msg("wanted.own-server"))


def _united(wants: list[Want]) -> tuple[Want, ...]:
    """Wants of one record set become one: a verification record and another text at the same name are values of one
    set."""
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
    www = brief.www_by_address if choice.by_address else brief.www
    if site.primary == "apex" and not www and apex:
        return [(domain, apex)]  # the builder asks for nothing at www, so nothing is planned there
    return [(domain, apex), (child("www", domain), www)]


def _no_records(brief: Brief, name: Name, domain: Name) -> Problem:
    part = "apex" if name == domain else "www" if name == child("www", domain) else "label"
    return Problem(
        msg("wanted.no-records", builder=brief.builder, name=name),
        brief.file,
        key=f"routes.records.{part}",
        hint=msg("wanted.no-records.hint", part=part),
    )


def _unfilled(site: Site, brief: Brief) -> list[Problem]:
    late = late_values(brief)
    return [
        Problem(
            msg("wanted.unfilled", builder=brief.builder, ask=asked.ask),
            "homepath.toml",
            key=f"values.{asked.name}",
            hint=msg("wanted.unfilled.hint", name=asked.name),
        )
        for asked in brief.asked
        if asked.name not in late and not site.values.get(asked.name, "").strip()
    ]


def _keys(texts: object, domain: Name, key: str) -> list[Key]:
    """Records named in the site file as `name TYPE`. Raises BadInput."""
    assert isinstance(texts, tuple | Mapping)
    found = []
    for text in texts:
        host, _, rrtype = text.strip().rpartition(" ")
        if not host or not rrtype.isalnum():
            hint = msg("wanted.keys.hint")
            raise BadInput(Problem(msg("wanted.keys"), "homepath.toml", None, key, text, hint))
        found.append((child(host, domain), rrtype.upper()))
    return found
