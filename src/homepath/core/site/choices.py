"""Which alternatives of the brief fit this domain, where the second name is redirected, and what a command chooses."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal, cast, get_args

from homepath.core.dns.names import Name, absolute, child
from homepath.core.dns.records import WEB_TYPES, Zone
from homepath.core.message import Text, msg
from homepath.core.model.brief import Brief, BriefRecord, Notation, RedirectPlace, Redirects, Route, Site, WayBack
from homepath.core.model.problems import BadInput, Problem


@dataclass(frozen=True, slots=True)
class _Option:
    place: RedirectPlace
    secure: bool
    reason: Text


def choose_redirects(
    site: Site, brief: Brief, notation: Notation, names: tuple[Name, ...], has_records: bool
) -> Redirects | None:
    """Decide where `names`, all but the primary, are redirected; None where there is nothing to redirect.

    `has_records`: the brief has records that lead them to the builder. The first place with https wins, in the order
    of least work; without any, the first there is. What the site file says holds.
    """
    if not names:
        return None
    found = _options(site, brief, notation, names, has_records)
    chosen = next((option for option in found if option.place == site.redirect), None)
    chosen = chosen or next((option for option in found if option.secure), found[0] if found else None)
    if chosen is None:
        return Redirects("nobody", names, False, msg("redirects.nobody"))
    others = tuple(
        msg(f"redirect-place.{option.place}" if option.secure else f"redirect-place.{option.place}.plain")
        for option in found
        if option is not chosen
    )
    return Redirects(chosen.place, names, chosen.secure, chosen.reason, others)


def _options(site: Site, brief: Brief, notation: Notation, names: tuple[Name, ...], has_records: bool) -> list[_Option]:
    found = []
    if has_records and brief.redirects_by != "nobody":
        message = msg("redirects.options.said", builder=brief.builder, which=names)
        if brief.redirects_by == "unknown":
            message = msg("redirects.options.said-2", builder=brief.builder, which=names)
        found.append(_Option("builder", True, message))
    if notation.forwarding and site.primary == "www":
        kind = msg("redirects.options.kind") if notation.forwarding_https else msg("redirects.options.kind-2")
        found.append(
            _Option(
                "forwarding",
                notation.forwarding_https,
                msg("redirects.options", host=notation.host, which=names, kind=kind),
            )
        )
    if notation.proxy:
        found.append(_Option("proxy", True, msg("redirects.options-2", host=notation.host)))
    if site.own_server:
        where = ", ".join(site.own_server)
        found.append(_Option("own-server", True, msg("redirects.options-3", where=where)))
    return found


ApexWay = Literal["records", "alias", "forwarding", "proxy", "own-server", "none", "unknown"]
"""Where the apex gets its answer from. `unknown`: no one said yet what the DNS host has for it."""


SOME_ALIAS = "ALIAS"
"""The type that an alias at the apex is called by where its form's own word is not known."""


@dataclass(frozen=True, slots=True)
class Present:
    """What is known of the domain before the records wanted are worked out."""

    zone: Zone
    signed: bool = False


@dataclass(frozen=True, slots=True)
class Choice:
    """The alternatives taken. `reasons` say why, one sentence each; `open` names the others that stay possible.

    `by_move`: the nameservers change to another DNS host's, and the website's records are entered there.
    """

    route: Literal["records", "nameservers"]
    apex: ApexWay = "records"
    by_address: bool = False
    ownership: BriefRecord | None = None
    reasons: tuple[Text, ...] = ()
    open: tuple[str, ...] = ()
    by_move: bool = False

    @property
    def by_records(self) -> bool:
        """Whether the website's records are typed, here or at another DNS host."""
        return self.route == "records" or self.by_move


def with_owners_word(notation: Notation, site: Site) -> Notation:
    """The notation, with what the site file says the DNS host offers for the apex."""
    if site.apex == "alias" and notation.apex_alias is None:
        return replace(notation, apex_alias=SOME_ALIAS)
    return replace(notation, forwarding=True) if site.apex == "forwarding" else notation


