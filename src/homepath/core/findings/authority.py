"""Findings about who may issue certificates."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.caa import permission
from homepath.core.dns.names import ancestors
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import msg
from homepath.core.site.case import Case
from homepath.core.site.zone_facts import can_be_amended, refusing_sets

KINDS = (
    Kind(
        "issuer-not-allowed",
        "risk",
        "RFC 8659",
        fixed_by="enter",
        holds_up_builder=True,
    ),
    Kind(
        "issuer-not-allowed-wildcard",
        "risk",
        "RFC 8659 section 4.3",
        fixed_by="enter",
    ),
)


def _issuer_not_allowed(case: Case) -> Iterator[Sighting]:
    for name, found in refusing_sets(case):
        issuer = case.wanted.https.issuers[0]
        if can_be_amended(case, found):
            cure = msg("issuer-not-allowed.cure", name=found.name, permission=permission(issuer))
        elif found.name in ancestors(case.domain):
            cure = msg("issuer-not-allowed.cure-2", domain=case.domain, permission=permission(issuer))
        else:
            cure = msg("issuer-not-allowed.cure-3", builder=case.wanted.builder, name=found.name)
        yield Sighting(
            name,
            "CAA",
            msg("issuer-not-allowed", name=name, name2=found.name, issuer=issuer),
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
                msg(
                    "issuer-not-allowed-wildcard",
                    issuer=issuer,
                    name=name,
                    builder=case.wanted.builder,
                    name2=found.name,
                ),
                msg("issuer-not-allowed.cure", name=found.name, permission=permission(issuer, "issuewild")),
            )


RULES = (
    Rule("issuer-not-allowed", _issuer_not_allowed),
    Rule("issuer-not-allowed-wildcard", _issuer_not_allowed_wildcard),
)
