"""Findings about who may issue certificates."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.caa import permission
from homepath.core.dns.names import ancestors, shown
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.site.case import Case
from homepath.core.site.zone_facts import can_be_amended, refusing_sets

KINDS = (
    Kind(
        "issuer-not-allowed",
        "risk",
        "RFC 8659",
        "CAA records name the authorities that may issue certificates, and the builder's is not among them.",
        'The site stays "not secure" for good: the authority must refuse.',
        "Add one CAA record for the builder's authority; the others stay.",
        fixed_by="enter",
        holds_up_builder=True,
    ),
    Kind(
        "issuer-not-allowed-wildcard",
        "risk",
        "RFC 8659 section 4.3",
        "CAA records allow the builder's authority plain certificates, but not wildcard ones, which it orders.",
        'The site stays "not secure".',
        "Add one issuewild record for the builder's authority.",
        fixed_by="enter",
    ),
)


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