def choose(site: Site, brief: Brief, notation: Notation, present: Present | None) -> Choice:
    """Choose among the brief's routes. What the site file says holds; `advise` leaves it to the reasons.

    `notation`: of the DNS host at which the records are typed; the new one's where the site file has a `[move]`.
    """
    if site.move is not None and site.route != "records":
        there = choose(replace(site, move=None, route="records"), brief, notation, present)
        why = msg("choices.choose.why", host=notation.host)
        return replace(there, route="nameservers", by_move=True, reasons=(why, *there.reasons), open=())
    reasons: list[Text] = []
    notation = with_owners_word(notation, site)
    apex = _apex_way(site, brief, notation, reasons)
    by_address = _by_address(site, brief, notation, present, reasons)
    ownership = _ownership(site, brief, notation, reasons)
    route, others = _route(site, brief, apex, present, reasons)
    return Choice(route, apex, by_address, ownership, tuple(reasons), tuple(others))


def _apex_way(site: Site, brief: Brief, notation: Notation, reasons: list[Text]) -> ApexWay:
    redirected = any(record.host == "@" for record in brief.redirect_records)
    if site.primary not in ("apex", "www") or brief.apex or (redirected and site.primary == "www"):
        return "records"
    if brief.apex_alias and notation.apex_alias and site.apex in (None, "alias"):
        reasons.append(
            msg("choices.apex-way", builder=brief.builder, host=notation.host, apex_alias=notation.apex_alias)
        )
        return "alias"
    nothing: ApexWay = "none" if (notation.known and notation.complete) or site.apex else "unknown"
    if site.primary != "www":
        return nothing
    by_host = notation.forwarding and notation.forwarding_https and site.redirect is None
    if site.own_server and not by_host and site.redirect in (None, "own-server"):
        reasons.append(msg("choices.apex-way-2", builder=brief.builder))
        return "own-server"
    if notation.proxy and not by_host and site.redirect in (None, "proxy"):
        reasons.append(msg("choices.apex-way-3", builder=brief.builder, host=notation.host))
        return "proxy"
    if notation.forwarding:
        limit = "" if notation.forwarding_https else msg("choices.apex-way.limit")
        reasons.append(msg("choices.apex-way-4", builder=brief.builder, host=notation.host, limit=limit))
        return "forwarding"
    return nothing


def _by_address(site: Site, brief: Brief, notation: Notation, present: Present | None, reasons: list[Text]) -> bool:
    label = "www" if site.primary in ("apex", "www") else site.primary
    instead = brief.www_by_address if label == "www" else brief.label_by_address
    if not instead:
        return False
    if "CNAME" in notation.lacks:
        reasons.append(msg("choices.by-address", host=notation.host, label=label))
        return True
    name = child(label, absolute(site.domain))
    others = sorted({r.type for r in present.zone.at(name) if r.type not in WEB_TYPES} if present else ())
    if others:
        reasons.append(msg("choices.by-address-2", name=name, others=tuple(others)))
    return bool(others)


def _ownership(site: Site, brief: Brief, notation: Notation, reasons: list[Text]) -> BriefRecord | None:
    if not brief.ownership:
        return None
    chosen = next((proof for proof in brief.ownership if proof.type == site.ownership), None)
    if chosen:
        return chosen
    held = [proof for proof in brief.ownership if proof.type not in notation.lacks]
    if held and held[0] is not brief.ownership[0]:
        reasons.append(msg("choices.ownership", host=notation.host, type=brief.ownership[0].type, type2=held[0].type))
    return held[0] if held else brief.ownership[0]


