"""Findings about who may issue certificates."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.facts.caa import allows, permission, relevant_set
from homepath.core.model.names import Name, ancestors, is_within, shown
from homepath.core.model.records import RecordSet
from homepath.core.rules.rule import Rule, Sighting
from homepath.core.wanted.case import Case


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
    Rule("issuer-not-allowed", _issuer_not_allowed),
    Rule("issuer-not-allowed-wildcard", _issuer_not_allowed_wildcard),
)
