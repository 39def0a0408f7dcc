"""Findings about who may issue certificates, and about browsers that insist on one (HSTS)."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.dns.names import ancestors
from homepath.core.dns.policies import permission
from homepath.core.dns.records import WEB_TYPES
from homepath.core.findings.kind import Kind, Rule, Sighting
from homepath.core.message import msg
from homepath.core.site.case import Case
from homepath.core.site.zone_facts import can_be_amended, handed_over, refusing_sets


def _sticky(case: Case) -> Iterator[Sighting]:
    """A name that will move while browsers insist on a good certificate there."""
    moves = case.wanted.hand_over is not None and not handed_over(case)
    for name in case.wanted.names:
        hsts = case.hsts.get(name)
        wants = [want for want in case.wanted.at(name) if want.record.type in (*WEB_TYPES, "ALIAS")]
        moving = moves or any(not want.met_by(case.zone.get(*want.record.key)) for want in wants)
        if hsts is None or not hsts.binds or not moving:
            continue
        listed = msg("sticky.listed") if hsts.preload else ""
        yield Sighting(name, "", msg("sticky", name=name, words=hsts.words, listed=listed), msg("sticky.cure"))


KINDS = (
    Kind("sticky-https-too-early", "risk", "RFC 6797 section 8.4", fixed_by="take-back-hsts", matters_before=True),
    Kind("issuer-not-allowed", "risk", "RFC 8659", fixed_by="enter", holds_up_builder=True, faulty=True),
    Kind("issuer-not-allowed-wildcard", "risk", "RFC 8659 section 4.3", fixed_by="enter", faulty=True),
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
        yield Sighting(name, "CAA", msg("issuer-not-allowed", name=name, name2=found.name, issuer=issuer), cure)


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
    Rule("sticky-https-too-early", _sticky),
    Rule("issuer-not-allowed", _issuer_not_allowed),
    Rule("issuer-not-allowed-wildcard", _issuer_not_allowed_wildcard),
)
