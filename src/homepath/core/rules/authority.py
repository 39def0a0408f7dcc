"""Findings about who may issue certificates (N30)."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.model.names import Name, ancestors, is_within, shown
from homepath.core.model.records import RecordSet
from homepath.core.rules.caa import allows, permission, relevant_set
from homepath.core.rules.rule import Case, Rule, Sighting


def refusing_sets(case: Case, wildcard: bool = False) -> Iterator[tuple[Name, RecordSet]]:
    """Each name that needs a certificate and the CAA set that lets none of the builder's issuers issue."""
    issuers = case.wanted.https.issuers
    if not issuers:
        return
    for name in case.wanted.names:
        alias = case.wanted.get(name, "CNAME")
        found = relevant_set(name, case.zone, case.surroundings, alias.record.values[0] if alias else None)
        if found and not any(allows(found, issuer, wildcard) for issuer in issuers):
            yield name, found


def can_be_amended(case: Case, found: RecordSet) -> bool:
    """True when the CAA set is the owner's to change, not the builder's or the registry's."""
    return is_within(found.name, case.domain)


def _issuer_not_allowed(case: Case) -> Iterator[Sighting]:
    for name, found in refusing_sets(case):
        issuer = case.wanted.https.issuers[0]
        if can_be_amended(case, found):
            cure = f"Add at {shown(found.name)}, as CAA: {permission(issuer)}"
        elif found.name in ancestors(case.domain):
            cure = f"Add at {shown(case.domain)}, as CAA: {permission(issuer)}"
        else:
            cure = f"Ask {case.wanted.builder}: the CAA records at {shown(found.name)} are theirs."
        yield Sighting(
            name,
            "CAA",
            f"No certificate can be issued for {shown(name)}: the CAA records at {shown(found.name)} "
            f"do not allow {issuer}.",
            cure,
        )


def _issuer_not_allowed_wildcard(case: Case) -> Iterator[Sighting]:
    if not case.wanted.https.wildcard:
        return
    plain = {name for name, _ in refusing_sets(case)}
    for name, found in refusing_sets(case, wildcard=True):
        if name not in plain:
            issuer = case.wanted.https.issuers[0]
            yield Sighting(
                name,
                "CAA",
                f"{issuer} may issue for {shown(name)}, but not the wildcard certificate that "
                f"{case.wanted.builder} orders: the CAA records at {shown(found.name)} forbid it.",
                f"Add at {shown(found.name)}, as CAA: {permission(issuer, 'issuewild')}",
            )


RULES = (
    Rule(
        "issuer-not-allowed",
        "risk",
        "RFC 8659",
        "CAA records name the authorities that may issue certificates, and the builder's is not among them.",
        'The site stays "not secure" for good: the authority must refuse.',
        "Add one CAA record for the builder's authority; the others stay.",
        _issuer_not_allowed,
    ),
    Rule(
        "issuer-not-allowed-wildcard",
        "risk",
        "RFC 8659 section 4.3",
        "CAA records allow the builder's authority plain certificates, but not wildcard ones, which it orders.",
        'The site stays "not secure".',
        "Add one issuewild record for the builder's authority.",
        _issuer_not_allowed_wildcard,
    ),
)
