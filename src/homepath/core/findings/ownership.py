"""Findings about proofs of ownership."""

from __future__ import annotations

from homepath.core.findings.kind import Kind

KINDS = (
    Kind(
        "proof-missing",
        "risk",
        "the builder's brief",
        "The record that proves to the builder that the domain is yours is not there.",
        "The builder does not connect the domain, and serves no page under its name.",
        "Add the record, and leave it there after the builder has seen it.",
        fixed_by="enter",
        holds_up_builder=True,
    ),
    Kind(
        "proof-differs",
        "risk",
        "the builder's brief",
        "A proof of ownership is there, but with another code.",
        "The builder does not accept it, and waiting does not help.",
        "Add the code that the builder shows for this site.",
        explains=True,
        fixed_by="enter",
        holds_up_builder=True,
    ),
    Kind(
        "proof-beside-cname",
        "blocker",
        "RFC 1034 section 3.6.2",
        "A proof of ownership is wanted at a name that is an alias.",
        "The server refuses it or leaves it out.",
        "Prove ownership in the builder's other way, or free the name.",
    ),
    Kind(
        "proof-removed",
        "risk",
        "the builder's brief",
        "A proof of ownership that had been there is gone.",
        "The builder may disconnect the domain at its next look.",
        "Enter it again.",
        fixed_by="enter",
        explains=True,
    ),
)
