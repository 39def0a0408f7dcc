"""Findings about what lives beside the website: proofs of ownership, mail, certificate authorities, time."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.model.names import Name, ancestors, is_within, shown
from homepath.core.model.records import WEB_TYPES, RecordSet
from homepath.core.model.times import lasting
from homepath.core.model.values import target
from homepath.core.rules.caa import allows, permission, relevant_set
from homepath.core.rules.rule import Case, Rule, Sighting

LONG_TTL = 3600
"""Seconds; an old answer that lives longer than this is worth lowering first when a site is in use."""


def _proof_missing(case: Case) -> Iterator[Sighting]:
    for want in case.wanted.wants:
        if want.purpose != "proof of ownership" or want.met_by(case.zone.get(*want.record.key)):
            continue
        name, rrtype = want.record.key
        yield Sighting(
            name,
            rrtype,
            f"{case.wanted.builder}'s proof of ownership is not at {shown(name)} yet.",
            f"Add it as {rrtype}; other {rrtype} values there stay.",
        )


def _mail_at_cname_name(case: Case) -> Iterator[Sighting]:
    for want in case.wanted.wants:
        if want.record.type != "CNAME":
            continue
        name = want.record.name
        if case.zone.get(name, "MX"):
            yield Sighting(
                name,
                "MX",
                f"Mail is delivered to {shown(name)} (MX), and a CNAME there would switch it off.",
                "Move the mail addresses to the main domain, or choose another name for the website.",
            )
        for mx in (each for each in case.zone if each.type == "MX" and each.name != name):
            if any(target("MX", value) == name for value in mx.values):
                yield Sighting(
                    mx.name,
                    "MX",
                    f"Mail for {shown(mx.name)} goes to {shown(name)}, which is to become a CNAME.",
                    f"Give the mail server a name of its own and let the MX record point there, not to {shown(name)}.",
                )


def refusing_sets(case: Case) -> Iterator[tuple[Name, RecordSet]]:
    """Each name that needs a certificate and the CAA set that lets none of the builder's issuers issue."""
    issuers = case.wanted.https.issuers
    if not issuers:
        return
    for name in case.wanted.names:
        alias = case.wanted.get(name, "CNAME")
        found = relevant_set(name, case.zone, case.surroundings, alias.record.values[0] if alias else None)
        if found and not any(allows(found, issuer) for issuer in issuers):
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


def _ttl_long(case: Case) -> Iterator[Sighting]:
    for name in case.wanted.web_names:
        for record in case.zone.at(name):
            want = case.wanted.get(name, record.type)
            changes = record.type in WEB_TYPES and (want is None or not want.met_by(record))
            if changes and record.ttl > LONG_TTL:
                yield Sighting(
                    name,
                    record.type,
                    f"The old {record.type} answer of {shown(name)} may be kept by caches for "
                    f"{lasting(record.ttl)} after the change.",
                    "If a site is in use there, first set its TTL to 5 min (300) and wait that long; "
                    "for a parked domain just go on.",
                )


RULES = (
    Rule(
        "proof-missing",
        "risk",
        "the builder's brief",
        "The record that proves to the builder that the domain is yours is not there.",
        "The builder does not connect the domain, and serves no page under its name.",
        "Add the record, and leave it there after the builder has seen it.",
        _proof_missing,
    ),
    Rule(
        "mail-at-cname-name",
        "blocker",
        "RFC 2181 section 10.3, RFC 1034 section 3.6.2",
        "Mail depends on a name that is to become a CNAME.",
        "Mail is lost or refused from the moment of the change.",
        "Free the name of mail first.",
        _mail_at_cname_name,
    ),
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
        "ttl-long",
        "note",
        "RFC 1035 section 3.2.1, RFC 2181 section 8",
        "The record to be changed may be kept by caches for long.",
        "Some visitors see the old site until their cache lets go; nothing can speed that up afterwards.",
        "Lower the TTL first and wait the old one out, where a site is in use.",
        _ttl_long,
    ),
)
