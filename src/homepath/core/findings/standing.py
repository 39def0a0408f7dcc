"""Findings about what cannot stand where it is, or is wanted: aliases, wildcards, delegations, protected records."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

KINDS = (
    Kind(
        "cname-at-apex",
        "risk",
        "RFC 1034 section 3.6.2",
        "A CNAME stands at the registered domain itself, where SOA and NS records must stand too.",
        "Servers may refuse the zone, or hide mail and proofs behind the alias.",
        "Enter addresses (A, AAAA) at the apex, or use the DNS host's own kind of alias if it has one.",
    ),
    Kind(
        "cname-not-alone",
        "blocker",
        "RFC 1034 section 3.6.2, RFC 2181 section 10.1",
        "A CNAME and other records are wanted, or found, at one name.",
        "A server refuses or silently drops one of them, so the website or the other service stops.",
        "Keep one of the two: move the other records to another name, or use addresses instead of the CNAME.",
    ),
    Kind(
        "cname-twice",
        "risk",
        "RFC 2181 section 10.1",
        "A name has more than one CNAME.",
        "Servers refuse the zone or give one of them at random.",
        "Keep one CNAME.",
    ),
    Kind(
        "alias-unsupported",
        "blocker",
        "RFC 1034 section 3.6.2",
        "The builder gives no address for the apex, and the DNS host has nothing that could stand there instead.",
        "The domain without www leads nowhere.",
        "Forward the apex, or use a DNS host that has an alias at the apex, or the builder's name servers.",
    ),
    Kind(
        "apex-way-unknown",
        "blocker",
        "RFC 1034 section 3.6.2",
        "The builder gives no address for the apex, and nobody has said what the DNS host has for that.",
        "A CNAME cannot stand at the apex, so what to enter there depends on what the form offers.",
        "Look into the form, and answer the question of `homepath next`; or write a notation file.",
    ),
    Kind(
        "wildcard-answers",
        "note",
        "RFC 4592 section 2.2.1",
        "A wanted name exists only through a wildcard record.",
        "Once the name has a record of its own, the wildcard no longer answers for it, for no type at all.",
        "Enter what the wildcard gave there as well, if it is still needed.",
    ),
    Kind(
        "delegated-away",
        "blocker",
        "RFC 1034 section 4.2.1, RFC 6672",
        "A wanted name lies in a part of the domain that other servers answer for.",
        "Records entered here are never seen.",
        "Enter them at the servers named, or take the delegation away.",
    ),
    Kind(
        "dangling-target",
        "risk",
        "RFC 1034 section 3.6.2",
        "An alias points to a name that does not exist.",
        "Somebody else may claim the target and show pages under your name.",
        "Remove the alias, or point it where it belongs.",
    ),
    Kind(
        "protected-record",
        "blocker",
        "the site file, [keep]",
        "The website needs a change of a record that the owner protects.",
        "Without the change the website is not reached; with it the owner's word would be broken.",
        "Decide which of the two holds, and change the site file.",
    ),
)
