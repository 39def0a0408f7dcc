"""Findings about who may issue certificates."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

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