def _route(
    site: Site, brief: Brief, apex: ApexWay, present: Present | None, reasons: list[Text]
) -> tuple[Literal["records", "nameservers"], list[str]]:
    can_records = apex != "none" and bool(brief.apex or brief.www or brief.label)
    can_servers = bool(brief.nameservers)
    others = ["records"] * can_records + ["nameservers"] * can_servers
    if site.route in ("records", "nameservers"):
        return site.route, [way for way in others if way != site.route]
    if not can_records and can_servers:
        reasons.append(msg("choices.route", builder=brief.builder))
        return "nameservers", []
    if can_servers and present:
        if any(record.type == "MX" for record in present.zone):
            reasons.append(msg("choices.route-2"))
        if present.signed:
            reasons.append(msg("choices.route-3"))
        kept = len({record.name for record in present.zone if record.name != present.zone.origin})
        if kept > 2:
            reasons.append(msg("choices.route-4", kept=kept))
    if can_servers:
        reasons.append(msg("choices.route-5"))
    return "records", [way for way in others if way != "records"]


def on_named_route(site: Site, route: str | None) -> Site:
    """The site on the way that was typed; None: as it is. Raises BadInput."""
    if route is None:
        return site
    if route not in get_args(Route):
        hint = msg("project.routes")
        raise BadInput(Problem(msg("project.on-named-route"), key="--route", seen=route, hint=hint))
    if route == "records":  # typed, it asks for the present DNS host; in the site file it would contradict [move]
        site = replace(site, move=None)
    return on_route(site, cast(Route, route))


def on_route(site: Site, route: Route) -> Site:
    """The site on another way. To take back without a word on what, it is what was wanted until now."""
    if route == "undo" and site.undo is None:
        moved = site.route == "nameservers" or (site.move is not None and site.route != "records")
        return replace(site, route=route, undo=WayBack("nameservers" if moved else "records"))
    return replace(site, route=route)


def _in_full(keys: Iterable[str]) -> tuple[str, ...]:
    """The "name TYPE" keys with a full name: the answers about records of a further domain."""
    return tuple(key for key in keys if key.rpartition(" ")[0].endswith("."))


def whole_site(site: Site, own: Site) -> Site:
    """`site` with what was decided for one of its domains: `own`, which may be what `further_site` made. Raises
    BadInput for a decision that no single domain can have."""
    if own.domain == site.domain:
        return own
    before = further_site(site, own.domain)
    if own != replace(before, purposes=own.purposes, accepted=own.accepted, trusted=own.trusted, keep=own.keep):
        raise BadInput(Problem(msg("project.whole-site"), key="--domain", hint=msg("project.whole-site.hint")))
    return replace(
        site,
        purposes={**site.purposes, **own.purposes},
        accepted={**site.accepted, **own.accepted},
        trusted=tuple(dict.fromkeys((*site.trusted, *own.trusted))),
        keep=tuple(each for each in site.keep if each not in before.keep or each in own.keep),
    )


def further_site(site: Site, domain: str) -> Site:
    """The site as one of its further domains sees it: the same builder, and all of it points to the primary. Raises
    BadInput for a name that is none of them."""
    name = domain.strip().lower().removesuffix(".")
    if name == site.domain:
        return site
    if name not in site.also:
        known = ", ".join((site.domain, *site.also))
        raise BadInput(
            Problem(
                msg("project.further"),
                key="--domain",
                seen=domain,
                hint=msg("driving.chosen-resolver.hint", known=known),
            )
        )
    main = absolute(site.domain)
    primary = main if site.primary == "apex" else child(site.primary, main)
    return replace(
        site,
        domain=name,
        primary="www",
        also=(),
        keep=_in_full(site.keep),
        purposes={key: site.purposes[key] for key in _in_full(site.purposes)},
        accepted={key: site.accepted[key] for key in _in_full(site.accepted)},
        trusted=_in_full(site.trusted),
        leads_to=primary,
        values={**site.values, **site.values_of.get(name, {})},
        move=None,
        leave_behind=(),
        undo=WayBack("records", site.undo.to) if site.undo and site.move else site.undo,
    )
